"""Commands about figures: check a plan file, print the catalog, a reach, a loss budget."""

from __future__ import annotations

from pathlib import Path
from typing import Annotated, Any

import typer

from passerelle.api.catalog import catalog_view
from passerelle.cli.words import JsonOption, print_json, stop
from passerelle.core.budget.carries import carries
from passerelle.core.catalog.consistency import check_catalog
from passerelle.core.catalog.shelves import load_catalog
from passerelle.core.errors import CatalogError, UnitError
from passerelle.core.house import HouseRules
from passerelle.core.link.build import LinkEnd, build_link, cage_for
from passerelle.core.review import Review, review
from passerelle.core.units import format_db, format_length, parse_length
from passerelle.exchange.plan_file import PlanFileError, read_plan


def check(
    plan: Annotated[Path, typer.Argument(help="A plan file.")],
    as_json: JsonOption = False,
) -> None:
    """Review every link of a plan file. Exit 1 when one fails, 2 when the file is bad."""
    catalog = load_catalog()
    try:
        content = read_plan(plan.read_text(encoding="utf-8"), catalog)
    except OSError as error:
        stop(f"{plan}: cannot be read: {error.strerror}")
    except UnicodeDecodeError as error:
        stop(f"{plan}: byte {error.start}: a plan file is UTF-8 text")
    except PlanFileError as error:
        stop(f"{plan}: {error}")
    reviews = [(link, review(link, catalog, content.house_rules)) for link in content.links]
    if as_json:
        print_json([{"name": link.name, **_as_dict(found)} for link, found in reviews])
    else:
        for link, found in reviews:
            _print_review(link.name, found)
    if any(found.verdict.broken for _, found in reviews):
        raise typer.Exit(1)


def _as_dict(found: Review) -> dict[str, Any]:
    return {"verdict_text": found.verdict_text, **found.model_dump(mode="json")}


def _print_review(name: str, found: Review) -> None:
    margin = format_db(found.margin_db) if found.margin_db is not None else "no margin"
    typer.echo(f"{found.verdict_text.upper():20} {margin:>10}  {name}: {found.headline}")
    for finding in found.findings:
        typer.echo(f"    {finding.severity.value}: {finding.what} [{', '.join(finding.at)}]")
        for fix in finding.fixes[:1]:
            effect = f" (then: {fix.effect.verdict.value})" if fix.effect else ""
            typer.echo(f"        fix: {fix.label}{effect}")


def catalog(
    as_json: JsonOption = False,
    check: Annotated[bool, typer.Option("--check", help="Check the figures against each other.")] = False,
) -> None:
    """Print the catalog: applications, fibers, connectors, parts."""
    if check:
        _check_catalog(as_json)
        return
    content = catalog_view()
    if as_json:
        dumped = content.model_dump(mode="json")
        for fiber, record in zip(dumped["fibers"], content.fibers, strict=True):
            fiber["sources"] = [source.model_dump(mode="json") for source in record.sources]
        print_json(dumped)
        return
    for application in content.applications:
        typer.echo(f"{application.name}  {', '.join(map(str, application.wavelengths_nm))} nm")
        for row in application.reaches:
            reach = format_length(row.reach_m)
            typer.echo(f"    {row.fiber:14} {reach:>9}  {row.max_insertion_loss_db:5.2f} dB  {row.source.text}")
    for fiber_grade in content.fibers:
        figures = ", ".join(f"{db:g} dB/km at {nm} nm" for nm, db in fiber_grade.attenuation_db_per_km.items())
        typer.echo(f"{fiber_grade.name}  {figures}  {fiber_grade.attenuation_source.text}")


def _check_catalog(as_json: bool) -> None:
    lines = check_catalog(load_catalog())
    broken = [line for line in lines if line.outcome == "broken"]
    if as_json:
        print_json([line.model_dump(mode="json") for line in lines])
    else:
        for line in lines:
            expected = "-" if line.expected_db is None else f"{line.expected_db:.2f}"
            stated = "-" if line.stated_db is None else f"{line.stated_db:.2f}"
            where = f"{line.application} {line.fiber}".strip()
            typer.echo(
                f"{line.outcome:10} {where:34} {line.check}: {expected} against {stated} {line.why}".rstrip()
            )
        explained = sum(line.outcome == "explained" for line in lines)
        typer.echo(f"{len(lines)} comparisons: {len(broken)} broken, {explained} explained, the rest kept.")
    if broken:
        raise typer.Exit(1)


def reach(application: str, fiber: str, as_json: JsonOption = False) -> None:
    """Print how far an application reaches on a fiber grade, and from where the figure is."""
    shelves = load_catalog()
    try:
        found = shelves.application(application)
        shelves.fiber(fiber)
    except CatalogError as error:
        stop(str(error))
    row = found.row(fiber)
    if row is None:
        stop(f"{application} has no row for {fiber}: its clause does not allow it", 1)
    carried = carries(found, fiber, shelves)
    assert carried is not None
    if as_json:
        nearer = {"carries_m": round(carried.reach_m, 3), "limited_by": carried.limited_by}
        print_json({"application": application, **row.model_dump(mode="json"), **nearer})
        return
    typer.echo(
        f"{application} on {fiber}: {row.min_length_m:g} m to {format_length(carried.reach_m)}, {carried.words}"
    )
    typer.echo(f"reach by the table {format_length(row.reach_m)} ({row.source.text})")
    typer.echo(f"channel insertion loss at most {row.max_insertion_loss_db:g} dB ({row.loss_source.text})")
    if row.launch != "any" and row.launch_source:
        typer.echo(f"needs {row.launch} cords ({row.launch_source.text})")


def budget(
    application: Annotated[str, typer.Option(help="Clause name, such as 10GBASE-LR.")],
    fiber: Annotated[str, typer.Option(help="Fiber grade, such as OS2.")],
    length: Annotated[str, typer.Option(help="With its unit: 300m, 1250ft, 2.9km.")],
    pairs: Annotated[int, typer.Option(help="Mated pairs, those in panels.", min=0, max=40)] = 2,
    splices: Annotated[int, typer.Option(help="Splices.", min=0, max=40)] = 0,
    as_json: JsonOption = False,
) -> None:
    """Print the loss budget of a plain link."""
    shelves = load_catalog()
    try:
        shelves.fiber(fiber)
        rates = (shelves.application(application).rate_mbps,)
        near, far = (LinkEnd(place, "", cage_for(shelves, application), rates) for place in ("near", "far"))
        link = build_link(
            "budget",
            near,
            far,
            application,
            (fiber,),
            parse_length(length),
            shelves,
            pairs=pairs,
            splices=splices,
            cord_m=0.0,
        )
    except (CatalogError, UnitError) as error:
        stop(str(error))
    found = review(link, shelves, HouseRules(), with_fixes=False)
    if as_json:
        print_json(_as_dict(found))
    else:
        _print_budget(found)
    if found.verdict.broken:
        raise typer.Exit(1)


def _print_budget(found: Review) -> None:
    if found.loss:
        loss = found.loss
        typer.echo(
            f"loss: worst {loss.worst_db:.2f} dB, 97.5 % {loss.q975_db:.2f} dB, "
            f"expected {loss.expected_db:.2f} dB, least {loss.least_db:.2f} dB"
        )
    for direction in found.directions[:1]:
        for term in direction.terms:
            typer.echo(f"    {term.worst_db:6.2f} dB  {term.what}  ({term.worst_source.text})")
        for limit in direction.limits:
            typer.echo(f"{limit.name}: {format_db(limit.margin_db)}")
            for figure in limit.figures:
                typer.echo(f"    {figure.value:+7.2f} {figure.unit}  {figure.label}  ({figure.source.text})")
    _print_review("verdict", found)

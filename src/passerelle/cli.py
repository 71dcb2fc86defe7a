"""The command line: serve, demo, check, catalog, reach, budget, export, openapi."""

from __future__ import annotations

import json
import socket
import tempfile
from pathlib import Path
from typing import Annotated, Any, NoReturn

import typer
import uvicorn

from passerelle.api.app import create_app
from passerelle.api.catalog import catalog_view
from passerelle.core.catalog.consistency import check_catalog
from passerelle.core.catalog.shelves import CatalogError, load_catalog
from passerelle.core.house import HouseRules
from passerelle.core.link.build import LinkEnd, build_link, cage_for
from passerelle.core.review import Review, review
from passerelle.core.units import UnitError, format_db, format_length, parse_length
from passerelle.demo.plant import demo_plant
from passerelle.demo.port_aubier import PROJECT_NAME, demo_links
from passerelle.exchange.plan_file import PlanFile, PlanFileError, read_plan, write_plan
from passerelle.store import projects
from passerelle.store.database import Database

app = typer.Typer(no_args_is_help=True, add_completion=False, help="Plan fiber links, figure by figure.")

JsonOption = Annotated[bool, typer.Option("--json", help="Machine-readable output.")]
PortOption = Annotated[int, typer.Option(help="Port to listen on.", min=1, max=65535)]
HostOption = Annotated[str, typer.Option(help="Address to bind; loopback unless you say otherwise.")]
DatabaseOption = Annotated[Path, typer.Option(help="The database file; made when it is missing.")]


def _stop(message: str, code: int = 2) -> NoReturn:
    typer.echo(message, err=True)
    raise typer.Exit(code)


def _print_json(value: Any) -> None:
    typer.echo(json.dumps(value, indent=1, ensure_ascii=False))


@app.command()
def serve(
    port: PortOption = 8000,
    host: HostOption = "127.0.0.1",
    database: DatabaseOption = Path("var/passerelle.sqlite"),
) -> None:
    """Serve the application over one database."""
    _check_port(host, port)
    opened = Database(database)
    with opened.write() as session:
        if not projects.projects(session):
            projects.create_project(session, "My links", [], HouseRules())
    _run(opened, host, port)


@app.command()
def demo(
    port: PortOption = 8000,
    host: HostOption = "127.0.0.1",
    database: DatabaseOption = Path("var/demo.sqlite"),
    reset: Annotated[bool, typer.Option(help="Throw the demo's changes away first.")] = False,
    serve_it: Annotated[bool, typer.Option("--serve/--no-serve", help="Serve it, or only fill it.")] = True,
) -> None:
    """Fill a database with Port-Aubier, unless that was done before, and serve it."""
    if serve_it:
        _check_port(host, port)
    if reset:
        for suffix in ("", "-wal", "-shm"):
            database.with_name(database.name + suffix).unlink(missing_ok=True)
    opened = Database(database)
    with opened.write() as session:
        if not projects.projects(session):
            projects.create_project(session, PROJECT_NAME, demo_links(), HouseRules(), demo_plant())
    if serve_it:
        _run(opened, host, port)
    opened.close()


def _check_port(host: str, port: int) -> None:
    with socket.socket(socket.AF_INET6 if ":" in host else socket.AF_INET) as probe:
        probe.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        try:
            probe.bind((host, port))
        except OSError as error:
            _stop(
                f"port {port} on {host} cannot be used ({error.strerror}): "
                f"stop what listens there, or choose another with --port {port + 1}",
                1,
            )


def _run(database: Database, host: str, port: int) -> None:
    typer.echo(f"Passerelle is at http://{host}:{port} (Ctrl+C stops it; data in {database.path})")
    uvicorn.run(create_app(database), host=host, port=port, log_level="warning")


@app.command()
def check(
    plan: Annotated[Path, typer.Argument(help="A plan file.")],
    as_json: JsonOption = False,
) -> None:
    """Review every link of a plan file. Exit 1 when one fails, 2 when the file is bad."""
    catalog = load_catalog()
    try:
        content = read_plan(plan.read_text(encoding="utf-8"), catalog)
    except OSError as error:
        _stop(f"{plan}: cannot be read: {error.strerror}")
    except UnicodeDecodeError as error:
        _stop(f"{plan}: byte {error.start}: a plan file is UTF-8 text")
    except PlanFileError as error:
        _stop(f"{plan}: {error}")
    reviews = [(link, review(link, catalog, content.house_rules)) for link in content.links]
    if as_json:
        _print_json([{"name": link.name, **_as_dict(found)} for link, found in reviews])
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


@app.command()
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
        _print_json(dumped)
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
        _print_json([line.model_dump(mode="json") for line in lines])
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


@app.command()
def reach(application: str, fiber: str, as_json: JsonOption = False) -> None:
    """Print how far an application reaches on a fiber grade, and from where the figure is."""
    shelves = load_catalog()
    try:
        found = shelves.application(application)
        shelves.fiber(fiber)
    except CatalogError as error:
        _stop(str(error))
    row = found.row(fiber)
    if row is None:
        _stop(f"{application} has no row for {fiber}: its clause does not allow it", 1)
    if as_json:
        _print_json({"application": application, **row.model_dump(mode="json")})
        return
    typer.echo(
        f"{application} on {fiber}: {row.min_length_m:g} m to {format_length(row.reach_m)} ({row.source.text})"
    )
    typer.echo(f"channel insertion loss at most {row.max_insertion_loss_db:g} dB ({row.loss_source.text})")
    if row.launch != "any" and row.launch_source:
        typer.echo(f"needs {row.launch} cords ({row.launch_source.text})")


@app.command()
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
        _stop(str(error))
    found = review(link, shelves, HouseRules(), with_fixes=False)
    if as_json:
        _print_json(_as_dict(found))
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


@app.command()
def export(
    plan: Annotated[Path, typer.Argument(help="The plan file to write.")],
    database: DatabaseOption = Path("var/demo.sqlite"),
    project: Annotated[int, typer.Option(help="Number of the project.")] = 1,
) -> None:
    """Write a project as a plan file."""
    if not database.exists():
        _stop(f"{database}: there is no such database")
    opened = Database(database)
    with opened.read() as session:
        try:
            found = projects.project(session, project)
        except projects.NotFoundError as error:
            _stop(str(error))
        links = [stored.link for stored in projects.links(session, project)]
        plant = projects.plant(session, project)
    plan.write_text(write_plan(found.name, found.house, links, plant=plant), encoding="utf-8")
    opened.close()


@app.command()
def schema() -> None:
    """Print the JSON Schema of the plan file."""
    _print_json(PlanFile.model_json_schema(mode="validation"))


@app.command()
def openapi() -> None:
    """Print the api's description, from which the screens' types are made."""
    with tempfile.TemporaryDirectory() as folder:
        database = Database(Path(folder) / "empty.sqlite")
        _print_json(create_app(database).openapi())
        database.close()

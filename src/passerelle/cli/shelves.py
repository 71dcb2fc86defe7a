"""The command that prints the catalog, or checks its figures against each other."""

from __future__ import annotations

from typing import Annotated

import typer

from passerelle.api.catalog import catalog_view
from passerelle.cli.words import JsonOption, print_json
from passerelle.core.catalog.consistency import check_catalog
from passerelle.core.catalog.shelves import load_catalog
from passerelle.core.units import format_length


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

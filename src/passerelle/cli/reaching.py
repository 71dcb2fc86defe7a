"""The command that says how far an application reaches."""

from __future__ import annotations

import typer

from passerelle.cli.words import JsonOption, print_json, stop
from passerelle.core.budget.carries import carries
from passerelle.core.catalog.shelves import load_catalog
from passerelle.core.errors import CatalogError
from passerelle.core.units import format_length


def reach(application: str, fiber: str, as_json: JsonOption = False) -> None:
    """Print how far an application reaches on a fiber grade, and from where the figure is."""
    shelves = load_catalog()
    try:
        found = shelves.application(application)
        shelves.fiber(fiber)
    except CatalogError as error:
        stop(str(error))
    carried = carries(found, fiber, shelves)
    if carried is None:
        stop(f"{application} has no row for {fiber}: its clause does not allow it", 1)
    row = carried.row
    if as_json:
        nearer = {"carries_m": round(carried.reach_m, 3), "limited_by": carried.limited_by}
        print_json({"application": application, **row.model_dump(mode="json"), **nearer})
        return
    typer.echo(
        f"{application} on {fiber}: {row.min_length_m:g} m to {format_length(carried.reach_m)}, {carried.words}"
    )
    typer.echo(f"reach by the table {format_length(row.reach_m)} on {row.fiber} ({row.source.text})")
    typer.echo(f"channel insertion loss at most {row.max_insertion_loss_db:g} dB ({row.loss_source.text})")
    if row.launch != "any" and row.launch_source:
        typer.echo(f"needs {row.launch} cords ({row.launch_source.text})")

"""The command that reckons a loss budget."""

from __future__ import annotations

from typing import Annotated

import typer

from passerelle.cli.told import as_dict, review_lines
from passerelle.cli.words import JsonOption, print_json, stop
from passerelle.core.catalog.shelves import load_catalog
from passerelle.core.errors import CatalogError, UnitError
from passerelle.core.house import HouseRules
from passerelle.core.link.build import LinkEnd, build_link, cage_for
from passerelle.core.review import Review, review
from passerelle.core.units import format_db, parse_length


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
        print_json(as_dict(found))
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
    typer.echo("\n".join(review_lines("verdict", found)))

"""The command that reviews a plan file."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path
from typing import Annotated

import typer

from passerelle.cli.told import as_dict, figures_as_dict, figures_line, review_lines
from passerelle.cli.words import JsonOption, print_json, stop
from passerelle.core.batch import Figures, no_collection
from passerelle.core.catalog.shelves import load_catalog
from passerelle.core.findings import Finding, Verdict
from passerelle.core.link.chain import Link
from passerelle.core.link.port_use import clashes_of
from passerelle.core.review import review, with_others
from passerelle.core.rules.shared_port import clash_findings
from passerelle.core.side_by_side import figures_side_by_side
from passerelle.exchange.plan_file import PlanFile, PlanFileError, read_plan

TOLD = 25
"""How many links that do not pass are told with their reasons when nobody asks for all."""


def check(
    plan: Annotated[Path, typer.Argument(help="A plan file.")],
    as_json: JsonOption = False,
    why: Annotated[
        bool, typer.Option("--why", help="The reasons of every link, whatever their number: it takes longer.")
    ] = False,
    fixes: Annotated[
        bool, typer.Option("--fixes", help="The reasons, and what would help: it takes much longer.")
    ] = False,
) -> None:
    """Review every link of a plan file. Exit 1 when one fails, 2 when the file is bad.

    Without --why the reasons of the first links that do not pass are told, and of all the figures.
    """
    with no_collection():
        content = _read(plan)
        if why or fixes:
            broken = _told_whole(content, as_json=as_json, fixes=fixes)
        else:
            broken = _told_in_figures(content, as_json=as_json)
    if broken:
        raise typer.Exit(1)


def _read(plan: Path) -> PlanFile:
    try:
        return read_plan(plan.read_text(encoding="utf-8"), load_catalog())
    except OSError as error:
        stop(f"{plan}: cannot be read: {error.strerror}")
    except UnicodeDecodeError as error:
        stop(f"{plan}: byte {error.start}: a plan file is UTF-8 text")
    except PlanFileError as error:
        stop(f"{plan}: {error}")


def _told_whole(content: PlanFile, *, as_json: bool, fixes: bool) -> bool:
    """Print the reviews; whether a link is broken."""
    shared = _shared_ports(content)
    reviews = [
        (link, with_others(review(link, load_catalog(), content.house_rules, with_fixes=fixes), shared.get(at, ())))
        for at, link in enumerate(content.links)
    ]
    if as_json:
        print_json([{"name": link.name, **as_dict(found)} for link, found in reviews])
    else:
        typer.echo("\n".join(line for link, found in reviews for line in review_lines(link.name, found)))
    return any(found.verdict.broken for _, found in reviews)


def _told_in_figures(content: PlanFile, *, as_json: bool) -> bool:
    """Print the figures of all links; whether one is broken."""
    figures = figures_side_by_side(content.links, load_catalog(), content.house_rules)
    shared = _shared_ports(content)
    for at in shared:
        if not figures[at].verdict.broken:
            figures[at] = figures[at]._replace(verdict=Verdict.FAIL, on_estimate=False, as_measured=False)
    if as_json:
        told = zip(content.links, figures, strict=True)
        print_json([{"name": link.name, **figures_as_dict(link, found)} for link, found in told])
    else:
        typer.echo("\n".join(_lines(content, figures, shared)))
    return any(found.verdict.broken for found in figures)


def _shared_ports(content: PlanFile) -> dict[int, list[Finding]]:
    """What is said of links that share a port with another, by their places in the plan."""
    names = {at: link.name for at, link in enumerate(content.links)}
    found = clashes_of(content.links)
    return {at: clash_findings(content.links[at], here, names) for at, here in found.items()}


def _lines(content: PlanFile, figures: list[Figures], shared: dict[int, list[Finding]]) -> list[str]:
    lines: list[str] = []
    untold = 0
    left = TOLD
    for at, (link, found) in enumerate(zip(content.links, figures, strict=True)):
        if found.verdict is Verdict.PASS:
            lines.append(figures_line(link.name, found))
        elif left:
            left -= 1
            lines += _reasons(link, content, shared.get(at, ()))
        else:
            untold += 1
            lines.append(figures_line(link.name, found))
    if untold:
        lines.append(f"{untold} more links do not pass; --why tells their reasons too")
    return lines


def _reasons(link: Link, content: PlanFile, said: Sequence[Finding]) -> list[str]:
    found = with_others(review(link, load_catalog(), content.house_rules, with_fixes=False), said)
    return review_lines(link.name, found)

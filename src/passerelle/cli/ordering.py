"""The commands that say what to buy and how reels are cut."""

from __future__ import annotations

from pathlib import Path
from typing import Annotated, Any

import typer
from pydantic import Field, ValidationError

from passerelle.cli.words import JsonOption, json_of, print_json, stop
from passerelle.core.catalog.shelves import load_catalog
from passerelle.core.errors import MaterialError
from passerelle.core.house import house_catalog
from passerelle.core.materials.arrival import orders_of
from passerelle.core.materials.asked import scope_of
from passerelle.core.materials.bill import Bill, bill_of
from passerelle.core.materials.reels import CuttingPlan, cutting_plan
from passerelle.core.sources import Frozen
from passerelle.exchange.plan_file import PlanFileError, read_plan


class Cuts(Frozen):
    """What is to be cut, lengths in m: runs, what is lost with each, reels that are sold, reels on hand."""

    runs_m: tuple[float, ...]
    waste_per_run_m: Annotated[float, Field(ge=0)] = 0.0
    sold_reels_m: tuple[float, ...] = ()
    on_hand_m: tuple[float, ...] = ()


def order(plan: Annotated[Path, typer.Argument(help="A plan file.")], as_json: JsonOption = False) -> None:
    """Print what is still to be ordered for a plan, for which pieces, and what is missing before it can be."""
    try:
        content = read_plan(_text(plan), load_catalog())
    except PlanFileError as error:
        stop(f"{plan}: {error}")
    catalog, orders = house_catalog(load_catalog(), content.house_rules), orders_of(content.events)
    links = list(enumerate(content.links, start=1))
    scope = scope_of(links, content.plant, content.house_rules, catalog, orders.keys, orders.came)
    bill = bill_of(scope, orders.ordered)
    if as_json:
        print_json(_as_dict(bill, content.house_rules.currency))
    else:
        typer.echo("\n".join(_lines(bill)))


def _text(path: Path) -> str:
    try:
        return path.read_text(encoding="utf-8")
    except OSError as error:
        stop(f"{path}: cannot be read: {error.strerror}")
    except UnicodeDecodeError as error:
        stop(f"{path}: byte {error.start}: it is no UTF-8 text")


def _as_dict(bill: Bill, currency: str) -> dict[str, Any]:
    """The bill for machines: its lines with what is still to be ordered as their quantity."""
    lines = [
        {
            "words": line.words,
            "quantity": line.to_order,
            "unit": line.unit,
            "where": line.where,
            "needed": line.needed,
            "spares": line.spares,
            "at_hand": line.at_hand,
            "ordered": line.ordered,
            "price_each": line.each,
            "price_by": line.price_by,
            "total": line.total,
            "caution": line.caution,
            "bought_as": line.bought_as,
            "pieces": [
                {
                    "key": one.key,
                    "words": one.words,
                    "link": one.link_name,
                    "element": one.element,
                    "shelf": one.shelf,
                    "row": one.row,
                    "place": one.place,
                    "quantity": one.quantity,
                }
                for one in line.asked
            ],
        }
        for line in bill.lines
        if line.to_order or line.needed
    ]
    missing = [
        {"what": one.what, "link": one.asker.link_name, "element": one.asker.element, "row": one.asker.row}
        for one in bill.missing
    ]
    return {"lines": lines, "missing": missing, "total": bill.total, "currency": currency}


def _lines(bill: Bill) -> list[str]:
    told: list[str] = []
    where = ""
    for line in bill.lines:
        if not line.to_order:
            continue
        if line.where != where:
            where = line.where
            told.append(f"{where}:")
        told.append(f"  {line.to_order:10g} {'m' if line.unit == 'm' else ' '}  {line.words}")
    told += [f"missing: the {one.what} of the {one.asker.words}, {one.asker.link_name}" for one in bill.missing]
    return told or ["nothing is to be ordered: every piece of this plan is there, or ordered"]


def reels(cuts: Annotated[Path, typer.Argument(help="A JSON file.")], as_json: JsonOption = False) -> None:
    """Print which run is cut from which reel: the least bought length first, then the fewest reels opened.

    The file holds runs_m, waste_per_run_m, sold_reels_m and on_hand_m, in metres.
    """
    try:
        given = Cuts.model_validate(json_of(cuts, _text(cuts)))
        found = cutting_plan(
            given.runs_m,
            waste_per_run_m=given.waste_per_run_m,
            sold_reels_m=given.sold_reels_m,
            on_hand_m=given.on_hand_m,
        )
    except ValidationError as error:
        first = error.errors(include_url=False)[0]
        stop(f"{cuts}: {'.'.join(map(str, first['loc'])) or 'the file'}: {first['msg']}")
    except MaterialError as error:
        stop(f"{cuts}: {error.field}: {error}")
    if as_json:
        print_json(_plan_as_dict(found))
    else:
        typer.echo("\n".join(_plan_lines(found)))


def _plan_as_dict(found: CuttingPlan) -> dict[str, Any]:
    plan = [{"reel_m": reel.reel_m, "source": reel.source, "runs": list(reel.runs)} for reel in found.plan]
    told = found.model_dump(mode="json", exclude={"plan", "too_long"})
    return {**told, "gap_m": found.gap_m, "too_long": list(found.too_long), "plan": plan}


def _plan_lines(found: CuttingPlan) -> list[str]:
    if not found.feasible:
        runs = ", ".join(map(str, found.too_long))
        return [f"no reel holds the runs {runs}" if runs else "what is on hand is too little, and nothing is sold"]
    told = [
        f"{reel.source:8} {reel.reel_m:8g} m: runs {', '.join(map(str, reel.runs))}; {reel.left_m:g} m left"
        for reel in found.plan
    ]
    proof = "no plan buys less" if found.proven else f"not proven: {found.gap_m:g} m less may be enough"
    return [*told, f"{found.bought_m:g} m bought, {found.reels_opened} reels opened; {proof}"]

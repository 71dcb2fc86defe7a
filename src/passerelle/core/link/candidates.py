"""Glass whose grade is not decided: the link once for each combination of what it may be."""

from __future__ import annotations

from itertools import product
from math import prod

from passerelle.core.link.chain import Link
from passerelle.core.link.readings import is_stale, signed
from passerelle.core.parts.piece import Glass
from passerelle.core.parts.registry import Element

MAX_CANDIDATES = 128


def variants(link: Link) -> list[Link] | None:
    """The link once for each combination of candidate grades, or None when they are too many."""
    for element in link.elements:  # a plain loop: this runs for each of ten thousand links
        if len(element.__dict__.get("fiber", ())) > 1:
            break
    else:
        return [link]
    leads = [_leader(link, position) for position in range(len(link.elements))]
    choices = [
        _grades(e) if lead == i else ((),) for i, (e, lead) in enumerate(zip(link.elements, leads, strict=True))
    ]
    if prod(map(len, choices)) > MAX_CANDIDATES:
        return None
    current = [not is_stale(link.elements, reading) for reading in link.readings]
    return [_variant(link, leads, combination, current) for combination in product(*choices)]


def _variant(link: Link, leads: list[int], combination: tuple[tuple[str, ...], ...], current: list[bool]) -> Link:
    """The link with one grade for each piece; to suppose a grade makes no reading stale."""
    elements = tuple(
        e if e.__dict__.get("fiber", combination[lead]) == combination[lead] else _of_grade(e, combination[lead])
        for e, lead in zip(link.elements, leads, strict=True)
    )
    readings = tuple(
        signed(elements, reading) if fresh else reading
        for reading, fresh in zip(link.readings, current, strict=True)
    )
    return link.model_copy(update={"elements": elements, "readings": readings})


def _of_grade(element: Element, fiber: tuple[str, ...]) -> Element:
    return element.model_copy(update={"fiber": fiber})


def _leader(link: Link, position: int) -> int:
    """The position of the piece whose grade a piece has: its own, or that of the run that it is bought to match."""
    element = link.elements[position]
    if not getattr(element, "matches_run", False):
        return position
    fiber = element.__dict__["fiber"]
    runs = [i for i, e in enumerate(link.elements) if isinstance(e, Glass) and e.pulled and e.fiber == fiber]
    return min(runs, key=lambda i: abs(i - position), default=position)


def _grades(element: Element) -> tuple[tuple[str, ...], ...]:
    fiber = element.__dict__.get("fiber")
    return tuple((grade,) for grade in fiber) if fiber else ((),)


def undecided_glass(link: Link) -> Link:
    """The link with every piece of several candidates taken as not known."""
    blank = tuple(
        e.model_copy(update={"fiber": ()}) if len(getattr(e, "fiber", ())) > 1 else e for e in link.elements
    )
    readings = tuple(r if is_stale(link.elements, r) else signed(blank, r) for r in link.readings)
    return link.model_copy(update={"elements": blank, "readings": readings})

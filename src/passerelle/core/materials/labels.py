"""Labels: one identifier for each cable, cord, panel and box, given once, on both ends with near and far end.

In the manner of TIA-606: an identifier is unique in the project, and each end says where the other one is.
"""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Iterable, Iterator, Mapping

from passerelle.core.house import LabelScheme
from passerelle.core.link.chain import Link
from passerelle.core.materials.asked import Scope
from passerelle.core.parts.part import Mating
from passerelle.core.parts.piece import Line, Piece
from passerelle.core.parts.registry import Element, part_of, spec_of
from passerelle.core.plant.records import LabelRow
from passerelle.core.plant.site import Plant
from passerelle.core.sources import Frozen

MOST_AT_ONCE = 20_000


class LabelEnd(Frozen):
    """What a label says at one end: this end first, then the other one."""

    near: str
    far: str


class Labelled(Frozen):
    """What carries a label: its key, the identifier (empty until it is given), what it is, and its ends.

    ``place`` is where it begins, ``places`` where it has an end, ``letter`` that of its kind.
    ``kept``: the identifier was on it already. ``doubled``: another piece has the same one, so neither counts.
    """

    key: str
    label: str
    kept: bool
    doubled: bool
    what: str
    place: str
    places: tuple[str, ...]
    letter: str
    ends: tuple[LabelEnd, ...]
    link: int = 0
    link_name: str = ""
    element: str = ""
    shelf: str = ""
    row: str = ""


def labelled(scope: Scope, place: str = "") -> tuple[Labelled, ...]:
    """All that carries a label, with those that were given; of one place only what has an end there."""
    given = {row.of: row.id for row in scope.plant.labels}
    found = [*_rows(scope, given)]
    for number, link in scope.links:
        found += _of_link(number, link, scope, given)
    counted = Counter(one.label for one in found if one.label)
    told = (
        one.model_copy(update={"doubled": True}) if counted[one.label] > 1 and one.kept else one for one in found
    )
    return tuple(one for one in told if not place or place in one.places)


def _rows(scope: Scope, given: Mapping[str, str]) -> Iterator[Labelled]:
    plant = scope.plant
    for cable in plant.cables:
        path = plant.path_of[cable.id]
        start, end = plant.place_of[path[0]].name, plant.place_of[path[-1]].name
        yield Labelled(
            key=cable.key,
            label=given.get(cable.key, ""),
            kept=False,
            doubled=False,
            what=f"cable {cable.name}, {cable.strands} strands",
            place=start,
            places=(start, end),
            letter="C",
            ends=_both(_end(start, cable.near_end), _end(end, cable.far_end)),
            shelf="cables",
            row=cable.id,
        )
    for shelf, letter in (("frames", "F"), ("parts", "B")):
        for row in getattr(plant, shelf):
            place = plant.place_of[row.place].name if row.place in plant.place_of else row.place
            yield Labelled(
                key=row.key,
                label=given.get(row.key, ""),
                kept=False,
                doubled=False,
                what=row.name,
                place=place,
                places=(place,),
                letter=letter,
                ends=(LabelEnd(near=f"{place}: {row.name}", far=""),),
                shelf=shelf,
                row=row.id,
            )


def _end(place: str, how: str) -> str:
    return place if how == "unknown" else f"{place}: {how}"


def _both(near: str, far: str) -> tuple[LabelEnd, ...]:
    return LabelEnd(near=near, far=far), LabelEnd(near=far, far=near)


def _of_link(number: int, link: Link, scope: Scope, given: Mapping[str, str]) -> Iterator[Labelled]:
    """The cords, cables and adapters of a link that stand on no shared part."""
    elements = link.elements
    for position, element in enumerate(elements):
        joins = isinstance(part_of(element, scope.catalog), Mating)
        adapter = joins and spec_of(element).in_frames
        if element.part or not (isinstance(element, Line) or adapter):
            continue
        places = _place(link, position), _place(link, position, from_right=True)
        what = spec_of(element).title
        if isinstance(element, Line):
            ends = _both(
                f"{places[0]}: {_beside(elements, position, -1)}", f"{places[1]}: {_beside(elements, position, 1)}"
            )
        else:
            ends = (LabelEnd(near=f"{places[0]}: {what}", far=f"{_far_of(link, position)}"),)
        yield Labelled(
            key=element.key,
            label=given.get(element.key, "") or element.label,
            kept=bool(element.label) and element.key not in given,
            doubled=False,
            what=f"{what}, {link.name}",
            place=places[0],
            places=places,
            letter="A" if adapter else "C" if isinstance(element, Line) and element.pulled else "P",
            ends=ends,
            link=number,
            link_name=link.name,
            element=element.id,
        )


def _place(link: Link, position: int, *, from_right: bool = False) -> str:
    """The place of one end of a piece: what is pulled leads from one place to the other, all else stays."""
    first, last = _ports(link)
    runs = [i for i, e in enumerate(link.elements) if isinstance(e, Line) and e.pulled]
    if not runs:
        return last if from_right else first
    if position < runs[0] or (position in runs and not from_right):
        return first
    return last


def _ports(link: Link) -> tuple[str, str]:
    told = (
        [getattr(e, "place", "") or e.label for e in (link.elements[0], link.elements[-1])]
        if link.elements
        else ["", ""]
    )
    return told[0], told[1]


def _beside(elements: tuple[Element, ...], position: int, step: int) -> str:
    """What a piece is plugged into, as one says it."""
    at = position + step
    while 0 <= at < len(elements) and spec_of(elements[at]).turned is None and spec_of(elements[at]).kind != "port":
        at += step  # a module sits in its port: the port is what a hand finds
    if not 0 <= at < len(elements):
        return "open"
    beside: Piece = elements[at]
    return f"{spec_of(beside).word} {beside.label}".strip()


def _far_of(link: Link, position: int) -> str:
    first, last = _ports(link)
    return last if position * 2 < len(link.elements) else first


def give_labels(scope: Scope, only: Iterable[str] | None = None) -> tuple[LabelRow, ...]:
    """New identifiers for all that has none, or for some by their keys; those that were given stay.

    Numbers go on after the highest that was ever given, so that what is put in later changes no label.
    """
    wanted = None if only is None else set(only)
    found = [
        one
        for one in labelled(scope)
        if (not one.label or one.doubled) and one.key and (wanted is None or one.key in wanted)
    ][:MOST_AT_ONCE]
    taken = {row.id for row in scope.plant.labels} | {one.label for one in labelled(scope) if one.label}
    given = (re.search(r"\d+$", row.id) for row in scope.plant.labels)
    number = max((int(match.group()) for match in given if match), default=0)
    codes = place_codes(scope.plant, [one.place for one in found])
    made: list[LabelRow] = []
    for one in found:
        number, label = _next(scope.house.label_scheme, codes[one.place], one.letter, number, taken)
        made.append(LabelRow(id=label, name=one.what[:120], of=one.key))
    return tuple(made)


def _next(scheme: LabelScheme, code: str, letter: str, number: int, taken: set[str]) -> tuple[int, str]:
    """The next number whose identifier nobody has."""
    while True:
        number += 1
        label = written(scheme, code, letter, number)
        if label not in taken:
            return number, label


def written(scheme: LabelScheme, code: str, letter: str, number: int) -> str:
    """An identifier by a scheme.

    >>> written("place and number", "HO", "C", 12), written("place, kind and number", "HO", "C", 12)
    ('HO-0012', 'HO-C0012')
    """
    match scheme:
        case "place and number":
            return f"{code}-{number:04d}"
        case "kind and number":
            return f"{letter}-{number:04d}"
        case _:
            return f"{code}-{letter}{number:04d}"


def place_codes(plant: Plant, names: Iterable[str] = ()) -> dict[str, str]:
    """A short form of each place, no two the same: the first letters of its words, and more where that is taken.

    >>> place_codes(Plant(), ["Harbor office", "Hall one", "Harbor offices"])
    {'Harbor office': 'HO', 'Hall one': 'HAO', 'Harbor offices': 'HAOF'}
    """
    codes: dict[str, str] = {}
    for name in dict.fromkeys([*(place.name for place in plant.places), *names]):
        words = re.findall(r"[A-Za-z0-9]+", name.upper()) or ["X"]
        wishes = [
            "".join(word[:n] if i < extra else word[: n - 1] for i, word in enumerate(words))
            for n in range(2, 12)
            for extra in range(len(words))
        ]
        own = next(
            wish
            for wish in ["".join(word[0] for word in words), *wishes, *(f"P{n}" for n in range(1, 10_000))]
            if wish and wish not in codes.values()
        )
        codes[name] = own[:12]
    return codes

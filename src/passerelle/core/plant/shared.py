"""Parts that stand in several links: a piece of a link is one of them, on the positions that the link takes."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any

from passerelle.core.errors import PlantError
from passerelle.core.link.edits import turned_round
from passerelle.core.parts.registry import Element, spec_of
from passerelle.core.plant.records import Frame, SharedPart
from passerelle.core.plant.site import Plant, free_id
from passerelle.core.sources import Frozen

_OWN = ("id", "key", "label", "part", "enter", "leave", "positions")
"""What a piece on a shared part has for itself."""


def own_record(piece: Element) -> dict[str, Any]:
    """A piece without what it has for itself where it stands on a shared part."""
    return piece.model_dump(exclude={*_OWN, spec_of(piece).seat(piece)})


def as_shared(piece: Element, plant: Plant, link_name: str) -> Element:
    """A piece as the plant has the shared part, or the hole of a frame, that it is.

    Raises:
        PlantError: there is no such part, or what stands there is of another kind.
    """
    held = _held(piece, plant, link_name)
    if held.kind != piece.kind:
        raise PlantError(
            f"parts[{piece.part}]",
            f"'{link_name}' has a {spec_of(piece).word} where '{piece.part}' holds a {spec_of(held).word}: take it "
            "off the shared part first",
        )
    if piece.enter == "right" and spec_of(held).turned:
        held = turned_round((held,))[0]
    own = {name: getattr(piece, name) for name in _OWN}
    seat = spec_of(held).seat(held)
    if seat and piece.part in plant.shared_of:
        taken = getattr(piece, seat)
        own |= {seat: taken, "positions": (taken,) if taken else piece.positions}
    return held.model_copy(update=own)


def _held(piece: Element, plant: Plant, link_name: str) -> Element:
    if piece.part in plant.shared_of:
        return plant.shared_of[piece.part].holds
    frame = plant.frame_of.get(piece.part)
    if frame is None:
        raise PlantError(
            f"parts[{piece.part}]",
            f"'{link_name}' stands on the shared part '{piece.part}', which the plan does not have: take its "
            f"{spec_of(piece).word} off it first",
        )
    hole = frame.hole(piece.positions[0]) if piece.positions else None
    if hole is None or hole.adapter is None:
        raise PlantError(
            f"frames[{frame.id}].held",
            f"'{link_name}' goes through hole {_numbers(piece)} of {frame.name}, which holds no adapter: fit "
            "one, or choose another hole",
        )
    return hole.adapter


def _numbers(piece: Element) -> str:
    return " and ".join(map(str, piece.positions)) or "(none)"


def check_position(plant: Plant, part: str, number: int, names: list[str]) -> None:
    """Check one position of a shared part or frame that links take.

    Raises:
        PlantError: it is taken twice, or does not exist.
    """
    known: SharedPart | Frame | None = plant.shared_of.get(part) or plant.frame_of.get(part)
    if known is None:
        return
    shelf, word = ("frames", "hole") if isinstance(known, Frame) else ("parts", "position")
    where = f"{word} {number} of {known.name}"
    if len(names) > 1:
        raise PlantError(f"{shelf}[{part}].count", f"{where} would carry both {names[0]} and {names[1]}")
    if not 1 <= number <= known.count:
        raise PlantError(f"{shelf}[{part}].count", f"{where}: it has 1 to {known.count}, and {names[0]} takes it")


def free_positions(plant: Plant, part: str, taken: set[int]) -> tuple[int, ...]:
    """The positions of a shared part that no link takes; of a frame the holes with an adapter.

    Raises:
        PlantError: there is no such part.
    """
    known: SharedPart | Frame | None = plant.shared_of.get(part) or plant.frame_of.get(part)
    if known is None:
        raise PlantError("part", f"there is no shared part '{part}'")
    offered = (
        [hole.number for hole in known.held if hole.adapter]
        if isinstance(known, Frame)
        else range(1, known.count + 1)
    )
    return tuple(number for number in offered if number not in taken)


class SharedUse(Frozen):
    """How a shared part or frame is used: the link on each position that is taken, and the positions left.

    ``kind`` is that of the part, empty for a frame, which takes every kind that joins.
    """

    id: str
    name: str
    kind: str
    count: int
    taken: dict[int, str]
    free: tuple[int, ...]


def shared_uses(plant: Plant, taken: Mapping[tuple[str, int], Sequence[str]]) -> tuple[SharedUse, ...]:
    """How each shared part and each frame is used, by the links on each position."""
    found = []
    shared: tuple[SharedPart | Frame, ...] = (*plant.parts, *plant.frames)
    for known in shared:
        here = {number: names[0] for (part, number), names in sorted(taken.items()) if part == known.id}
        found.append(
            SharedUse(
                id=known.id,
                name=known.name,
                kind=known.holds.kind if isinstance(known, SharedPart) else "",
                count=known.count,
                taken=here,
                free=free_positions(plant, known.id, set(here)),
            )
        )
    return tuple(found)


def on_part(piece: Element, plant: Plant, part: str, positions: tuple[int, ...], taken: set[int]) -> dict[str, Any]:
    """The fields that put a piece on a shared part: on these positions, or on the lowest that is free.

    A piece without a label is called by its place there; a front or a leg that it takes is the position.

    Raises:
        PlantError: there is no such part, or no position of it is free.
    """
    free = free_positions(plant, part, taken)
    if not positions and not free:
        raise PlantError("part", f"every position of '{part}' is taken: choose another, or take a link off it")
    seat = spec_of(piece).seat(piece) if part in plant.shared_of else ""
    own = getattr(piece, seat) if seat else 0
    if own and not positions and own not in free:
        raise PlantError(
            "count",
            f"the link takes {seat} {own}, which is not free there: give the part more positions, or move it",
        )
    chosen = positions or ((own,) if own else free[:1])
    known = plant.shared_of.get(part) or plant.frame_of[part]
    number = ", ".join(map(str, chosen))
    placed = {"part": part, "positions": chosen, "label": piece.label or f"{known.name} {number}"}
    return placed | ({seat: chosen[0]} if seat else {})


def shared_from(piece: Element, plant: Plant, name: str, place: str, count: int) -> tuple[Plant, str]:
    """The plan with a piece of a link as a shared part, and its id there."""
    own = free_id(name, {*plant.cable_of, *plant.shared_of, *plant.frame_of})
    known = plant.place_called.get(place)
    holds = piece.model_copy(update={**dict.fromkeys(("id", "key", "part", "enter", "leave"), ""), "positions": ()})
    row = SharedPart(id=own, name=name, place=known.id if known else "", holds=holds, count=count)
    return plant.changed(parts=(*plant.parts, row)), own

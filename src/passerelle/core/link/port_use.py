"""Which ports the links of a project use, and where two links want the same one."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable, Mapping, Sequence
from typing import Any, NamedTuple

from passerelle.core.link.chain import Link

WHOLE, ANY_LEG = -1, 0
"""A port that is not split, and the leg of a split one that is not known."""


class PortUse(NamedTuple):
    """A port by its place and label, in lower case; ``leg`` is the leg of a split port that is taken."""

    place: str
    label: str
    leg: int

    def excludes(self, other: PortUse) -> bool:
        """Whether the two cannot both be: the same port whole, or the same leg of it."""
        if (self.place, self.label) != (other.place, other.label):
            return False
        return WHOLE in (self.leg, other.leg) or (self.leg == other.leg != ANY_LEG)


class Clash(NamedTuple):
    """A port of a link that another link, by its number, uses too."""

    use: PortUse
    other: int


def port_uses(elements: Sequence[Any]) -> tuple[PortUse, ...]:
    """The ports of a link that have a place and a label, from its pieces or their stored form.

    >>> port_uses([{"kind": "port", "place": "Hall", "label": "Core 1/1"}])
    (PortUse(place='hall', label='core 1/1', leg=-1),)
    """
    kinds = [_of(piece, "kind") for piece in elements]
    brought = next((_of(p, "leg") for p, kind in zip(elements, kinds, strict=True) if kind == "breakout"), ANY_LEG)
    found = []
    for number, (piece, kind) in enumerate(zip(elements, kinds, strict=True)):
        place, label = (str(_of(piece, name) or "").strip().casefold() for name in ("place", "label"))
        if kind != "port" or not (place and label):
            continue
        beside = [elements[n] for n in (number - 1, number + 1) if 0 <= n < len(elements) and kinds[n] == "module"]
        split = next((module for module in beside if (_of(module, "legs") or 1) > 1), None)
        found.append(PortUse(place, label, WHOLE if split is None else _of(split, "leg") or brought))
    return tuple(found)


def _of(piece: Any, name: str) -> Any:
    return piece.get(name) if isinstance(piece, dict) else getattr(piece, name, None)


def clashes(uses: Mapping[int, Sequence[PortUse]]) -> dict[int, tuple[Clash, ...]]:
    """The ports that several links use, by the number of each link that has one.

    Two links between the same two ports are variants, or one follows the other: of them nothing is said.
    """
    at: dict[tuple[str, str], list[tuple[int, PortUse]]] = defaultdict(list)
    for number, used in uses.items():
        for use in used:
            at[use.place, use.label].append((number, use))
    found: dict[int, list[Clash]] = defaultdict(list)
    for together in at.values():
        for number, use in together:
            for other, same in together:
                if other != number and use.excludes(same) and not _variants(uses[number], uses[other]):
                    found[number].append(Clash(use, other))
    return {number: tuple(found[number]) for number in uses if number in found}


def _variants(a: Sequence[PortUse], b: Sequence[PortUse]) -> bool:
    ends = [{(use.place, use.label) for use in one} for one in (a, b)]
    return len(ends[0]) > 1 and ends[0] == ends[1]


def clashes_of(links: Sequence[Link]) -> dict[int, tuple[Clash, ...]]:
    """The same of links at hand, by their places in the list."""
    return clashes({number: port_uses(link.elements) for number, link in enumerate(links)})


def clash_words(found: Iterable[Clash], names: Mapping[int, str]) -> str:
    """Which ports of a link others use too, in a line of a list."""
    return "; ".join(f"{clash.use.label} at {clash.use.place} is also in {names[clash.other]}" for clash in found)

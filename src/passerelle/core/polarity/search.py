"""The smallest changes that bring every transmitter to a receiver, searched over maps of positions alone.

What a change does to pins, keys and polish is judged by the review, which tries what is found here.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from itertools import combinations

import numpy as np
from numpy.typing import NDArray

from passerelle.core.catalog.shelves import Catalog
from passerelle.core.errors import EditError
from passerelle.core.link.chain import Link
from passerelle.core.link.compose import Chain, compose
from passerelle.core.link.edits import SetFields, apply_edits
from passerelle.core.link.hops import Partial, follow, hops, stacked
from passerelle.core.parts.registry import spec_of
from passerelle.core.parts.spec import By
from passerelle.core.polarity.trace import is_traced

MOST_CHANGES = 3
MOST_OPTIONS = 48


@dataclass(frozen=True)
class Change:
    """One change of a piece: in words with ``{name}``, the work, the edit, and the maps it leads to, by hop."""

    words: str
    by: By
    effort: int
    edit: SetFields
    maps: tuple[tuple[int, Partial], ...]


def lighting(link: Link, catalog: Catalog, efforts: dict[By, int]) -> Iterator[tuple[Change, ...]]:
    """The smallest sets of changes, least effort first, after which every transmitter ends on a receiver.

    No set holds another one that lights as well, and of several over the same pieces the first is told. Up to three
    changes are combined.
    """
    chain = compose(link, catalog)
    if not is_traced(chain):
        return
    base = tuple(hop.map for hop in hops(chain))
    changes = changes_of(link, chain, base, catalog, efforts)
    found: list[frozenset[tuple[str, By]]] = []
    for chosen in _ordered(changes, chain, base):
        work = frozenset((changes[number].edit.element, changes[number].by) for number in chosen)
        if not any(smaller <= work for smaller in found):
            found.append(work)
            yield tuple(changes[number] for number in sorted(chosen))


def changes_of(
    link: Link, chain: Chain, base: Sequence[Partial], catalog: Catalog, efforts: dict[By, int]
) -> list[Change]:
    """Every change of one piece that moves positions, least effort first."""
    found: list[Change] = []
    for piece in link.elements:
        for other in spec_of(piece).alternatives(piece):
            if other.of != "positions":
                continue
            edit = SetFields(element=piece.id, values=other.values)
            try:
                after = compose(apply_edits(link, (edit,)), catalog)
            except EditError:
                continue
            maps = tuple(
                (step, hop.map)
                for step, (hop, before) in enumerate(zip(hops(after), base, strict=False))
                if hop.map != before
            )
            if is_traced(after) and (maps or _moved(chain, after)):
                found.append(Change(other.words, other.by, efforts[other.by], edit, maps))
    return sorted(found, key=lambda change: change.effort)[:MOST_OPTIONS]


def _moved(before: Chain, after: Chain) -> bool:
    """Whether an end sends or listens elsewhere than before: a leg of another number."""
    return any(one.traits.optics != other.traits.optics for one, other in zip(before.ends, after.ends, strict=True))


def _ordered(changes: Sequence[Change], chain: Chain, base: tuple[Partial, ...]) -> Iterator[frozenset[int]]:
    """Every set of changes that lights, by effort, then by how few they are."""
    lit: list[tuple[int, int, tuple[int, ...]]] = []
    for count in range(1, MOST_CHANGES + 1):
        if count > 2 and lit:
            break
        sets = [chosen for chosen in combinations(range(len(changes)), count) if _apart(changes, chosen)]
        for chosen, lights in zip(sets, _light(changes, sets, chain, base), strict=True):
            if lights:
                lit.append((sum(changes[n].effort for n in chosen), count, chosen))
    yield from (frozenset(chosen) for _, _, chosen in sorted(lit))


def _apart(changes: Sequence[Change], chosen: tuple[int, ...]) -> bool:
    """Whether no two of them change the same piece."""
    pieces = {changes[n].edit.element for n in chosen}
    return len(pieces) == len(chosen)


def _light(
    changes: Sequence[Change], sets: Sequence[tuple[int, ...]], chain: Chain, base: tuple[Partial, ...]
) -> NDArray[np.bool_]:
    """Whether each set lights, all sets at once."""
    if not sets:
        return np.zeros(0, dtype=bool)
    ways = []
    for chosen in sets:
        way = list(base)
        for number in chosen:
            for step, map_ in changes[number].maps:
                way[step] = map_
        ways.append(way)
    maps = stacked(ways)
    first, last = chain.ends
    here, there = first.traits.optics, last.traits.optics
    assert here is not None  # only such parts are ends
    assert there is not None
    lit = np.zeros(len(sets), dtype=bool)
    for sends, hears in here.groups:
        for far_sends, far_hears in there.groups:
            ends = follow(maps, np.array([[*sends, *hears]] * len(sets)))[:, -1]
            forth = np.sort(ends[:, : len(sends)], axis=1) == np.sort(far_hears)
            back = np.sort(ends[:, len(sends) :], axis=1) == np.sort(far_sends)
            lit |= forth.all(axis=1) & back.all(axis=1)
    return lit

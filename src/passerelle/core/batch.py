"""Many links at once: the judge over links that differ in length only, kind by kind."""

from __future__ import annotations

import gc
import threading
from collections import defaultdict
from collections.abc import Callable, Hashable, Iterator, Sequence
from contextlib import contextmanager
from functools import lru_cache
from itertools import count
from operator import itemgetter
from typing import Any, NamedTuple

import numpy as np
from cachetools import RRCache

from passerelle.core.catalog.shelves import Catalog
from passerelle.core.findings import Severity, Verdict, verdict_words
from passerelle.core.house import HouseRules, house_catalog
from passerelle.core.judge import RANK, VERDICTS, Kind, kind_of
from passerelle.core.link.candidates import undecided_glass, variants
from passerelle.core.link.chain import Link
from passerelle.core.parts.registry import KINDS
from passerelle.core.rules.by_length import Floats, Sums
from passerelle.core.stages import Stage

KIND_BYTES = 30_000  # what one takes, measured over diverse links; the bound below counts with it


class Figures(NamedTuple):
    """What the list of links shows of one link; losses and margins in dB, length in m, None where not known.

    ``marks`` has the worst severity on each piece, None where nothing or only a note is said.
    """

    verdict: Verdict
    on_estimate: bool
    margin_db: float | None
    worst_db: float | None
    expected_db: float | None
    least_db: float | None
    length_m: float | None
    applications: tuple[str, ...]
    marks: tuple[Severity | None, ...]
    stage: Stage
    as_measured: bool = False
    house_margin_db: float = 0.0

    @property
    def verdict_text(self) -> str:
        """The verdict in words, as the review of the link has it."""
        return verdict_words(self.verdict, on_estimate=self.on_estimate, as_measured=self.as_measured)


def figures_of(links: Sequence[Link], catalog: Catalog, house: HouseRules) -> list[Figures]:
    """Figures of all links, in their order; the same as the review of each link by itself.

    The names in the links must be in the catalog (``check_names``).
    """
    with no_collection():
        return _figures(links, house_catalog(catalog, house), house)


@contextmanager
def no_collection() -> Iterator[None]:
    """Without the cycle collector: a batch makes no cycles, and each collection would walk all its links."""
    was_on = gc.isenabled()
    gc.disable()
    try:
        yield
    finally:
        if was_on:
            gc.enable()


def _figures(links: Sequence[Link], catalog: Catalog, house: HouseRules) -> list[Figures]:
    kinds: dict[Hashable, list[tuple[int, Link]]] = defaultdict(list)
    found: list[Figures | None] = [None] * len(links)
    for number, link in enumerate(links):
        for variant in variants(link) or [undecided_glass(link)]:
            kinds[_key(variant)].append((number, variant))
    own = _number(catalog, house)
    for key, members in kinds.items():
        kind = _known((own, key), members[0][1], catalog, house)
        for (number, _), figures in zip(members, _judged(kind, [link for _, link in members]), strict=True):
            before = found[number]
            if before is None or _badness(figures) < _badness(before):
                found[number] = figures
    return [figures for figures in found if figures is not None]


def _judged(kind: Kind, links: list[Link]) -> list[Figures]:
    """The figures of links of one kind, each by the best of the rows that hold for its glass."""
    found = _by_one_row(kind, links)
    for other in kind.otherwise:
        open_ones = [number for number, one in enumerate(found) if one.verdict is not Verdict.PASS]
        for number, one in zip(open_ones, _by_one_row(other, [links[n] for n in open_ones]), strict=True):
            if RANK[one.verdict] > RANK[found[number].verdict]:
                found[number] = one
    return found


def _by_one_row(kind: Kind, links: list[Link]) -> list[Figures]:
    judged = kind.judge(kind.links(links))
    sums = _larger(judged.links.losses)
    told = len(kind.ways) > 0
    known = judged.links.known and len(kind.chain.lines) > 0
    columns = (
        judged.rank,
        judged.on_estimate,
        judged.margin,
        *(sums or [judged.margin] * 3),
        judged.links.total,
        judged.by_length,
    )
    lines = zip(*(column.tolist() for column in columns), kind.marks(judged), strict=True)
    return [
        Figures(
            verdict=VERDICTS[rank],
            on_estimate=guess,
            margin_db=None if margin != margin else margin,
            worst_db=worst if told else None,
            expected_db=expected if told else None,
            least_db=least if told else None,
            length_m=round(length, 6) if known else None,
            applications=kind.names,
            marks=marks,
            stage=kind.stage(rank, by_length),
            as_measured=kind.as_measured,
            house_margin_db=kind.house_margin_db,
        )
        for rank, guess, margin, worst, expected, least, length, by_length, marks in lines
    ]


def _larger(losses: tuple[Sums, ...]) -> list[Floats]:
    """Worst, expected and least loss of the way with the larger worst loss, each of shape (n,)."""
    best = list(losses[0][:3]) if losses else []
    for sums in losses[1:]:
        more = sums.worst > best[0] + 1e-12
        best = [np.where(more, there, here) for there, here in zip(sums[:3], best, strict=True)]
    return best


def _known(key: Hashable, link: Link, catalog: Catalog, house: HouseRules) -> Kind:
    """The kind of a link, judged where it is not known."""
    with _LOCK:
        known = _KINDS.get(key)
    if known is None:
        known = kind_of(_all_named(link), catalog, house)
        with _LOCK:
            _KINDS[key] = known
    return known


def _all_named(link: Link) -> Link:
    """The link with an id for each piece."""
    if all(element.id for element in link.elements):
        return link
    elements = tuple(
        e if e.id else e.model_copy(update={"id": f"at {position}"}) for position, e in enumerate(link.elements)
    )
    return link.model_copy(update={"elements": elements})


_LOCK = threading.Lock()
_KINDS: RRCache[Hashable, Kind] = RRCache(160 * 1024 * 1024, getsizeof=lambda _one: KIND_BYTES)
"""Within a bound; a random one goes: where the oldest went, a list with one kind too many would find none."""
_NUMBERS = count()


@lru_cache(maxsize=64)
def _number(_catalog: Catalog, _house: HouseRules) -> int:
    """One number for a catalog and house, so that a kind is looked up without comparing them."""
    return next(_NUMBERS)


def forget_kinds() -> None:
    """Start from nothing, as a new process does; for measuring."""
    with _LOCK:
        _KINDS.clear()


def _badness(figures: Figures) -> tuple[int, float]:
    return RANK[figures.verdict], figures.margin_db if figures.margin_db is not None else float("-inf")


def _key(link: Link) -> Hashable:
    """What two links share when they differ in names, labels, ids and lengths only.

    A link with readings is its own kind: what was read stands for its pieces as they are.
    """
    key: list[Hashable] = [link.wanted_rate_mbps]
    for element in link.elements:  # one plain loop: it runs over each piece of ten thousand links
        values: dict[str, Any] = element.__dict__
        key.append(_TRAITS[values["kind"]](values))
        if "length_m" in values:
            key.append(values["length_m"] is None)
        if "left" in values:
            for plug in (values["left"], values["right"]):
                key.append(plug and (plug.shape, plug.polish))
    if link.readings:
        key.append(link)
    return tuple(key)


def look(link: Link) -> Hashable:
    """What links of one kind share, of their first piece of the middle: quick, and coarser than the kind."""
    middle = link.elements[len(link.elements) // 2].__dict__ if link.elements else {"kind": ""}
    return len(link.elements), middle["kind"], middle.get("fiber"), link.wanted_rate_mbps


_OUTSIDE_TRAITS = {"id", "key", "label", "place", "part", "length_m", "left", "right"}
_RIDE = {"enter", "leave", "positions"}
_TRAITS: dict[str, Callable[[dict[str, Hashable]], Hashable]] = {
    spec.kind: itemgetter(
        "kind",
        *sorted(
            set(spec.record.model_fields) - _OUTSIDE_TRAITS - (_RIDE if spec.any_position else set()) - {"kind"}
        ),
    )
    for spec in KINDS
}

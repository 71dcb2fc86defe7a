"""Many links at once: figures and verdicts without words, vectorized over links that differ in length only.

All that does not depend on lengths is judged once for each kind of chain, by the same review as a single link,
on a specimen in which every known length is one kilometre. Losses are sums over lengths, so the specimen's terms
are their coefficients, and margins, reach and verdicts of all links of that kind follow from arrays.
"""

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
from cachetools import LRUCache
from numpy.typing import NDArray

from passerelle.core.budget.power import Limit
from passerelle.core.budget.reach import governing_row
from passerelle.core.catalog.records import ReachRow
from passerelle.core.catalog.shelves import Catalog
from passerelle.core.findings import Finding, Severity, Verdict, verdict_words
from passerelle.core.house import HouseRules, house_catalog
from passerelle.core.link.candidates import undecided_glass, variants
from passerelle.core.link.chain import GLASS_KINDS, Link, on_copper
from passerelle.core.link.elements import (
    Assembly,
    Attenuator,
    Cord,
    Element,
    Jack,
    Module,
    Outlet,
    Panel,
    Pigtail,
    Port,
    Run,
    Splice,
    Twisted,
)
from passerelle.core.review import DirectionReview, Review, examine
from passerelle.core.stages import ESTIMATED_LENGTH, Stage, stage_of

SPECIMEN_M = 1000.0
SPECIMEN_BYTES = 45_000  # what one takes, measured over the demo; the bound below counts with it
LENGTH_CODES = frozenset(
    {
        "reach.exceeded",
        "reach.below_minimum",
        "reach.engineered",
        "launch.offset_missing",
        "launch.omitted",
        "loss.over_limit",
        "margin.thin",
        "light.too_bright",
        "light.damage",
    }
)
_RANK = {verdict: verdict.rank for verdict in Verdict}
_VERDICTS = list(Verdict)
_SEVERITIES = list(Severity)
Floats = NDArray[np.float64]
Ranks = NDArray[np.int64]


class Figures(NamedTuple):
    """What the list of links shows of one link; losses and margin in dB, length in m, None where not known.

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

    @property
    def verdict_text(self) -> str:
        """The verdict in words, as the review of the link has it."""
        return verdict_words(self.verdict, on_estimate=self.on_estimate, as_measured=self.as_measured)


def figures_of(links: Sequence[Link], catalog: Catalog, house: HouseRules) -> list[Figures]:
    """Figures of all links, in their order; the same as the review of each link by itself.

    The names in the links must be in the catalog (``check_names``).
    """
    with _no_collection():
        return _figures(links, house_catalog(catalog, house), house)


@contextmanager
def _no_collection() -> Iterator[None]:
    """Without the cycle collector: a batch makes no cycles, and each collection would walk all its links."""
    was_on = gc.isenabled()
    gc.disable()
    try:
        yield
    finally:
        if was_on:
            gc.enable()


def _figures(links: Sequence[Link], catalog: Catalog, house: HouseRules) -> list[Figures]:
    known = _Specimens(catalog, house)
    kinds: dict[Hashable, list[tuple[int, Link]]] = defaultdict(list)
    found: list[Figures | None] = [None] * len(links)
    for number, link in enumerate(links):
        for variant in variants(link) or [undecided_glass(link)]:
            if variant.readings:
                figures, before = _one(variant, catalog, house), found[number]
                found[number] = figures if before is None or _badness(figures) < _badness(before) else before
            else:
                kinds[_kind(variant)].append((number, variant))
    for kind, members in kinds.items():
        if on_copper(members[0][1]):
            for number, link in members:
                found[number] = _one(link, catalog, house)
            continue
        judged = known.of(kind, members[0][1]).judge([link for _, link in members])
        for (number, _), figures in zip(members, judged, strict=True):
            before = found[number]
            if before is None or _badness(figures) < _badness(before):
                found[number] = figures
    return [figures for figures in found if figures is not None]


def _one(link: Link, catalog: Catalog, house: HouseRules) -> Figures:
    """A link judged by itself: one without glass, which has few rules and no sums, or one with readings."""
    link = link.model_copy(update={"elements": tuple([_named(e, i) for i, e in enumerate(link.elements)])})
    judged = examine(link, catalog, house, detail=False)
    position = {e.id: i for i, e in enumerate(link.elements)}
    marks: list[Severity | None] = [None] * len(link.elements)
    for finding in judged.findings:
        for at in finding.marked:
            _mark(marks, position[at], finding.severity)
    return Figures(
        verdict=judged.verdict,
        on_estimate=judged.on_estimate,
        margin_db=judged.margin_db,
        worst_db=judged.loss.worst_db if judged.loss else None,
        expected_db=judged.loss.expected_db if judged.loss else None,
        least_db=judged.loss.least_db if judged.loss else None,
        length_m=judged.length_m,
        applications=judged.applications,
        marks=tuple(marks),
        stage=judged.stage,
        as_measured=judged.as_measured,
    )


class _Specimens:
    """The kinds of chain judged so far by one catalog and house: the next batch starts from them."""

    def __init__(self, catalog: Catalog, house: HouseRules) -> None:
        self._catalog, self._house = catalog, house
        self._own = _number(catalog, house)

    def of(self, kind: Hashable, link: Link) -> _Specimen:
        """The specimen of a kind, reviewed where it is not known."""
        key = self._own, kind
        with _LOCK:
            known = _SPECIMENS.get(key)
        if known is None:
            known = _Specimen(link, self._catalog, self._house)
            with _LOCK:
                _SPECIMENS[key] = known
        return known


_LOCK = threading.Lock()
_SPECIMENS: LRUCache[Hashable, _Specimen] = LRUCache(256 * 1024 * 1024, getsizeof=lambda _one: SPECIMEN_BYTES)
_NUMBERS = count()


@lru_cache(maxsize=64)
def _number(_catalog: Catalog, _house: HouseRules) -> int:
    """One number for a catalog and house, so that a kind is looked up without comparing them."""
    return next(_NUMBERS)


def forget_specimens() -> None:
    """Start from nothing, as a new process does; for measuring."""
    with _LOCK:
        _SPECIMENS.clear()


def _badness(figures: Figures) -> tuple[int, float]:
    return _RANK[figures.verdict], figures.margin_db if figures.margin_db is not None else float("-inf")


def _kind(link: Link) -> Hashable:
    """What two links share when they differ in names, labels, ids and lengths only."""
    key: list[Hashable] = [link.wanted_rate_mbps]
    for element in link.elements:  # one plain loop: it runs over each piece of ten thousand links
        values: dict[str, Any] = element.__dict__
        kind = values["kind"]
        key.append(_TRAITS[kind](values))
        if kind in GLASS_KINDS:
            for plug in (values["left"], values["right"]):
                key.append(plug and (plug.shape, plug.polish))
            key.append(values["length_m"] is None)
    return tuple(key)


_OUTSIDE_TRAITS = {"id", "label", "place", "length_m", "left", "right", "cable", "strand_numbers"}
_TRAITS: dict[str, Callable[[dict[str, Hashable]], Hashable]] = {
    kind.model_fields["kind"].default: itemgetter(*(set(kind.model_fields) - _OUTSIDE_TRAITS))
    for kind in (Port, Module, Cord, Panel, Run, Splice, Pigtail, Attenuator, Twisted, Outlet, Jack, Assembly)
}


class _Specimen:
    """One kind of chain, reviewed once."""

    def __init__(self, link: Link, catalog: Catalog, house: HouseRules) -> None:
        elements = tuple([_one_kilometre(e, i) for i, e in enumerate(link.elements)])
        self.link = link.model_copy(update={"elements": elements})
        self.position = {e.id: i for i, e in enumerate(elements)}
        self.house = house
        self.review: Review = examine(self.link, catalog, house, detail=False)
        self.glass = [i for i, e in enumerate(elements) if isinstance(e, Cord | Run | Pigtail)]
        self.modules = [i for i, e in enumerate(elements) if e.kind == "module"]
        names = self.review.applications
        rows = (governing_row(catalog.application(name), self.link) for name in names)
        self.rows: list[ReachRow] = [row for row in rows if row is not None]
        self.fixed = [f for f in self.review.findings if f.code not in LENGTH_CODES]
        self.launch = [f for f in self.review.findings if f.code == "launch.offset_missing"]
        keeps = {Verdict.DAMAGE, Verdict.FAIL, Verdict.UNKNOWN}
        self.keeping = [(f.code, f.best is Verdict.UNKNOWN) for f in self.fixed if f.best in keeps]
        self.estimated = any(f.code == ESTIMATED_LENGTH for f in self.fixed)
        self.fixed_rank = _worst_rank(self.fixed)
        self.firm_rank = _worst_rank([f for f in self.fixed if not f.on_estimate])
        self.directions = _different(self.review.directions)

    def judge(self, links: list[Link]) -> list[Figures]:
        """Figures of links of this kind."""
        lengths = self._lengths(links)
        total = lengths.sum(axis=1)
        losses = [self._losses(direction, lengths) for direction in self.directions]
        rank = np.full(len(links), self.fixed_rank)
        reach = self._reach_rank(total, self.rows)
        launch = self._launch_rank(total)
        margin, shaky, receivers, firm_light = self._light(lengths, losses)
        passing = np.full(len(links), _RANK[Verdict.PASS])
        light = np.minimum.reduce([passing, *(there for _, there in receivers)])
        rank = np.minimum.reduce([rank, reach, launch, light])
        firm = np.minimum.reduce(
            [
                np.full(len(links), self.firm_rank),
                self._reach_rank(total, [row for row in self.rows if not row.source.estimate]),
                passing if all(f.on_estimate for f in self.launch) else launch,
                firm_light,
            ]
        )
        shaky = np.where(rank <= _RANK[Verdict.FAIL], firm > rank, shaky)
        if not self.review.complete:
            rank = np.minimum(rank, _RANK[Verdict.UNKNOWN])
        sums = _larger(losses, len(links))
        known = all(self.link.elements[i].__dict__["length_m"] is not None for i in self.glass) and self.glass
        apps = self.review.applications
        marks = self._marks(reach, launch, receivers, lengths)
        broken = np.minimum.reduce([reach, launch, light]) <= _RANK[Verdict.FAIL]
        stages = self._stages()
        told = bool(self.review.directions)
        lines = zip(
            rank.tolist(),
            shaky.tolist(),
            margin.tolist(),
            *(s.tolist() for s in sums),
            total.tolist(),
            marks,
            broken.tolist(),
            strict=True,
        )
        return [
            Figures(
                verdict=_VERDICTS[of_rank],
                on_estimate=guess,
                margin_db=None if of_margin != of_margin else of_margin,
                worst_db=worst if told else None,
                expected_db=expected if told else None,
                least_db=least if told else None,
                length_m=round(length, 6) if known else None,
                applications=apps,
                marks=marked,
                stage=stages[late, of_rank != _RANK[Verdict.UNKNOWN]],
            )
            for of_rank, guess, of_margin, worst, expected, least, length, marked, late in lines
        ]

    def _stages(self) -> dict[tuple[bool, bool], Stage]:
        """The stage by whether length, launch or light breaks the link, and whether there is a verdict."""
        return {
            (late, judged): stage_of(
                [*self.keeping, *([("loss.over_limit", False)] if late else [])],
                judged=judged,
                estimated=self.estimated,
            )
            for late in (False, True)
            for judged in (False, True)
        }

    def _lengths(self, links: list[Link]) -> Floats:
        """Lengths of the glass of each link, shape (links, pieces of glass); unknown ones count as zero."""
        rows = [[link.elements[i].__dict__["length_m"] or 0.0 for i in self.glass] for link in links]
        return np.array(rows, dtype=np.float64).reshape(len(links), len(self.glass))

    def _reach_rank(self, total: Floats, rows: list[ReachRow]) -> Ranks:
        rank = np.full(len(total), _RANK[Verdict.PASS])
        if not self.review.complete and any(self.link.elements[i].__dict__["length_m"] is None for i in self.glass):
            return rank
        foreign = any(f.code == "fiber.not_for_application" for f in self.fixed)
        graded = all(self.link.elements[i].__dict__["fiber"] for i in self.glass)
        for row in [] if foreign and len(self.rows) == 0 else rows:
            if graded:
                rank = np.where(total < row.min_length_m, np.minimum(rank, _RANK[Verdict.MARGINAL]), rank)
            rank = np.where(total > row.reach_m, np.minimum(rank, _RANK[Verdict.FAIL]), rank)
        return rank

    def _launch_rank(self, total: Floats) -> Ranks:
        if not self.launch:
            return np.full(len(total), _RANK[Verdict.PASS])
        known = self.review.length_m is not None
        omitted = (total < self.house.offset_launch_from_m) & known
        return np.where(omitted, _RANK[Verdict.MARGINAL], _RANK[Verdict.FAIL])

    def _losses(self, direction: DirectionReview, lengths: Floats) -> Floats:
        """Worst, expected and least loss in dB of each link, shape (3, links)."""
        per_metre = np.zeros((3, len(self.glass)))
        rest = np.zeros((3, 1))
        for term in direction.terms:
            values = (term.worst_db, term.expected_db, term.least_db)
            if term.part == "fiber":
                column = self.glass.index(self.position[term.at])
                per_metre[:, column] = [value / SPECIMEN_M for value in values]
            else:
                rest[:, 0] += values
        return np.asarray(per_metre @ lengths.T + rest)

    def _light(
        self, lengths: Floats, losses: list[Floats]
    ) -> tuple[Floats, NDArray[np.bool_], list[tuple[tuple[int, ...], Ranks]], Ranks]:
        """The deciding margin (NaN where none), what rests on estimates, the verdict ranks at the receivers, and
        the ranks that stand without any estimate.

        Receivers stand by their positions in the chain, both where the two directions are the same.
        """
        count = len(lengths)
        low, broken = np.full(count, np.nan), np.full(count, np.nan)
        mixed = any(f.code == "application.mixed" for f in self.fixed)
        shaky = np.full(count, mixed and self.review.complete)
        at: list[tuple[tuple[int, ...], Ranks]] = []
        firm = np.full(count, _RANK[Verdict.PASS])
        if not self.review.complete:
            return low, shaky, at, firm
        for direction, (worst, _, least) in zip(self.directions, losses, strict=True):
            guess_db = self._guessed_db(direction, lengths)
            certain = sum(t.least_db for t in direction.terms if not t.least_source.estimate)
            dim = [limit for limit in direction.limits if limit.low_light]
            bright = [limit for limit in direction.limits if not limit.low_light]
            rank = np.full(count, _RANK[Verdict.PASS])
            if dim:
                margin = np.round(min(map(_allowed_db, dim)) - worst, 6)
                low = np.fmin(low, margin)
                rank = np.where(margin < 0, np.minimum(rank, _RANK[Verdict.FAIL]), rank)
                shaky |= (guess_db > 0) | any(map(_recalled, dim))
            for limit in dim:
                own = np.round(_allowed_db(limit) - worst, 6)
                sure = (own < 0) & (own + guess_db < 0) & (not _recalled(limit))
                firm = np.where(sure, np.minimum(firm, _RANK[Verdict.FAIL]), firm)
            for limit in bright:
                room = _allowed_db(limit)
                margin = np.round(room + least, 6)
                shaky |= (margin >= 0) & ((room + certain < 0) | _recalled(limit))
                broken = np.fmin(broken, np.where(margin < 0, margin, np.nan))
                worst_case = _RANK[Verdict.DAMAGE if limit.name == "damage" else Verdict.FAIL]
                rank = np.where(margin < 0, np.minimum(rank, worst_case), rank)
                sure = (margin < 0) & (room + worst < 0) & (not _recalled(limit))
                firm = np.where(sure, np.minimum(firm, worst_case), firm)
            both = len(self.directions) == 1
            at.append((tuple(self.modules) if both else (self.position[direction.receiver],), rank))
        broken = np.fmin(broken, np.where(low < 0, low, np.nan))
        thin = (low >= 0) & (low < self.house.margin_db)
        at = [(where, np.where(thin, np.minimum(rank, _RANK[Verdict.MARGINAL]), rank)) for where, rank in at]
        return np.where(np.isnan(broken), low, broken), shaky, at, firm

    def _guessed_db(self, direction: DirectionReview, lengths: Floats) -> Floats:
        """How much of the worst loss in dB is estimated, shape (links,)."""
        guess = np.zeros(len(lengths))
        for term in direction.terms:
            if term.worst_source.estimate:
                column = self.glass.index(self.position[term.at]) if term.part == "fiber" else None
                per_m = term.worst_db / SPECIMEN_M
                guess = guess + (term.worst_db if column is None else per_m * lengths[:, column])
        return guess

    def _marks(
        self, reach: Ranks, launch: Ranks, receivers: list[tuple[tuple[int, ...], Ranks]], lengths: Floats
    ) -> list[tuple[Severity | None, ...]]:
        """The worst severity on each piece of each link; most links of a kind share one tuple."""
        base: list[Severity | None] = [None] * len(self.link.elements)
        for finding in self.fixed:
            for at in finding.marked:
                _mark(base, self.position[at], finding.severity)
        plain = tuple(base)
        marked: list[tuple[Severity | None, ...]] = []
        worst = np.minimum.reduce([reach, launch, *(rank for _, rank in receivers)]).tolist()
        for k, rank in enumerate(worst):
            if rank == _RANK[Verdict.PASS]:
                marked.append(plain)
                continue
            marks = list(base)
            for finding in self.launch:
                _mark(marks, self.position[finding.at[0]], _severity(launch[k]))
            if reach[k] != _RANK[Verdict.PASS]:
                _mark(marks, self.glass[int(lengths[k].argmax())], _severity(reach[k]))
            for where, rank_there in receivers:
                if rank_there[k] != _RANK[Verdict.PASS]:
                    for module in where:
                        _mark(marks, module, _severity(rank_there[k]))
            marked.append(tuple(marks))
        return marked


def _worst_rank(findings: list[Finding]) -> int:
    return min((_RANK[f.best] for f in findings if f.best), default=_RANK[Verdict.PASS])


def _allowed_db(limit: Limit) -> float:
    """What a limit allows, without the loss that stands last in its sum."""
    return sum(figure.value for figure in limit.figures[:-1])


def _recalled(limit: Limit) -> bool:
    """Whether a figure of a limit is an estimate."""
    return any(figure.source.estimate for figure in limit.figures)


def _severity(rank: int) -> Severity:
    verdict = _VERDICTS[rank]
    return {Verdict.DAMAGE: Severity.DAMAGE, Verdict.FAIL: Severity.FAIL}.get(verdict, Severity.CAUTION)


def _mark(marks: list[Severity | None], at: int, severity: Severity) -> None:
    before = marks[at]
    if severity is not Severity.NOTE and (
        before is None or _SEVERITIES.index(severity) < _SEVERITIES.index(before)
    ):
        marks[at] = severity


def _different(directions: tuple[DirectionReview, ...]) -> tuple[DirectionReview, ...]:
    """The directions that differ in loss or limits: one where the link is the same both ways."""
    if len(directions) < 2:
        return directions
    there, back = ((*d.terms, *d.limits) for d in directions)
    same = len(there) == len(back) and all(a is b for a, b in zip(there, back, strict=True))
    return directions[:1] if same else directions


def _larger(losses: list[Floats], count: int) -> Floats:
    """Worst, expected and least loss of the direction with the larger worst loss, shape (3, links)."""
    best = np.zeros((3, count))
    for number, sums in enumerate(losses):
        best = sums if number == 0 else np.where(sums[0] > best[0] + 1e-12, sums, best)
    return best


def _named(element: Element, position: int) -> Element:
    """The piece with an id."""
    return element if element.id else element.model_copy(update={"id": f"at {position}"})


def _one_kilometre(element: Element, position: int) -> Element:
    """The piece with an id, and a kilometre long where its length is known."""
    element = _named(element, position)
    if isinstance(element, Cord | Run | Pigtail) and element.length_m is not None:
        return element.model_copy(update={"length_m": SPECIMEN_M})
    return element

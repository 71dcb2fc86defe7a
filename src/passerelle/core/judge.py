"""The one judge: n links of one kind at once.

All that does not depend on lengths is found once for a kind of chain; rules over lengths answer with arrays. The
review of one link is this judge with n = 1, and words.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from functools import cached_property

import numpy as np

from passerelle.core.budget.light import Light, house_margin_db
from passerelle.core.budget.loss import without_figures
from passerelle.core.budget.measured import reading_findings
from passerelle.core.budget.ways import Way, ways_of
from passerelle.core.catalog.records import Application
from passerelle.core.catalog.shelves import Catalog
from passerelle.core.findings import Finding, Severity, Verdict
from passerelle.core.house import HouseRules
from passerelle.core.link.chain import Link
from passerelle.core.link.compose import Chain, compose
from passerelle.core.parts.piece import NEW_STATES
from passerelle.core.polarity.findings import polarity_findings
from passerelle.core.polarity.trace import Lane, trace
from passerelle.core.rules.by_length import (
    DAMAGE,
    FAIL,
    MARGINAL,
    PASS,
    UNKNOWN,
    Bools,
    ByLength,
    Floats,
    Links,
    Ranks,
    Sums,
    passing,
)
from passerelle.core.rules.condition import dead_pieces
from passerelle.core.rules.copper import CopperFound, copper_found, mixed
from passerelle.core.rules.inputs import LENGTH_ESTIMATED, arrived_otherwise, estimated_lengths, missing_inputs
from passerelle.core.rules.inside import inside_rules
from passerelle.core.rules.launch import launch_findings, launch_rules
from passerelle.core.rules.made_length import made_length_rules, made_on_a_guess
from passerelle.core.rules.mating import mating_findings, open_joint
from passerelle.core.rules.port import APPLICATION_MIXED, end_findings, port_findings
from passerelle.core.rules.reach import Reach, foreign_glass, governing_row, other_grades
from passerelle.core.rules.spaces import space_findings
from passerelle.core.rules.splices import splice_rules
from passerelle.core.stages import Stage, stage_of

RANK = {verdict: verdict.rank for verdict in Verdict}
VERDICTS = list(Verdict)
_SEVERITIES = list(Severity)


@dataclass(frozen=True)
class Judged:
    """What is said of n links of one kind, each array of shape (n,): losses and margin in dB, NaN where none.

    ``margin`` is that of the deciding limit, ``by_length`` the rank that the rules over lengths leave.
    ``heard`` are those of them that object to a link: of the others nothing more is asked.
    """

    links: Links
    rank: Ranks
    on_estimate: Bools
    margin: Floats
    by_length: Ranks
    heard: tuple[ByLength, ...] = ()


@dataclass(frozen=True)
class Kind:
    """A kind of chain under one catalog and house: its parts, its findings whatever the lengths, and the rest.

    ``fixed`` are the findings that no length changes, ``rules`` those over lengths. ``ways`` is how the light goes,
    ``copper`` what a link without glass is. ``otherwise`` is the kind by the rows of other grades that its glass
    meets: a link is what the best of them says.
    """

    chain: Chain
    house: HouseRules
    fixed: tuple[Finding, ...]
    rules: tuple[ByLength, ...]
    ways: tuple[Way, ...] = ()
    light: Light | None = None
    copper: CopperFound | None = None
    lanes: tuple[Lane, ...] = ()
    applications: tuple[Application, ...] = ()
    complete: bool = False
    guessed: bool = False
    as_measured: bool = field(default=False)
    otherwise: tuple[Kind, ...] = ()

    @property
    def house_margin_db(self) -> float:
        """The house margin in dB that holds for links of this kind."""
        return self.light.house_margin_db if self.light else self.house.margin_db

    @property
    def names(self) -> tuple[str, ...]:
        """What runs on it, by name."""
        if self.copper:
            return (self.copper.name,) if self.copper.name else ()
        return tuple(application.name for application in self.applications)

    def links(self, links: Sequence[Link]) -> Links:
        """The lengths and losses of links of this kind."""
        columns = [line.position for line in self.chain.lines]
        rows = [[link.elements[i].__dict__["length_m"] for i in columns] for link in links]
        each = np.array([[m or 0.0 for m in row] for row in rows], dtype=np.float64).reshape(
            len(links), len(columns)
        )
        known = all(line.traits.length_m is not None for line in self.chain.lines)
        losses = self._losses(each)
        if self.light is None:
            return Links(each, each.sum(axis=1), known, losses)
        return Links(each, each.sum(axis=1), known, losses, *self.light.reckon(losses))

    def _losses(self, each: Floats) -> tuple[Sums, ...]:
        """Sums of each way; a link that is the same both ways is summed once."""
        if len(self.ways) == 2 and self.ways[0].terms is self.ways[1].terms:
            one = self.ways[0].sums(each)
            return one, one
        return tuple(way.sums(each) for way in self.ways)

    def judge(self, links: Links) -> Judged:
        """Verdict ranks, margins and whether they rest on estimates."""
        ranks = [rule.rank(links) for rule in self.rules]
        by_length = np.minimum.reduce([passing(links.count), *ranks])
        rank: Ranks = np.minimum(by_length, self._fixed_rank)
        heard = tuple(rule for rule, found in zip(self.rules, ranks, strict=True) if (found != PASS).any())
        firm = np.minimum.reduce([np.full(links.count, self._firm_rank), *(rule.firm(links) for rule in heard)])
        lit = self.light is not None and self.complete
        margin = self.light.margin(links) if self.light and lit else np.full(links.count, np.nan)
        undecided = np.isnan(margin) if self.copper is None else np.full(links.count, not self.complete)
        rank = np.where(undecided, np.minimum(rank, UNKNOWN), rank)
        return Judged(
            links=links,
            rank=rank,
            on_estimate=np.where(rank <= FAIL, firm > rank, self._rests_on_estimate(links)),
            margin=margin,
            by_length=by_length,
            heard=heard,
        )

    def _rests_on_estimate(self, links: Links) -> Bools:
        """Whether what is kept rests on an estimate."""
        if self.copper and self.copper.reach:
            return self.copper.reach.on_estimate(links)
        if not self.complete or self.light is None:
            return np.zeros(links.count, dtype=bool)
        return self.light.on_estimate(links) | self.guessed

    def stage(self, rank: int, by_length: int) -> Stage:
        """The first stage of the job with work on a link of this rank, and of this by the rules over lengths."""
        return self._stages[min(by_length, MARGINAL), rank != UNKNOWN]

    @cached_property
    def _stages(self) -> dict[tuple[int, bool], Stage]:
        keeps = (Verdict.DAMAGE, Verdict.FAIL, Verdict.UNKNOWN)
        keeping: list[Stage] = [finding.stage for finding in self.fixed if finding.best in keeps]
        late: dict[int, list[Stage]] = {DAMAGE: ["budget"], FAIL: ["budget"], UNKNOWN: ["survey"], MARGINAL: []}
        estimated = any(finding.code == LENGTH_ESTIMATED.code for finding in self.fixed)
        built = all(piece.state not in NEW_STATES for piece in self.chain.link.elements)
        return {
            (rank, judged): stage_of([*keeping, *more], judged=judged, estimated=estimated, built=built)
            for rank, more in late.items()
            for judged in (False, True)
        }

    @cached_property
    def _fixed_rank(self) -> int:
        return worst_rank(self.fixed)

    @cached_property
    def _firm_rank(self) -> int:
        return worst_rank([f for f in self.fixed if not f.on_estimate])

    def marks(self, judged: Judged) -> list[tuple[Severity | None, ...]]:
        """The worst severity on each piece of each link; most links of a kind share one tuple."""
        base: list[Severity | None] = [None] * len(self.chain.places)
        for finding in self.fixed:
            for at in finding.marked:
                _mark(base, self._position[at], finding.severity)
        plain = tuple(base)
        points = [
            (np.broadcast_to(where, judged.rank.shape), ranks)
            for rule in judged.heard
            for where, ranks in rule.points(judged.links)
        ]
        if not points:
            return [plain] * len(judged.rank)
        worst = np.minimum.reduce([ranks for _, ranks in points])
        found = [plain] * len(judged.rank)
        for one in np.flatnonzero(worst != PASS).tolist():
            marks = list(base)
            for where, ranks in points:
                if ranks[one] != PASS:
                    _mark(marks, int(where[one]), severity_of(int(ranks[one])))
            found[one] = tuple(marks)
        return found

    @cached_property
    def _position(self) -> dict[str, int]:
        return {place.id: place.position for place in self.chain.places}


def kind_of(link: Link, catalog: Catalog, house: HouseRules, *, steps: bool = False) -> Kind:
    """The kind of chain that a link is, judged in all but its lengths; its pieces have one candidate grade at most.

    ``steps``: the lanes say where they enter and leave each piece.
    """
    chain = compose(link, catalog)
    around = [
        *space_findings(chain, catalog),
        *estimated_lengths(chain),
        *arrived_otherwise(chain),
        *dead_pieces(chain),
        *made_on_a_guess(chain),
        *port_findings(chain, catalog),
    ]
    if chain.realms == {"light", "copper"}:
        return Kind(chain, house, (*around, mixed(chain)), ())
    inside = inside_rules(chain, around)
    cautions = [rule.caution for rule in inside]
    around = [finding for finding in around if finding not in cautions]
    by_length: list[ByLength] = [*inside, *made_length_rules(chain, house.end_slack_m)]
    if chain.realms == {"copper"}:
        return _copper_kind(chain, catalog, house, around, by_length)
    kind = _glass_kind(chain, catalog, house, around, by_length, steps=steps)
    grades = other_grades(kind.applications, chain) if kind.complete else ()
    others = (_glass_kind(chain, catalog, house, around, by_length, grade=grade, steps=steps) for grade in grades)
    return replace(kind, otherwise=tuple(others))


def best_of(kind: Kind, link: Link) -> tuple[Kind, Judged]:
    """A link by the best of the rows that hold for its glass, judged with n = 1; by its own row among equals."""
    tried = [(one, one.judge(one.links([link]))) for one in (kind, *kind.otherwise)]
    return max(tried, key=lambda pair: int(pair[1].rank[0]))


def _copper_kind(
    chain: Chain, catalog: Catalog, house: HouseRules, around: list[Finding], lengths: Sequence[ByLength]
) -> Kind:
    opened = [open_joint(joint) for joint in chain.joints if joint.kind == "open"]
    if opened:
        return Kind(chain, house, (*around, *opened), tuple(lengths), copper=CopperFound())
    found = copper_found(chain, catalog)
    fixed = (*around, *missing_inputs(chain), *found.findings)
    complete = found.reach is not None and chain.length_m is not None
    return Kind(chain, house, fixed, (*lengths, *found.by_length), copper=found, complete=complete)


def _glass_kind(
    chain: Chain,
    catalog: Catalog,
    house: HouseRules,
    around: list[Finding],
    lengths: Sequence[ByLength],
    *,
    steps: bool,
    grade: str = "",
) -> Kind:
    names = dict.fromkeys(end.traits.optics.application for end in chain.ends if end.traits.optics)
    applications = tuple(catalog.application(name) for name in names)
    lanes = trace(chain, steps=steps)
    missing = missing_inputs(chain)
    ways = ways_of(chain, catalog, grade)
    terms = [term for way in ways[:1] for term in way.terms if term.part in ("fiber", "reading")]
    assumed = {term.at for way in ways[:1] for term in way.terms if term.every_m}
    counted = {at for term in terms for at in (term.at, *term.covers)}
    summed = not missing and all(line.id in counted for line in chain.glass)
    complete = summed and len(chain.ends) == 2 and chain.closed
    light = Light(ways, house, house_margin_db(chain, catalog, house)) if ways else None
    by_length: list[ByLength] = [light] if light and complete else []
    by_length += [*lengths, *splice_rules(chain, catalog.reel_m, assumed)]
    fixed = [
        *around,
        *mating_findings(chain, catalog),
        *end_findings(chain, catalog),
        *polarity_findings(chain, lanes),
        *missing,
        *reading_findings(chain, catalog),
    ]
    graded = all(line.traits.grades for line in chain.glass)
    for application in applications:
        foreign = foreign_glass(chain, application, catalog)
        row = None if foreign else governing_row(application, chain, grade)
        fixed += foreign or without_figures(chain, catalog, application)
        if row is not None:
            by_length.append(Reach(chain, application, row, graded))
        if row is not None and graded:
            fixed += launch_findings(chain, application, row, catalog)
            by_length += launch_rules(chain, application, row, house)
    return Kind(
        chain,
        house,
        tuple(fixed),
        tuple(by_length),
        ways,
        light,
        lanes=lanes,
        applications=applications,
        complete=complete,
        guessed=any(f.code == APPLICATION_MIXED.code for f in fixed),
        as_measured=any(t.part == "reading" and t.proves for way in ways for t in way.terms),
    )


def worst_rank(findings: Sequence[Finding]) -> int:
    """The rank that the worst of some findings leaves."""
    return min((RANK[f.best] for f in findings if f.best), default=PASS)


def severity_of(rank: int) -> Severity:
    """How much what leaves this rank weighs."""
    verdict = VERDICTS[rank]
    return {Verdict.DAMAGE: Severity.DAMAGE, Verdict.FAIL: Severity.FAIL}.get(verdict, Severity.CAUTION)


def _mark(marks: list[Severity | None], at: int, severity: Severity) -> None:
    before = marks[at]
    if severity is not Severity.NOTE and (
        before is None or _SEVERITIES.index(severity) < _SEVERITIES.index(before)
    ):
        marks[at] = severity

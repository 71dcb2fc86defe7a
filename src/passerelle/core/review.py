"""One link, all its figures and findings: the one door that api, cli and selection use."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

from passerelle.core.budget.light import LIGHT_DAMAGE, LIGHT_TOO_BRIGHT, LIGHT_UNDECIDED, Sides
from passerelle.core.budget.loss import Direction, LossSummary, LossTerm, summarize, told_terms
from passerelle.core.budget.power import (
    Limit,
    PowerPoint,
    ReceiverWindow,
    launch_dbm,
    power_along,
    receiver_window,
)
from passerelle.core.budget.ways import Way
from passerelle.core.catalog.shelves import Catalog
from passerelle.core.errors import EditError
from passerelle.core.findings import Effect, Finding, Fix, Rule, Severity, Verdict, verdict_words
from passerelle.core.house import HouseRules, house_catalog
from passerelle.core.judge import RANK, VERDICTS, Judged, Kind, best_of, kind_of
from passerelle.core.link.candidates import undecided_glass, variants
from passerelle.core.link.chain import Link, glass
from passerelle.core.link.edits import apply_edits
from passerelle.core.link.names import check_names
from passerelle.core.polarity.trace import Lane
from passerelle.core.repairs.cures import candidate_cures
from passerelle.core.repairs.light import pads
from passerelle.core.rules.copper import COPPER_REACHES
from passerelle.core.sources import Frozen
from passerelle.core.stages import Stage
from passerelle.core.units import format_db

FIBER_CANDIDATES = Rule("fiber.candidates", "match")

BRIGHT_CODES = (LIGHT_TOO_BRIGHT.code, LIGHT_DAMAGE.code, LIGHT_UNDECIDED.code)
MAX_FIXES = 4
_WEIGHT = {Severity.DAMAGE: 0, Severity.FAIL: 1, Severity.CAUTION: 2, Severity.NOTE: 3}


class DirectionReview(Frozen):
    """What happens to the light in one direction."""

    direction: Direction
    sender: str
    receiver: str
    application: str
    wavelengths_nm: tuple[int, ...]
    loss: LossSummary
    terms: tuple[LossTerm, ...]
    limits: tuple[Limit, ...]
    points: tuple[PowerPoint, ...]
    window: ReceiverWindow
    arrives_max_dbm: float
    arrives_min_dbm: float


class SideMargin(Frozen):
    """The tightest limit of one side of the light with its margin in dB."""

    limit: str
    margin_db: float

    @classmethod
    def of(cls, limit: Limit | None) -> SideMargin | None:
        """That of a limit, where there is one."""
        return cls(limit=limit.name, margin_db=limit.margin_db) if limit else None


class CandidateVerdict(Frozen):
    """The verdict if the undecided glass is of these grades."""

    grades: tuple[str, ...]
    verdict: Verdict
    margin_db: float | None


class Review(Frozen):
    """All that can be said of a link. Losses and margins in dB, lengths in m.

    ``reach_m`` is how far a link without glass may go from port to port; None for glass, whose limits differ.
    ``as_measured``: a reading that decides stands in the place of terms of the loss.
    ``stage`` is the first stage of the job that still has work on this link.
    ``dark`` is the tightest margin against too little light, which the house margin is held against; ``bright``
    that against too much, which it is not: nothing gets brighter with age.
    ``complete`` is false when a piece's length, grade or figure is missing, so that sums are lower bounds and
    no margin is given.
    """

    verdict: Verdict
    on_estimate: bool
    as_measured: bool = False
    headline: str
    applications: tuple[str, ...]
    rate_mbps: int | None
    length_m: float | None
    reach_m: float | None = None
    complete: bool
    margin_db: float | None
    deciding_limit: str | None
    dark: SideMargin | None = None
    bright: SideMargin | None = None
    house_margin_db: float
    loss: LossSummary | None
    directions: tuple[DirectionReview, ...]
    lanes: tuple[Lane, ...]
    findings: tuple[Finding, ...]
    candidates: tuple[CandidateVerdict, ...]
    stage: Stage

    @property
    def verdict_text(self) -> str:
        """The verdict in words: ``pass``, ``pass on estimate``, ``fail``, ``pass as measured``."""
        return verdict_words(self.verdict, on_estimate=self.on_estimate, as_measured=self.as_measured)


def review(
    link: Link, catalog: Catalog, house: HouseRules, *, with_fixes: bool = True, detail: bool = True
) -> Review:
    """Review a link: figures, findings, verdict, and for each finding the fixes that were tried and work.

    Without ``detail`` the quantile of the loss and the power along the chain are left out.
    Where a piece may be of several grades all combinations are computed; the worst verdict stands.

    The house's own figures and its allowance profile stand in the place of the catalog's.

    Raises:
        EditError: a piece names something that the catalog does not have.
        CatalogError: the house has an own figure that the catalog has no place for.
    """
    return _review(link, house_catalog(catalog, house), house, with_fixes=with_fixes, detail=detail)


@dataclass(frozen=True)
class Brief:
    """What a fix is tried by: the verdict of a link, its findings, its margin and the tightest both ways in dB."""

    verdict: Verdict
    on_estimate: bool
    margin_db: float | None
    findings: tuple[Finding, ...]
    dark_db: float | None = None
    bright_db: float | None = None

    @property
    def badness(self) -> tuple[int, float]:
        """What orders the candidates of a link, worst first."""
        return self.verdict.rank, round(self.margin_db, 6) if self.margin_db is not None else float("-inf")


def _review(link: Link, catalog: Catalog, house: HouseRules, *, with_fixes: bool, detail: bool) -> Review:
    check_names(link, catalog)
    possible = variants(link)
    if possible is None:
        found = examine(undecided_glass(link), catalog, house, detail=detail)
    else:
        briefs = [_brief_of(variant, catalog, house) for variant in possible] if len(possible) > 1 else []
        worst = min(range(len(briefs)), key=lambda number: briefs[number].badness, default=0)
        found = examine(possible[worst], catalog, house, detail=detail)
        if briefs:
            found = _with_candidates(link, found, worst, list(zip(possible, briefs, strict=True)))
    if with_fixes:
        fixed = tuple(_with_fixes(link, found, finding, catalog, house) for finding in found.findings)
        found = found.model_copy(update={"findings": fixed})
    return found


def with_others(found: Review, said: Sequence[Finding]) -> Review:
    """A review with what is said of the link beside the other links of its project."""
    if not said:
        return found
    findings = tuple(sorted([*found.findings, *said], key=_order))
    worst = min((finding.best for finding in said if finding.best), key=RANK.__getitem__, default=found.verdict)
    if RANK[worst] >= RANK[found.verdict]:
        return found.model_copy(update={"findings": findings})
    update = {"verdict": worst, "on_estimate": False, "as_measured": False, "stage": said[0].stage}
    return found.model_copy(update={**update, "findings": findings, "headline": said[0].what})


def _brief(link: Link, catalog: Catalog, house: HouseRules) -> Brief:
    """The worst of what a link may be, in brief."""
    check_names(link, catalog)
    possible = variants(link) or [undecided_glass(link)]
    found = min((_brief_of(one, catalog, house) for one in possible), key=lambda brief: brief.badness)
    if len(possible) > 1:
        more = FIBER_CANDIDATES.note(tuple(p.id for p in glass(link) if len(p.fiber) > 1), "", "")
        return replace(found, findings=(*found.findings, more))
    return found


def _brief_of(link: Link, catalog: Catalog, house: HouseRules) -> Brief:
    kind, judged = best_of(kind_of(link, catalog, house), link)
    margin = float(judged.margin[0])
    return Brief(
        verdict=VERDICTS[judged.rank[0]],
        on_estimate=bool(judged.on_estimate[0]),
        margin_db=None if margin != margin else margin,
        findings=_findings(kind, judged),
        dark_db=_least(kind, judged, low=True),
        bright_db=_least(kind, judged, low=False),
    )


def _least(kind: Kind, judged: Judged, *, low: bool) -> float | None:
    """The tightest margin in dB of a single link against too little light, or against too much."""
    held = zip(kind.light.limits, judged.links.margins[:, 0], strict=True) if kind.light else ()
    return min((float(margin) for (limit, _), margin in held if limit.low_light is low), default=None)


def _findings(kind: Kind, judged: Judged) -> tuple[Finding, ...]:
    """All that is said of a single link, worst first."""
    said = [finding for rule in kind.rules for finding in rule.say(judged.links)]
    return tuple(sorted([*kind.fixed, *said], key=_order))


def _with_candidates(link: Link, worst: Review, number: int, tried: list[tuple[Link, Brief]]) -> Review:
    open_pieces = [p for p in glass(link) if len(p.fiber) > 1]
    verdicts: dict[tuple[str, ...], Brief] = {}
    for variant, found in tried:
        chosen = {piece.id: piece.fiber[0] for piece in glass(variant) if piece.fiber}
        grades = tuple(dict.fromkeys(chosen[p.id] for p in open_pieces))
        if grades not in verdicts or found.badness < verdicts[grades].badness:
            verdicts[grades] = found
    candidates = tuple(
        CandidateVerdict(grades=grades, verdict=found.verdict, margin_db=found.margin_db)
        for grades, found in verdicts.items()
    )
    named = next(grades for grades, found in verdicts.items() if found is tried[number][1])
    grades_text = " with ".join(named)
    matched = any(getattr(p, "matches_run", False) for p in open_pieces)
    finding = FIBER_CANDIDATES.note(
        tuple(p.id for p in open_pieces),
        f"The grade is not decided: {' or '.join(dict.fromkeys(g for p in open_pieces for g in p.fiber))}. "
        f"The worst verdict stands, for {grades_text}."
        + (" The cords are bought to match it, once it has been read." if matched else ""),
        "; ".join(f"{' with '.join(c.grades)}: {c.verdict.value}" for c in candidates) + ".",
    ).of(candidates=len(candidates), worst=grades_text)
    return worst.model_copy(
        update={
            "candidates": candidates,
            "findings": (*worst.findings, finding),
            "headline": f"If it is {grades_text}: {worst.headline}",
        }
    )


def examine(link: Link, catalog: Catalog, house: HouseRules, *, detail: bool = True) -> Review:
    """Figures and findings of a link whose pieces have at most one candidate grade each: the judge with n = 1."""
    kind, judged = best_of(kind_of(link, catalog, house, steps=detail), link)
    findings = _findings(kind, judged)
    verdict = VERDICTS[judged.rank[0]]
    told = kind.light.told(judged.links) if kind.light else []
    directions: tuple[DirectionReview, ...] = ()
    for number, way in enumerate(kind.ways):
        directions += (_direction(kind, way, judged, number, told, directions, detail=detail),)
    deciding = kind.light.deciding(judged.links, told) if kind.light and kind.complete else None
    sides = kind.light.sides(told) if kind.light and kind.complete else Sides()
    copper = kind.copper
    rates = [application.rate_mbps for application in kind.applications]
    return Review(
        verdict=verdict,
        on_estimate=bool(judged.on_estimate[0]),
        as_measured=kind.as_measured,
        headline=_headline(verdict, findings, sides, kind.house_margin_db),
        applications=kind.names,
        rate_mbps=copper.rate_mbps if copper else min(rates, default=None),
        length_m=kind.chain.length_m if kind.chain.lines else None,
        reach_m=copper.reach.reach_m if copper and copper.reach else None,
        complete=kind.complete,
        margin_db=deciding.margin_db if deciding else None,
        deciding_limit=deciding.name if deciding else None,
        dark=SideMargin.of(sides.dark),
        bright=SideMargin.of(sides.bright),
        house_margin_db=kind.house_margin_db,
        loss=max((d.loss for d in directions), key=lambda s: s.worst_db, default=None),
        directions=directions,
        lanes=kind.lanes,
        findings=findings,
        candidates=(),
        stage=kind.stage(int(judged.rank[0]), int(judged.by_length[0])),
    )


def _order(finding: Finding) -> tuple[object, ...]:
    """Worst first; among equals the cause before what follows from it: a broken reach row before the loss."""
    follows = not finding.code.startswith("reach.")
    best = finding.best.rank if finding.best else 99
    return _WEIGHT[finding.severity], best, follows, finding.code, finding.at


def _headline(verdict: Verdict, findings: tuple[Finding, ...], sides: Sides, house_margin_db: float) -> str:
    cause = next((f for f in findings if f.best is verdict), None)
    reaches = next((f for f in findings if f.code == COPPER_REACHES.code and verdict is Verdict.PASS), None)
    if cause or reaches:
        return (cause or reaches).what  # type: ignore[union-attr]
    if sides.dark:
        dark = f"{format_db(sides.dark.margin_db)} against too little light ({sides.dark.name})"
        house = f", house margin {house_margin_db:g} dB"
        if sides.bright is None:
            return f"All limits are kept: {dark}{house}."
        bright = f"{format_db(sides.bright.margin_db)} against too much ({sides.bright.name})"
        return f"All limits are kept: {dark}{house}; {bright}."
    return "There is not enough to judge the link."


def _direction(
    kind: Kind,
    way: Way,
    judged: Judged,
    number: int,
    told: list[tuple[Limit, str]],
    before: tuple[DirectionReview, ...],
    *,
    detail: bool,
) -> DirectionReview:
    """One way of the light in one link, term by term and limit by limit; what is as in the way before is its."""
    if before and way.terms is kind.ways[0].terms:
        terms, summary = before[0].terms, before[0].loss
    else:
        terms = told_terms(way.terms, judged.links.each[0].tolist())
        summary = summarize(terms, judged.links.losses[number], spread=detail)
    strongest, weakest = launch_dbm(way.sends, way.row)
    return DirectionReview(
        direction=way.direction,
        sender=way.sender.id,
        receiver=way.receiver.id,
        application=way.sends.name,
        wavelengths_nm=way.sends.wavelengths_nm,
        loss=summary,
        terms=terms,
        limits=tuple(limit for limit, at in told if at == way.receiver.id),
        points=power_along(kind.chain, way.direction, terms, way.sends, way.row) if detail else (),
        window=receiver_window(way.receives),
        arrives_max_dbm=strongest - summary.least_db,
        arrives_min_dbm=weakest - summary.worst_db,
    )


def _with_fixes(link: Link, before: Review, finding: Finding, catalog: Catalog, house: HouseRules) -> Finding:
    """The finding with its cures that clear it and bring no fail or damage that was not there."""
    known = {f.key for f in before.findings}
    offered: list[Fix] = []
    tried: set[str] = set()
    for fix in candidate_cures(link, finding, catalog):
        if len(offered) == MAX_FIXES:
            break
        if fix.label in tried:
            continue
        tried.add(fix.label)
        try:
            after = _brief(apply_edits(link, fix.edits), catalog, house)
        except EditError:
            continue
        left = {f.key for f in after.findings}
        brought = {f.key for f in after.findings if f.best and f.best.broken} - known
        if finding.key in left or brought or _no_better(before, after):
            continue
        offered.append(fix.model_copy(update={"effect": _effect(before, after)}))
    told: dict[str, object] = {"fixes": tuple(offered)}
    if finding.code in BRIGHT_CODES and not any(e.op == "insert" for fix in offered for e in fix.edits):
        told["why"] = f"{finding.why} {_nearest_pad(link, catalog, house)}".strip()
    return finding.model_copy(update=told)


def nearest_pad(link: Link, catalog: Catalog, house: HouseRules) -> str:
    """Where no attenuator keeps both limits on paper: the nearest one, and what it leaves open at each end."""
    return _nearest_pad(link, house_catalog(catalog, house), house)


def _nearest_pad(link: Link, catalog: Catalog, house: HouseRules) -> str:
    tried: list[tuple[float, float, float]] = []
    for value_db, edits in pads(link, catalog):
        after = _brief(apply_edits(link, edits), catalog, house)
        if after.dark_db is not None and after.bright_db is not None:
            tried.append((value_db, after.dark_db, after.bright_db))
    if not tried:
        return ""
    value_db, dark, bright = max(tried, key=lambda pad: min(pad[1], pad[2]))
    return (
        f"No fixed attenuator of the usual values keeps both limits on paper. The nearest, {value_db:g} dB, leaves "
        f"{format_db(dark, 2)} against too little light and {format_db(bright, 2)} against too much: measure the "
        "loss, then choose."
    )


def _no_better(before: Review, after: Brief) -> bool:
    """A worse verdict, or one that stays broken with a smaller margin."""
    if after.verdict.rank != before.verdict.rank:
        return after.verdict.rank < before.verdict.rank
    margins = (before.margin_db, after.margin_db)
    return after.verdict.broken and None not in margins and margins[1] < margins[0]  # type: ignore[operator]


def _effect(before: Review, after: Brief) -> Effect:
    left = {f.key for f in after.findings}
    return Effect(
        verdict=after.verdict,
        on_estimate=after.on_estimate,
        margin_db=after.margin_db,
        cleared=tuple(f.what for f in before.findings if f.best and f.key not in left),
        remaining=sum(1 for f in after.findings if f.best),
    )

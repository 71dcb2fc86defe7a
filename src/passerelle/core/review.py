"""One link, all its figures and findings: the one door that api, cli and selection use."""

from __future__ import annotations

from passerelle.core.budget.loss import Direction, LossSummary, LossTerm, loss_terms, summarize
from passerelle.core.budget.measured import as_measured, reading_findings
from passerelle.core.budget.power import (
    DirectedLoss,
    Limit,
    PowerPoint,
    ReceiverWindow,
    launch_dbm,
    limits,
    limits_between,
    power_along,
    receiver_window,
)
from passerelle.core.budget.reach import governing_row, missing_inputs, reach_findings
from passerelle.core.budget.verdicts import light_findings
from passerelle.core.catalog.records import Application
from passerelle.core.catalog.shelves import Catalog
from passerelle.core.findings import (
    Effect,
    Finding,
    Fix,
    Severity,
    Verdict,
    note,
    rests_on_estimate,
    verdict_words,
)
from passerelle.core.house import HouseRules, house_catalog
from passerelle.core.kept import Kept
from passerelle.core.link.candidates import undecided_glass, variants
from passerelle.core.link.chain import Link, glass, length_m, modules, on_copper
from passerelle.core.link.edits import EditError, apply_edits
from passerelle.core.link.elements import Cord
from passerelle.core.link.names import check_names
from passerelle.core.match.copper import copper_review
from passerelle.core.match.joints import Joint, joints
from passerelle.core.match.lengths import estimated_lengths
from passerelle.core.match.mating import mating_findings
from passerelle.core.match.ports import port_findings
from passerelle.core.polarity.trace import Lane, polarity_findings, trace
from passerelle.core.repairs.cures import candidate_cures
from passerelle.core.repairs.light import pads
from passerelle.core.sources import Frozen
from passerelle.core.stages import ESTIMATED_LENGTH, Stage, stage_of
from passerelle.core.units import format_db

COUNTED = ("fiber", "reading")
BRIGHT_CODES = ("light.too_bright", "light.damage")
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


class CandidateVerdict(Frozen):
    """The verdict if the undecided glass is of these grades."""

    grades: tuple[str, ...]
    verdict: Verdict
    margin_db: float | None


class Review(Frozen):
    """All that can be said of a link. Losses and margins in dB, lengths in m.

    ``reach_m`` is how far a link without glass may go from port to port; None for glass, whose limits differ.
    ``as_measured``: a reading that decides stands in the place of terms of the loss.
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
    house_margin_db: float
    loss: LossSummary | None
    directions: tuple[DirectionReview, ...]
    lanes: tuple[Lane, ...]
    findings: tuple[Finding, ...]
    candidates: tuple[CandidateVerdict, ...]

    @property
    def stage(self) -> Stage:
        """The first stage of the job that still has work on this link."""
        keeps = (Verdict.DAMAGE, Verdict.FAIL, Verdict.UNKNOWN)
        return stage_of(
            ((f.code, f.best is Verdict.UNKNOWN) for f in self.findings if f.best in keeps),
            judged=self.verdict is not Verdict.UNKNOWN,
            estimated=any(f.code == ESTIMATED_LENGTH for f in self.findings),
        )

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


def _review(link: Link, catalog: Catalog, house: HouseRules, *, with_fixes: bool, detail: bool) -> Review:
    check_names(link, catalog)
    possible = variants(link)
    if possible is None:
        found = examine(undecided_glass(link), catalog, house, detail=detail)
    else:
        all_found = [(variant, examine(variant, catalog, house, detail=detail)) for variant in possible]
        _, found = min(all_found, key=lambda pair: _badness(pair[1]))
        if len(all_found) > 1:
            found = _with_candidates(link, found, all_found)
    if with_fixes:
        fixed = tuple(_with_fixes(link, found, finding, catalog, house) for finding in found.findings)
        found = found.model_copy(update={"findings": fixed})
    return found


def _badness(found: Review) -> tuple[int, float]:
    return found.verdict.rank, round(found.margin_db, 6) if found.margin_db is not None else float("-inf")


def _with_candidates(link: Link, worst: Review, all_found: list[tuple[Link, Review]]) -> Review:
    open_pieces = [p for p in glass(link) if len(p.fiber) > 1]
    verdicts: dict[tuple[str, ...], Review] = {}
    for variant, found in all_found:
        grades = tuple(dict.fromkeys(variant.element(p.id).fiber[0] for p in open_pieces))  # type: ignore[union-attr]
        if grades not in verdicts or _badness(found) < _badness(verdicts[grades]):
            verdicts[grades] = found
    candidates = tuple(
        CandidateVerdict(grades=grades, verdict=found.verdict, margin_db=found.margin_db)
        for grades, found in verdicts.items()
    )
    named = next(grades for grades, found in verdicts.items() if found is worst)
    grades_text = " with ".join(named)
    matched = any(isinstance(p, Cord) and p.matches_run for p in open_pieces)
    finding = note(
        "fiber.candidates",
        tuple(p.id for p in open_pieces),
        f"The grade is not decided: {' or '.join(dict.fromkeys(g for p in open_pieces for g in p.fiber))}. "
        f"The worst verdict stands, for {grades_text}."
        + (" The cords are bought to match it, once it has been read." if matched else ""),
        "; ".join(f"{' with '.join(c.grades)}: {c.verdict.value}" for c in candidates) + ".",
    )
    return worst.model_copy(
        update={
            "candidates": candidates,
            "findings": (*worst.findings, finding),
            "headline": f"If it is {grades_text}: {worst.headline}",
        }
    )


def examine(link: Link, catalog: Catalog, house: HouseRules, *, detail: bool = True) -> Review:
    """Figures and findings of a link whose pieces have at most one candidate grade each."""
    if on_copper(link):
        return _on_copper(link, catalog, house)
    touching = joints(link, catalog)
    ends = modules(link)
    applications = tuple(dict.fromkeys(catalog.application(m.application).name for m in ends))
    lanes = trace(link, touching, steps=detail)
    missing = missing_inputs(link)
    directions = _directions(link, touching, catalog, detail)
    counted = {at for d in directions[:1] for t in d.terms for at in (t.at, *t.covers) if t.part in COUNTED}
    known = not missing and all(piece.id in counted for piece in glass(link))
    complete = known and len(ends) == 2 and all(j.kind != "open" for j in touching)
    findings = [
        *mating_findings(link, touching, catalog),
        *port_findings(link, touching, catalog),
        *polarity_findings(link, lanes),
        *missing,
        *estimated_lengths(link),
        *reading_findings(link),
        *(f for name in applications for f in reach_findings(link, catalog.application(name), catalog, house)),
    ]
    deciding = None
    if complete:
        all_limits = [(limit, d.receiver) for d in directions for limit in d.limits]
        findings += light_findings(all_limits, house)
        deciding = _deciding([limit for limit, _ in all_limits])
        if deciding and house.profile == "typical field":
            findings += _typical(all_limits)
    findings.sort(key=_order)
    verdict = min((f.best for f in findings if f.best), key=lambda v: v.rank, default=Verdict.PASS)
    if verdict is Verdict.PASS and deciding is None:
        verdict = Verdict.UNKNOWN
    worst_loss = max((d.loss for d in directions), key=lambda s: s.worst_db, default=None)
    mixed = any(f.code == "application.mixed" for f in findings)
    return Review(
        verdict=verdict,
        on_estimate=rests_on_estimate(
            verdict,
            findings,
            figures_do=complete and (mixed or any(limit.on_estimate for d in directions for limit in d.limits)),
        ),
        as_measured=any(t.part == "reading" for d in directions for t in d.terms),
        headline=_headline(verdict, findings, deciding),
        applications=applications,
        rate_mbps=min((catalog.application(n).rate_mbps for n in applications), default=None),
        length_m=length_m(link) if glass(link) else None,
        complete=complete,
        margin_db=deciding.margin_db if deciding else None,
        deciding_limit=deciding.name if deciding else None,
        house_margin_db=house.margin_db,
        loss=worst_loss,
        directions=directions,
        lanes=lanes,
        findings=tuple(findings),
        candidates=(),
    )


_COPPER: Kept[Review] = Kept(16)


def _on_copper(link: Link, catalog: Catalog, house: HouseRules) -> Review:
    """The review of a link without glass, kept: it is asked for each fix anew."""
    return _COPPER.get((link, catalog, house), lambda: _copper_reviewed(link, catalog, house))


def _copper_reviewed(link: Link, catalog: Catalog, house: HouseRules) -> Review:
    """No loss in dB, no light, no margin but metres."""
    found = copper_review(link, catalog)
    findings = sorted(found.findings, key=_order)
    verdict = min((f.best for f in findings if f.best), key=lambda v: v.rank, default=Verdict.PASS)
    reaches = next((f.what for f in findings if f.code == "copper.reaches"), None)
    if verdict is Verdict.PASS and reaches is None:
        verdict = Verdict.UNKNOWN
    return Review(
        verdict=verdict,
        on_estimate=rests_on_estimate(verdict, findings, figures_do=found.on_estimate),
        headline=(reaches if verdict is Verdict.PASS else None) or _headline(verdict, findings, None),
        applications=(found.name,) if found.name else (),
        rate_mbps=found.rate_mbps,
        length_m=length_m(link),
        reach_m=found.reach_m,
        complete=found.reach_m is not None and length_m(link) is not None,
        margin_db=None,
        deciding_limit=None,
        house_margin_db=house.margin_db,
        loss=None,
        directions=(),
        lanes=(),
        findings=tuple(findings),
        candidates=(),
    )


def _typical(all_limits: list[tuple[Limit, str]]) -> list[Finding]:
    """The margin with typical values instead of worst ones: it informs and never decides."""
    low = [(limit, at) for limit, at in all_limits if limit.low_light]
    if not low:
        return []
    limit, at = min(low, key=lambda pair: pair[0].typical_margin_db)
    return [
        note(
            "margin.typical",
            (at,),
            f"With typical field values the margin is {format_db(limit.typical_margin_db)}.",
            f"On the standard's maxima, which decide, it is {format_db(limit.margin_db)} against the {limit.name}.",
        )
    ]


def _order(finding: Finding) -> tuple[object, ...]:
    """Worst first; among equals the cause before what follows from it: a broken reach row before the loss."""
    follows = not finding.code.startswith("reach.")
    best = finding.best.rank if finding.best else 99
    return _WEIGHT[finding.severity], best, follows, finding.code, finding.at


def _headline(verdict: Verdict, findings: list[Finding], deciding: Limit | None) -> str:
    cause = next((f for f in findings if f.best is verdict), None)
    if cause:
        return cause.what
    if deciding:
        return f"All limits are kept; the tightest is the {deciding.name}."
    return "There is not enough to judge the link."


def _deciding(all_limits: list[Limit]) -> Limit | None:
    """The tightest low-light limit, or a broken high-light one where that is worse."""
    broken = [limit for limit in all_limits if limit.margin_db < 0]
    low = [limit for limit in all_limits if limit.low_light]
    return min(broken or low, key=lambda limit: limit.margin_db, default=None)


def _directions(
    link: Link, touching: tuple[Joint, ...], catalog: Catalog, detail: bool
) -> tuple[DirectionReview, ...]:
    ends = modules(link)
    if len(ends) != 2 or not glass(link):
        return ()
    a, b = ends
    ways: tuple[tuple[Direction, str, str, Application, Application], ...] = (
        ("right", a.id, b.id, catalog.application(a.application), catalog.application(b.application)),
        ("left", b.id, a.id, catalog.application(b.application), catalog.application(a.application)),
    )
    cores = {catalog.fiber(piece.fiber[0]).core_um for piece in glass(link) if piece.fiber}
    symmetric = a.application == b.application and len(cores) < 2 and not link.readings
    found: list[DirectionReview] = []
    for direction, sender, receiver, sends, receives in ways:
        if found and symmetric:
            loss = DirectedLoss(direction, found[0].terms, found[0].loss)
            kept = found[0].limits
        else:
            terms = loss_terms(link, touching, catalog, sends.wavelengths_nm, direction)
            terms = as_measured(link, terms, sends.wavelengths_nm, direction)
            loss = DirectedLoss(direction, terms, summarize(terms, spread=detail))
            kept = _limits_between(link, sends, receives, loss)
        row = governing_row(sends, link)
        strongest, weakest = launch_dbm(sends, row)
        found.append(
            DirectionReview(
                direction=direction,
                sender=sender,
                receiver=receiver,
                application=sends.name,
                wavelengths_nm=sends.wavelengths_nm,
                loss=loss.summary,
                terms=loss.terms,
                limits=kept,
                points=power_along(link, loss, sends, row) if detail else (),
                window=receiver_window(receives),
                arrives_max_dbm=strongest - loss.summary.least_db,
                arrives_min_dbm=weakest - loss.summary.worst_db,
            )
        )
    return tuple(found)


def _limits_between(link: Link, sends: Application, receives: Application, loss: DirectedLoss) -> tuple[Limit, ...]:
    """Limits of the sender where the two belong together, of this direction where they work together; else none."""
    row, other = governing_row(sends, link), governing_row(receives, link)
    if row is None:
        return ()
    if sends.speaks_to(receives):
        return limits(sends, receives, row, loss)
    if sends.works_with(receives) and other is not None:
        return limits_between(sends, receives, (row, other), loss)
    return ()


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
            after = _review(apply_edits(link, fix.edits), catalog, house, with_fixes=False, detail=False)
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
        after = _review(apply_edits(link, edits), catalog, house, with_fixes=False, detail=False)
        every = [limit for direction in after.directions for limit in direction.limits]
        dark = min((limit.margin_db for limit in every if limit.low_light), default=None)
        bright = min((limit.margin_db for limit in every if not limit.low_light), default=None)
        if dark is not None and bright is not None:
            tried.append((value_db, dark, bright))
    if not tried:
        return ""
    value_db, dark, bright = max(tried, key=lambda pad: min(pad[1], pad[2]))
    return (
        f"No fixed attenuator of the usual values keeps both limits on paper. The nearest, {value_db:g} dB, leaves "
        f"{format_db(dark, 2)} against too little light and {format_db(bright, 2)} against too much: measure the "
        "loss, then choose."
    )


def _no_better(before: Review, after: Review) -> bool:
    """A worse verdict, or one that stays broken with a smaller margin."""
    if after.verdict.rank != before.verdict.rank:
        return after.verdict.rank < before.verdict.rank
    margins = (before.margin_db, after.margin_db)
    return after.verdict.broken and None not in margins and margins[1] < margins[0]  # type: ignore[operator]


def _effect(before: Review, after: Review) -> Effect:
    left = {f.key for f in after.findings}
    return Effect(
        verdict=after.verdict,
        on_estimate=after.on_estimate,
        margin_db=after.margin_db,
        cleared=tuple(f.what for f in before.findings if f.best and f.key not in left),
        remaining=sum(1 for f in after.findings if f.best),
    )

"""The reels of a project: which run is cut from which, whether what a person planned holds, what is left over."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from functools import lru_cache

from pydantic import computed_field

from passerelle.core.catalog.material_figures import material_figures
from passerelle.core.errors import MaterialError
from passerelle.core.house import HouseRules
from passerelle.core.materials.asked import Scope, cable_needs
from passerelle.core.materials.bill import AskedBy, Bill, BillLine
from passerelle.core.materials.lengths import cable_length
from passerelle.core.materials.reels import CuttingPlan, cutting_plan
from passerelle.core.parts.piece import NEW_STATES, LengthBy, State
from passerelle.core.plant.records import Cable, Cut, Reel, cable_path
from passerelle.core.plant.site import Plant, free_id
from passerelle.core.sources import Frozen

MOST_OFFERED = 3
NODES = 400
"""Where the programs of a screen's plan stop; the command line looks further."""


class CutRun(Frozen):
    """A length to cut, in m with its waste: for whom, which section of it, and how its length is known."""

    of: str
    section: int
    words: str
    length_m: float
    by: LengthBy
    asked: AskedBy


class ReelSeen(Frozen):
    """A reel with its cuts; lengths in m. ``left_m`` is less than zero where it is too short for them.

    ``row`` is its row of the plan, empty for one that is only proposed. ``useful``: what is left is worth keeping.
    """

    row: str
    name: str
    holds_m: float
    sold_m: float
    on_hand: bool
    state: State
    report: str
    cuts: tuple[CutRun, ...]
    left_m: float
    useful: bool


class Trouble(Frozen):
    """What does not hold in a plan of cuts, and what helps; ``reel`` and ``of`` say where, empty for the whole."""

    what: str
    remedy: str
    reel: str = ""
    of: str = ""


class Offer(Frozen):
    """What is left on a reel could be pulled along a way that is pulled anyway: so many more strands."""

    reel: str
    along: str
    cable: str
    needs_m: float


class ReelPlan(Frozen):
    """The reels of one kind of cable. ``planned``: a person took this plan; otherwise it is proposed.

    ``bought_m`` is bought, ``least_bought_m`` the proven least; ``each`` the price of a metre.
    """

    line: str
    runs: tuple[CutRun, ...]
    reels: tuple[ReelSeen, ...]
    loose: tuple[CutRun, ...]
    planned: bool
    bought_m: float
    least_bought_m: float
    proven: bool
    scrap_m: float
    each: float
    troubles: tuple[Trouble, ...]
    offers: tuple[Offer, ...]

    @computed_field  # type: ignore[prop-decorator]
    @property
    def holds(self) -> bool:
        """Whether every run has a reel that is long enough."""
        return not self.troubles


def reel_plans(scope: Scope, bill: Bill) -> tuple[ReelPlan, ...]:
    """A plan for each kind of cable that is bought by the metre, or that is on a reel."""
    lines = [line for line in bill.lines if line.unit == "m"]
    known = {line.words for line in lines}
    plans = [_plan(line.words, runs_of(line, scope), line.each, scope) for line in lines]
    alone = dict.fromkeys(reel.line for reel in scope.plant.reels if reel.line not in known)
    return (*plans, *(_plan(words, (), 0.0, scope) for words in alone))


def sold_m(house: HouseRules) -> tuple[float, ...]:
    """The lengths of reels that are sold."""
    return house.reel_sizes_m or material_figures().cable.reels_m


def runs_of(line: BillLine, scope: Scope) -> tuple[CutRun, ...]:
    """The lengths to cut of a line; a cable that no reel holds whole is cut where a joint is planned on its way."""
    longest = max(
        (*sold_m(scope.house), *(r.holds_m for r in scope.plant.reels if r.line == line.words)), default=0
    )
    found: list[CutRun] = []
    for one in line.asked:
        by = one.length.by if one.length else "unsaid"
        cable = scope.plant.cable_of.get(one.row)
        pieces = [one.quantity]
        if one.quantity > longest and cable is not None:
            pieces = _sections(cable, one.quantity, longest, scope)
        for number, length_m in enumerate(pieces):
            name = one.words if one.row else f"{one.link_name}, {one.words}"
            words = name if len(pieces) == 1 else f"{name}, section {number + 1}"
            found.append(CutRun(of=one.key, section=number, words=words, length_m=length_m, by=by, asked=one))
    return tuple(found)


def _sections(cable: Cable, whole_m: float, longest_m: float, scope: Scope) -> list[float]:
    """The lengths of a cable between the closures where it may be joined, as few as the longest reel allows."""
    plant = scope.plant
    path = cable_path(cable, plant.way_of) or ()
    joints = {tap.place for tap in plant.taps_of.get(cable.id, ()) if tap.joint}
    ways = [plant.way_of[name] for name in cable.ways]
    laid = sum(way.length_m + abs(way.rise_m) for way in ways)
    legs: list[float] = [0.0]
    for way, place in zip(ways, path[1:], strict=True):
        legs[-1] += way.length_m + abs(way.rise_m)
        if place in joints and place != path[-1]:
            legs.append(0.0)
    if len(legs) == 1:
        return [whole_m]
    beside = (whole_m - laid) / len(legs)
    made: list[float] = []
    for leg in legs:
        if made and made[-1] + leg + beside <= longest_m:
            made[-1] += leg + beside
        else:
            made.append(leg + beside)
    return [round(m, 3) for m in made]


def _plan(words: str, runs: tuple[CutRun, ...], each: float, scope: Scope) -> ReelPlan:
    rows = [reel for reel in scope.plant.reels if reel.line == words]
    if any(reel.cuts for reel in rows):
        return _told(words, runs, rows, each, scope, planned=True, found=None)
    hands = [reel for reel in rows if reel.on_hand or reel.state == "delivered"]
    there = tuple(reel.holds_m for reel in hands if reel.holds_m > 0)
    found = _cut(tuple(run.length_m for run in runs), tuple(sold_m(scope.house)), there)
    return _told(words, runs, proposed(words, runs, hands, found), each, scope, planned=False, found=found)


@lru_cache(maxsize=128)
def _cut(runs_m: tuple[float, ...], sold: tuple[float, ...], there: tuple[float, ...]) -> CuttingPlan:
    """The same task is solved once."""
    return cutting_plan(runs_m, sold_reels_m=sold, on_hand_m=there, nodes=NODES)


def proposed(words: str, runs: Sequence[CutRun], hands: Sequence[Reel], found: CuttingPlan) -> list[Reel]:
    """The reels of a plan as rows, those on hand first as they are."""
    free = sorted(hands, key=lambda reel: reel.holds_m)
    made: list[Reel] = []
    for number, one in enumerate(found.plan, start=1):
        cuts = tuple(Cut(of=runs[i].of, section=runs[i].section, length_m=runs[i].length_m) for i in one.runs)
        if one.source == "on hand":
            reel = next(r for r in free if abs(r.holds_m - one.reel_m) < 1e-3)
            free.remove(reel)
            made.append(reel.model_copy(update={"cuts": cuts}))
        else:
            name = f"reel {number} of {one.reel_m:g} m"
            made.append(Reel(id=f"new {number}", name=name, line=words, length_m=one.reel_m, cuts=cuts))
    return [*made, *free]


def _told(
    words: str,
    runs: tuple[CutRun, ...],
    rows: Sequence[Reel],
    each: float,
    scope: Scope,
    *,
    planned: bool,
    found: CuttingPlan | None,
) -> ReelPlan:
    wanted = {(run.of, run.section): run for run in runs}
    seen = tuple(_seen(reel, wanted, scope) for reel in rows)
    placed = {(run.of, run.section) for reel in seen for run in reel.cuts}
    loose = tuple(run for run in runs if (run.of, run.section) not in placed)
    bought = sum(reel.sold_m for reel in seen if not reel.on_hand and reel.state == "planned")
    troubles = (*_troubles(rows, seen, wanted), *_lossy(rows, scope), *(_loose(run, scope) for run in loose))
    return ReelPlan(
        line=words,
        runs=runs,
        reels=seen,
        loose=loose,
        planned=planned,
        bought_m=bought,
        least_bought_m=found.least_bought_m if found else bought,
        proven=found.proven if found else False,
        scrap_m=round(sum(reel.left_m for reel in seen if reel.cuts and not reel.useful and reel.left_m > 0), 3),
        each=each,
        troubles=troubles,
        offers=tuple(_offers(seen, words, scope)),
    )


def _seen(reel: Reel, wanted: dict[tuple[str, int], CutRun], scope: Scope) -> ReelSeen:
    cuts = tuple(wanted[cut.of, cut.section] for cut in reel.cuts if (cut.of, cut.section) in wanted)
    left = round(reel.holds_m - sum(run.length_m for run in cuts), 3)
    stored = any(row.id == reel.id for row in scope.plant.reels)
    return ReelSeen(
        row=reel.id if stored else "",
        name=reel.name,
        holds_m=reel.holds_m,
        sold_m=reel.length_m,
        on_hand=reel.on_hand,
        state=reel.state,
        report=reel.report,
        cuts=cuts,
        left_m=left,
        useful=left >= scope.house.least_useful_m,
    )


def _troubles(
    rows: Sequence[Reel], seen: Sequence[ReelSeen], wanted: dict[tuple[str, int], CutRun]
) -> Iterable[Trouble]:
    for reel in seen:
        if reel.left_m < 0:
            yield Trouble(
                what=f"{reel.name} holds {reel.holds_m:g} m and is {-reel.left_m:g} m too short for its cuts.",
                remedy=_shorter(reel, seen),
                reel=reel.row,
            )
    for row in rows:
        gone = [cut for cut in row.cuts if (cut.of, cut.section) not in wanted]
        if gone:
            yield Trouble(
                what=f"{row.name} has {len(gone)} cuts for what nothing asks for any more.",
                remedy="Plan the cuts anew, or take those off.",
                reel=row.id,
            )


def _lossy(rows: Sequence[Reel], scope: Scope) -> Iterable[Trouble]:
    """Reels whose factory report says more loss than the grade of their cable allows."""
    for row in rows:
        if row.report_db_per_km is None or row.report_nm is None:
            continue
        fiber = next((f for name, f in scope.catalog.fibers.items() if f", {name}, " in f"{row.line}, "), None)
        most = fiber.attenuation_db_per_km.get(row.report_nm) if fiber else None
        if fiber and most is not None and row.report_db_per_km > most:
            source = fiber.attenuation_sources.get(row.report_nm, fiber.attenuation_source)
            yield Trouble(
                what=f"{row.name} loses {row.report_db_per_km:g} dB/km at {row.report_nm} nm by its report, "
                f"{fiber.name} at most {most:g} dB/km.",
                remedy=f"Send it back before it is pulled ({source.text}).",
                reel=row.id,
            )


def _shorter(reel: ReelSeen, seen: Sequence[ReelSeen]) -> str:
    """What helps where a reel is too short: a cut that fits elsewhere, or another reel."""
    for run in sorted(reel.cuts, key=lambda run: run.length_m):
        if run.length_m < -reel.left_m:
            continue
        other = next((o for o in seen if o is not reel and o.left_m >= run.length_m), None)
        if other is not None:
            return f"Move {run.words} ({run.length_m:g} m) to {other.name}, which has {other.left_m:g} m left."
    return (
        "Send it back or order another reel now; nothing is found out in the pit. A joint needs a planned closure."
    )


def _loose(run: CutRun, scope: Scope) -> Trouble:
    longest = max(sold_m(scope.house), default=0.0)
    if run.length_m > longest:
        remedy = "Plan a closure with a joint on its way, or order a reel that is made for it."
        return Trouble(
            what=f"{run.words} takes {run.length_m:g} m, more than any reel ({longest:g} m).",
            remedy=remedy,
            of=run.of,
        )
    return Trouble(
        what=f"{run.words} ({run.length_m:g} m) is cut from no reel.", remedy="Put it on a reel.", of=run.of
    )


def _offers(seen: Sequence[ReelSeen], words: str, scope: Scope) -> Iterable[Offer]:
    """Ways in which this kind of cable is pulled anyway, for what is left: the longest that it reaches first."""
    pulled = [
        cable
        for cable in scope.plant.cables
        if cable.state in NEW_STATES
        and any(n.words == words for n in cable_needs(cable, cable_length(cable, scope.plant, scope.house), scope))
    ]
    for reel in seen:
        if not reel.useful or not (reel.cuts or reel.on_hand):
            continue
        fits = [(m, cable) for cable in pulled if (m := _whole_m(cable, scope.plant)) <= reel.left_m]
        for needs_m, cable in sorted(fits, key=lambda pair: -pair[0])[:MOST_OFFERED]:
            yield Offer(reel=reel.name, along=cable.name, cable=cable.id, needs_m=needs_m)


def _whole_m(cable: Cable, plant: Plant) -> float:
    ways = [plant.way_of[way] for way in cable.ways]
    return round(sum(way.length_m + abs(way.rise_m) for way in ways) + cable.slack_m, 3)


def taken_rows(plan: ReelPlan, plant: Plant) -> tuple[Reel, ...]:
    """The plan's reels as rows of the plan, those of other cables as they are: a proposal becomes a plan."""
    others = [reel for reel in plant.reels if reel.line != plan.line]
    names = {reel.id for reel in plant.reels}
    made: list[Reel] = []
    for seen in plan.reels:
        cuts = tuple(Cut(of=run.of, section=run.section, length_m=run.length_m) for run in seen.cuts)
        row = next((reel for reel in plant.reels if reel.id == seen.row), None)
        if row is None:
            own = free_id("reel", names)
            names.add(own)
            row = Reel(id=own, name=seen.name, line=plan.line, length_m=seen.sold_m, on_hand=seen.on_hand)
        made.append(row.model_copy(update={"cuts": cuts}))
    return (*others, *made)


def moved(plan: ReelPlan, plant: Plant, of: str, section: int, to: int | None) -> tuple[Reel, ...]:
    """The rows of the plan with one cut on another reel: the one at this place of the plan, None for no reel.

    Raises:
        MaterialError: there is no such cut, or no such reel.
    """
    run = next((run for run in plan.runs if (run.of, run.section) == (of, section)), None)
    if run is None:
        raise MaterialError("of", f"nothing asks for the run '{of}' any more: reload the page")
    if to is not None and not 0 <= to < len(plan.reels):
        raise MaterialError("to", f"there are {len(plan.reels)} reels of this cable: choose one of them")
    reels = [
        seen.model_copy(
            update={
                "cuts": (
                    *(one for one in seen.cuts if (one.of, one.section) != (of, section)),
                    *([run] if place == to else []),
                )
            }
        )
        for place, seen in enumerate(plan.reels)
    ]
    return taken_rows(plan.model_copy(update={"reels": tuple(reels)}), plant)

"""From a question to a complete chain: where from, where to, how far, how fast, what is there.

Every answer is reviewed like any other link; nothing is offered that the review calls broken.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace
from typing import Annotated, Literal

from pydantic import Field

from passerelle.core.batch import Figures, figures_of
from passerelle.core.budget.reach import reach_findings
from passerelle.core.catalog.prices import prices
from passerelle.core.catalog.records import Application
from passerelle.core.catalog.shelves import Catalog
from passerelle.core.findings import Verdict
from passerelle.core.house import HouseRules, house_catalog
from passerelle.core.link.build import LinkEnd, build_link, cage_for
from passerelle.core.link.chain import Link, glass
from passerelle.core.link.elements import FiberCandidates, Label, LengthM, Module, Strands
from passerelle.core.review import review
from passerelle.core.selection.copper import CopperAnswer, copper_answers
from passerelle.core.selection.cost import Cost, cost_of
from passerelle.core.sources import Frozen
from passerelle.core.units import format_db, format_length, format_rate

NEW_GRADES = ("OM4", "OS2")
CORD_ONLY_M = 20.0
RankBy = Literal["school", "cost", "margin", "later speed"]
_RANKED: dict[RankBy, str] = {
    "cost": "the smallest cost",
    "margin": "the widest margin",
    "later speed": "what carries the later speed too",
}


class NoAnswerError(ValueError):
    """Nothing in the catalog answers the question; the message says what came closest and why it is out."""


class Question(Frozen):
    """What is wanted. Lengths in m, rates in Mb/s; ``fiber`` is the glass that is there, empty for new cable.

    ``tolerance_percent`` is how far an estimated length may be off, either way: an answer holds over all of it.
    ``later_mbps`` is the speed wanted later on the same glass; ``rank_by`` what orders answers of one verdict.
    A way ``between_buildings`` rules copper out.
    ``application`` and ``grade`` (of new cable) narrow the answers to those that a person picked.
    """

    from_place: Label
    to_place: Label
    length_m: LengthM | None = None
    rate_mbps: int
    near_cage: str = ""
    far_cage: str = ""
    strands: Strands = 2
    fiber: FiberCandidates = ()
    application: Label = ""
    grade: Label = ""
    tolerance_percent: Annotated[float, Field(ge=0, le=50, allow_inf_nan=False)] = 0.0
    later_mbps: Annotated[int, Field(gt=0, le=1_000_000)] | None = None
    rank_by: RankBy = "school"
    between_buildings: bool = False


class RuledOut(Frozen):
    """An application on a grade that does not answer, and the one reason."""

    application: str
    fiber: tuple[str, ...]
    reason: str


class Option(Frozen):
    """One chain that answers, with its verdict, its low-light margin in dB at the longest, and what it costs.

    ``later`` names what would carry the speed wanted later on the same glass, empty where nothing does.
    """

    application: str
    fiber: tuple[str, ...]
    verdict_text: str
    margin_db: float | None
    link: Link
    cost: Cost
    dearer_by: float
    later: str


class Answer(Frozen):
    """The options, best first, why the first is first, what was ruled out, and what copper would do."""

    options: tuple[Option, ...]
    why: str
    ruled_out: tuple[RuledOut, ...]
    copper: tuple[CopperAnswer, ...] = ()


@dataclass(frozen=True)
class _Try:
    """One application on one glass, built and judged."""

    application: Application
    fiber: tuple[str, ...]
    link: Link
    figures: Figures
    cost: Cost
    later: str = ""

    @property
    def reach_m(self) -> float:
        """How far the application goes on this glass."""
        return _reach_m(self.application, self.fiber)


def _reach_m(application: Application, fiber: tuple[str, ...]) -> float:
    """The shortest reach in m among the grades that the glass may be; 0 where the clause has none of them."""
    rows = [application.row(grade) for grade in fiber]
    return min((row.reach_m for row in rows if row), default=0.0)


def answer(question: Question, catalog: Catalog, house: HouseRules) -> Answer:
    """Every application of the wanted speed on the glass that is there or on new glass, judged and ordered.

    Order: a pass before a marginal one, then the house's school of fiber, then what rests on no estimate, then
    the shortest reach that does it, whose optics are the plainest (the longest while the length is not known).

    Raises:
        CatalogError: a cage or grade that the catalog does not have.
    """
    pairs = list(_pairs(question, house_catalog(catalog, house)))
    links = [_chain(question, application, fiber, catalog, house) for application, fiber in pairs]
    listed = prices(house.own_prices)
    there = bool(question.fiber)
    tried = [
        _Try(application, fiber, link, figures, cost_of(link, listed, catalog, glass_is_there=there))
        for (application, fiber), link, figures in zip(
            pairs, links, _figures(links, question, catalog, house), strict=True
        )
    ]
    later = _later(question, catalog, house)
    tried = [replace(t, later=later.get(t.fiber, "")) for t in tried]
    fit = sorted((t for t in tried if _answers(t, question)), key=lambda t: _order(t, question, house))
    cheapest = min((t.cost.total for t in fit), default=0.0)
    return Answer(
        options=tuple(_option(t, cheapest) for t in fit),
        why=_why(fit, question, house),
        copper=copper_answers(
            question.rate_mbps,
            question.length_m,
            tolerance_percent=question.tolerance_percent,
            between_buildings=question.between_buildings,
        ),
        ruled_out=tuple(
            RuledOut(application=t.application.name, fiber=t.fiber, reason=_reason(t, question, catalog, house))
            for t in tried
            if not _answers(t, question)
        ),
    )


def best_link(question: Question, catalog: Catalog, house: HouseRules) -> Link:
    """The chain of the first option.

    Raises:
        NoAnswerError: nothing answers.
    """
    found = answer(question, catalog, house)
    if found.options:
        return found.options[0].link
    if not found.ruled_out:
        raise NoAnswerError(
            f"no application in the catalog runs {format_rate(question.rate_mbps)} on {question.strands} strand"
            f"{'s' if question.strands > 1 else ''} in these cages: choose another speed, cage or strand count"
        )
    shown = house_catalog(catalog, house)
    closest = max(found.ruled_out, key=lambda out: _reach_m(shown.application(out.application), out.fiber))
    raise NoAnswerError(
        f"nothing reaches: {closest.application} on {' or '.join(closest.fiber)}: {closest.reason} "
        "Choose a lower speed, a shorter way or other glass"
    )


def _pairs(question: Question, catalog: Catalog) -> Iterator[tuple[Application, tuple[str, ...]]]:
    """Applications of the speed that the cages take, each with the glass that it would run on."""
    for cage in filter(None, (question.near_cage, question.far_cage)):
        catalog.cage(cage)
    for grade in question.fiber:
        catalog.fiber(grade)
    for application in catalog.applications.values():
        second_side = application.partner is not None and application.partner < application.name
        if application.rate_mbps != question.rate_mbps or application.fibers != question.strands or second_side:
            continue
        if question.application not in ("", application.name):
            continue
        if not all(_form_for(application, cage, catalog) for cage in (question.near_cage, question.far_cage)):
            continue
        if question.fiber:
            yield application, question.fiber
        else:
            grades = (question.grade,) if question.grade else NEW_GRADES
            rows = (row for row in application.reaches if row.fiber in grades and row.launch == "any")
            yield from ((application, (row.fiber,)) for row in rows)


def _form_for(application: Application, cage: str, catalog: Catalog) -> str:
    """The module form of the application that a cage takes; empty where none does."""
    takes = catalog.cage(cage).accepts if cage else application.forms
    return next((form for form in application.forms if form in takes), "")


def _chain(
    question: Question, application: Application, fiber: tuple[str, ...], catalog: Catalog, house: HouseRules
) -> Link:
    usual = cage_for(catalog, application.name)
    near_cage, far_cage = question.near_cage or usual, question.far_cage or usual
    rates = (application.rate_mbps,)
    short = question.length_m is not None and question.length_m <= CORD_ONLY_M and not question.fiber
    link = build_link(
        f"{question.from_place} to {question.to_place}"[:120],
        LinkEnd(question.from_place, "", near_cage, rates),
        LinkEnd(question.to_place, "", far_cage, rates),
        application.name,
        fiber,
        question.length_m,
        catalog,
        cord_only=short,
        pigtails=house.joint_school == "spliced",
        wanted_rate_mbps=question.rate_mbps,
    )
    forms = iter(_form_for(application, cage, catalog) for cage in (near_cage, far_cage))
    elements = tuple(
        e.model_copy(update={"form": "" if (form := next(forms)) == application.forms[0] else form})
        if isinstance(e, Module)
        else e
        for e in link.elements
    )
    off = question.tolerance_percent
    notes = f"Length estimated, ± {off:g} %: measure it before anything is ordered." if off else ""
    return link.model_copy(update={"elements": elements, "notes": notes})


def _answers(tried: _Try, question: Question) -> bool:
    """Not broken; an unknown verdict answers only while the length is what is not known."""
    verdict = tried.figures.verdict
    if verdict.broken:
        return False
    return verdict is not Verdict.UNKNOWN or (question.length_m is None and tried.reach_m > 0)


def _figures(links: list[Link], question: Question, catalog: Catalog, house: HouseRules) -> list[Figures]:
    """Figures of chains as they are; of an estimated length the worse of its longest and its shortest."""
    if question.length_m is None or question.tolerance_percent == 0:
        return figures_of(links, catalog, house)
    ends = [figures_of([_stretched(link, by) for link in links], catalog, house) for by in _spread(question)]
    return [min(both, key=_badness) for both in zip(*ends, strict=True)]


def _spread(question: Question) -> tuple[float, float]:
    share = question.tolerance_percent / 100
    return 1 + share, 1 - share


def _stretched(link: Link, factor: float) -> Link:
    """The chain with its longest piece of glass longer or shorter by a factor."""
    longest = max(glass(link), key=lambda piece: piece.length_m or 0.0)
    length_m = round((longest.length_m or 0.0) * factor, 6)
    elements = tuple(e.model_copy(update={"length_m": length_m}) if e is longest else e for e in link.elements)
    return link.model_copy(update={"elements": elements})


def _badness(figures: Figures) -> tuple[int, float]:
    return figures.verdict.rank, figures.margin_db if figures.margin_db is not None else float("-inf")


def _later(question: Question, catalog: Catalog, house: HouseRules) -> dict[tuple[str, ...], str]:
    """For each glass the application that carries the later speed on it, the shortest reach first."""
    if question.later_mbps is None:
        return {}
    wish = question.model_copy(
        update={"rate_mbps": question.later_mbps, "later_mbps": None, "near_cage": "", "far_cage": ""}
    )
    found: dict[tuple[str, ...], str] = {}
    for option in answer(wish.model_copy(update={"application": "", "rank_by": "school"}), catalog, house).options:
        found.setdefault(option.fiber, option.application)
    return found


def _order(tried: _Try, question: Question, house: HouseRules) -> tuple[float | bool, ...]:
    """Verdict first; then what the question ranks by; then the school, estimates and the shortest reach."""
    margin = tried.figures.margin_db if tried.figures.margin_db is not None else float("-inf")
    wish: dict[RankBy, float] = {
        "school": 0.0,
        "cost": tried.cost.total,
        "margin": -margin,
        "later speed": 0.0 if tried.later else 1.0,
    }
    return (-tried.figures.verdict.rank, wish[question.rank_by], *_by_school(tried, house))


def _by_school(tried: _Try, house: HouseRules) -> tuple[bool, bool, float]:
    first = "single-mode" if house.fiber_school == "single-mode everywhere" else "multimode"
    return (
        tried.application.family != first,
        tried.figures.on_estimate,
        tried.reach_m if tried.figures.length_m is not None else -tried.reach_m,
    )


def _option(tried: _Try, cheapest: float) -> Option:
    return Option(
        application=tried.application.name,
        fiber=tried.fiber,
        verdict_text=tried.figures.verdict_text,
        margin_db=tried.figures.margin_db,
        link=tried.link,
        cost=tried.cost,
        dearer_by=tried.cost.total - cheapest,
        later=tried.later,
    )


def _why(fit: list[_Try], question: Question, house: HouseRules) -> str:
    if not fit:
        return "Nothing in the catalog answers this."
    first = fit[0]
    glass = " or ".join(first.fiber)
    if question.length_m is None:
        reach = f"it reaches up to {format_length(first.reach_m)} on {glass}; give the length for a verdict"
    else:
        margin = f", margin {format_db(first.figures.margin_db)}" if first.figures.margin_db is not None else ""
        reach = f"it reaches {format_length(first.reach_m)} on {glass}{margin}"
    school = "the glass that is there" if question.fiber else f"the house's school, {house.fiber_school}"
    reach_word = "longest" if question.length_m is None else "shortest"
    ranked = "" if question.rank_by == "school" else f"then {_RANKED[question.rank_by]}, "
    order = f"ordered by verdict, {ranked}then {school}, then the {reach_word} reach."
    passed = _passed_over(fit, house) if question.rank_by == "school" else ""
    return f"{first.application.name} first: {reach}; {order}{passed}"


def _passed_over(fit: list[_Try], house: HouseRules) -> str:
    """What the house's school would have liked better, had its margin been wider."""
    liked = [t for t in fit[1:] if _by_school(t, house)[0] < _by_school(fit[0], house)[0]]
    if not liked or fit[0].figures.verdict is not Verdict.PASS:
        return ""
    best = min(liked, key=lambda t: (-t.figures.verdict.rank, *_by_school(t, house)))
    margin = format_db(best.figures.margin_db) if best.figures.margin_db is not None else "no margin"
    return (
        f" {best.application.name} on {' or '.join(best.fiber)} also works, with {margin} inside the house margin "
        f"of {house.margin_db:g} dB."
    )


def _reason(tried: _Try, question: Question, catalog: Catalog, house: HouseRules) -> str:
    link = tried.link
    if question.length_m is not None and question.tolerance_percent:
        ends = [_stretched(link, by) for by in _spread(question)]
        figures = figures_of(ends, catalog, house)
        link = min(zip(ends, figures, strict=True), key=lambda pair: _badness(pair[1]))[0]
    for finding in reach_findings(link, tried.application, catalog, house) if len(tried.fiber) == 1 else ():
        if finding.code == "reach.exceeded":
            return finding.what
    found = review(link, catalog, house, with_fixes=False, detail=False)
    too_long = next((f.what for f in found.findings if f.code == "reach.exceeded"), "")
    return too_long or found.headline

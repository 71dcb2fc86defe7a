"""From a question to a complete chain: where from, where to, how far, how fast, what is there.

Every answer is reviewed like any other link; nothing is offered that the review calls broken.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from passerelle.core.batch import Figures, figures_of
from passerelle.core.catalog.records import Application
from passerelle.core.catalog.shelves import Catalog
from passerelle.core.findings import Verdict
from passerelle.core.house import HouseRules, house_catalog
from passerelle.core.link.build import LinkEnd, build_link, cage_for
from passerelle.core.link.chain import Link
from passerelle.core.link.elements import FiberCandidates, Label, LengthM, Module, Strands
from passerelle.core.review import review
from passerelle.core.sources import Frozen
from passerelle.core.units import format_db, format_length, format_rate

NEW_GRADES = ("OM4", "OS2")
CORD_ONLY_M = 20.0


class NoAnswerError(ValueError):
    """Nothing in the catalog answers the question; the message says what came closest and why it is out."""


class Question(Frozen):
    """What is wanted. Lengths in m, rates in Mb/s; ``fiber`` is the glass that is there, empty for new cable.

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


class RuledOut(Frozen):
    """An application on a grade that does not answer, and the one reason."""

    application: str
    fiber: tuple[str, ...]
    reason: str


class Option(Frozen):
    """One chain that answers, with its verdict and low-light margin in dB."""

    application: str
    fiber: tuple[str, ...]
    verdict_text: str
    margin_db: float | None
    link: Link


class Answer(Frozen):
    """The options, best first by the house's school, why the first is first, and what was ruled out."""

    options: tuple[Option, ...]
    why: str
    ruled_out: tuple[RuledOut, ...]


@dataclass(frozen=True)
class _Try:
    """One application on one glass, built and judged."""

    application: Application
    fiber: tuple[str, ...]
    link: Link
    figures: Figures

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
    judged = zip(pairs, links, figures_of(links, catalog, house), strict=True)
    tried = [_Try(application, fiber, link, figures) for (application, fiber), link, figures in judged]
    fit = sorted((t for t in tried if _answers(t, question)), key=lambda t: _order(t, house))
    return Answer(
        options=tuple(_option(t) for t in fit),
        why=_why(fit, question, house),
        ruled_out=tuple(
            RuledOut(application=t.application.name, fiber=t.fiber, reason=_reason(t.link, catalog, house))
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
    return link.model_copy(update={"elements": elements})


def _answers(tried: _Try, question: Question) -> bool:
    """Not broken; an unknown verdict answers only while the length is what is not known."""
    verdict = tried.figures.verdict
    if verdict.broken:
        return False
    return verdict is not Verdict.UNKNOWN or (question.length_m is None and tried.reach_m > 0)


def _order(tried: _Try, house: HouseRules) -> tuple[int, int, bool, float]:
    first = "single-mode" if house.fiber_school == "single-mode everywhere" else "multimode"
    return (
        -tried.figures.verdict.rank,
        tried.application.family != first,
        tried.figures.on_estimate,
        tried.reach_m if tried.figures.length_m is not None else -tried.reach_m,
    )


def _option(tried: _Try) -> Option:
    return Option(
        application=tried.application.name,
        fiber=tried.fiber,
        verdict_text=tried.figures.verdict_text,
        margin_db=tried.figures.margin_db,
        link=tried.link,
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
    order = f"ordered by verdict, then {school}, then the {reach_word} reach."
    return f"{first.application.name} first: {reach}; {order}{_passed_over(fit, house)}"


def _passed_over(fit: list[_Try], house: HouseRules) -> str:
    """What the house's school would have liked better, had its margin been wider."""
    liked = [t for t in fit[1:] if _order(t, house)[1] < _order(fit[0], house)[1]]
    if not liked or fit[0].figures.verdict is not Verdict.PASS:
        return ""
    best = min(liked, key=lambda t: _order(t, house))
    margin = format_db(best.figures.margin_db) if best.figures.margin_db is not None else "no margin"
    return (
        f" {best.application.name} on {' or '.join(best.fiber)} also works, with {margin} inside the house margin "
        f"of {house.margin_db:g} dB."
    )


def _reason(link: Link, catalog: Catalog, house: HouseRules) -> str:
    found = review(link, catalog, house, with_fixes=False, detail=False)
    too_long = next((f.what for f in found.findings if f.code == "reach.exceeded"), "")
    return too_long or found.headline

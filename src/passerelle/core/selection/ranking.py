"""The order of answers: by verdict, then by what counts, and the sentence that says why."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass

from passerelle.core.batch import Figures
from passerelle.core.catalog.records import Family
from passerelle.core.findings import Verdict
from passerelle.core.house import HouseRules
from passerelle.core.link.chain import Link, glass
from passerelle.core.parts.registry import spec_of
from passerelle.core.selection.cost import Cost
from passerelle.core.selection.drafts import Draft
from passerelle.core.selection.wish import Question, RankBy
from passerelle.core.units import format_db, format_length

_RANKED: dict[RankBy, str] = {
    "cost": "the smallest cost",
    "margin": "the widest margin",
    "later speed": "what carries the later speed too",
}
_TOOLS = (
    "nothing but hands",
    "an inspection scope and cleaning tools",
    "a termination tool and a tester",
    "a splicer",
)


@dataclass(frozen=True)
class Judged:
    """A draft with its figures, its cost, its links as they are added, and what carries the later speed on the same
    medium.
    """

    draft: Draft
    figures: Figures
    cost: Cost
    links: tuple[Link, ...]
    later: str = ""

    @property
    def strands(self) -> int:
        """How many strands it takes."""
        return self.draft.count * max((piece.width for piece in glass(self.draft.links[0])), default=0)

    @property
    def spares(self) -> int:
        """How many different active parts a spare must be kept of."""
        pieces = (e for link in self.draft.links for e in link.elements)
        return len({same for e in pieces if (same := spec_of(e).active(e)) is not None})

    @property
    def skill(self) -> int:
        """0 plugged by hand, 1 inspected and cleaned, 2 terminated on site, 3 spliced on site."""
        return max((spec_of(e).skill(e) for link in self.draft.links for e in link.elements), default=0)

    @property
    def tools(self) -> str:
        """What is needed to build it."""
        return _TOOLS[self.skill]


def ranked(fit: Sequence[Judged], question: Question, house: HouseRules) -> list[Judged]:
    """The answers in their order: the verdict first, then what the question ranks by, then the house's school.

    By the school, what runs on cable that is there comes before what is pulled anew; and the sum orders where it
    contradicts the school's own reason.
    """
    scores = _scores(fit, question)
    dearer = bool(school_is_dearer(fit, question, house))

    def order(one: Judged) -> tuple[object, ...]:
        wish: dict[RankBy, object] = {
            "school": (*_apart(one), one.cost.total) if dearer else (),
            "cost": one.cost.total,
            "margin": (one.figures.on_estimate, -_margin(one)),  # a margin that is guessed is no wide one
            "later speed": 0.0 if one.later else 1.0,
            "weights": scores.get(one.draft.key, 0.0),
        }
        fresh = _what_is_there(question) and one.draft.new_cable
        first = fresh if question.rank_by == "school" else False
        return (first, -one.figures.verdict.rank, wish[question.rank_by], fresh, *by_school(one, house))

    return sorted(fit, key=order)


def _apart(one: Judged) -> tuple[bool, bool]:
    """One link of glass before several links and before copper: what a sum over glass leaves in its place."""
    return (
        one.draft.kind not in ("one link", "converter"),
        one.draft.medium not in ("multimode", "single-mode"),
    )


def school_is_dearer(fit: Sequence[Judged], question: Question, house: HouseRules) -> str:
    """Where the school of cheaper multimode optics would put a dearer answer first: what the priced sums say.

    Empty where the school and the sums agree, or where another school or another wish orders the answers. The
    cheapest answers of both families are compared, of the best verdict that both have and on cable of one kind.
    """
    if question.rank_by != "school" or house.fiber_school != "multimode where it reaches":
        return ""
    best: dict[str, Judged] = {}
    for one in fit:
        kept = one.figures.verdict is Verdict.PASS and one.draft.kind in ("one link", "converter")
        fresh = one.draft.new_cable or not _what_is_there(question)
        if one.draft.medium in ("multimode", "single-mode") and kept and fresh:
            known = best.get(one.draft.medium)
            if known is None or one.cost.total < known.cost.total:
                best[one.draft.medium] = one
    multi, single = best.get("multimode"), best.get("single-mode")
    if multi is None or single is None or multi.cost.total <= single.cost.total:
        return ""
    return (
        f"Multimode is the school because its optics are cheaper; here the sum says otherwise: "
        f"{multi.draft.key} {multi.cost.total:.0f}, {single.draft.key} {single.cost.total:.0f}. Ordered by the sum."
    )


def _what_is_there(question: Question) -> bool:
    """Whether cable is there that could be used again."""
    return bool(question.fiber or question.category)


def by_school(one: Judged, house: HouseRules) -> tuple[float | bool, ...]:
    """The school's kind of glass, then the other, then copper; one link before several; certain before guessed."""
    first: Family = "single-mode" if house.fiber_school == "single-mode everywhere" else "multimode"
    glass = one.draft.medium in ("multimode", "single-mode")
    reach = one.draft.reach_m
    return (
        one.draft.kind not in ("one link", "converter"),
        0 if one.draft.medium == first else 1 if glass else 2,
        one.figures.on_estimate,
        reach if one.figures.length_m is not None else -reach,
    )


_CRITERIA: dict[str, Callable[[Judged], float]] = {
    "cost": lambda one: one.cost.total,
    "margin": lambda one: -min(_margin(one), 10.0),
    "later": lambda one: 0.0 if one.later else 1.0,
    "strands": lambda one: float(one.strands),
    "tools": lambda one: float(one.skill),
    "spares": lambda one: float(one.spares),
}


def _shares(fit: Sequence[Judged]) -> dict[str, dict[str, float]]:
    """For each criterion where each answer stands between the best (0) and the worst (1)."""
    found: dict[str, dict[str, float]] = {}
    for name, value in _CRITERIA.items():
        values = {one.draft.key: value(one) for one in fit}
        low, high = min(values.values(), default=0.0), max(values.values(), default=0.0)
        span = high - low
        found[name] = {key: (v - low) / span if span else 0.0 for key, v in values.items()}
    return found


def _scores(fit: Sequence[Judged], question: Question) -> dict[str, float]:
    if question.rank_by != "weights":
        return {}
    shares, weights = _shares(fit), dict(question.weights)
    return {one.draft.key: sum(weights[name] * shares[name][one.draft.key] for name in _CRITERIA) for one in fit}


def _margin(one: Judged) -> float:
    """The margin in dB; copper has none in dB and counts as none."""
    return one.figures.margin_db if one.figures.margin_db is not None else -1.0


def why(fit: Sequence[Judged], question: Question, house: HouseRules) -> str:
    """One sentence or two on why the first is first."""
    if not fit:
        return "Nothing in the catalog answers this."
    first = fit[0]
    medium = " or ".join(first.draft.fiber)
    if question.length_m is None:
        reach = f"it reaches up to {format_length(first.draft.reach_m)} on {medium}; give the length for a verdict"
    else:
        margin = f", margin {format_db(first.figures.margin_db)}" if first.figures.margin_db is not None else ""
        reach = f"it reaches {format_length(first.draft.reach_m)} on {medium}{margin}"
    school = f"the house's school, {house.fiber_school}"
    reach_word = "longest" if question.length_m is None else "shortest"
    if question.rank_by == "weights":
        by = f"then {_weighed(fit, question)}, "
    else:
        by = "" if question.rank_by == "school" else f"then {_RANKED[question.rank_by]}, "
    there = "what is there, then " if _what_is_there(question) and question.rank_by == "school" else ""
    order = f"ordered by {there}verdict, {by}then {school}, then the {reach_word} reach."
    dearer = school_is_dearer(fit, question, house)
    if dearer and (first.draft.new_cable or not _what_is_there(question)):
        return f"{first.draft.application} first: {reach}. {dearer}"
    passed = _passed_over(fit, house) if question.rank_by == "school" else ""
    return f"{first.draft.application} first: {reach}; {order}{passed}"


def _weighed(fit: Sequence[Judged], question: Question) -> str:
    weights = {name: weight for name, weight in dict(question.weights).items() if weight > 0}
    if not weights:
        return "weights that are all zero"
    told = ", ".join(f"{name} {weight:g}" for name, weight in weights.items())
    if len(fit) < 2:
        return f"weights ({told})"
    shares = _shares(fit)
    a, b = fit[0].draft.key, fit[1].draft.key
    leads = {name: weights[name] * (shares[name][b] - shares[name][a]) for name in weights}
    best = max(leads, key=lambda name: leads[name])
    led = f"; {best} puts it before {fit[1].draft.key}" if leads[best] > 0 else ""
    return f"weights ({told}{led})"


def _passed_over(fit: Sequence[Judged], house: HouseRules) -> str:
    """What the house's school would have liked better, had its margin been wider."""
    here = by_school(fit[0], house)[:2]
    known = [one for one in fit[1:] if one.figures.verdict is not Verdict.UNKNOWN]
    liked = [one for one in known if by_school(one, house)[:2] < here]
    if not liked or fit[0].figures.verdict is not Verdict.PASS:
        return ""
    best = min(liked, key=lambda one: (-one.figures.verdict.rank, *by_school(one, house)))
    margin_db = best.figures.margin_db
    told = f" {best.draft.application} on {' or '.join(best.draft.fiber)} also works"
    if margin_db is None:
        return f"{told}, {best.figures.verdict_text}."
    if margin_db < best.figures.house_margin_db:
        return (
            f"{told}, with {format_db(margin_db)} inside the house margin of {best.figures.house_margin_db:g} dB."
        )
    return f"{told}, {best.figures.verdict_text} with {format_db(margin_db)}."

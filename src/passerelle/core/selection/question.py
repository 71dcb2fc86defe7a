"""From a question to complete, checked, ranked answers.

Every link of every answer is reviewed like any other link; nothing is offered that the review calls broken.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import replace

from passerelle.core.batch import Figures, figures_of
from passerelle.core.catalog.shelves import Catalog
from passerelle.core.errors import NoAnswerError
from passerelle.core.findings import Verdict
from passerelle.core.house import HouseRules, house_catalog
from passerelle.core.link.chain import Link, modules
from passerelle.core.link.compose import Standing, compose
from passerelle.core.link.edits import Insert, apply_edits
from passerelle.core.parts.face import NOTHING
from passerelle.core.parts.kinds.attenuator import Attenuator
from passerelle.core.review import BRIGHT_CODES, Review, nearest_pad, review
from passerelle.core.rules.copper import COPPER_TOO_LONG
from passerelle.core.rules.reach import REACH_EXCEEDED
from passerelle.core.selection.advice import Asked, asks, bottleneck, fallbacks, steps
from passerelle.core.selection.array_chains import array_drafts
from passerelle.core.selection.copper_chains import copper_drafts
from passerelle.core.selection.cost import Cost, as_there, cost_of
from passerelle.core.selection.drafts import Draft, Kind, stretched
from passerelle.core.selection.glass_chains import glass_drafts
from passerelle.core.selection.ranking import Judged, ranked, why
from passerelle.core.selection.relief import Help, helps
from passerelle.core.selection.several import aggregated, converted, members
from passerelle.core.selection.split_chains import split_drafts
from passerelle.core.selection.wish import Medium, Question
from passerelle.core.sources import Frozen
from passerelle.core.units import format_rate


class RuledOut(Frozen):
    """An answer that is none, what it would have run on, and the one reason."""

    key: str
    application: str
    fiber: tuple[str, ...]
    reason: str


class Option(Frozen):
    """One answer: its links, the worst verdict among them, the low-light margin in dB, and what it costs.

    The first link stands ``count`` times side by side, the others of them in ``beside``; further ones are hops to
    a converter or other legs. ``key`` names it among
    the answers to one question. ``later`` names what would carry the speed wanted later on the same medium, empty
    where nothing does. ``gets_mbps`` is the speed that people get, ``bottleneck`` the piece that decides it.
    ``spares`` counts the different active parts that a spare is kept of; ``steps`` must happen before a box leaves
    for its place.
    """

    key: str
    kind: Kind
    new_cable: bool
    medium: Medium
    application: str
    fiber: tuple[str, ...]
    verdict_text: str
    margin_db: float | None
    links: tuple[Link, ...]
    count: int
    beside: tuple[Link, ...] = ()
    cost: Cost
    dearer_by: float
    later: str
    strands: int
    spares: int
    tools: str
    gets_mbps: int
    bottleneck: str
    steps: tuple[str, ...]

    @property
    def link(self) -> Link:
        """The first of its links, which runs between the two places."""
        return self.links[0]

    @property
    def all_links(self) -> tuple[Link, ...]:
        """Every link that taking it makes."""
        return (self.links[0], *self.beside, *self.links[1:])


class Answer(Frozen):
    """The options, best first, why the first is first, what was ruled out, and what to fall back on.

    ``asks`` names the inputs that are missed, each with where it belongs: an answer without one reads unknown.
    ``helps`` is what would answer where nothing does; ``later_note`` what carries the later speed, or that nothing
    does, on the medium of the first answer. ``length_m`` is the length as it was understood, None while not known.
    """

    options: tuple[Option, ...]
    why: str
    ruled_out: tuple[RuledOut, ...]
    fallbacks: tuple[str, ...] = ()
    asks: tuple[Asked, ...] = ()
    helps: tuple[Help, ...] = ()
    later_note: str = ""
    length_m: float | None = None


def answer(question: Question, catalog: Catalog, house: HouseRules) -> Answer:
    """Every complete chain of the wanted speed that the catalog allows, judged and ordered.

    Order: a pass before a marginal one, then what the question ranks by, then the house's school of fiber, then
    what rests on no estimate, then the shortest reach that does it, whose optics are the plainest (the longest
    while the length is not known).

    Raises:
        CatalogError: a cage or grade that the catalog does not have.
    """
    tried = _tried(question, catalog, house)
    fit = [one for one in tried if _answers(one, question) and not _too_dear(one, question)]
    later = _later(question, catalog, house) if fit else {}
    fit = ranked(
        [
            replace(one, later=carrier.draft.application if (carrier := later.get(_medium_key(one))) else "")
            for one in fit
        ],
        question,
        house,
    )
    cheapest = min((one.cost.total for one in fit), default=0.0)
    kept = {one.draft.key for one in fit}
    return Answer(
        options=tuple(_option(one, cheapest, question) for one in fit if question.pick in ("", one.draft.key)),
        why=why(fit, question, house),
        ruled_out=tuple(
            RuledOut(
                key=one.draft.key,
                application=one.draft.application,
                fiber=one.draft.fiber,
                reason=_reason(one, question, catalog, house),
            )
            for one in tried
            if one.draft.key not in kept
        ),
        fallbacks=fallbacks(question),
        length_m=question.length_m,
        asks=asks(question),
        helps=() if fit else _helps(tried, question, catalog, house),
        later_note=_later_note(fit, later, question),
    )


def _helps(tried: list[Judged], question: Question, catalog: Catalog, house: HouseRules) -> tuple[Help, ...]:
    def first_answer(other: Question) -> str | None:
        judged = [
            one for one in _tried(other, catalog, house) if _answers(one, other) and not _too_dear(one, other)
        ]
        best = ranked(judged, other, house)
        return best[0].draft.key if best else None

    if question.pick:
        return ()
    return helps(question, max((one.draft.reach_m for one in tried), default=0.0), first_answer)


def _later_note(fit: list[Judged], later: dict[tuple[str, ...], Judged], question: Question) -> str:
    """What carries the later speed on the medium of the first answer, or that nothing does."""
    if question.later_mbps is None or not fit:
        return ""
    first, rate = fit[0], format_rate(question.later_mbps)
    medium = " or ".join(first.draft.fiber)
    strands = " on this one strand" if first.strands == 1 else ""
    found = later.get(_medium_key(first))
    if found is None:
        return f"Nothing in the catalog carries {rate} later{strands or f' on {medium}'} over this way."
    return f"Later {found.draft.application} carries {rate}{strands} on {medium}: {found.figures.verdict_text}."


def best_links(question: Question, catalog: Catalog, house: HouseRules) -> tuple[Link, ...]:
    """The links of the first option, or of the picked one; raises NoAnswerError where nothing answers."""
    return best_option(question, catalog, house).all_links


def best_option(question: Question, catalog: Catalog, house: HouseRules) -> Option:
    """The first option, or the picked one.

    Raises:
        NoAnswerError: nothing answers.
    """
    found = answer(question, catalog, house)
    if found.options:
        return found.options[0]
    if question.pick:
        raise NoAnswerError(f"'{question.pick}' is not among the answers any more: choose one of them again")
    help_words = "; ".join(f"{one.words}: {one.answers}" for one in found.helps[:3])
    way_on = (
        f". What would answer: {help_words}"
        if help_words
        else ". Choose a lower speed, a shorter way or other glass"
    )
    if not found.ruled_out:
        raise NoAnswerError(
            f"no application in the catalog runs {format_rate(question.rate_mbps)} on {question.strands} strand"
            f"{'s' if question.strands > 1 else ''} in these cages{way_on}"
        )
    out = closest(found.ruled_out, question, catalog, house)
    raise NoAnswerError(f"nothing reaches: {out.key}: {out.reason.rstrip('.')}{way_on}")


def closest(ruled_out: Sequence[RuledOut], question: Question, catalog: Catalog, house: HouseRules) -> RuledOut:
    """The one of those ruled out that reaches farthest on its medium."""
    reach = {d.key: d.reach_m for d in _drafts(question, house_catalog(catalog, house), house)}
    return max(ruled_out, key=lambda out: reach.get(out.key, 0.0))


def _drafts(question: Question, catalog: Catalog, house: HouseRules) -> Iterator[Draft]:
    for wish in (question.near, question.far):
        if wish.cage:
            catalog.cage(wish.cage)
    for grade in question.fiber:
        catalog.fiber(grade)
    yield from _single(question, catalog, house)
    if question.application == "":
        yield from aggregated(question, catalog, lambda asked: _single(asked, catalog, house))
    yield from converted(question, catalog, lambda asked: glass_drafts(asked, catalog, house))


def _single(question: Question, catalog: Catalog, house: HouseRules) -> Iterator[Draft]:
    if not question.trunk:
        yield from glass_drafts(question, catalog, house)
    yield from array_drafts(question, catalog)
    yield from split_drafts(question, catalog)
    if question.grade == "":
        yield from (d for d in copper_drafts(question, catalog) if question.application in ("", d.application))


def _tried(question: Question, catalog: Catalog, house: HouseRules) -> list[Judged]:
    """Every draft with figures and cost; where the light is too strong, with the attenuator that cures it."""
    shown = house_catalog(catalog, house)
    drafts = list(_drafts(question, shown, house))
    judged = [
        _padded(draft, figures, question, catalog, house)
        for draft, figures in zip(drafts, _figures(drafts, question, catalog, house), strict=True)
    ]
    return [_priced(draft, figures, question, shown, house) for draft, figures in judged]


def _priced(draft: Draft, figures: Figures, question: Question, catalog: Catalog, house: HouseRules) -> Judged:
    """A draft with its links as they would be added, and what those cost."""
    links = as_there(
        (*members(draft.links[0], draft.count), *draft.links[1:]),
        catalog,
        cable_is_there=not draft.new_cable,
        at_hand=question.at_hand,
    )
    return Judged(draft, figures, cost_of(links, house, catalog), tuple(links))


def _figures(drafts: Sequence[Draft], question: Question, catalog: Catalog, house: HouseRules) -> list[Figures]:
    """The worst figures of each draft: over its links, and of an estimated length at its longest and shortest."""
    owners: list[int] = []
    links: list[Link] = []
    for number, draft in enumerate(drafts):
        for link in draft.links:
            for factor in question.spread if link is draft.links[0] else (1.0,):
                owners.append(number)
                links.append(stretched(link, factor))
    worst: dict[int, Figures] = {}
    for number, figures in zip(owners, figures_of(links, catalog, house), strict=True):
        if number not in worst or _badness(figures) < _badness(worst[number]):
            worst[number] = figures
    return [worst[number] for number in range(len(drafts))]


def _badness(figures: Figures) -> tuple[int, float]:
    return figures.verdict.rank, figures.margin_db if figures.margin_db is not None else float("inf")


def _padded(
    draft: Draft, figures: Figures, question: Question, catalog: Catalog, house: HouseRules
) -> tuple[Draft, Figures]:
    """The draft with the smallest attenuators at its far end that keep both limits, where it is too bright."""
    inside = (question.longest_m or 0.0) <= draft.reach_m
    broken = figures.verdict.broken and figures.margin_db is not None and figures.margin_db < 0
    if not (inside and broken and figures.stage == "budget"):
        return draft, figures
    link = draft.links[0]
    far = modules(link)[-1]
    place = compose(link, house_catalog(catalog, house)).places[link.index(far.id)]
    opening = place.left if isinstance(place, Standing) else NOTHING
    if opening.kind != "opening" or opening.polish is None:
        return draft, figures
    after = link.elements[link.index(far.id) - 1].id
    padded = []
    for value_db in catalog.attenuator.steps_db:
        if value_db < -(figures.margin_db or 0.0):
            continue  # less than what is too much
        pad = Attenuator(value_db=value_db, shape="LC", polish=opening.polish, plug_side="right")
        made = apply_edits(link, (Insert(after=after, piece=pad),))
        key = f"{draft.key}, {value_db:g} dB attenuators"
        padded.append(replace(draft, key=key, links=(made, *draft.links[1:])))
    tried = zip(padded, _figures(padded, question, catalog, house), strict=True)
    return next((pair for pair in tried if not pair[1].verdict.broken), (draft, figures))


def _answers(tried: Judged, question: Question) -> bool:
    """Not broken; an unknown verdict answers only while an input of the question is what is not known."""
    verdict = tried.figures.verdict
    if verdict.broken:
        return False
    if verdict is not Verdict.UNKNOWN or (question.length_m is None and tried.draft.reach_m > 0):
        return True
    return bool(asks(question)) and tried.figures.stage == "survey"


def _too_dear(tried: Judged, question: Question) -> bool:
    return question.price_limit is not None and tried.cost.total > question.price_limit


def _later(question: Question, catalog: Catalog, house: HouseRules) -> dict[tuple[str, ...], Judged]:
    """For each medium that stays the answer that carries the later speed on it, the shortest reach first."""
    if question.later_mbps is None:
        return {}
    any_port = {"cage": "", "rates_mbps": (), "free": None}
    wish = question.model_copy(
        update={
            "rate_mbps": question.later_mbps,
            "later_mbps": None,
            "near": question.near.model_copy(update=any_port),
            "far": question.far.model_copy(update=any_port),
            "application": "",
            "pick": "",
            "rank_by": "school",
            "price_limit": None,
            "outage_matters": False,
        }
    )
    fit = ranked([one for one in _tried(wish, catalog, house) if _answers(one, wish)], wish, house)
    found: dict[tuple[str, ...], Judged] = {}
    for one in fit:
        if one.draft.medium != "direct attach":
            found.setdefault(_medium_key(one), one)
    return found


def _medium_key(one: Judged) -> tuple[str, ...]:
    """What two answers share that run on the same medium: its glass or category, and whether it is pulled anew."""
    return (*one.draft.fiber, "new" if one.draft.new_cable else "")


def _option(one: Judged, cheapest: float, question: Question) -> Option:
    draft = one.draft
    gets_mbps, slowest = bottleneck(draft, question)
    told = steps(draft, question)
    return Option(
        key=draft.key,
        kind=draft.kind,
        new_cable=draft.new_cable,
        medium=draft.medium,
        application=draft.application,
        fiber=draft.fiber,
        verdict_text=one.figures.verdict_text,
        margin_db=one.figures.margin_db,
        links=tuple(_noted(link, told) for link in (one.links[0], *one.links[draft.count :])),
        beside=tuple(_noted(link, told) for link in one.links[1 : draft.count]),
        count=draft.count,
        cost=one.cost,
        dearer_by=one.cost.total - cheapest,
        later=one.later,
        strands=one.strands,
        spares=one.spares,
        tools=one.tools,
        gets_mbps=gets_mbps,
        bottleneck=slowest,
        steps=told,
    )


def _noted(link: Link, told: Sequence[str]) -> Link:
    """The link with the steps in its notes, where the person who goes out finds them."""
    if not told:
        return link
    words = " ".join([link.notes, *told]).strip()
    return link.model_copy(update={"notes": words[:4000]})


def _review(draft: Draft, question: Question, catalog: Catalog, house: HouseRules) -> Review:
    """The review of the worst of a draft's links, at the worst of its lengths."""
    links = [stretched(draft.links[0], factor) for factor in question.spread]
    links += draft.links[1:]
    if len(links) > 1:
        figures = figures_of(links, catalog, house)
        links = [min(zip(links, figures, strict=True), key=lambda pair: _badness(pair[1]))[0]]
    return review(links[0], catalog, house, with_fixes=False, detail=False)


def _reason(tried: Judged, question: Question, catalog: Catalog, house: HouseRules) -> str:
    draft = tried.draft
    if _answers(tried, question):
        return f"It costs {tried.cost.total:.0f}, more than {question.price_limit:g}."
    link = draft.links[0]
    if question.longest_m is not None:
        link = stretched(link, question.spread[0])
    if draft.medium in ("multimode", "single-mode") and len(draft.fiber) == 1:
        for finding in review(link, catalog, house, with_fixes=False, detail=False).findings:
            if finding.code == REACH_EXCEEDED.code:
                return finding.what
    found = _review(draft, question, catalog, house)
    too_long = next((f.what for f in found.findings if f.code in (REACH_EXCEEDED.code, COPPER_TOO_LONG.code)), "")
    if not too_long and found.findings and found.findings[0].code in BRIGHT_CODES:
        return f"{found.headline} {nearest_pad(link, catalog, house)}"
    return too_long or found.headline

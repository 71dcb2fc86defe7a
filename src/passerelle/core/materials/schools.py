"""Three ways to make the ends of a run, side by side: parts, hours, tools, loss, what a wrong length means."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from typing import Literal, get_args

from passerelle.core.catalog.material_figures import School, material_figures
from passerelle.core.errors import EditError
from passerelle.core.findings import Verdict
from passerelle.core.house import JointSchool
from passerelle.core.link.chain import Link
from passerelle.core.link.edits import Edit, Insert, Remove, SetFields, apply_edits
from passerelle.core.materials.asked import Scope, asked_for, by_words, scope_of
from passerelle.core.materials.bill import price_each, price_of
from passerelle.core.parts.kinds.pigtail import USUAL_M, Pigtail
from passerelle.core.parts.kinds.port import Port
from passerelle.core.parts.kinds.run import Run
from passerelle.core.parts.kinds.splice import Splice
from passerelle.core.parts.piece import NEW_STATES, Plug, State
from passerelle.core.plant.heads import head_warnings
from passerelle.core.plant.site import Plant
from passerelle.core.review import review
from passerelle.core.sources import Frozen, Source

HOUR = "work, an hour"
Side = Literal["left", "right"]


class SchoolParts(Frozen):
    """A line of parts of one way, with its price."""

    words: str
    quantity: float
    unit: str
    price: float


class SchoolSeen(Frozen):
    """One way to make the ends: what it costs, takes and loses. Loss in dB, hours of work, prices in own units.

    ``edits`` make the link so. ``house``: the house's rule picks it. ``now``: the link is made so already.
    """

    name: JointSchool
    house: bool
    now: bool
    parts: tuple[SchoolParts, ...]
    parts_price: float
    hours: float
    hours_price: float
    total: float
    worst_db: float | None
    verdict: Verdict
    verdict_text: str
    tools: tuple[str, ...]
    wrong_length: str
    duct: str
    blocked: tuple[str, ...]
    edits: tuple[Edit, ...]
    source: Source


class SchoolsOut(Frozen):
    """The ways side by side for one run of a link, by its id; ``None`` where the link has none to decide."""

    run: str
    why_not: str
    schools: tuple[SchoolSeen, ...]


def schools(number: int, link: Link, scope: Scope) -> SchoolsOut:
    """The three ways for the run of a link that is still to be made.

    Args:
        number: the link's number.
        link: the link.
        scope: the project.
    """
    run = next((e for e in link.elements if isinstance(e, Run)), None)
    if run is None:
        return SchoolsOut(
            run="", why_not="This link has no fixed pair whose ends could be made otherwise.", schools=()
        )
    if run.state not in NEW_STATES:
        return SchoolsOut(run=run.id, why_not=f"Its run is {run.state}: the ends are as they are.", schools=())
    try:
        seen = tuple(_seen(number, link, run, figures, scope) for figures in material_figures().schools)
    except EditError as error:
        return SchoolsOut(run=run.id, why_not=f"Its ends cannot be compared: {error}.", schools=())
    return SchoolsOut(run=run.id, why_not="", schools=seen)


def school_of(link: Link, run: Run) -> JointSchool:
    """How the ends of a run are made now."""
    if run.left or run.right:
        return "mounted on site" if run.mounted else "pre-terminated"
    return "spliced"


def _seen(number: int, link: Link, run: Run, figures: School, scope: Scope) -> SchoolSeen:
    name = next(school for school in get_args(JointSchool) if school == figures.name)
    edits = tuple(edits_to(link, run, name))
    made = apply_edits(link, edits)
    found = review(made, scope.catalog, scope.house, with_fixes=False)
    parts = _parts(number, made, scope)
    ends = 2
    hours = ends * (figures.end_hours + figures.fiber_hours * run.strands)
    parts_price = round(sum(part.price for part in parts), 2)
    hours_price = round(hours * price_each(HOUR, scope), 2)
    return SchoolSeen(
        name=name,
        house=scope.house.joint_school == name,
        now=school_of(link, run) == name,
        parts=parts,
        parts_price=parts_price,
        hours=round(hours, 2),
        hours_price=hours_price,
        total=round(parts_price + hours_price, 2),
        worst_db=found.loss.worst_db if found.loss else None,
        verdict=found.verdict,
        verdict_text=found.verdict_text,
        tools=figures.tools,
        wrong_length=figures.wrong_length,
        duct=figures.duct,
        blocked=tuple(_blocked(run, name, scope)),
        edits=edits,
        source=figures.source,
    )


def _blocked(run: Run, school: JointSchool, scope: Scope) -> Iterator[str]:
    """Why the plugs do not pass the way, where they come with the cable."""
    cable = scope.plant.cable_of.get(run.part)
    if cable is None or school != "pre-terminated":
        return
    made = cable if cable.factory_made else cable.model_copy(update={"head_at": "far"})
    ways = [scope.plant.way_of[way] for way in cable.ways]
    yield from (warning.what for warning in head_warnings(made, ways, scope.plant) if warning.breaks)


def _parts(number: int, link: Link, scope: Scope) -> tuple[SchoolParts, ...]:
    """What is bought for the ends and the cable between them: the run, its pigtails and splices."""
    state: State = "planned"
    own = {"state": state, "part": "", "enter": "", "leave": "", "positions": ()}
    there: dict[str, object] = {"state": "existing"}  # the ports say only at which end a splice is
    elements = tuple(
        e.model_copy(update=there if isinstance(e, Port) else own)
        for e in link.elements
        if isinstance(e, Run | Pigtail | Splice | Port)
    )
    ends = link.model_copy(update={"elements": elements})
    alone = scope_of([(number, ends)], Plant(), scope.house, scope.catalog)
    return tuple(
        SchoolParts(
            words=words,
            quantity=sum(one.need.quantity for one in asked),
            unit=asked[0].need.unit,
            price=round(sum(price_of(one.need, scope) for one in asked), 2),
        )
        for words, asked in by_words(asked_for(alone)).items()
    )


def edits_to(link: Link, run: Run, school: JointSchool) -> Iterator[Edit]:
    """The changes that make the ends of a run so; none where they are so already.

    Raises:
        EditError: the run has neither plugs nor pigtails at an end, so that nobody knows which plug it takes.
    """
    now = school_of(link, run)
    if now == school:
        return
    if school == "spliced":
        yield from _spliced(link, run)
        return
    update: dict[str, object] = {"mounted": school == "mounted on site"}
    if now == "spliced":
        for side in ("left", "right"):
            plug, gone = _beyond(link, run, side)
            update[side] = plug.model_dump()
            yield from (Remove(element=name) for name in gone)
    yield SetFields(element=run.id, values=update)


def _spliced(link: Link, run: Run) -> Iterator[Edit]:
    """A pigtail and a splice in the place of each plug."""
    before = link.elements[link.index(run.id) - 1].id if link.index(run.id) else ""
    names = {e.id for e in link.elements}
    yield SetFields(element=run.id, values={"left": None, "right": None, "mounted": False})
    left, right = run.left, run.right
    if left:
        pigtail = _pigtail(run, names, left=left)
        splice = Splice(id=_own("splice", names))
        yield Insert(after=before, piece=pigtail)
        yield Insert(after=pigtail.id, piece=splice)
    if right:
        splice = Splice(id=_own("splice", names))
        yield Insert(after=run.id, piece=splice)
        yield Insert(after=splice.id, piece=_pigtail(run, names, right=right))


def _pigtail(run: Run, names: set[str], *, left: Plug | None = None, right: Plug | None = None) -> Pigtail:
    own = _own("pigtail", names)
    return Pigtail(id=own, length_m=USUAL_M, fiber=run.fiber, strands=run.strands, left=left, right=right)


def _own(kind: str, names: set[str]) -> str:
    own = next(f"{kind}-{n}" for n in range(1, 1000) if f"{kind}-{n}" not in names)
    names.add(own)
    return own


def _beyond(link: Link, run: Run, side: Side) -> tuple[Plug, Sequence[str]]:
    """The plug of the pigtail at an end of a run, and the pieces between that are taken out."""
    step = -1 if side == "left" else 1
    at = link.index(run.id)
    beside = [link.elements[i] for i in (at + step, at + 2 * step) if 0 <= i < len(link.elements)]
    if len(beside) == 2 and isinstance(beside[0], Splice) and isinstance(beside[1], Pigtail):
        plug = beside[1].left or beside[1].right
        assert plug is not None
        return plug, [beside[0].id, beside[1].id]
    raise EditError(side, "the run has no pigtail spliced to that end: say which plug it takes, then look again")

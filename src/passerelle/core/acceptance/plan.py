"""The test plan of a link: what is worth testing, strand by strand, at which moment, in which order."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Literal

from passerelle.core.acceptance.stretch import Stretch, cables, channel, permanent_link
from passerelle.core.budget.loss import Direction
from passerelle.core.catalog.shelves import Catalog
from passerelle.core.catalog.testing_figures import testing_figures
from passerelle.core.house import HouseRules
from passerelle.core.link.compose import Chain, Standing
from passerelle.core.link.readings import Moment
from passerelle.core.parts.piece import NEW_STATES
from passerelle.core.rules.splices import splices_assumed
from passerelle.core.sources import Frozen

TaskKind = Literal["inspect", "polarity", "loss", "trace", "twisted pair"]
MOMENTS: tuple[Moment, ...] = ("on the reel", "after the pull", "after termination", "before light")
FAST_MBPS = 50_000
"""From this rate a lane on it is PAM4 or like it, which reflections hurt."""


class Task(Frozen):
    """One test: of which stretch, strand, wavelength (nm) and direction, when, why, with what, how many minutes.

    ``strand`` is 0 where it concerns all of them, ``far`` where it comes out.
    """

    kind: TaskKind
    moment: Moment
    start: str
    end: str
    span: str
    strand: int = 0
    far: int = 0
    wavelength_nm: int | None = None
    direction: Direction | Literal["both"] = "right"
    why: str
    tools: tuple[str, ...]
    minutes: float


def test_plan(chain: Chain, catalog: Catalog, house: HouseRules) -> tuple[Task, ...]:
    """What is tested of a link, in the order in which a crew does it: polarity before loss, loss before traces.

    Pieces of the link have one candidate grade each; a link of copper is certified by its own standard.
    """
    if chain.realms == {"copper"}:
        return (_copper(chain),) if chain.copper else ()
    stretch = permanent_link(chain)
    tasks: list[Task] = []
    for cable in cables(chain):
        tasks += _before(cable, catalog, house)
    if stretch is not None:
        tasks += [*_faces(chain, stretch), *_polarity(stretch), *_loss(stretch, catalog, house)]
        tasks += _traces(stretch, catalog, house)
        tasks.sort(key=lambda task: MOMENTS.index(task.moment))
    return tuple(tasks)


def _before(cable: Stretch, catalog: Catalog, house: HouseRules) -> Iterator[Task]:
    """A cable that is new is looked at on the reel and after the pull: what arrived bad is not pulled."""
    line = cable.start
    family, length = cable.family(catalog), line.traits.length_m
    if line.piece.state not in NEW_STATES or family is None or length is None or length < house.trace_from_m:
        return
    nm = testing_figures().wavelengths_of(family).trace_nm[-1]
    moments: tuple[tuple[Moment, str], ...] = (
        ("on the reel", "What comes broken is sent back, not pulled."),
        ("after the pull", "What was hurt by the pull is found before its ends are made."),
    )
    for moment, why in moments:
        for near, far in cable.strands:
            yield _task("trace", moment, cable, near, far, nm, why, ("OTDR", "bare-fiber adapter or pigtail"))


def _faces(chain: Chain, stretch: Stretch) -> Iterator[Task]:
    """Faces of the cabling once its ends are made, and every plug once more before light."""
    faces = faces_of(chain)
    fixed = sum(1 for part, _ in faces if stretch.inside(part.position))
    minutes = testing_figures().minutes.inspect_face
    whole = channel(chain) or stretch
    told: tuple[tuple[Moment, Stretch, int, str], ...] = (
        (
            "after termination",
            stretch,
            fixed or 2,
            "Dirt is the commonest fault: inspect, clean, inspect again, the test cords too.",
        ),
        (
            "before light",
            whole,
            len(faces) - fixed,
            "Every plug of the equipment cords, and again each face that was open since: inspect, then mate.",
        ),
    )
    for moment, of, count, why in told:
        if count:
            yield Task(
                kind="inspect",
                moment=moment,
                start=of.start.id,
                end=of.end.id,
                span=of.span,
                direction="both",
                why=why,
                tools=("inspection scope", "cleaner"),
                minutes=count * minutes,
            )


def _polarity(stretch: Stretch) -> Iterator[Task]:
    yield Task(
        kind="polarity",
        moment="after termination",
        start=stretch.start.id,
        end=stretch.end.id,
        span=stretch.span,
        direction="both",
        why="A strand that ends elsewhere makes every loss reading one of another strand.",
        tools=("visible source or meter",),
        minutes=len(stretch.strands) * testing_figures().minutes.polarity_strand,
    )


def _loss(stretch: Stretch, catalog: Catalog, house: HouseRules) -> Iterator[Task]:
    family = stretch.family(catalog)
    if family is None:
        return
    both = both_directions(stretch, catalog, house)
    directions: tuple[Direction, ...] = ("right", "left") if both else ("right",)
    for near, far in stretch.strands:
        for nm in testing_figures().wavelengths_of(family).loss_nm:
            for direction in directions:
                why = "Tier 1: the loss of every strand, before anything is plugged in."
                if direction == "left":
                    why = f"The other direction: {both}"
                tools = ("light source and power meter", "launch and receive cords")
                yield _task("loss", "after termination", stretch, near, far, nm, why, tools, direction)


def both_directions(stretch: Stretch, catalog: Catalog, house: HouseRules) -> str:
    """Why a stretch is read in both directions; empty where one is enough."""
    if house.test_directions == "always both":
        return "the house reads both."
    if house.test_directions == "one":
        return ""
    inside = [s for s in stretch.chain.glass if stretch.inside(s.position)]
    cores = {catalog.fiber(g).core_um for s in inside for g in s.traits.grades}
    if len(cores) > 1:
        return "cores of different size lose unlike each way."
    if _splices(stretch):
        return "there are splices, whose loss may depend on it."
    if _assumed_splices(stretch, catalog):
        return "splices are assumed on its way, whose loss may depend on it."
    length = sum(s.traits.length_m or 0.0 for s in inside)
    return "the stretch is long." if length >= 2000 else ""


def _traces(stretch: Stretch, catalog: Catalog, house: HouseRules) -> Iterator[Task]:
    why = why_traced(stretch, catalog, house)
    family = stretch.family(catalog)
    if not why or family is None:
        return
    for near, far in stretch.strands:
        for nm in testing_figures().wavelengths_of(family).trace_nm:
            for direction in ("right", "left"):
                tools = ("OTDR", "launch cord", "receive cord")
                way: Direction = "right" if direction == "right" else "left"
                yield _task("trace", "after termination", stretch, near, far, nm, f"Tier 2: {why}", tools, way)


def why_traced(stretch: Stretch, catalog: Catalog, house: HouseRules) -> str:
    """Why a trace pays; empty where it does not."""
    if house.test_traces == "never":
        return ""
    if house.test_traces == "always":
        return "the house takes traces of everything."
    length = sum(s.traits.length_m or 0.0 for s in stretch.chain.glass if stretch.inside(s.position))
    if _splices(stretch):
        return "a splice can only be judged by a trace."
    if assumed := _assumed_splices(stretch, catalog):
        return f"splices are assumed on its way, {assumed} at least: a trace counts them and judges each."
    if length >= house.trace_from_m:
        return "on this length a trace shows where a fault is, today and in ten years."
    lanes = [catalog.application(end.traits.optics.application) for end in stretch.chain.ends if end.traits.optics]
    fast = any(one.rate_mbps / one.lanes >= FAST_MBPS for one in lanes)
    return "reflections hurt lanes of this rate." if fast else ""


def _splices(stretch: Stretch) -> int:
    """Splices that are drawn, and those that somebody counted on the way of a run."""
    drawn = (joint.left for joint in stretch.chain.joints if joint.kind == "splice")
    counted = sum(line.traits.splices or 0 for line in stretch.chain.lines if stretch.inside(line.position))
    return counted + sum(1 for left in drawn if left and stretch.inside(left.position))


def _assumed_splices(stretch: Stretch, catalog: Catalog) -> int:
    """Splices of long runs that nobody counted: one for each reel that ends."""
    open_runs = (
        line.traits
        for line in stretch.chain.lines
        if stretch.inside(line.position) and line.traits.spliced_by_length and line.traits.splices is None
    )
    return sum(splices_assumed(traits.length_m or 0.0, catalog.reel_m) for traits in open_runs)


def _task(
    kind: TaskKind,
    moment: Moment,
    stretch: Stretch,
    near: int,
    far: int,
    nm: int,
    why: str,
    tools: tuple[str, ...],
    direction: Direction = "right",
) -> Task:
    minutes = testing_figures().minutes
    return Task(
        kind=kind,
        moment=moment,
        start=stretch.start.id,
        end=stretch.end.id,
        span=stretch.span,
        strand=near,
        far=far,
        wavelength_nm=nm,
        direction=direction,
        why=why,
        tools=tools,
        minutes=minutes.trace_reading if kind == "trace" else minutes.loss_reading,
    )


def _copper(chain: Chain) -> Task:
    lines = chain.copper
    return Task(
        kind="twisted pair",
        moment="after termination",
        start=lines[0].id,
        end=lines[-1].id,
        span="channel",
        direction="both",
        why="Twisted pair is certified by its own standard: wire map, length, insertion loss, NEXT, return loss.",
        tools=("cable certifier",),
        minutes=3.0,
    )


def faces_of(chain: Chain) -> tuple[tuple[Standing, Literal["left", "right"]], ...]:
    """The faces of a link that are plugged by hand and so inspected: each part with the side that it shows."""
    found: list[tuple[Standing, Literal["left", "right"]]] = []
    for joint in chain.joints:
        if joint.kind not in ("adapter", "receptacle", "socket"):
            continue
        if joint.left and joint.left_face.kind in ("plug", "opening", "adapter"):
            found.append((joint.left, "right"))
        if joint.right and joint.right_face.kind in ("plug", "opening", "adapter"):
            found.append((joint.right, "left"))
    return tuple(found)

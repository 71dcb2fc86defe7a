"""A day of pulling: which cables together, in which order and from where, with whom and what, and what to mind."""

from __future__ import annotations

from collections import Counter, defaultdict
from collections.abc import Iterable, Sequence
from itertools import pairwise

from passerelle.core.catalog.material_figures import material_figures
from passerelle.core.errors import PlantError
from passerelle.core.parts.piece import NEW_STATES
from passerelle.core.plant.cautions import cautions
from passerelle.core.plant.heads import PullWarning, leading_end
from passerelle.core.plant.pull_sheet import PullSheet, pull_sheet
from passerelle.core.plant.pulling import DEFAULT_FRICTION
from passerelle.core.plant.records import Cable, Way
from passerelle.core.plant.site import Plant
from passerelle.core.sources import Frozen, Source

ALWAYS = (
    "Nobody stands in line with a rope or cable under tension, nor inside a bend of it.",
    "Before drilling or opening a ceiling: ask for the asbestos register and what lies hidden; local codes and "
    "licensed people decide.",
)
ON_A_QUAY = "On a quay: life jackets, a second person, nothing lying where it can be tripped over."
LATER = (
    "Prove each duct with a mandrel before the first rope; a blocked one is found today, not under tension.",
    "A swivel and a breakaway link stand between rope and cable; the link is rated below the weakest cable.",
    "Record the highest tension of each pull.",
    "Note the sheath marks at both ends and in each closure: they become the as-built length.",
    "Cap both ends at once; a wet end is cut back.",
    "Label both ends and each pull point before the crew moves on.",
    "Close each firestop again with what the building's rating asks for, and photograph it.",
)


class PullPoint(Frozen):
    """A place where the cable is taken out or watched, and what it may be given there: N, and mm of bend."""

    name: str
    does: str
    at_most_n: float | None
    radius_mm: float | None


class DayPull(Frozen):
    """One pull of the day: its cables together, from where to where, its points, and its sheet.

    ``bound`` says of the tension (N) whether it is the most, or more where bends were not entered.
    ``problem`` says why nothing is pulled there: a rented way, poles.
    """

    number: int
    cables: tuple[str, ...]
    names: tuple[str, ...]
    start: str
    end: str
    length_m: float
    tension_n: float | None
    rated_n: float | None
    bound: str = ""
    points: tuple[PullPoint, ...]
    warnings: tuple[PullWarning, ...]
    sheet: PullSheet | None
    problem: str = ""


class DayPlan(Frozen):
    """A day of pulling: where the reel stands, its pulls in order, people and things, cautions and steps."""

    reel_at: str
    pulls: tuple[DayPull, ...]
    people: tuple[str, ...]
    things: tuple[str, ...]
    steps: tuple[str, ...]
    cautions: tuple[str, ...]
    sources: tuple[Source, ...]


def new_cables(plant: Plant) -> tuple[str, ...]:
    """The cables that are still to be pulled."""
    return tuple(cable.id for cable in plant.cables if cable.state in NEW_STATES)


def day_plan(plant: Plant, cable_ids: Sequence[str] = (), friction: float = DEFAULT_FRICTION) -> DayPlan:
    """The plan of a day: these cables, or all that are not pulled yet.

    Cables in the same ways are pulled together. The reel stands where most pulls can start; those come first, and
    pulls that share ways follow each other.

    Raises:
        PlantError: there is no such cable.
    """
    chosen = [_cable(plant, name) for name in cable_ids or new_cables(plant)]
    bundles: dict[tuple[str, ...], list[Cable]] = defaultdict(list)
    for cable in chosen:
        bundles[cable.ways].append(cable)
    reel_at = _reel_at(plant, bundles)
    order = sorted(bundles.items(), key=lambda item: (reel_at not in plant.path_of[item[1][0].id], item[0]))
    pulls = [_pull(plant, n, cables, reel_at, friction) for n, (_, cables) in enumerate(order, start=1)]
    ways = list({way: plant.way_of[way] for cable in chosen for way in cable.ways}.values())
    places = list({p: plant.place_of[p] for cable in chosen for p in plant.path_of[cable.id]}.values())
    quay = any("quay" in (way.name + way.hazard).lower() for way in ways)
    figures = material_figures().pulling
    return DayPlan(
        reel_at=plant.place_of[reel_at].name if reel_at else "",
        pulls=tuple(pulls),
        people=_people(pulls),
        things=_things(chosen, ways),
        steps=LATER,
        cautions=(
            *ALWAYS,
            *([ON_A_QUAY] if quay else []),
            *cautions(ways, places, metal=any(c.metal for c in chosen)),
        ),
        sources=(figures.between_source,),
    )


def _cable(plant: Plant, name: str) -> Cable:
    cable = plant.cable_of.get(name)
    if cable is None:
        raise PlantError("cable", f"there is no cable '{name}': choose one of the plan")
    return cable


def _reel_at(plant: Plant, bundles: dict[tuple[str, ...], list[Cable]]) -> str:
    """The place at an end of most pulls; of equal ones that with mains, then the first."""
    ends = Counter(place for cables in bundles.values() for place in set(_ends(plant, cables[0])))
    if not ends:
        return ""
    return max(ends, key=lambda place: (ends[place], plant.place_of[place].power == "mains"))


def _ends(plant: Plant, cable: Cable) -> tuple[str, str]:
    path = plant.path_of[cable.id]
    return path[0], path[-1]


def _pull(plant: Plant, number: int, cables: list[Cable], reel_at: str, friction: float) -> DayPull:
    first = cables[0]
    names = [plant.place_of[place].name for place in plant.path_of[first.id]]
    ids = [cable.id for cable in cables]
    told = {"number": number, "cables": tuple(ids), "names": tuple(cable.name for cable in cables)}
    try:
        sheet = pull_sheet(plant, ids, friction)
    except PlantError as error:
        ends = {"start": names[0], "end": names[-1], "length_m": 0.0, "tension_n": None, "rated_n": None}
        return DayPull(**told, **ends, points=(), warnings=(), sheet=None, problem=str(error))
    start = _start(sheet, cables, plant.place_of[reel_at].name if reel_at else "")
    forwards = start == sheet.places[0]
    by_end = zip(sheet.pulls, sheet.most_n, strict=True)
    tension = next((most for one, most in by_end if (one.direction == "forwards") == forwards), None)
    warnings = [*sheet.warnings, *_far_between(plant, first)]
    return DayPull(
        **told,
        start=start,
        end=sheet.places[-1] if forwards else sheet.places[0],
        length_m=sheet.length_m,
        tension_n=tension,
        rated_n=sheet.rated_tension_n,
        bound=sheet.bound,
        points=tuple(_points(plant, first, sheet, cables, forwards=forwards)),
        warnings=tuple(warnings),
        sheet=sheet,
    )


def _start(sheet: PullSheet, cables: Sequence[Cable], wish: str) -> str:
    """Where it is fed: where the reel stands if no head leads and all limits are kept, else as the sheet has it."""
    if wish not in (sheet.places[0], sheet.places[-1]) or leading_end(cables) is not None or not sheet.pulls:
        return sheet.start_at
    direction = "forwards" if wish == sheet.places[0] else "backwards"
    pull = next(pull for pull in sheet.pulls if pull.direction == direction)
    strained = sheet.rated_tension_n is not None and pull.tension_n > sheet.rated_tension_n
    pressed = pull.sidewall_n_per_m > max(_most_pressed(cables), sheet.pulls[0].sidewall_n_per_m)
    return sheet.start_at if strained or pressed else wish


def _most_pressed(cables: Sequence[Cable]) -> float:
    """The pressure in N/m that all cables stand at a bend, zero where that is not known of one."""
    limits = [
        cable.rated_tension_n / (cable.bend_radius_loaded_mm / 1000)
        if cable.rated_tension_n and cable.bend_radius_loaded_mm
        else 0.0
        for cable in cables
    ]
    return min(limits, default=0.0)


def _points(
    plant: Plant, cable: Cable, sheet: PullSheet, cables: list[Cable], *, forwards: bool
) -> Iterable[PullPoint]:
    """The points from the reel on: the reel, each pull point and place on the way, and the puller."""
    radius = max((c.bend_radius_loaded_mm for c in cables if c.bend_radius_loaded_mm), default=None)
    limit = sheet.rated_tension_n
    ways = [plant.way_of[way] for way in cable.ways]
    path = plant.path_of[cable.id]
    stops: list[tuple[str, str]] = []
    for way, start, end in zip(ways, path, path[1:], strict=False):
        marks = way.pull_points_m if way.start == start else tuple(way.length_m - m for m in way.pull_points_m)
        stops += [(f"{way.name}, {mark:g} m in", "pulled out and fed on") for mark in sorted(marks)]
        stops.append((plant.place_of[end].name, "watched, fed round the bend"))
    stops = [(plant.place_of[path[0]].name, ""), *stops]
    if not forwards:
        stops.reverse()
    for n, (name, does) in enumerate(stops):
        role = (
            "reel, feeding by hand" if n == 0 else "puller with the tension gauge" if n == len(stops) - 1 else does
        )
        yield PullPoint(name=name, does=role or "watched, fed round the bend", at_most_n=limit, radius_mm=radius)


def _far_between(plant: Plant, cable: Cable) -> Iterable[PullWarning]:
    """Ways indoors with pull points too far apart (TIA-569)."""
    figures = material_figures().pulling
    for way in (plant.way_of[name] for name in cable.ways):
        if not plant.indoors(way) or way.kind == "tray":
            continue
        marks = [0.0, *sorted(way.pull_points_m), way.length_m]
        longest = max(b - a for a, b in pairwise(marks))
        if longest > figures.between_points_m:
            what = (
                f"{way.name} has {longest:g} m without a pull point indoors: at most "
                f"{figures.between_points_m:g} m, set one between."
            )
            yield PullWarning(what=what, breaks=True, source=figures.between_source)


def _people(pulls: Sequence[DayPull]) -> tuple[str, ...]:
    """Who is needed: at the reel, at the rope, and one for each point between, of the pull that has most."""
    between = max((max(0, len(pull.points) - 2) for pull in pulls if pull.sheet), default=0)
    if not any(pull.sheet for pull in pulls):
        return ()
    return (
        "one at the reel",
        "one at the rope, with the tension gauge",
        *([f"{between} at the points between, with radios"] if between else []),
    )


def _things(cables: Sequence[Cable], ways: Sequence[Way]) -> tuple[str, ...]:
    rated = [cable.rated_tension_n for cable in cables if cable.rated_tension_n is not None]
    breakaway = f"breakaway link below {min(rated):.0f} N" if rated else "breakaway link, rated by the datasheet"
    ducts = any(way.kind in ("duct", "conduit") for way in ways)
    return (
        "reel stand with a brake",
        "rope or tape longer than the longest pull",
        "pulling eye or grip for each cable",
        f"swivel and {breakaway}",
        "tension gauge",
        *(["mandrel and brush for each bore", "lubricant that the jacket allows"] if ducts else []),
        "rollers or sheaves for each bend",
        "end caps, labels, tape measure, radios",
        *(["firestop material"] if any(way.kind in ("riser", "wall", "conduit") for way in ways) else []),
    )

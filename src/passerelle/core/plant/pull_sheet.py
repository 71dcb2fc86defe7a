"""The pull of one cable: from which end, with how much tension, and what to mind."""

from __future__ import annotations

from typing import Literal

from passerelle.core.plant.pulling import (
    BENDS_IN_BUILDINGS_DEG,
    BENDS_OUTSIDE_DEG,
    BENDS_OUTSIDE_SOURCE,
    BENDS_SOURCE,
    DEFAULT_FRICTION,
    FRICTION,
    Pull,
    Section,
    both_ways,
)
from passerelle.core.plant.site import Cable, Plant, PlantError, Way, cable_length_m, cable_path
from passerelle.core.sources import Frozen, Source, estimated

BEND_RADIUS_M = 0.5
SPREAD = estimated(
    "bends spread evenly over a way, each of 0.5 m radius, its climb before them and its fall after them: "
    "the way as it is built decides"
)
_INDOORS = {"tray", "riser", "wall"}
_PULLED = {"duct", "riser", "tray", "trench", "wall"}


class PullWarning(Frozen):
    """Something to mind at the pull; ``breaks`` when a limit is not kept."""

    what: str
    breaks: bool
    source: Source | None = None


class PullSheet(Frozen):
    """The pull of a cable: places in order, tension both ways (the easier first), warnings.

    Lengths in m, tension in N, bends in degrees. Without a weight there are no pulls, and the sheet says so.
    """

    cable: str
    name: str
    places: tuple[str, ...]
    length_m: float
    bends_deg: float
    friction: float
    rated_tension_n: float | None
    start_at: str
    pulls: tuple[Pull, ...]
    warnings: tuple[PullWarning, ...]
    sources: tuple[Source, ...]


def pull_sheet(plant: Plant, cable_id: str, friction: float = DEFAULT_FRICTION) -> PullSheet:
    """The sheet for one cable, pulled in one go through all its ways.

    Raises:
        PlantError: there is no such cable, or it lies where nothing is pulled (on poles, in rented ways).
    """
    cable = plant.cable_of.get(cable_id)
    if cable is None:
        raise PlantError("cable", f"there is no cable '{cable_id}'")
    path = cable_path(cable, plant.way_of) or ()
    ways = [plant.way_of[way_id] for way_id in cable.ways]
    other = next((way for way in ways if way.kind not in _PULLED), None)
    if other is not None:
        raise PlantError("cable", f"{cable.name} lies in {other.name} ({other.kind}): that is not pulled through")
    sections = [section for way, at in zip(ways, path, strict=False) for section in _sections(way, at)]
    bends_deg = sum(section.bend_deg for section in sections)
    pulls = both_ways(sections, cable.weight_kg_per_km, friction) if cable.weight_kg_per_km else ()
    names = [plant.place_of[place].name for place in path]
    start = names[0] if not pulls or pulls[0].direction == "forwards" else names[-1]
    return PullSheet(
        cable=cable.id,
        name=cable.name,
        places=tuple(names),
        length_m=cable_length_m(cable, plant),
        bends_deg=bends_deg,
        friction=friction,
        rated_tension_n=cable.rated_tension_n,
        start_at=start,
        pulls=pulls,
        warnings=tuple(_warnings(cable, ways, pulls, bends_deg)),
        sources=(FRICTION, SPREAD),
    )


def _sections(way: Way, start: str) -> list[Section]:
    """A way as straights of one length with its bends between them, from the end that is met first.

    The length of a way is level; its climb or fall is a section of its own, at the side where it pulls harder.
    """
    forwards = start == way.start
    bends = way.bends_deg if forwards else tuple(reversed(way.bends_deg))
    rise_m = way.rise_m if forwards else -way.rise_m
    level_m = way.length_m / (len(bends) + 1)
    level = [Section(length_m=level_m, bend_deg=bend, bend_radius_m=BEND_RADIUS_M) for bend in (*bends, 0.0)]
    if rise_m == 0:
        return level
    vertical = Section(length_m=abs(rise_m), rise_m=rise_m)
    return [vertical, *level] if rise_m > 0 else [*level, vertical]


def _warnings(cable: Cable, ways: list[Way], pulls: tuple[Pull, ...], bends_deg: float) -> list[PullWarning]:
    found: list[PullWarning] = []
    inside_deg = sum(sum(way.bends_deg) for way in ways if way.kind in _INDOORS)
    for turned_deg, limit_deg, source in (
        (inside_deg, BENDS_IN_BUILDINGS_DEG, BENDS_SOURCE),
        (bends_deg, BENDS_OUTSIDE_DEG, BENDS_OUTSIDE_SOURCE),
    ):
        if turned_deg > limit_deg:
            what = f"{turned_deg:g}° of bends in one pull, at most {limit_deg:g}°: set a pull point between them."
            found.append(PullWarning(what=what, breaks=True, source=source))
    if not cable.weight_kg_per_km:
        found.append(
            PullWarning(what="The weight of the cable is not known: no tension can be given.", breaks=False)
        )
    if pulls and cable.rated_tension_n is None:
        what = "The rated tension of the cable is not known: compare with its datasheet before the pull."
        found.append(PullWarning(what=what, breaks=False))
    if pulls and cable.rated_tension_n is not None:
        found += _against_rating(pulls, cable.rated_tension_n)
    if cable.metal and any(way.power_conductors for way in ways):
        what = "Metal beside power conductors: not in a shared duct, and bonded; an electrician decides."
        found.append(PullWarning(what=what, breaks=True))
    return found


def _against_rating(pulls: tuple[Pull, ...], rated_n: float) -> list[PullWarning]:
    easy, hard = pulls
    ends: dict[str, Literal["first", "last"]] = {"forwards": "first", "backwards": "last"}
    if easy.tension_n > rated_n:
        what = (
            f"{easy.tension_n:.0f} N from either end, rated for {rated_n:.0f} N: add a pull point or a lubricant."
        )
        return [PullWarning(what=what, breaks=True)]
    if hard.tension_n > rated_n:
        from_end = f"From the {ends[hard.direction]} place"
        what = f"{from_end} it takes {hard.tension_n:.0f} N, more than the rated {rated_n:.0f} N."
        return [PullWarning(what=what, breaks=False)]
    return []

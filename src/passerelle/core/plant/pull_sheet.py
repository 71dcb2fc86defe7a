"""The pull of one cable or of several together: from which end, with how much tension, in how many pulls."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from itertools import pairwise

from pydantic import computed_field

from passerelle.core.catalog.plant_figures import plant_figures
from passerelle.core.errors import PlantError
from passerelle.core.plant.bending import BendLoss, bend_loss, rest_radius_mm
from passerelle.core.plant.cautions import cautions
from passerelle.core.plant.heads import PullWarning, head_warnings, leading_end
from passerelle.core.plant.pull_sections import Direction, hardest_pulls, sections_of
from passerelle.core.plant.pull_way import DuctStrip, PullPoint, PullStretch, ducts_of, stretches_of
from passerelle.core.plant.pulling import DEFAULT_FRICTION, Pull, Section, both_ways, pull
from passerelle.core.plant.records import Cable, Way
from passerelle.core.plant.site import Plant, cable_length_m
from passerelle.core.sources import Frozen, Source, estimated

_PULLED = {"duct", "conduit", "riser", "tray", "trench", "wall"}


class PullStage(Frozen):
    """One pull of several: from and to which point, its tension in N, its length in m and its bends in degrees."""

    start: str
    end: str
    length_m: float
    bends_deg: float
    tension_n: float | None
    kept: bool


class PullSheet(Frozen):
    """A pull: cables and places in order, tension both ways (the easier first), warnings, what care it needs.

    Lengths in m, tension in N, bends in degrees. Without a weight there are no pulls, and the sheet says so.
    ``stages`` are the pulls to make instead of one, where one breaks a limit and pull points allow more;
    ``dry_n`` is the easier tension without a lubricant; ``bend_losses`` what one turn at the tightest radius costs.
    ``stretches``, ``points`` and ``ducts`` draw the way: their distances run from the first of ``places``.
    ``most_sidewall_n_per_m`` is the pressure that the weakest cable stands at a bend, None while it is not known.
    ``most_n`` is, for each of ``pulls``, the tension with all bends of a pathway where they pull hardest, as their
    places are not known; limits are held against it. ``no_bends`` names the pathways whose bends nobody entered:
    then every tension is at least what is given, times ``quarter_turn`` for each further 90°.
    """

    cables: tuple[str, ...]
    name: str
    places: tuple[str, ...]
    length_m: float
    bends_deg: float
    friction: float
    rated_tension_n: float | None
    start_at: str
    pulls: tuple[Pull, ...]
    dry_n: float | None
    stages: tuple[PullStage, ...]
    bend_losses: tuple[BendLoss, ...]
    warnings: tuple[PullWarning, ...]
    cautions: tuple[str, ...]
    sources: tuple[Source, ...]
    stretches: tuple[PullStretch, ...] = ()
    points: tuple[PullPoint, ...] = ()
    ducts: tuple[DuctStrip, ...] = ()
    most_sidewall_n_per_m: float | None = None
    most_n: tuple[float, ...] = ()
    no_bends: tuple[str, ...] = ()
    quarter_turn: float = 1.0

    @computed_field  # type: ignore[prop-decorator]
    @property
    def bound(self) -> str:
        """What is said behind a tension in ``most_n``: that it is the most, or that there is more to come."""
        return "or more, bends not entered" if self.no_bends else "at most, wherever the bends are"


def _led(pulls: tuple[Pull, Pull], leads: str | None) -> tuple[Pull, Pull]:
    """Both pulls, the one that the head allows first: it leads, whichever end is easier."""
    if leads is None:
        return pulls
    wanted: Direction = "forwards" if leads == "far" else "backwards"
    first, second = sorted(pulls, key=lambda one: one.direction != wanted)
    return first, second


class _Leg(Frozen):
    """What lies between two neighboring points at which a cable can be taken out."""

    start: str
    end: str
    indoors: bool
    sections: tuple[Section, ...]


def pull_sheet(plant: Plant, cable_ids: Sequence[str], friction: float = DEFAULT_FRICTION) -> PullSheet:
    """The sheet for one cable, or for several that are pulled together through the same ways.

    Of a bundle the weights add up and the weakest cable's rating rules.

    Raises:
        PlantError: there is no such cable, it lies where nothing is pulled (on poles, in rented ways), or the
            cables of a bundle do not lie in the same ways.
    """
    cables = [_cable(plant, cable_id) for cable_id in cable_ids]
    if not cables:
        raise PlantError("cable", "name a cable to pull")
    first = cables[0]
    for cable in cables[1:]:
        if cable.ways != first.ways:
            raise PlantError("cable", f"{first.name} and {cable.name} do not lie in the same ways: pull them apart")
    ways = [plant.way_of[way_id] for way_id in first.ways]
    other = next((way for way in ways if way.kind not in _PULLED), None)
    if other is not None:
        raise PlantError("cable", f"{first.name} lies in {other.name} ({other.kind}): that is not pulled through")
    path = plant.path_of[first.id]
    legs = [leg for way, at in zip(ways, path, strict=False) for leg in _legs(way, at, plant)]
    sections = [section for leg in legs for section in leg.sections]
    weight = _sum([cable.weight_kg_per_km for cable in cables])
    rated_n = min((c.rated_tension_n for c in cables if c.rated_tension_n is not None), default=None)
    leads = leading_end(cables)
    hardest = hardest_pulls(ways, path, weight, friction)
    pulls = _led(_easier(both_ways(sections, weight, friction), hardest), leads) if weight else ()
    names = [plant.place_of[place].name for place in path]
    forwards = pulls[0].direction == "forwards" if pulls else leads != "near"
    bends_deg = sum(section.bend_deg for section in sections)
    inside_deg = sum(s.bend_deg for leg in legs if leg.indoors for s in leg.sections)
    broken = _too_bent(bends_deg, inside_deg) or bool(
        pulls and rated_n and hardest[pulls[0].direction].tension_n > rated_n
    )
    stages = _stages(legs, weight, rated_n, friction, forwards=forwards) if broken else ()
    figures = plant_figures().pull
    dry_n = (
        min(one.tension_n for one in hardest_pulls(ways, path, weight, figures.dry_friction).values())
        if weight
        else None
    )
    no_bends = tuple(way.name for way in ways if way.length_m and not way.bends_deg)
    quarter_turn = math.exp(friction * math.pi / 2)
    length_m = max(cable_length_m(cable, plant) for cable in cables)
    warnings = [*_bends(bends_deg, inside_deg), *_no_bends(no_bends, friction, quarter_turn)]
    warnings += [*_strain(cables, pulls, hardest, rated_n, names), *_metal(cables, ways)]
    warnings += [w for cable in cables for w in head_warnings(cable, ways, plant)]
    return PullSheet(
        cables=tuple(cable.id for cable in cables),
        name=", ".join(cable.name for cable in cables),
        places=tuple(names),
        length_m=length_m,
        bends_deg=bends_deg,
        friction=friction,
        rated_tension_n=rated_n,
        start_at=names[0] if forwards else names[-1],
        pulls=pulls,
        dry_n=dry_n,
        stages=stages if len(stages) > 1 else (),
        bend_losses=tuple(loss for cable in cables for loss in _tight(cable, sections)),
        warnings=tuple(warnings),
        cautions=cautions(ways, [plant.place_of[place] for place in path]),
        sources=(figures.source, SPREAD, figures.bend_radius_source),
        stretches=stretches_of(sections),
        points=_points(legs, set(names)),
        ducts=ducts_of(plant, ways, {cable.id for cable in cables}),
        most_sidewall_n_per_m=_most_pressed(_weakest(cables)),
        most_n=tuple(hardest[one.direction].tension_n for one in pulls),
        no_bends=no_bends,
        quarter_turn=quarter_turn,
    )


def _easier(pulls: tuple[Pull, Pull], hardest: Mapping[Direction, Pull]) -> tuple[Pull, Pull]:
    """Both pulls, the one that is easier wherever the bends lie first."""
    first, second = sorted(pulls, key=lambda one: round(hardest[one.direction].tension_n, 3))
    return first, second


def _no_bends(names: Sequence[str], friction: float, quarter_turn: float) -> list[PullWarning]:
    if not names:
        return []
    what = (
        f"The bends of {', '.join(names)} are not entered, so the tension is at least what is given. Each further "
        f"90° multiplies it by {quarter_turn:.2f} at a friction of {friction:g}. Enter them on the site plan, or 0."
    )
    return [PullWarning(what=what, breaks=False)]


SPREAD = estimated(
    "drawn with the bends spread evenly over a pathway; limits are held against all of them where they pull hardest"
)


def _cable(plant: Plant, cable_id: str) -> Cable:
    cable = plant.cable_of.get(cable_id)
    if cable is None:
        raise PlantError("cable", f"there is no cable '{cable_id}'")
    return cable


def _sum(values: list[float | None]) -> float:
    """The sum, or zero where one is not known."""
    return 0.0 if None in values else sum(value for value in values if value)


def _legs(way: Way, start: str, plant: Plant) -> list[_Leg]:
    """A way cut at its pull points, from the end that is met first."""
    forwards = start == way.start
    stop = way.end if forwards else way.start
    marks = sorted(at if forwards else way.length_m - at for at in way.pull_points_m if 0 < at < way.length_m)
    names = [f"pull point at {at:.0f} m of {way.name}" for at in marks]
    points = [plant.place_of[start].name, *names, plant.place_of[stop].name]
    sections = sections_of(way, start)
    legs: list[_Leg] = []
    for number, (begin, end) in enumerate(pairwise([0.0, *marks, way.length_m])):
        # A way of no length, a bend between two others, keeps its bends and its climb.
        inside = _between(sections, begin, end, last=end == way.length_m) if way.length_m else sections
        indoors = plant.indoors(way)
        legs.append(_Leg(start=points[number], end=points[number + 1], indoors=indoors, sections=tuple(inside)))
    return legs


def _between(sections: list[Section], begin: float, end: float, *, last: bool) -> list[Section]:
    """The sections between two distances, cut where they are crossed; a climb lies where it starts."""
    found: list[Section] = []
    at = 0.0
    for section in sections:
        level_m = 0.0 if section.rise_m else section.length_m
        low, high = max(begin, at), min(end, at + level_m)
        if section.rise_m:
            if begin <= at < end or (last and at == end):
                found.append(section)
        elif high > low or (high == low and begin < at + level_m <= end and level_m == 0):
            whole_end = at + level_m <= end
            bend = section.bend_deg if whole_end else 0.0
            found.append(section.model_copy(update={"length_m": high - low, "bend_deg": bend}))
        at += level_m
    return found


def _points(legs: list[_Leg], places: set[str]) -> tuple[PullPoint, ...]:
    """The points between the legs, with both ends."""
    found = [PullPoint(name=legs[0].start, at_m=0.0, place=True)] if legs else []
    at = 0.0
    for leg in legs:
        at += sum(section.length_m for section in leg.sections)
        found.append(PullPoint(name=leg.end, at_m=at, place=leg.end in places))
    return tuple(found)


def _stages(
    legs: list[_Leg], weight: float, rated_n: float | None, friction: float, *, forwards: bool
) -> tuple[PullStage, ...]:
    """The fewest pulls that keep the limits, each as long as it can be, fed from the easier end."""
    direction: Direction = "forwards" if forwards else "backwards"
    order = legs if forwards else legs[::-1]
    stages: list[PullStage] = []
    batch: list[_Leg] = []
    for leg in order:
        longer = _stage([*batch, leg], weight, rated_n, friction, direction)
        if batch and not longer.kept:
            stages.append(_stage(batch, weight, rated_n, friction, direction))
            batch = [leg]
        else:
            batch.append(leg)
    return (*stages, _stage(batch, weight, rated_n, friction, direction))


def _stage(
    legs: list[_Leg], weight: float, rated_n: float | None, friction: float, direction: Direction
) -> PullStage:
    forwards = direction == "forwards"
    in_order = legs if forwards else legs[::-1]
    sections = [section for leg in in_order for section in leg.sections]
    bends_deg = sum(section.bend_deg for section in sections)
    inside_deg = sum(s.bend_deg for leg in legs if leg.indoors for s in leg.sections)
    straight = [section.model_copy(update={"bend_deg": 0.0}) for section in sections]
    gathered = math.exp(friction * math.radians(bends_deg))  # all bends at the end that is pulled
    tension_n = pull(straight, weight, friction, direction=direction).tension_n * gathered if weight else None
    strained = tension_n is not None and rated_n is not None and tension_n > rated_n
    return PullStage(
        start=legs[0].start if forwards else legs[0].end,
        end=legs[-1].end if forwards else legs[-1].start,
        length_m=sum(section.length_m for section in sections),
        bends_deg=bends_deg,
        tension_n=tension_n,
        kept=not strained and not _too_bent(bends_deg, inside_deg),
    )


def _too_bent(bends_deg: float, inside_deg: float) -> bool:
    limits = plant_figures().bends
    return inside_deg > limits.in_buildings_deg or bends_deg > limits.outside_deg


def _bends(bends_deg: float, inside_deg: float) -> list[PullWarning]:
    limits = plant_figures().bends
    return [
        PullWarning(
            what=f"{turned:g}° of bends in one pull, at most {most:g}°: set a pull point between them.",
            breaks=True,
            source=source,
        )
        for turned, most, source in (
            (inside_deg, limits.in_buildings_deg, limits.in_buildings_source),
            (bends_deg, limits.outside_deg, limits.outside_source),
        )
        if turned > most
    ]


def _strain(
    cables: list[Cable],
    pulls: tuple[Pull, ...],
    hardest: Mapping[Direction, Pull],
    rated_n: float | None,
    names: list[str],
) -> list[PullWarning]:
    found = [
        PullWarning(what=f"The weight of {cable.name} is not known: no tension can be given.", breaks=False)
        for cable in cables
        if not cable.weight_kg_per_km
    ]
    if not pulls:
        return found
    found += [
        PullWarning(
            what=f"The rated tension of {cable.name} is not known: compare with its datasheet before the pull.",
            breaks=False,
        )
        for cable in cables
        if cable.rated_tension_n is None
    ]
    if rated_n is None:
        return found
    easy, hard = pulls
    weakest = _weakest(cables)
    assert weakest is not None  # a rating is known, so one of them is the weakest
    of_bundle = f", the weakest being {weakest.name}" if len(cables) > 1 else ""
    easy_n, hard_n = (hardest[one.direction].tension_n for one in (easy, hard))
    if easy_n > rated_n:
        where = "the easier end" if easy_n <= hard_n else "the end where its head leads"
        what = (
            f"{easy_n:.0f} N even from {where}, rated for {rated_n:.0f} N{of_bundle}: "
            "add a pull point or a lubricant."
        )
        found.append(PullWarning(what=what, breaks=True))
    elif hard_n > rated_n:
        end = names[0] if hard.direction == "forwards" else names[-1]
        what = f"Fed at {end} it takes {hard_n:.0f} N, more than the rated {rated_n:.0f} N{of_bundle}."
        found.append(PullWarning(what=what, breaks=False))
    found += _pressed(hardest[easy.direction], weakest)
    return found


def _weakest(cables: list[Cable]) -> Cable | None:
    """The cable with the least rated tension; None while no rating is known."""
    rated = (cable for cable in cables if cable.rated_tension_n is not None)
    return min(rated, key=lambda cable: cable.rated_tension_n or 0, default=None)


def _most_pressed(weakest: Cable | None) -> float | None:
    """The pressure in N/m that a cable stands at a bend: its rated tension over its radius under load."""
    if weakest is None or weakest.rated_tension_n is None:
        return None
    by_diameter = weakest.diameter_mm and weakest.diameter_mm * plant_figures().pull.loaded_radius_diameters
    radius_mm = weakest.bend_radius_loaded_mm or by_diameter
    return weakest.rated_tension_n / (radius_mm / 1000) if radius_mm else None


def _pressed(easy: Pull, weakest: Cable) -> list[PullWarning]:
    """Sidewall pressure against the one that the cable stands."""
    figures, most = plant_figures().pull, _most_pressed(weakest)
    if most is None or easy.sidewall_n_per_m <= most:
        return []
    what = (
        f"{easy.sidewall_n_per_m:.0f} N/m on the side at the worst bend, at most {most:.0f} N/m for {weakest.name}."
    )
    return [PullWarning(what=what, breaks=True, source=figures.radius_source)]


def _tight(cable: Cable, sections: list[Section]) -> list[BendLoss]:
    """What the tightest bend of the way costs at rest, where it is tighter than the cable may lie."""
    radii = [section.bend_radius_m * 1000 for section in sections if section.bend_deg > 0]
    rest = rest_radius_mm(cable)
    if not radii or rest is None or min(radii) >= rest:
        return []
    return [bend_loss(grade, min(radii)) for grade in cable.fiber]


def _metal(cables: list[Cable], ways: list[Way]) -> list[PullWarning]:
    return [
        PullWarning(
            what=f"Metal in {cable.name} beside power conductors: not in a shared duct, and bonded; "
            "an electrician decides.",
            breaks=True,
        )
        for cable in cables
        if cable.metal and any(way.power_conductors for way in ways)
    ]

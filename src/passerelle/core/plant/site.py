"""The records of the plant, and what must hold between them."""

from __future__ import annotations

from functools import cached_property
from typing import Annotated, Literal

from pydantic import Field, model_validator

from passerelle.core.catalog.shelves import Catalog, CatalogError
from passerelle.core.link.elements import FiberCandidates, Label, LengthM, Temperature
from passerelle.core.sources import Frozen

PlaceKind = Literal["site", "building", "floor", "room", "cabinet", "pole", "pit"]
WayKind = Literal["tray", "riser", "duct", "trench", "aerial", "wall", "rented"]
State = Literal["existing", "planned", "pulled", "tested", "dead"]
Id = Annotated[str, Field(min_length=1, max_length=40, pattern=r"^[A-Za-z0-9][A-Za-z0-9 ._-]*$")]
Name = Annotated[str, Field(min_length=1, max_length=120)]
MAX_STRANDS = 6912


class PlantError(ValueError):
    """A plant that contradicts itself. ``field`` names the row and column, such as ``ways[quay].to``."""

    def __init__(self, field: str, message: str) -> None:
        super().__init__(message)
        self.field = field


class Place(Frozen):
    """Where something stands. ``within`` is the place around it, empty for the outermost."""

    id: Id
    name: Name
    kind: PlaceKind = "building"
    within: str = ""
    power: Literal["mains", "none", "unknown"] = "unknown"
    key: Label = ""
    coldest_c: Temperature | None = None
    hottest_c: Temperature | None = None
    notes: Label = ""


class Way(Frozen):
    """A stretch between two places that cables lie in. Lengths in m, ``bore_mm`` the inner diameter of a duct.

    ``bends_deg`` are the bends in their order from ``start`` to ``end``, in degrees.
    """

    id: Id
    name: Name
    start: str
    end: str
    kind: WayKind = "duct"
    length_m: LengthM
    rise_m: Annotated[float, Field(ge=-500, le=500, allow_inf_nan=False)] = 0.0
    bore_mm: Annotated[float, Field(gt=0, le=1000, allow_inf_nan=False)] | None = None
    bends_deg: Annotated[tuple[Annotated[float, Field(gt=0, le=180)], ...], Field(max_length=60)] = ()
    power_conductors: bool = False
    wet: bool = False
    owner: Label = ""
    state: State = "existing"
    hazard: Label = ""


class Cable(Frozen):
    """A cable in a sequence of ways. ``slack_m`` is what lies coiled and climbs at its ends beyond the ways.

    ``fiber`` are the grades that its strands may be; ``dead`` the numbers of strands that cannot be used.
    """

    id: Id
    name: Name
    ways: Annotated[tuple[str, ...], Field(min_length=1, max_length=200)]
    construction: Label = ""
    fiber: FiberCandidates = ()
    strands: Annotated[int, Field(ge=1, le=MAX_STRANDS)] = 12
    dead: Annotated[tuple[int, ...], Field(max_length=MAX_STRANDS)] = ()
    reserved: Annotated[int, Field(ge=0, le=MAX_STRANDS)] = 0
    diameter_mm: Annotated[float, Field(gt=0, le=200, allow_inf_nan=False)] | None = None
    weight_kg_per_km: Annotated[float, Field(gt=0, le=50_000, allow_inf_nan=False)] | None = None
    rated_tension_n: Annotated[float, Field(gt=0, le=100_000, allow_inf_nan=False)] | None = None
    bend_radius_loaded_mm: Annotated[float, Field(gt=0, le=10_000, allow_inf_nan=False)] | None = None
    slack_m: LengthM = 0.0
    metal: bool = False
    state: State = "existing"


class Plant(Frozen):
    """All places, ways and cables of a project; every name in it exists."""

    places: Annotated[tuple[Place, ...], Field(max_length=5000)] = ()
    ways: Annotated[tuple[Way, ...], Field(max_length=20_000)] = ()
    cables: Annotated[tuple[Cable, ...], Field(max_length=20_000)] = ()

    @model_validator(mode="after")
    def _whole(self) -> Plant:
        for shelf in ("places", "ways", "cables"):
            ids = [row.id for row in getattr(self, shelf)]
            doubled = next((i for i in ids if ids.count(i) > 1), None) if len(set(ids)) < len(ids) else None
            if doubled:
                raise PlantError(f"{shelf}[{doubled}].id", f"two rows of {shelf} have the id '{doubled}'")
        _check_places(self)
        _check_ways(self)
        _check_cables(self)
        return self

    @cached_property
    def place_of(self) -> dict[str, Place]:
        """Places by id."""
        return {place.id: place for place in self.places}

    @cached_property
    def way_of(self) -> dict[str, Way]:
        """Ways by id."""
        return {way.id: way for way in self.ways}

    @cached_property
    def cable_of(self) -> dict[str, Cable]:
        """Cables by id."""
        return {cable.id: cable for cable in self.cables}


def _check_places(plant: Plant) -> None:
    known = {place.id: place.within for place in plant.places}
    for place in plant.places:
        seen, at = {place.id}, place.within
        while at:
            if at not in known:
                raise PlantError(f"places[{place.id}].within", f"there is no place '{at}' around {place.name}")
            if at in seen:
                raise PlantError(f"places[{place.id}].within", f"{place.name} would stand inside itself")
            seen.add(at)
            at = known[at]


def _check_ways(plant: Plant) -> None:
    known = {place.id for place in plant.places}
    for way in plant.ways:
        for field in ("start", "end"):
            if getattr(way, field) not in known:
                raise PlantError(
                    f"ways[{way.id}].{field}",
                    f"{way.name}: there is no place '{getattr(way, field)}': add it first, or choose another",
                )
        if way.start == way.end:
            raise PlantError(f"ways[{way.id}].end", f"{way.name} leads back to where it starts")


def _check_cables(plant: Plant) -> None:
    ways = {way.id: way for way in plant.ways}
    for cable in plant.cables:
        for number, way_id in enumerate(cable.ways):
            if way_id not in ways:
                raise PlantError(f"cables[{cable.id}].ways", f"{cable.name}: there is no way '{way_id}'")
            if cable.ways.index(way_id) != number:
                raise PlantError(f"cables[{cable.id}].ways", f"{cable.name} passes '{way_id}' twice")
        if cable_path(cable, ways) is None:
            raise PlantError(
                f"cables[{cable.id}].ways",
                f"{cable.name}: the ways {', '.join(cable.ways)} do not follow each other: each must start where "
                "the one before it ends",
            )
        wrong = [n for n in cable.dead if not 1 <= n <= cable.strands]
        if wrong:
            raise PlantError(
                f"cables[{cable.id}].dead", f"{cable.name} has strands 1 to {cable.strands}: there is no {wrong[0]}"
            )


def cable_path(cable: Cable, ways: dict[str, Way]) -> tuple[str, ...] | None:
    """The places that a cable passes, from its first to its last; None when its ways do not follow each other.

    A cable of one way starts at the start of that way.
    """
    rows = [ways[way_id] for way_id in cable.ways]
    if len(rows) == 1:
        return rows[0].start, rows[0].end
    shared = {rows[0].start, rows[0].end} & {rows[1].start, rows[1].end}
    if not shared:
        return None
    at = rows[0].start if rows[0].end in shared else rows[0].end
    path = [at]
    for way in rows:
        if at not in (way.start, way.end):
            return None
        at = way.end if at == way.start else way.start
        path.append(at)
    return tuple(path)


def cable_length_m(cable: Cable, plant: Plant) -> float:
    """Length of a cable in m: its ways, their rises, and the slack at its ends."""
    ways = plant.way_of
    return round(sum(ways[i].length_m + abs(ways[i].rise_m) for i in cable.ways) + cable.slack_m, 6)


def check_plant_names(plant: Plant, catalog: Catalog) -> None:
    """Check that every grade and construction of a cable exists.

    Raises:
        PlantError: one does not; the message lists what the catalog has.
    """
    for cable in plant.cables:
        try:
            for grade in cable.fiber:
                catalog.fiber(grade)
            if cable.construction:
                catalog.construction(cable.construction)
        except CatalogError as error:
            raise PlantError(f"cables[{cable.id}]", f"{cable.name}: {error}") from error

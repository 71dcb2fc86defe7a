"""The records of the plant, and what must hold between them."""

from __future__ import annotations

from functools import cached_property
from typing import Annotated, Literal

from pydantic import Field, ValidationError, model_validator

from passerelle.core.catalog.records import Jacket
from passerelle.core.catalog.shelves import Catalog
from passerelle.core.errors import CatalogError, PlantError
from passerelle.core.parts.piece import FiberCandidates, Label, LengthM, Temperature
from passerelle.core.sources import Frozen

PlaceKind = Literal["site", "building", "floor", "room", "cabinet", "pole", "pit"]
WayKind = Literal["tray", "riser", "conduit", "duct", "trench", "aerial", "wall", "rented"]
HeadEnd = Literal["unknown", "near", "far", "both"]
State = Literal["existing", "planned", "pulled", "tested", "dead"]
Surroundings = Literal["unknown", "office", "plant room", "cold store", "outdoors", "underground", "wet"]
PowerClassName = Literal["class 1", "class 2", "class 3", "class 4", "class 5", "class 6", "class 7", "class 8"]
CableEnd = Literal["unknown", "panel", "pigtails", "splice tray", "coiled, dark"]
Millimetres = Annotated[float, Field(gt=0, le=10_000, allow_inf_nan=False)]
Newtons = Annotated[float, Field(gt=0, le=100_000, allow_inf_nan=False)]
Coordinate = Annotated[float, Field(ge=-1e7, le=1e7, allow_inf_nan=False)]
Watts = Annotated[float, Field(ge=0, le=100_000, allow_inf_nan=False)]
Id = Annotated[str, Field(min_length=1, max_length=40, pattern=r"^[A-Za-z0-9][A-Za-z0-9 ._-]*$")]
Name = Annotated[str, Field(min_length=1, max_length=120)]
MAX_STRANDS = 6912
FACTORY_MADE = "trunk, pre-terminated"
SHELVES = ("places", "ways", "cables", "taps", "devices", "orders")


class Place(Frozen):
    """Where something stands. ``within`` is the place around it, empty for the outermost.

    ``east_m`` and ``north_m`` are its position in m from a point of the project's own, ``latitude`` and
    ``longitude`` in degrees (WGS 84); each pair is whole or absent.
    """

    id: Id
    name: Name
    kind: PlaceKind = "building"
    within: str = ""
    surroundings: Surroundings = "unknown"
    power: Literal["mains", "none", "unknown"] = "unknown"
    key: Label = ""
    coldest_c: Temperature | None = None
    hottest_c: Temperature | None = None
    east_m: Coordinate | None = None
    north_m: Coordinate | None = None
    latitude: Annotated[float, Field(ge=-90, le=90, allow_inf_nan=False)] | None = None
    longitude: Annotated[float, Field(ge=-180, le=180, allow_inf_nan=False)] | None = None
    notes: Label = ""


class Way(Frozen):
    """A stretch between two places that cables lie in. Lengths in m, ``bore_mm`` the inner diameter of a duct.

    A ``conduit`` is a pipe inside a building, a ``duct`` one between buildings.

    ``bends_deg`` are the bends in their order from ``start`` to ``end``, in degrees, each of ``bend_radius_m``;
    ``pull_points_m`` the distances in m from ``start`` at which the cable can be taken out and pulled again.
    """

    id: Id
    name: Name
    start: str
    end: str
    kind: WayKind = "duct"
    length_m: LengthM
    rise_m: Annotated[float, Field(ge=-500, le=500, allow_inf_nan=False)] = 0.0
    bore_mm: Annotated[float, Field(gt=0, le=1000, allow_inf_nan=False)] | None = None
    material: Label = ""
    bends_deg: Annotated[tuple[Annotated[float, Field(gt=0, le=180)], ...], Field(max_length=60)] = ()
    bend_radius_m: Annotated[float, Field(gt=0, le=100, allow_inf_nan=False)] | None = None
    pull_points_m: Annotated[tuple[LengthM, ...], Field(max_length=200)] = ()
    depth_m: Annotated[float, Field(ge=0, le=100, allow_inf_nan=False)] | None = None
    inside: Label = ""
    power_conductors: bool = False
    wet: bool = False
    owner: Label = ""
    state: State = "existing"
    hazard: Label = ""


class Cable(Frozen):
    """A cable in a sequence of ways. ``slack_m`` is what lies coiled and climbs at its ends beyond the ways.

    ``fiber`` are the grades that its strands may be; ``dead`` the numbers of strands that cannot be used, and
    ``dead_why`` the reason. Rated tensions in N and bend radii in mm are those under load and at rest.
    A factory-made cable is pulled with its plugs in a head of ``head_mm`` diameter and ``head_length_mm`` length,
    at the ends of ``head_at``; ``sold_length_m`` is the length that it was bought at.
    Its strands lie ``per_tube`` to a tube (or ribbon, or unit) and follow its own ``color_code``.
    """

    id: Id
    name: Name
    ways: Annotated[tuple[str, ...], Field(min_length=1, max_length=200)]
    construction: Label = ""
    fiber: FiberCandidates = ()
    strands: Annotated[int, Field(ge=1, le=MAX_STRANDS)] = 12
    dead: Annotated[tuple[int, ...], Field(max_length=MAX_STRANDS)] = ()
    dead_why: Label = ""
    reserved: Annotated[int, Field(ge=0, le=MAX_STRANDS)] = 0
    diameter_mm: Annotated[float, Field(gt=0, le=200, allow_inf_nan=False)] | None = None
    weight_kg_per_km: Annotated[float, Field(gt=0, le=50_000, allow_inf_nan=False)] | None = None
    rated_tension_n: Newtons | None = None
    rated_tension_rest_n: Newtons | None = None
    bend_radius_loaded_mm: Millimetres | None = None
    bend_radius_rest_mm: Millimetres | None = None
    jacket: Jacket = "unknown"
    coldest_c: Temperature | None = None
    hottest_c: Temperature | None = None
    near_end: CableEnd = "unknown"
    far_end: CableEnd = "unknown"
    slack_m: LengthM = 0.0
    metal: bool = False
    color_code: Label = "TIA-598"
    per_tube: Annotated[int, Field(ge=1, le=432)] = 12
    grouped_in: Literal["tubes", "ribbons", "units"] = "tubes"
    head_mm: Millimetres | None = None
    head_length_mm: Millimetres | None = None
    head_at: HeadEnd = "unknown"
    sold_length_m: LengthM | None = None
    state: State = "existing"

    @property
    def factory_made(self) -> bool:
        """Whether its plugs come from the factory and are pulled with it."""
        return self.construction == FACTORY_MADE or self.head_mm is not None or self.head_at != "unknown"


class Tap(Frozen):
    """A closure on the way of a cable, at which some of its strands leave it: beyond, they are not lit from here.

    A closure without ``strands`` only passes the cable through.
    """

    id: Id
    name: Name
    cable: str
    place: str
    strands: Annotated[tuple[int, ...], Field(max_length=MAX_STRANDS)] = ()


class Device(Frozen):
    """What hangs at a place: how many, the rate in Mb/s that each wants, and the power in W that each draws.

    ``fed_from`` is the place of the switch that feeds it over its pairs, empty for power of its own.
    ``typical_w`` and ``peak_w`` are W at the device; ``power_class`` is the class at the switch, empty where only
    the watts are known. ``extended_power``: its datasheet lets a class 8 device draw more over a short run.
    """

    id: Id
    name: Name
    place: str
    count: Annotated[int, Field(ge=1, le=10_000)] = 1
    rate_mbps: Annotated[int, Field(ge=1, le=1_000_000)] = 1000
    typical_w: Watts = 0.0
    peak_w: Watts = 0.0
    fed_from: str = ""
    power_class: PowerClassName | Literal[""] = ""
    extended_power: bool = False


class OrderLine(Frozen):
    """Something to buy that stands for no planned piece: a damaged cord's like, a cable to replace."""

    id: Id
    name: Name
    count: Annotated[int, Field(ge=1, le=100_000)] = 1
    why: Label = ""


class Plant(Frozen):
    """All places, ways, cables, taps, devices and order lines of a project; every name in it exists.

    ``prices`` is read from older projects only: they stand in the one price list of the project.
    """

    places: Annotated[tuple[Place, ...], Field(max_length=5000)] = ()
    ways: Annotated[tuple[Way, ...], Field(max_length=20_000)] = ()
    cables: Annotated[tuple[Cable, ...], Field(max_length=20_000)] = ()
    taps: Annotated[tuple[Tap, ...], Field(max_length=20_000)] = ()
    devices: Annotated[tuple[Device, ...], Field(max_length=20_000)] = ()
    orders: Annotated[tuple[OrderLine, ...], Field(max_length=5000)] = ()
    prices: dict[str, Annotated[float, Field(ge=0, le=1e7, allow_inf_nan=False)]] | None = None

    @model_validator(mode="after")
    def _whole(self) -> Plant:
        for shelf in SHELVES:
            ids = [row.id for row in getattr(self, shelf)]
            doubled = next((i for i in ids if ids.count(i) > 1), None) if len(set(ids)) < len(ids) else None
            if doubled:
                raise PlantError(f"{shelf}[{doubled}].id", f"two rows of {shelf} have the id '{doubled}'")
        _check_places(self)
        _check_ways(self)
        _check_cables(self)
        _check_taps(self)
        _check_devices(self)
        return self

    @cached_property
    def place_of(self) -> dict[str, Place]:
        """Places by id."""
        return {place.id: place for place in self.places}

    @cached_property
    def place_called(self) -> dict[str, Place]:
        """Places by name, and by id where no place has that name."""
        return {**self.place_of, **{place.name: place for place in self.places}}

    def building_of(self, place_id: str) -> str:
        """The id of the building that a place stands in, or of the outermost place below the site where none is.

        What stands on its own in a site (a pole, a pit, a cabinet outdoors) is a building of its own.
        """
        at, outermost = place_id, place_id
        while at and self.place_of[at].kind != "site":
            outermost = at
            if self.place_of[at].kind == "building":
                return at
            at = self.place_of[at].within
        return outermost

    def indoors(self, way: Way) -> bool:
        """Whether a way stays in one building: a tray, riser, wall or conduit, or a duct between two of its rooms.

        Pull points indoors may be at most 180° apart (TIA-569).
        """
        if way.kind in ("tray", "riser", "wall", "conduit"):
            return True
        ends = (way.start, way.end)
        inside = all(self.place_of[end].kind in ("building", "floor", "room") for end in ends)
        return way.kind == "duct" and inside and self.building_of(way.start) == self.building_of(way.end)

    @cached_property
    def way_of(self) -> dict[str, Way]:
        """Ways by id."""
        return {way.id: way for way in self.ways}

    @cached_property
    def cable_of(self) -> dict[str, Cable]:
        """Cables by id."""
        return {cable.id: cable for cable in self.cables}

    @cached_property
    def taps_of(self) -> dict[str, tuple[Tap, ...]]:
        """The taps of each cable that has some, by the cable's id."""
        found: dict[str, tuple[Tap, ...]] = {}
        for tap in self.taps:
            found[tap.cable] = (*found.get(tap.cable, ()), tap)
        return found

    @cached_property
    def cables_in(self) -> dict[str, tuple[Cable, ...]]:
        """The cables that lie in each way, by the way's id."""
        found: dict[str, list[Cable]] = {way.id: [] for way in self.ways}
        for cable in self.cables:
            for way in cable.ways:
                found[way].append(cable)
        return {way: tuple(cables) for way, cables in found.items()}

    @cached_property
    def path_of(self) -> dict[str, tuple[str, ...]]:
        """The places that each cable passes, by its id."""
        return {cable.id: cable_path(cable, self.way_of) or () for cable in self.cables}

    def changed(self, **shelves: object) -> Plant:
        """The plant with some of its shelves replaced, checked as a whole again.

        Raises:
            PlantError: the new rows contradict each other or the rest.
        """
        kept = {name: getattr(self, name) for name in Plant.model_fields}
        try:
            return Plant.model_validate({**kept, **shelves})
        except ValidationError as error:
            causes = (item.get("ctx", {}).get("error") for item in error.errors(include_url=False))
            cause = next((c for c in causes if isinstance(c, PlantError)), None)
            raise cause or error from error


def _check_places(plant: Plant) -> None:
    for place in plant.places:
        for one, other in (("east_m", "north_m"), ("latitude", "longitude")):
            if (getattr(place, one) is None) != (getattr(place, other) is None):
                raise PlantError(
                    f"places[{place.id}].{one}",
                    f"{place.name}: give both {_words(one)} and {_words(other)}, or neither",
                )
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
        beyond = next((at for at in way.pull_points_m if at > way.length_m), None)
        if beyond is not None:
            raise PlantError(
                f"ways[{way.id}].pull_points_m",
                f"{way.name} is {way.length_m:g} m long: there is no pull point at {beyond:g} m",
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


def _check_taps(plant: Plant) -> None:
    left: dict[tuple[str, int], str] = {}
    for tap in plant.taps:
        field, cable = f"taps[{tap.id}]", plant.cable_of.get(tap.cable)
        if cable is None:
            raise PlantError(f"{field}.cable", f"{tap.name}: there is no cable '{tap.cable}'")
        if tap.place not in plant.path_of[tap.cable]:
            raise PlantError(f"{field}.place", f"{tap.name}: {cable.name} does not pass '{tap.place}'")
        for number in tap.strands:
            if not 1 <= number <= cable.strands:
                raise PlantError(
                    f"{field}.strands", f"{tap.name}: {cable.name} has strands 1 to {cable.strands}, not {number}"
                )
            if left.setdefault((cable.id, number), tap.name) != tap.name:
                raise PlantError(
                    f"{field}.strands",
                    f"strand {number} of {cable.name} leaves at {left[cable.id, number]} and at {tap.name}",
                )


def _check_devices(plant: Plant) -> None:
    for device in plant.devices:
        for field in ("place", "fed_from"):
            at = getattr(device, field)
            if at not in plant.place_of and (at or field == "place"):
                raise PlantError(f"devices[{device.id}].{field}", f"{device.name}: there is no place '{at}'")
        if device.peak_w < device.typical_w:
            raise PlantError(
                f"devices[{device.id}].peak_w",
                f"{device.name} draws {device.typical_w:g} W usually: its peak cannot be {device.peak_w:g} W",
            )


def _words(field: str) -> str:
    return field.replace("_m", "").replace("_", " ")


class Stretch(Frozen):
    """The part of a cable that some of its strands use: its ways and places in order, and its length in m."""

    ways: tuple[str, ...]
    places: tuple[str, ...]
    length_m: float


def stretch(cable: Cable, strands: tuple[int, ...], plant: Plant) -> Stretch:
    """What of a cable a link on these strands uses: all of it, or up to the tap where they leave.

    The slack of the cable is counted whole: which end it lies at is not known.

    Raises:
        PlantError: some of the strands leave at a tap, others elsewhere.
    """
    path = plant.path_of[cable.id]
    taps = plant.taps_of.get(cable.id, ())
    places = {next((tap.place for tap in taps if number in tap.strands), path[-1]) for number in strands}
    if len(places) > 1:
        raise PlantError(
            f"cables[{cable.id}].strands",
            f"strands {', '.join(map(str, strands))} of {cable.name} leave it at different places: "
            f"{', '.join(sorted(plant.place_of[place].name for place in places))}",
        )
    stop = path.index(places.pop()) if places else len(path) - 1
    ways = cable.ways[:stop]
    climbs = (plant.way_of[i].length_m + abs(plant.way_of[i].rise_m) for i in ways)
    return Stretch(ways=ways, places=path[: stop + 1], length_m=round(sum(climbs) + cable.slack_m, 6))


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
            catalog.marks.strands.code(cable.color_code)
        except CatalogError as error:
            raise PlantError(f"cables[{cable.id}]", f"{cable.name}: {error}") from error

"""The records of the plant: the rows of its shelves, and the places that a cable passes."""

from __future__ import annotations

from datetime import date
from typing import Annotated, Literal, get_args

from pydantic import Field

from passerelle.core.catalog.records import Jacket
from passerelle.core.parts.piece import FiberCandidates, Key, Label, LengthBy, LengthM, Ordered, State, Temperature
from passerelle.core.parts.registry import Element
from passerelle.core.sources import Frozen

PlaceKind = Literal["site", "building", "floor", "room", "cabinet", "pole", "pit"]
WayKind = Literal["tray", "riser", "conduit", "duct", "trench", "aerial", "wall", "rented"]
Grouping = Literal["tubes", "ribbons", "units"]
PlacePower = Literal["mains", "none", "unknown"]
HeadEnd = Literal["unknown", "near", "far", "both"]
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
MAX_HOLES = 1152
FACTORY_MADE = "trunk, pre-terminated"
Shelf = Literal[
    "places",
    "ways",
    "cables",
    "taps",
    "devices",
    "orders",
    "parts",
    "frames",
    "stock",
    "reels",
    "labels",
    "instruments",
    "boxes",
]
SHELVES: tuple[Shelf, ...] = get_args(Shelf)


class Row(Frozen):
    """A row of the plant: ``id`` is what other rows call it, ``key`` its own for good and never given again."""

    id: Id
    key: Key = ""
    name: Name


class Place(Row):
    """Where something stands. ``within`` is the place around it, empty for the outermost.

    ``east_m`` and ``north_m`` are its position in m from a point of the project's own, ``latitude`` and
    ``longitude`` in degrees (WGS 84); each pair is whole or absent.
    """

    kind: PlaceKind = "building"
    within: str = ""
    surroundings: Surroundings = "unknown"
    power: PlacePower = "unknown"
    key_holder: Label = ""
    coldest_c: Temperature | None = None
    hottest_c: Temperature | None = None
    east_m: Coordinate | None = None
    north_m: Coordinate | None = None
    latitude: Annotated[float, Field(ge=-90, le=90, allow_inf_nan=False)] | None = None
    longitude: Annotated[float, Field(ge=-180, le=180, allow_inf_nan=False)] | None = None
    notes: Label = ""


class Way(Row):
    """A stretch between two places that cables lie in. Lengths in m, ``bore_mm`` the inner diameter of a duct.

    A ``conduit`` is a pipe inside a building, a ``duct`` one between buildings.

    ``bends_deg`` are the bends in their order from ``start`` to ``end``, in degrees, each of ``bend_radius_m``;
    empty where nobody entered them, 0 where there is none. ``pull_points_m`` are the distances in m from
    ``start`` at which the cable can be taken out and pulled again.
    """

    start: str
    end: str
    kind: WayKind = "duct"
    length_m: LengthM
    length_by: LengthBy = "unsaid"
    rise_m: Annotated[float, Field(ge=-500, le=500, allow_inf_nan=False)] = 0.0
    bore_mm: Annotated[float, Field(gt=0, le=1000, allow_inf_nan=False)] | None = None
    material: Label = ""
    bends_deg: Annotated[tuple[Annotated[float, Field(ge=0, le=180)], ...], Field(max_length=60)] = ()
    bend_radius_m: Annotated[float, Field(gt=0, le=100, allow_inf_nan=False)] | None = None
    pull_points_m: Annotated[tuple[LengthM, ...], Field(max_length=200)] = ()
    depth_m: Annotated[float, Field(ge=0, le=100, allow_inf_nan=False)] | None = None
    inside: Label = ""
    power_conductors: bool = False
    wet: bool = False
    owner: Label = ""
    state: State = "existing"
    hazard: Label = ""


class Cable(Row):
    """A cable in a sequence of ways. ``slack_m`` is what lies coiled and climbs at its ends beyond the ways.

    ``fiber`` are the grades that its strands may be; ``dead`` the numbers of strands that cannot be used, and
    ``dead_why`` the reason. Rated tensions in N and bend radii in mm are those under load and at rest.
    A factory-made cable is pulled with its plugs in a head of ``head_mm`` diameter and ``head_length_mm`` length,
    at the ends of ``head_at``; ``sold_length_m`` is the length that it was bought at.
    ``ordered`` holds what was ordered otherwise than it arrived.
    Its strands lie ``per_tube`` to a tube (or ribbon, or unit) and follow its own ``color_code``.
    """

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
    grouped_in: Grouping = "tubes"
    head_mm: Millimetres | None = None
    head_length_mm: Millimetres | None = None
    head_at: HeadEnd = "unknown"
    sold_length_m: LengthM | None = None
    state: State = "existing"
    ordered: Annotated[tuple[Ordered, ...], Field(max_length=20)] = ()

    @property
    def factory_made(self) -> bool:
        """Whether its plugs come from the factory and are pulled with it."""
        return self.construction == FACTORY_MADE or self.head_mm is not None or self.head_at != "unknown"


class Tap(Row):
    """A closure on the way of a cable, at which some of its strands leave it: beyond, they are not lit from here.

    A closure without ``strands`` only passes the cable through; with ``joint`` two lengths of it are joined there.
    """

    cable: str
    place: str
    strands: Annotated[tuple[int, ...], Field(max_length=MAX_STRANDS)] = ()
    joint: bool = False
    state: State = "existing"


class Device(Row):
    """What hangs at a place: how many, the rate in Mb/s that each wants, and the power in W that each draws.

    ``fed_from`` is the place of the switch that feeds it over its pairs, empty for power of its own.
    ``typical_w`` and ``peak_w`` are W at the device; ``power_class`` is the class at the switch, empty where only
    the watts are known; ``injector``: a box of its own beside the switch feeds it. ``extended_power``: its
    datasheet lets a class 8 device draw more over a short run.
    """

    place: str
    count: Annotated[int, Field(ge=1, le=10_000)] = 1
    rate_mbps: Annotated[int, Field(ge=1, le=1_000_000)] = 1000
    typical_w: Watts = 0.0
    peak_w: Watts = 0.0
    fed_from: str = ""
    power_class: PowerClassName | Literal[""] = ""
    extended_power: bool = False
    injector: Literal["none", "planned", "existing"] = "none"


Words = Annotated[str, Field(max_length=300)]


class OrderLine(Row):
    """Something to buy that stands for no planned piece: a damaged cord's like, a cable to replace.

    With the words of a ``line`` of the bill it sets the quantity of that line instead, for the reason ``why``.
    """

    count: Annotated[float, Field(ge=0, le=1_000_000, allow_inf_nan=False)] = 1
    why: Label = ""
    line: Words = ""


class Stock(Row):
    """What is at hand of a line of the bill, by its words: it is taken before anything is ordered."""

    line: Words
    count: Annotated[float, Field(ge=0, le=1_000_000, allow_inf_nan=False)] = 1
    place: str = ""


class Cut(Frozen):
    """A run that is cut from a reel: what it is for, by its key, and which section of it; its length in m."""

    of: Key
    section: Annotated[int, Field(ge=0, le=200)] = 0
    length_m: LengthM


class Reel(Row):
    """A reel of cable, by the words of its line of the bill: one on hand, or one to buy, with what is cut from it.

    ``length_m`` is what it was sold as, ``delivered_m`` what the factory report says that is on it, both in m;
    ``report_db_per_km`` is its loss at ``report_nm``.
    """

    line: Words
    length_m: LengthM
    on_hand: bool = False
    delivered_m: LengthM | None = None
    report: Label = ""
    report_nm: Annotated[int, Field(ge=600, le=1700)] | None = None
    report_db_per_km: Annotated[float, Field(ge=0, le=50, allow_inf_nan=False)] | None = None
    state: State = "planned"
    place: str = ""
    cuts: Annotated[tuple[Cut, ...], Field(max_length=500)] = ()

    @property
    def holds_m(self) -> float:
        """How much is on it, as far as it is known."""
        return self.length_m if self.delivered_m is None else self.delivered_m


class LabelRow(Row):
    """An identifier that was given for good: its ``id`` is what is written, ``of`` the key of what carries it."""

    of: Key


InstrumentKind = Literal[
    "light source", "power meter", "array meter", "position switch", "trace instrument", "scope", "fitter"
]


class Instrument(Row):
    """A test instrument that answers by SCPI at ``address``, ``host:port``; empty where it is read by eye.

    A ``fitter`` plugs cords by itself: the simulated one does, real ones are rare.
    """

    kind: InstrumentKind
    address: Annotated[
        str, Field(max_length=200, pattern=r"^([A-Za-z0-9.-]+|\[[0-9a-fA-F:]+\])?(:[0-9]{1,5})?$")
    ] = ""
    serial: Label = ""
    calibrated_on: date | None = None


BoxKind = Literal["switch", "router", "converter", "other"]
TreeProtocol = Literal["RSTP", "STP", "MSTP", "none", "other", "unknown"]


class BoxPort(Frozen):
    """A port of a box by the name that the box gives it, and the port of a link that it is, by its key.

    ``index`` is its number in the box's own table of interfaces, None while nobody read it. ``group``: the
    aggregation that it belongs to.
    """

    name: Annotated[str, Field(min_length=1, max_length=60)]
    of: Key
    index: Annotated[int, Field(ge=1, le=2**31 - 1)] | None = None
    group: Label = ""


class Box(Row):
    """A box with ports: a switch, a converter. ``address`` is ``host:port`` of its management, empty where it has
    none and its values are typed.

    ``priority`` and ``bridge_address`` make its identifier in the spanning tree; ``filters``: it drops the tree's
    frames. ``reached_through`` is the port through which its own management goes.
    """

    kind: BoxKind = "switch"
    place: str = ""
    address: Annotated[
        str, Field(max_length=200, pattern=r"^([A-Za-z0-9.-]+|\[[0-9a-fA-F:]+\])?(:[0-9]{1,5})?$")
    ] = ""
    serial: Label = ""
    protocol: TreeProtocol = "unknown"
    priority: Annotated[int, Field(ge=0, le=65_535)] = 32_768
    bridge_address: Annotated[
        str, Field(max_length=17, pattern=r"^([0-9a-fA-F]{2}([:.-]?[0-9a-fA-F]{2}){5})?$")
    ] = ""
    filters: bool = False
    reached_through: Annotated[str, Field(max_length=60)] = ""
    ports: Annotated[tuple[BoxPort, ...], Field(max_length=1000)] = ()


class SharedPart(Row):
    """A part that several links have in common: what it is, where, and how many positions links can take of it.

    The link of each leg of an assembly, or of each split of a port, takes one position.
    """

    place: str = ""
    holds: Element
    count: Annotated[int, Field(ge=1, le=10_000)] = 1


class Hole(Frozen):
    """A numbered hole of a frame: it holds an adapter, or the front of a shared part, or nothing."""

    number: Annotated[int, Field(ge=1, le=MAX_HOLES)]
    adapter: Element | None = None
    part: str = ""


class Frame(Row):
    """A panel frame with numbered holes, of which some hold something."""

    place: str = ""
    holes: Annotated[int, Field(ge=1, le=MAX_HOLES)] = 24
    held: Annotated[tuple[Hole, ...], Field(max_length=MAX_HOLES)] = ()
    state: State = "planned"

    @property
    def count(self) -> int:
        """How many positions it has: its holes."""
        return self.holes

    def hole(self, number: int) -> Hole | None:
        """The hole of a number, where something is in it."""
        return next((hole for hole in self.held if hole.number == number), None)


ROWS: dict[Shelf, type[Row]] = {
    "places": Place,
    "ways": Way,
    "cables": Cable,
    "taps": Tap,
    "devices": Device,
    "orders": OrderLine,
    "parts": SharedPart,
    "frames": Frame,
    "stock": Stock,
    "reels": Reel,
    "labels": LabelRow,
    "instruments": Instrument,
    "boxes": Box,
}
"""The record of the rows of each shelf."""


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

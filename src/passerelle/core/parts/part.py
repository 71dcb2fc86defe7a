"""What the rules see of a piece: faces, the paths between them, and traits. A part has no kind."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from functools import lru_cache
from typing import Literal, NamedTuple

from passerelle.core.catalog.records import Jacket, Polish, Space
from passerelle.core.parts.face import NOTHING, Face
from passerelle.core.parts.maps import Map, mating, reversed_row, straight
from passerelle.core.sources import Source

Realm = Literal["light", "copper"]
TermName = Literal["fiber", "mated pair", "splice", "attenuator"]
Exchange = Literal["setting", "by hand", "cord", "adapter", "cassette", "module", "terminated", "pulled"]
TemperatureClass = Literal["unknown", "commercial", "extended", "industrial"]


class Spot(NamedTuple):
    """A position at a face of a part, counted from 1."""

    face: str
    position: int


@dataclass(frozen=True, slots=True)
class OfGlass:
    """Loss by the length of the part, its grade and the wavelength."""


@dataclass(frozen=True, slots=True)
class OfAllowance:
    """Loss of a joint by an allowance of the catalog."""

    allowance: str
    name: Literal["mated pair", "splice"]


@dataclass(frozen=True, slots=True)
class OfFigures:
    """A loss in dB that the part brings along, with where each of its three values is from."""

    name: TermName
    what: str
    worst_db: float
    worst_source: Source
    expected_db: float
    expected_source: Source
    least_db: float
    least_source: Source


TermOf = OfGlass | OfAllowance | OfFigures


@dataclass(frozen=True, slots=True)
class Path:
    """One way through a part between two spots, open in both directions, in its band of wavelengths (nm)."""

    a: Spot
    b: Spot
    terms: tuple[TermOf, ...] = ()
    band_nm: tuple[float, float] | None = None

    def passes(self, wavelength_nm: float) -> bool:
        """Whether light of this wavelength goes this way."""
        return self.band_nm is None or self.band_nm[0] <= wavelength_nm <= self.band_nm[1]


@dataclass(frozen=True, slots=True)
class Socket:
    """A port of a box as the rules of cage, speed, coding and air see it; temperatures in °C, rates in Mb/s.

    ``splits`` is into how many slower ports it can be split, empty where that is not known."""

    cage: str
    rates_mbps: tuple[int, ...]
    policy: str
    own_above_mbps: int
    make: str
    place: str
    label: str
    coldest_c: float | None
    hottest_c: float | None
    water: Literal["dry", "splashed", "hosed", "flooded"]
    dusty: bool
    ingress: str
    splits: tuple[int, ...] = ()

    @property
    def fixed_rate(self) -> bool:
        """A plain converter has one speed and cannot be set."""
        return len(self.rates_mbps) == 1


@dataclass(frozen=True, slots=True)
class Optics:
    """What turns current into light: its application, and the positions at which it sends and listens, by lane.

    Of a port that is split into ``leg_of`` slower ones the link is the leg of number ``leg``, whichever it is where
    that is 0. ``reorders``: the application puts lanes in order itself. ``lane_max_dbm`` is the most that a lane of
    this module sends, ``sold_for`` the application that its legs are sold to face; None and empty where not known.
    """

    application: str
    form: str
    sends: tuple[int, ...]
    hears: tuple[int, ...]
    leg_of: int = 1
    leg: int = 0
    reorders: bool = True
    lane_max_dbm: float | None = None
    sold_for: str = ""

    @property
    def groups(self) -> tuple[tuple[tuple[int, ...], tuple[int, ...]], ...]:
        """Where it sends and listens, once for each leg that the link may be."""
        lanes = len(self.sends) // self.leg_of
        cuts = [slice(n * lanes, (n + 1) * lanes) for n in range(self.leg_of)]
        chosen = [cuts[self.leg - 1]] if 0 < self.leg <= self.leg_of else cuts
        return tuple((self.sends[cut], self.hears[cut]) for cut in chosen)


@dataclass(frozen=True, slots=True)
class Electrics:
    """An electrical plug-in: rates in Mb/s that it lists, the reach in m and power in W of its datasheet.

    ``made`` is empty for a twisted-pair module, else how the assembly is made; ``legs`` is how many it has.
    """

    form: str
    rates_mbps: tuple[int, ...] = ()
    reach_m: float | None = None
    power_w: float | None = None
    made: str = ""
    legs: int = 1


@dataclass(frozen=True, slots=True)
class Traits:
    """What a part is to the rules; what does not concern it stays at its default.

    ``realm`` is what it carries, None for a box that takes either. ``line``: it has a length (m), which may not be
    known; ``way_m`` is the way that it must reach.
    ``grades`` are the grades that its glass may be, ``category`` that of its twisted pair. ``fixed``: it
    stays in the building when a cord is exchanged. ``exchange`` says who can exchange it, ``turns_by_hand`` whether
    its pair can be crossed there, ``changes`` what of its plugs can be changed in the field. ``fixed_conductors``:
    current between its ends, so that lightning and ground potential matter. ``codings`` by face. ``splices`` is how
    many it has on its way, None where nobody said; ``spliced_by_length``: then some follow from its length, each
    by the allowance of its ``splice_class``.
    """

    realm: Realm | None = None
    line: bool = False
    length_m: float | None = None
    length_estimated: bool = False
    way_m: float | None = None
    way_guessed: bool = False
    arrived: tuple[str, ...] = ()
    strands: int = 0
    grades: tuple[str, ...] = ()
    category: str = ""
    fixed: bool = False
    exchange: Exchange = "cord"
    turns_by_hand: bool = False
    changes: frozenset[Literal["pins", "key"]] = frozenset()
    conductors: bool = False
    stays_indoors: bool = False
    outdoor_rated: frozenset[Space] = frozenset()
    spaces: tuple[Space, ...] = ()
    jacket: Jacket | None = None
    construction: str | None = None
    temperature_class: TemperatureClass | None = None
    codings: Mapping[str, str] = field(default_factory=dict)
    offset_launch: Literal["left", "right"] | None = None
    splices: int | None = None
    spliced_by_length: bool = False
    splice_class: str = "splice"
    set_by_hand_db: float | None = None
    socket: Socket | None = None
    optics: Optics | None = None
    electrics: Electrics | None = None


@dataclass(frozen=True, slots=True)
class Part:
    """Faces, paths between them, traits.

    ``enter`` and ``leave`` are the faces of a part that stands in a chain either way. ``outward`` is the face that
    looks away from the middle of a link where the part ends it: ``edge`` of a module, ``""`` (none) of a port.
    """

    faces: Mapping[str, Face]
    paths: tuple[Path, ...] = ()
    traits: Traits = Traits()
    enter: str = "left"
    leave: str = "right"
    outward: str | None = None

    def face(self, name: str) -> Face:
        """The face of this name; nothing at all where there is none."""
        return self.faces.get(name, NOTHING)

    def between(self, enter: str, leave: str) -> tuple[Path, ...]:
        """The paths that join two faces."""
        ends = {enter, leave}
        return tuple(path for path in self.paths if {path.a.face, path.b.face} == ends)

    def through(self, spot: Spot, leave: str, wavelength_nm: float | None = None) -> Spot | None:
        """Where light that enters at a spot leaves by a face; None at a dead position or out of the band."""
        for path in self.paths:
            if wavelength_nm is not None and not path.passes(wavelength_nm):
                continue
            if path.a == spot and path.b.face == leave:
                return path.b
            if path.b == spot and path.a.face == leave:
                return path.a
        return None


@dataclass(frozen=True, slots=True)
class Mating:
    """What joins two faces: an adapter, a splice, an outlet. Its map of positions follows from geometry.

    ``takes`` is the kind of face that it joins, ``shape`` that of its opening (empty where any fits). With keys
    ``aligned`` the row is mirrored, ``opposed`` keeps it; a splice keeps it unless the pair is ``crossed``.
    """

    takes: Literal["plug", "bare", "contacts"]
    realm: Realm
    word: str
    shape: str = ""
    keys: Literal["aligned", "opposed"] = "opposed"
    crossed: bool = False
    term: OfAllowance | None = None
    asks: Polish | None = None
    turns_by_hand: bool = True
    exchange: Exchange = "adapter"

    def map_of(self, face: Face) -> Map:
        """Where each position of one face ends at the other, which has as many."""
        if not self.shape:
            return reversed_row(face.size) if self.crossed else straight(face.size)
        return mating(face.columns, self.keys == "aligned", face.rows, face.plugs)


@lru_cache(maxsize=256)
def duplex_paths(strands: int, crossed: bool, *terms: TermOf) -> tuple[Path, ...]:
    """Paths from ``left`` to ``right`` of a cable of this many strands, straight or with the pair crossed.

    >>> [path.b.position for path in duplex_paths(2, True)]
    [2, 1]
    """
    ends = range(strands, 0, -1) if crossed else range(1, strands + 1)
    pairs = zip(range(1, strands + 1), ends, strict=True)
    return tuple(Path(Spot("left", here), Spot("right", there), terms) for here, there in pairs)

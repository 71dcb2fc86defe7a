"""The typed records of the catalog: what exists, with the figures that the standards give it."""

from __future__ import annotations

from typing import Annotated, Literal, get_args

from pydantic import Field, model_validator

from passerelle.core.sources import Frozen, Source

Polish = Literal["PC", "UPC", "APC"]
Family = Literal["multimode", "single-mode"]
Launch = Literal["any", "offset-launch"]
Space = Literal[
    "indoors",
    "plenum",
    "riser",
    "duct",
    "buried",
    "aerial",
    "wet",
    "sunlight",
    "beside power",
    "between buildings",
]
Jacket = Literal["unknown", "general", "riser", "plenum", "low smoke, no halogen", "outdoor"]
SPACES: tuple[Space, ...] = get_args(Space)


class FiberGrade(Frozen):
    """One grade of cabled fiber. Attenuations in dB/km, keyed by nominal wavelength in nm.

    ``attenuation_sources`` names the wavelengths whose figure is from elsewhere than ``attenuation_source``.
    """

    name: str
    family: Family
    core_um: float
    cladding_um: float
    attenuation_db_per_km: dict[int, float]
    attenuation_source: Source
    attenuation_sources: dict[int, Source] = Field(default_factory=dict)
    typical_attenuation_db_per_km: dict[int, float]
    typical_source: Source
    least_attenuation_db_per_km: dict[int, float]
    least_source: Source
    modal_bandwidth_mhz_km: dict[int, float] = Field(default_factory=dict)
    bandwidth_source: Source | None = None
    min_bend_radius_mm: float | None = None
    bend_source: Source | None = None
    jacket_colors: tuple[str, ...]
    color_source: Source
    note: str = ""

    @model_validator(mode="after")
    def _ordered(self) -> FiberGrade:
        for wavelength_nm, worst in self.attenuation_db_per_km.items():
            least = self.least_attenuation_db_per_km[wavelength_nm]
            typical = self.typical_attenuation_db_per_km[wavelength_nm]
            if not 0 <= least <= typical <= worst:
                raise ValueError(f"{self.name} at {wavelength_nm} nm: least ≤ typical ≤ worst does not hold")
        return self

    def source_at(self, nominal_nm: int) -> Source:
        """Where the greatest attenuation at a listed wavelength (nm) is from."""
        return self.attenuation_sources.get(nominal_nm, self.attenuation_source)

    @property
    def sources(self) -> tuple[Source, ...]:
        """Every source behind this grade's figures."""
        some = (
            self.attenuation_source,
            *self.attenuation_sources.values(),
            self.typical_source,
            self.least_source,
            self.color_source,
        )
        return some + tuple(s for s in (self.bandwidth_source, self.bend_source) if s is not None)


class TransmitPower(Frozen):
    """Launch power in dBm. ``informative`` figures do not decide; the clause budgets in another kind."""

    min: float
    max: float
    kind: Literal["average", "OMA"]
    per_lane: bool
    informative: bool = False
    source: Source


class ReceivePower(Frozen):
    """Receiver limits in dBm: what it needs, what it takes, and what damages it where that is known.

    ``damage_source`` is where the last is from, where not from where the others are.
    """

    sensitivity: float
    overload: float
    damage: float | None = None
    damage_source: Source | None = None
    kind: Literal["average", "OMA"]
    per_lane: bool
    informative: bool = False
    source: Source


class OmaFigures(Frozen):
    """Optical modulation amplitude figures in dBm, for the applications that budget in them."""

    launch_min: float
    receiver_sensitivity: float
    source: Source


class LossSplit(Frozen):
    """How a row's channel loss is made up: connections in dB plus cable in dB/km times the reach."""

    connection_db: float
    cable_db_per_km: float
    source: Source


class ReachRow(Frozen):
    """One row of a clause's operating range and link budget tables, for one fiber grade.

    ``power_budget_db`` and ``penalties_db`` are None where the clause's budget is not in the catalog: the
    channel insertion loss then decides alone. Links beyond ``engineered_beyond_m`` are engineered links.
    ``split`` says how the channel loss is made up, or ``no_split`` why that is not said.
    """

    fiber: str
    reach_m: Annotated[float, Field(ge=0)]
    min_length_m: float
    max_insertion_loss_db: Annotated[float, Field(ge=0)]
    min_insertion_loss_db: float = 0.0
    min_loss_source: Source | None = None
    split: LossSplit | None = None
    no_split: str = ""
    power_budget_db: float | None = None
    penalties_db: Annotated[float, Field(ge=0)] | None = None
    penalties_source: Source | None = None
    engineered_beyond_m: float | None = None
    tx_min_dbm: float | None = None
    launch: Launch = "any"
    launch_source: Source | None = None
    source: Source
    loss_source: Source
    note: str = ""


class ArrayPort(Frozen):
    """The array in the face of a module: the ``plug`` that enters it, and the positions of its lanes in order.

    Positions are counted on the receptacle, its key up. ``reorders``: the receiver finds each lane wherever it is.
    """

    plug: str
    sends: tuple[int, ...]
    hears: tuple[int, ...]
    reorders: bool = True
    source: Source


class Split(Frozen):
    """Into how many slower ports a fast one is split, and the application that each leg speaks to."""

    legs: int
    speaks: str
    source: Source


class Application(Frozen):
    """An optical Ethernet application as its clause defines it.

    ``fibers`` is the number of strands: 2, or 1 for a side of a two-wavelength pair, whose other side is
    ``partner``; more over an ``array``. ``wavelengths_nm`` has one entry a lane. ``grid``: one color of several
    that are alike otherwise. ``splits`` says into what its port can be split, ``leg_of`` whose leg it is.
    """

    name: str
    partner: str | None = None
    rate_mbps: int
    lanes: int
    fibers: int
    family: Family
    wavelengths_nm: tuple[int, ...]
    connector: str
    polish: Polish
    forms: tuple[str, ...]
    tx_power_dbm: TransmitPower
    rx_power_dbm: ReceivePower
    oma_dbm: OmaFigures | None = None
    power_budget_db: float | None = None
    reaches: tuple[ReachRow, ...]
    interoperates: tuple[str, ...] = ()
    interoperates_source: Source | None = None
    grid: bool = False
    array: ArrayPort | None = None
    splits: tuple[Split, ...] = ()
    leg_of: str = ""
    sources: tuple[Source, ...]
    note: str = ""

    @property
    def wavelength_nm(self) -> int:
        """The nominal wavelength of the first lane."""
        return self.wavelengths_nm[0]

    def speaks_to(self, other: Application) -> bool:
        """Whether the clause has the two face each other: the same, or the two sides of one pair."""
        return other.name == (self.partner or self.name)

    def works_with(self, other: Application) -> bool:
        """Whether one of the two is said to face the other although they are not the same."""
        return other.name in self.interoperates or self.name in other.interoperates

    def split_into(self, legs: int) -> Split | None:
        """How it is split into ``legs`` slower ports; None where it is not."""
        return next((one for one in self.splits if one.legs == legs), None)

    def leg(self, legs: int, also: tuple[str, ...] = ()) -> Application | None:
        """One of ``legs`` slower ports that it is split into, as an application of its own; None where it is not.

        Its reach and its powers are those of one lane; it is made to face the application that it speaks to, and
        ``also`` those that this one works together with.
        """
        split = self.split_into(legs)
        if split is None:
            return None
        lanes = self.lanes // legs
        update = {
            "name": leg_name(self.name, legs),
            "rate_mbps": self.rate_mbps // legs,
            "lanes": lanes,
            "fibers": 2 * lanes,
            "wavelengths_nm": self.wavelengths_nm[:lanes],
            "interoperates": (split.speaks, *also),
            "interoperates_source": split.source,
            "splits": (),
            "leg_of": self.name,
        }
        return self.model_copy(update=update)

    def row(self, fiber: str) -> ReachRow | None:
        """The reach row for a fiber grade, or None when the clause has none."""
        return next((row for row in self.reaches if row.fiber == fiber), None)

    def rows(self, fiber: str) -> tuple[ReachRow, ...]:
        """The rows that hold for a grade: its own, then those of the grades that it meets, each as it stands.

        Where the own row has figures that a project wrote down, it alone.
        """
        own = self.row(fiber)
        if own is not None and "datasheet" in (own.source.body, own.loss_source.body):
            return (own,)
        return tuple(row for grade in (fiber, *MEETS.get(fiber, ())) if (row := self.row(grade)) is not None)


MEETS = {"OM4": ("OM3",), "OM5": ("OM4", "OM3")}
"""The grades that a grade meets besides its own: no less bandwidth at 850 nm and at 1300 nm, the same attenuation
(ISO/IEC 11801-1, cable categories; figures in ``fibers.toml``)."""

LEG = ", one of "


def leg_name(application: str, legs: int) -> str:
    """What one leg of a split application is called.

    >>> leg_name("40GBASE-SR4", 4)
    '40GBASE-SR4, one of 4'
    """
    return f"{application}{LEG}{legs}"


class Connector(Frozen):
    """A connector shape with the polishes that it is made in."""

    name: str
    positions: int
    polishes: tuple[Polish, ...]
    description: str
    source: Source


class PolishGrade(Frozen):
    """What a polish returns when two of its faces are mated, in dB: more is better."""

    name: Polish
    return_loss_db: float
    source: Source


class Cage(Frozen):
    """A port opening: the module forms that fit it mechanically and the most that it can carry."""

    name: str
    accepts: tuple[str, ...]
    max_rate_mbps: int
    optical: bool
    source: Source


class ModuleForm(Frozen):
    """A module's mechanical form, with the connector in its face."""

    name: str
    connector: str
    source: Source


class TemperatureRange(Frozen):
    """A temperature class: the case temperatures in °C that a module of it stands."""

    name: str
    coldest_c: float
    hottest_c: float
    source: Source

    def covers(self, coldest_c: float, hottest_c: float) -> bool:
        """Whether the class takes everything between these two."""
        return self.coldest_c <= coldest_c and hottest_c <= self.hottest_c


class IngressClass(Frozen):
    """A degree of protection (IEC 60529): the dust numeral, and every water numeral that the box stands."""

    name: str
    dust: int
    water: tuple[int, ...]
    source: Source

    def stands(self, water: int, dust: int) -> bool:
        """Whether the box stands these numerals of water and dust."""
        return water in self.water and self.dust >= dust


class SelfHeating(Frozen):
    """How much warmer than the air a module's case is, in kelvin."""

    rise_c: float
    source: Source


class Allowance(Frozen):
    """Insertion loss in dB of one kind of joint: worst, typical (informs only) and least.

    ``family`` is the kind of glass that the figures are defined for, None where they hold for both.
    """

    name: str
    worst_db: float
    worst_source: Source
    typical_db: float
    typical_source: Source
    least_db: float
    least_source: Source
    family: Family | None = None

    @model_validator(mode="after")
    def _ordered(self) -> Allowance:
        if not 0 <= self.least_db <= self.typical_db <= self.worst_db:
            raise ValueError(f"{self.name}: least ≤ typical ≤ worst does not hold")
        return self


class Construction(Frozen):
    """How a fixed cable is built: where it belongs, and whether there is metal in it."""

    name: str
    description: str
    spaces: tuple[Space, ...]
    metal: bool
    source: Source


class Absent(Frozen):
    """Applications that exist and are not offered, and why."""

    names: tuple[str, ...]
    reason: str


class Part(Frozen):
    """A kind of piece that a link is made of, with what it does to the light."""

    name: str
    description: str
    allowance: str | None = None

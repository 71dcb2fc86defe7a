"""The pieces that a link is made of, in the order in which a hand meets them.

A piece is a frozen record. ``left`` faces the first port of the link, ``right`` the last one.
"""

from __future__ import annotations

from typing import Annotated, Literal, get_args

from pydantic import BeforeValidator, Field, model_validator

from passerelle.core.catalog.copper import Category, Made
from passerelle.core.catalog.records import Jacket, Polish, Space
from passerelle.core.sources import Frozen
from passerelle.core.units import typed_length

Shape = Literal["LC", "SC", "ST", "FC"]
LossClass = Literal["mated pair", "mated pair, standard", "mated pair, low-loss", "grade B", "grade C", "grade D"]
Water = Literal["dry", "splashed", "hosed", "flooded"]
Ingress = Literal["unknown", "IP20", "IP30", "IP54", "IP65", "IP67", "IP66/IP67"]


LONGEST_M = 1e6
"""No piece is longer, in m: a bound against slips of the unit, far beyond any span without amplifiers."""

LengthM = Annotated[
    float,
    BeforeValidator(typed_length),
    Field(ge=0, le=LONGEST_M, allow_inf_nan=False, description="metres; a text such as '1250 ft' is understood"),
]
Label = Annotated[str, Field(max_length=120)]
FiberCandidates = Annotated[
    tuple[str, ...],
    Field(max_length=16, description="grades that this glass may be; empty when nothing is known"),
]


Strands = Literal[1, 2]
CodingPolicy = Literal["any", "own only", "own above a rate", "override", "any, telemetry lost"]
TemperatureClass = Literal["unknown", "commercial", "extended", "industrial"]
Spaces = Annotated[
    tuple[Space, ...],
    Field(max_length=10, description="what the piece passes through; empty when nothing is known"),
]
RatesMbps = Annotated[tuple[int, ...], Field(max_length=12)]
Temperature = Annotated[float, Field(ge=-90, le=120, allow_inf_nan=False, description="degrees Celsius")]


class Plug(Frozen):
    """The connector at one end of a cable: its shape and the polish of its ferrules."""

    shape: Shape
    polish: Polish


class Port(Frozen):
    """A cage at one end of the link, with the speeds that it can be set to (Mb/s).

    ``water`` and ``dusty`` say what its box meets, ``ingress`` what the box, or the cabinet around it, stands.
    """

    kind: Literal["port"] = "port"
    id: str = ""
    label: Label = ""
    place: Label = ""
    cage: str
    rates_mbps: tuple[int, ...] = ()
    coding_policy: CodingPolicy = "any"
    own_above_mbps: Annotated[int, Field(ge=0, le=1_000_000)] = 0
    make: Label = ""
    coldest_c: Temperature | None = None
    hottest_c: Temperature | None = None
    water: Water = "dry"
    dusty: bool = False
    ingress: Ingress = "unknown"

    @property
    def fixed_rate(self) -> bool:
        """A plain converter has one speed and cannot be set."""
        return len(self.rates_mbps) == 1


class Module(Frozen):
    """The transceiver in a cage. Its receptacle's connector and polish are those of its clause.

    ``also`` names other applications that the same module lists, at other speeds: most list only one.
    """

    kind: Literal["module"] = "module"
    id: str = ""
    label: Label = ""
    application: str
    also: Annotated[tuple[Label, ...], Field(max_length=4)] = ()
    form: str = ""
    coding: Label = ""
    temperature_class: TemperatureClass = "unknown"


class Cord(Frozen):
    """A flexible cable. ``crossed``: position A at one plug is position B at the other (two strands).

    ``offset_launch`` makes it a mode-conditioning cord and names the end with the single-mode leg, which
    belongs on a transmitter; ``fiber`` is then the multimode grade that the cord is made for.
    ``matches_run``: the cord is bought when the grade of the run has been read, to match it; until then it has
    the candidates of the run, and whichever of them the run is, the cord is too.
    ``spaces`` is what it passes and ``jacket`` what it is rated for: a patch cord is made for indoors.
    """

    kind: Literal["cord"] = "cord"
    id: str = ""
    label: Label = ""
    length_m: LengthM | None = None
    length_estimated: bool = False
    fiber: FiberCandidates = ()
    left: Plug
    right: Plug
    crossed: bool = True
    strands: Strands = 2
    offset_launch: Literal["left", "right"] | None = None
    matches_run: bool = False
    spaces: Spaces = ()
    jacket: Jacket = "general"


class Run(Frozen):
    """The fixed cable. An end without a plug is bare fiber; ``construction`` is empty while it is not known.

    ``jacket`` is the rating that is printed on it, beside what its construction is usually made for.
    A run may ride on a ``cable`` of the plant, on the strands of these numbers; its length and glass then follow
    the plant.
    """

    kind: Literal["run"] = "run"
    id: str = ""
    label: Label = ""
    length_m: LengthM | None = None
    length_estimated: bool = False
    fiber: FiberCandidates = ()
    left: Plug | None = None
    right: Plug | None = None
    crossed: bool = False
    strands: Strands = 2
    construction: Label = ""
    cable: Label = ""
    strand_numbers: Annotated[tuple[Annotated[int, Field(ge=1, le=10_000)], ...], Field(max_length=2)] = ()
    spaces: Spaces = ()
    jacket: Jacket = "unknown"


class Pigtail(Frozen):
    """A short pair of fibers with a plug at exactly one end; the other is bare, to be spliced."""

    kind: Literal["pigtail"] = "pigtail"
    id: str = ""
    label: Label = ""
    length_m: LengthM | None = None
    fiber: FiberCandidates = ()
    left: Plug | None = None
    right: Plug | None = None
    strands: Strands = 2

    @model_validator(mode="after")
    def _one_plug(self) -> Pigtail:
        if (self.left is None) == (self.right is None):
            raise ValueError("a pigtail has a plug at one end and bare fiber at the other: give one plug")
        return self


class Panel(Frozen):
    """A duplex adapter in a panel or outlet. It mates what is plugged in on its two sides.

    The loss class ``mated pair`` counts what the house's allowance profile says; the others count their own.
    ``asks_angled``: a provider or a video service asks for angled faces here.
    """

    kind: Literal["panel"] = "panel"
    id: str = ""
    label: Label = ""
    shape: Shape
    keys: Literal["aligned", "opposed"] = "aligned"
    loss_class: LossClass = "mated pair"
    asks_angled: bool = False


class Splice(Frozen):
    """Two bare pairs joined for good."""

    kind: Literal["splice"] = "splice"
    id: str = ""
    label: Label = ""
    crossed: bool = False


class Attenuator(Frozen):
    """A pair of attenuators, one on each fiber: a plug on one side, a receptacle on the other.

    A ``variable`` one is set to ``value_db`` with a meter, and locked.
    """

    kind: Literal["attenuator"] = "attenuator"
    id: str = ""
    label: Label = ""
    value_db: Annotated[float, Field(gt=0, le=40, allow_inf_nan=False)]
    shape: Shape
    polish: Polish
    plug_side: Literal["left", "right"] = "left"
    variable: bool = False


class Twisted(Frozen):
    """A twisted-pair cord, or with ``fixed`` the cable between two outlets, with an 8-way plug or jack at each end.

    ``jacket`` is the rating that is printed on it.
    """

    kind: Literal["twisted"] = "twisted"
    id: str = ""
    label: Label = ""
    length_m: LengthM | None = None
    length_estimated: bool = False
    category: Category = "Category 6A"
    fixed: bool = False
    jacket: Jacket = "general"
    spaces: Spaces = ()


class Outlet(Frozen):
    """An 8-way jack in a panel or in the wall."""

    kind: Literal["outlet"] = "outlet"
    id: str = ""
    label: Label = ""


class Jack(Frozen):
    """A plug-in twisted-pair module: it sits in a cage and offers an 8-way jack.

    ``rates_mbps`` are the rates that it lists, some only one. ``reach_m`` and ``power_w`` are its datasheet's;
    None counts the usual figures of its form.
    """

    kind: Literal["jack"] = "jack"
    id: str = ""
    label: Label = ""
    form: Literal["SFP", "SFP+"] = "SFP+"
    rates_mbps: RatesMbps = ()
    reach_m: LengthM | None = None
    power_w: Annotated[float, Field(ge=0, le=20, allow_inf_nan=False)] | None = None
    coding: Label = ""
    temperature_class: TemperatureClass = "unknown"


class Assembly(Frozen):
    """A direct-attach assembly: a cable with a module's plug fixed to each end, bought at its length.

    ``rate_mbps`` is the rate of one leg. Of an assembly with several ``legs`` the link is one leg of it; the plug
    of a quad form is in the fast port. ``reach_m`` is its datasheet's; None counts the usual longest of its make.
    """

    kind: Literal["assembly"] = "assembly"
    id: str = ""
    label: Label = ""
    length_m: LengthM | None = None
    made: Made = "passive copper"
    left_form: Label = "SFP+"
    right_form: Label = "SFP+"
    rate_mbps: Annotated[int, Field(gt=0, le=1_000_000)] = 10_000
    legs: Literal[1, 2, 4] = 1
    reach_m: LengthM | None = None
    left_coding: Label = ""
    right_coding: Label = ""
    temperature_class: TemperatureClass = "unknown"
    spaces: Spaces = ()


Glass = Cord | Run | Pigtail
Copper = Twisted | Assembly
Element = Annotated[
    Port | Module | Cord | Panel | Run | Splice | Pigtail | Attenuator | Twisted | Outlet | Jack | Assembly,
    Field(discriminator="kind"),
]
PIECE_KINDS = frozenset(piece.model_fields["kind"].default for piece in get_args(get_args(Element)[0]))
"""What a piece can be, as its ``kind`` says it."""

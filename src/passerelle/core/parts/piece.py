"""What every piece of a chain has, as it is written down; the records of the kinds build on it."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import BeforeValidator, Field

from passerelle.core.catalog.records import Polish, Space
from passerelle.core.sources import Frozen
from passerelle.core.units import typed_length

Shape = Literal["LC", "SC", "ST", "FC"]
AdapterShape = Literal["LC", "SC", "ST", "FC", "MPO", "MPO-16"]
LossClass = Literal["mated pair", "mated pair, standard", "mated pair, low-loss", "grade B", "grade C", "grade D"]
LOSS_CLASS_WORDS: dict[LossClass, str] = {
    "mated pair": "by the house's profile",
    "mated pair, standard": "standard maximum",
    "mated pair, low-loss": "low-loss guaranteed",
    "grade B": "IEC grade B, single-mode",
    "grade C": "IEC grade C, single-mode",
    "grade D": "IEC grade D, single-mode",
}
"""What each class means to a person."""
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
Spaces = Annotated[
    tuple[Space, ...],
    Field(max_length=10, description="what the piece passes through; empty when nothing is known"),
]
RatesMbps = Annotated[tuple[int, ...], Field(max_length=12)]
Temperature = Annotated[float, Field(ge=-90, le=120, allow_inf_nan=False, description="degrees Celsius")]


State = Literal["existing", "planned", "ordered", "delivered", "installed", "tested", "dead"]
"""What has become of a piece or a row of the plan. A dead one is there and cannot be used."""
NEW_STATES: frozenset[State] = frozenset({"planned", "ordered", "delivered"})
"""Of what is not in its place yet."""
LengthBy = Literal["unsaid", "guess", "drawing", "wheel", "pulled", "light"]
"""How a length is known: pulled is by the marks on the jacket, light is measured through the glass."""

Key = Annotated[str, Field(max_length=32, pattern="^[0-9a-z]*$", description="permanent; empty until it is stored")]
FaceName = Annotated[str, Field(max_length=40, description="a face of the shared part; empty without one")]
Positions = Annotated[tuple[Annotated[int, Field(ge=1, le=10_000)], ...], Field(max_length=64)]


class Plug(Frozen):
    """The connector at one end of a cable: its shape and the polish of its ferrules."""

    shape: Shape
    polish: Polish


class Ordered(Frozen):
    """A field of a piece that arrived otherwise than it was ordered, with what was ordered."""

    field: Annotated[str, Field(min_length=1, max_length=40)]
    value: str | float | bool | tuple[str, ...] | Plug | None = None

    @property
    def words(self) -> str:
        """What was ordered, as one says it."""
        match self.value:
            case Plug():
                return f"{self.value.shape} {self.value.polish}"
            case tuple():
                return " or ".join(self.value) or "nothing said"
            case bool():
                return "yes" if self.value else "no"
            case float() | int():
                return f"{self.value:g} m" if self.field.endswith("_m") else f"{self.value:g}"
            case _:
                return self.value or "nothing said"


class Piece(Frozen):
    """A piece of a link. ``left`` faces the first port of the link, ``right`` the last one.

    ``id`` names it within its link; ``key`` is its own for good, whatever link it stands in, and never given
    again. A piece may be a shared ``part`` of the plan, or lie on one: there it is entered at the face ``enter``
    and left at ``leave`` (as the link is drawn, from its left), on the ``positions`` of the face where it is
    entered, in the order of the lanes.

    ``state`` is what has become of it: what is planned is still to be ordered. ``ordered`` holds what was ordered
    otherwise than it arrived.
    """

    kind: str
    id: str = ""
    label: Label = ""
    key: Key = ""
    part: Label = ""
    enter: FaceName = ""
    leave: FaceName = ""
    positions: Positions = ()
    state: State = "planned"
    ordered: Annotated[tuple[Ordered, ...], Field(max_length=20)] = ()


class Line(Piece):
    """A piece with a length in m, None while it is not known.

    ``way_m`` is the way that it must reach, with rises and leads, where that is known apart from its own length;
    ``way_guessed``: that is a guess.
    """

    length_m: LengthM | None = None
    way_m: LengthM | None = None
    way_guessed: bool = False

    @property
    def known_by(self) -> LengthBy:
        """How its length is known."""
        return "guess" if self.__dict__.get("length_estimated") else self.__dict__.get("length_by", "unsaid")

    @property
    def pulled(self) -> bool:
        """Whether it is pulled through the building, so that its length is what a link's length changes."""
        return False


class Glass(Line):
    """A piece of fiber, and the grades that it may be."""

    fiber: FiberCandidates = ()

    @property
    def width(self) -> int:
        """How many strands it has."""
        return 2


class Paired(Glass):
    """A piece of one or two strands with a plug at each end, None for bare fiber."""

    left: Plug | None = None
    right: Plug | None = None
    strands: Strands = 2

    @property
    def width(self) -> int:
        """One strand or a pair."""
        return self.strands

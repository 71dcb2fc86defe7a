"""Records of acceptance: references, inspections, traces, what a tester said. They are events and never change."""

from __future__ import annotations

from datetime import date, time
from typing import Annotated, Literal

from pydantic import Field

from passerelle.core.happening import Happening
from passerelle.core.link.readings import Moment, ReferenceMethod
from passerelle.core.parts.piece import Key, Label
from passerelle.core.sources import Frozen


class Record(Happening):
    """What every record of acceptance says: the instrument by its serial number, who, when, where."""

    instrument: Label = ""
    calibrated_on: date | None = None
    operator: Label = ""
    taken_on: date | None = None
    at_time: time | None = None
    place: Label = ""
    note: Label = ""


class ReferenceTaken(Record):
    """A reference: the zero of readings, with its cords by serial number or label; ``meter_port`` is the connector
    that the meter takes, empty where nobody said it, ``core_um`` the core of its cords.

    Wavelength in nm, ``power_dbm`` what the meter showed, ``joined_db`` what the cords read when they were joined.
    """

    kind: Literal["reference"] = "reference"
    method: ReferenceMethod
    family: Literal["multimode", "single-mode"]
    wavelength_nm: Annotated[int, Field(ge=600, le=1700)]
    reference_grade: bool = False
    source: Literal["LED", "laser", "VCSEL", "encircled flux"] = "laser"
    mandrel: bool = False
    bend_insensitive: bool = False
    loop_mm: Annotated[float, Field(ge=0, le=500, allow_inf_nan=False)] = 0.0
    cords: Annotated[tuple[Label, ...], Field(max_length=6)] = ()
    meter_port: Label = ""
    core_um: Annotated[float, Field(gt=0, le=1000, allow_inf_nan=False)] | None = None
    power_dbm: Annotated[float, Field(ge=-100, le=40, allow_inf_nan=False)] | None = None
    joined_db: Annotated[float, Field(ge=-5, le=20, allow_inf_nan=False)] | None = None


class ReferenceVoid(Happening):
    """A reference no longer holds, why, and since when at the place; without a day from when it was entered on.

    Where a cord left the source, all references of that source are lost, of every wavelength.
    """

    kind: Literal["void"] = "void"
    of: Key
    lost_on: date | None = None
    lost_at: time | None = None
    why: Literal["cord left the source", "power cycle", "another cord", "another wavelength", "meter moved"]


class Defect(Frozen):
    """A mark on a face: its distance from the middle of the core and its size, both in µm."""

    kind: Literal["scratch", "defect"]
    from_middle_um: Annotated[float, Field(ge=0, le=2000, allow_inf_nan=False)]
    size_um: Annotated[float, Field(ge=0, le=2000, allow_inf_nan=False)]


FaceStep = Literal[
    "inspect", "clean dry", "clean wet to dry", "exchange", "terminate again", "damaged", "leave the module"
]


class Inspected(Record):
    """A step at a face of a link: it was looked at, cleaned, exchanged. ``passes`` is None where nothing was
    graded.

    ``piece`` is the key of the piece, ``face`` the side that looks there; ``picture`` the hash of what was seen.
    """

    kind: Literal["inspection"] = "inspection"
    link: Key
    link_name: Annotated[str, Field(max_length=120)] = ""
    piece: Key
    element: Label = ""
    face: Literal["left", "right"] = "left"
    position: Annotated[int, Field(ge=1, le=10_000)] = 1
    test_cord: bool = False
    step: FaceStep
    edition: Label = ""
    defects: Annotated[tuple[Defect, ...], Field(max_length=500)] = ()
    passes: bool | None = None
    picture: Annotated[str, Field(max_length=64, pattern="^[0-9a-f]*$")] = ""


class StrandsTraced(Record):
    """Where the strands of a link come out, seen with a visible source or a meter: near and far position, 0 for
    none.
    """

    kind: Literal["strands"] = "strands"
    link: Key
    link_name: Annotated[str, Field(max_length=120)] = ""
    turned: bool = False
    start: Label
    end: Label
    pairs: Annotated[tuple[tuple[int, int], ...], Field(min_length=1, max_length=288)]
    signature: Annotated[str, Field(max_length=32)] = ""


class TraceTaken(Record):
    """A trace of a strand of a link: its record is kept by its hash.

    ``launch_m`` and ``receive_m`` are the lengths of the cords, None without one.
    """

    kind: Literal["trace"] = "trace"
    link: Key
    link_name: Annotated[str, Field(max_length=120)] = ""
    turned: bool = False
    start: Label
    end: Label
    strand: Annotated[int, Field(ge=1, le=10_000)] = 1
    wavelength_nm: Annotated[int, Field(ge=600, le=1700)]
    direction: Literal["right", "left"]
    pulse_ns: Annotated[float, Field(gt=0, le=1e6, allow_inf_nan=False)]
    launch_m: Annotated[float, Field(ge=0, le=1e5, allow_inf_nan=False)] | None = None
    receive_m: Annotated[float, Field(ge=0, le=1e5, allow_inf_nan=False)] | None = None
    moment: Moment = ""
    file: Annotated[str, Field(min_length=1, max_length=64, pattern="^[0-9a-f]+$")]
    signature: Annotated[str, Field(max_length=32)] = ""


Parameter = Literal[
    "wire map", "length", "delay", "skew", "insertion loss", "NEXT", "PSNEXT", "return loss", "ACRF"
]


class CopperValue(Frozen):
    """The worst of a parameter of a twisted pair: its margin in dB (or ns, or %), where, and on which pairs."""

    parameter: Literal[
        "wire map", "length", "delay", "skew", "insertion loss", "NEXT", "PSNEXT", "return loss", "ACRF"
    ]
    value: Annotated[float, Field(ge=-1000, le=100_000, allow_inf_nan=False)] | None = None
    at_mhz: Annotated[float, Field(gt=0, le=3000, allow_inf_nan=False)] | None = None
    pairs: Label = ""
    passes: bool | None = None


class Certified(Record):
    """What a tester said of a link of twisted pair, as a channel of a category."""

    kind: Literal["certification"] = "certification"
    link: Key
    link_name: Annotated[str, Field(max_length=120)] = ""
    category: Label
    values: Annotated[tuple[CopperValue, ...], Field(min_length=1, max_length=200)]
    signature: Annotated[str, Field(max_length=32)] = ""

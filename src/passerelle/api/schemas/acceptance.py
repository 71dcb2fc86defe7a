"""Acceptance over the wire: the proof of a link, references, readings, inspections, strands, results of testers."""

from __future__ import annotations

from datetime import date, time
from typing import Annotated, Literal

from pydantic import BaseModel, Field

from passerelle.core.acceptance.arrays import ArrayWay
from passerelle.core.acceptance.backscatter import Pulse, Seen
from passerelle.core.acceptance.fault_location import DigRange
from passerelle.core.acceptance.inspection import Graded
from passerelle.core.acceptance.lengths import Converted
from passerelle.core.acceptance.matched import BothWays, TraceJudged
from passerelle.core.acceptance.proof import Proof
from passerelle.core.acceptance.references import ReferenceSeen
from passerelle.core.accepted import CopperValue, Defect, FaceStep, ReferenceTaken
from passerelle.core.catalog.testing_figures import FaceKind, FaceZone
from passerelle.core.link.readings import Decibels, Method, Moment, ReferenceMethod
from passerelle.core.parts.piece import Key, Label
from passerelle.core.plant.records import Instrument, InstrumentKind


class ProofOut(BaseModel):
    """The proof of a link at a revision of it, and the references of its project that still hold."""

    revision: int
    proof: Proof
    to_read: int
    failing: int
    references: tuple[ReferenceSeen, ...]
    arrays: tuple[ArrayWay, ...]
    zones: dict[str, tuple[FaceZone, ...]]
    editions: tuple[str, ...]


class ByWhom(BaseModel):
    """With which instrument something was read, by whom, when and where. Empty: not said, and then it informs."""

    instrument: Label = ""
    calibrated_on: date | None = None
    operator: Label = ""
    taken_on: date | None = None
    at_time: time | None = None
    place: Label = ""
    note: Label = ""


class ReadingWish(ByWhom):
    """A loss reading of a strand of a stretch, in dB; ``zero`` is the key of the reference that it was taken
    with, ``tester_zero`` what the tester itself says of one. ``cleaned``: the faces were cleaned since the reading
    before it; ``length_checked``: its length is not the plan's, and it is right.
    """

    revision: int
    start: Label
    end: Label
    strand: Annotated[int, Field(ge=1, le=10_000)]
    far_strand: Annotated[int, Field(ge=0, le=10_000)] = 0
    wavelength_nm: Annotated[int, Field(ge=600, le=1700)]
    direction: Literal["right", "left", "both"]
    value_db: Decibels
    uncertainty_db: Annotated[float, Field(ge=0, le=10, allow_inf_nan=False)] | None = None
    method: Method = "light source and power meter"
    reference: ReferenceMethod | None = None
    reference_grade: bool | None = None
    moment: Moment = "after termination"
    zero: Key = ""
    tester_zero: Label = ""
    cleaned: bool = False
    length_m: Annotated[float, Field(ge=0, le=1e6, allow_inf_nan=False)] | None = None
    length_checked: bool = False


class ReferenceWish(ReferenceTaken):
    """A reference to write down; it gets its key when it is."""

    key: Key = ""


class VoidWish(BaseModel):
    """Why a reference no longer holds, and since when at the place: what was read with it since is withdrawn."""

    why: Literal["cord left the source", "power cycle", "another cord", "another wavelength", "meter moved"]
    lost_on: date | None = None
    lost_at: time | None = None


class InspectionWish(ByWhom):
    """A step at a face: the piece by its key, the side, the position of the ferrule. ``defects`` are graded."""

    piece: Key
    face: Literal["left", "right"]
    position: Annotated[int, Field(ge=1, le=10_000)] = 1
    test_cord: bool = False
    step: FaceStep
    edition: Label = ""
    clean: bool = False
    defects: Annotated[tuple[Defect, ...], Field(max_length=500)] = ()
    picture: Annotated[str, Field(max_length=64, pattern="^[0-9a-f]*$")] = ""


class GradeWish(BaseModel):
    """Marks on a kind of face."""

    face: FaceKind
    defects: Annotated[tuple[Defect, ...], Field(max_length=500)] = ()


class GradeOut(BaseModel):
    """What the marks come to."""

    graded: Graded


class StrandsWish(ByWhom):
    """Where strands came out: near and far position, 0 where nothing did."""

    start: Label
    end: Label
    pairs: Annotated[tuple[tuple[int, int], ...], Field(min_length=1, max_length=288)]


class CertifiedWish(ByWhom):
    """What a tester said of a link of twisted pair."""

    category: Label
    values: Annotated[tuple[CopperValue, ...], Field(min_length=1, max_length=200)]


class WithdrawWish(BaseModel):
    """Why a record no longer counts; it stays written."""

    why: Annotated[str, Field(min_length=1, max_length=120)]


class TestedLink(BaseModel):
    """How far a link is tested: readings to take, readings missing and failing, faces done, its place."""

    id: int
    name: str
    places: tuple[str, ...]
    rows: int
    missing: int
    failing: int
    faces: int
    faces_done: int
    strands_seen: int
    strands: int
    why_not: str
    state: str
    minutes: float


class TestedOut(BaseModel):
    """The tests of a project: every link, and the references."""

    links: tuple[TestedLink, ...]
    references: tuple[ReferenceSeen, ...]


class AttachmentOut(BaseModel):
    """A file that is kept: its SHA-256, what it is, its size in bytes."""

    hash: str
    media_type: str
    size: int


class TraceWish(ByWhom):
    """A trace that was taken: its record by its hash, of which strand, which way, with which cords (m)."""

    start: Label
    end: Label
    strand: Annotated[int, Field(ge=1, le=10_000)]
    direction: Literal["right", "left"]
    launch_m: Annotated[float, Field(ge=0, le=1e5, allow_inf_nan=False)] = 0.0
    receive_m: Annotated[float, Field(ge=0, le=1e5, allow_inf_nan=False)] = 0.0
    moment: Moment = "after termination"
    file: Annotated[str, Field(pattern="^[0-9a-f]{64}$")]


class PieceSpan(BaseModel):
    """Where a piece lies on a trace, in m from the instrument; the cords are called launch and receive."""

    element: str
    from_m: float
    to_m: float


class TraceView(BaseModel):
    """A trace beside its plan: both for drawing as (m, dB), the pieces, what was found, and the settings.

    ``measured`` is lifted onto the expected one in the launch cord. ``event`` is empty for a mere plan. ``dig`` is
    where on the route its light ends, where it ends early.
    """

    event: Key = ""
    wavelength_nm: int
    direction: Literal["right", "left"]
    strand: int
    pulse: Pulse
    pulses: tuple[Pulse, ...]
    launch_m: float
    receive_m: float
    cords_m: float
    index: float
    pieces: tuple[PieceSpan, ...]
    expected: tuple[tuple[float, float], ...]
    measured: tuple[tuple[float, float], ...] = ()
    seen: tuple[Seen, ...] = ()
    judged: TraceJudged | None = None
    sheath: Converted | None = None
    both: tuple[BothWays, ...] = ()
    checksum: str = ""
    warnings: tuple[str, ...] = ()
    dig: DigRange | None = None


class InstrumentOut(BaseModel):
    """An instrument of the project; ``reached``: a person typed or confirmed its address here."""

    row: Instrument
    reached: bool


class InstrumentsOut(BaseModel):
    """The instruments of a project at a revision of its plan."""

    plan_revision: int
    instruments: tuple[InstrumentOut, ...]


class InstrumentWish(BaseModel):
    """An instrument to add or to change; ``row`` is its id, empty for a new one, ``remove`` takes it out."""

    row: Label = ""
    name: Annotated[str, Field(min_length=1, max_length=120)]
    kind: InstrumentKind
    address: Annotated[str, Field(max_length=200)] = ""
    serial: Label = ""
    calibrated_on: date | None = None
    remove: bool = False


class IdentityOut(BaseModel):
    """What an instrument says of itself."""

    maker: str
    model: str
    serial: str
    firmware: str


class MeasureReference(ByWhom):
    """Take a reference with the instruments of the project."""

    method: Literal["one cord", "two cords", "three cords"]
    family: Literal["multimode", "single-mode"]
    wavelength_nm: Annotated[int, Field(ge=600, le=1700)]
    reference_grade: bool = True
    source: Literal["LED", "laser", "VCSEL", "encircled flux"] = "laser"
    mandrel: bool = False
    bend_insensitive: bool = False
    loop_mm: Annotated[float, Field(ge=0, le=500, allow_inf_nan=False)] = 0.0
    cords: Annotated[tuple[Label, ...], Field(max_length=6)] = ()
    meter_port: Label = ""


class MeasureTrace(ByWhom):
    """Take a trace with the instrument of the project; averaging in s, cords in m, None for what fits."""

    start: Label
    end: Label
    strand: Annotated[int, Field(ge=1, le=10_000)]
    far_strand: Annotated[int, Field(ge=0, le=10_000)] = 0
    direction: Literal["right", "left"]
    wavelength_nm: Annotated[int, Field(ge=600, le=1700)]
    pulse_ns: Annotated[int, Field(gt=0, le=100_000)] | None = None
    averaging_s: Annotated[float, Field(gt=0, le=600)] = 15.0
    moment: Moment = "after termination"
    launch_m: Annotated[float, Field(ge=0, le=1e5)] | None = None
    receive_m: Annotated[float, Field(ge=0, le=1e5)] | None = None


class LookWish(BaseModel):
    """Have the scope look at a face: the piece by its key, the side."""

    piece: Key
    face: Literal["left", "right"]


class ReadingsRequest(BaseModel):
    """A table of readings as CSV text or as a workbook in base64, with columns matched by hand where they were.

    Said once for the batch: with which ``reference`` it was read, what the tester states of it (``tester_zero``),
    what its cords read when they were joined, whether the faces of what had failed were ``cleaned`` before, and
    whether lengths that are not the plan's were checked.
    """

    text: Annotated[str, Field(max_length=4_000_000)] = ""
    workbook: Annotated[str, Field(max_length=8_000_000)] = ""
    mapping: dict[str, str] | None = None
    reference: ReferenceMethod | None = None
    tester_zero: Label = ""
    joined_db: Annotated[float, Field(ge=0, le=20, allow_inf_nan=False)] | None = None
    reference_grade: bool | None = None
    cleaned: bool = False
    length_checked: bool = False


class LooseReading(BaseModel):
    """A line that no reading of the project fits, and why."""

    line: int
    message: str


class ReadingsOut(BaseModel):
    """A table of readings as it was understood: nothing is taken while a line is bad or fits nothing.

    ``without_zero`` of them have no reference on record and prove nothing; ``after_fail`` follow one of the same
    row that fails, and only count once its faces were cleaned.
    """

    columns: tuple[str, ...]
    fields: tuple[str, ...]
    mapping: dict[str, str]
    unknown: tuple[str, ...]
    count: int
    problems: tuple[LooseReading, ...]
    taken: int = 0
    without_zero: int = 0
    after_fail: int = 0


class RecordOut(BaseModel):
    """A record of acceptance in words: of which link, by whom, and why it no longer counts."""

    key: str
    kind: str
    words: str
    link: str
    link_id: int | None
    operator: str
    instrument: str
    taken_on: date | None
    note: str
    withdrawn: str


class MeasureArray(ByWhom):
    """Read every strand of an array through the switch of positions and the wide-area meter."""

    revision: int
    wavelength_nm: Annotated[int, Field(ge=600, le=1700)]

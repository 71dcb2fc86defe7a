"""What goes over the wire, beyond the core's own records."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Literal

from fastapi import Path, Query
from pydantic import BaseModel, Field, model_validator

from passerelle.core.catalog.copper import CopperFigures
from passerelle.core.catalog.prices import PriceLine
from passerelle.core.catalog.records import (
    Absent,
    Allowance,
    Application,
    Cage,
    Connector,
    Construction,
    FiberGrade,
    IngressClass,
    ModuleForm,
    Part,
    PolishGrade,
    TemperatureRange,
)
from passerelle.core.catalog.shelves import AttenuatorFigures, HouseRuleText, Marks, Teaching
from passerelle.core.findings import Severity, Verdict
from passerelle.core.house import HouseRules
from passerelle.core.link.bulk import BulkChange
from passerelle.core.link.chain import Link
from passerelle.core.link.edits import Edit
from passerelle.core.parts.piece import Label, LengthM
from passerelle.core.parts.spec import Drawing, FieldSpec
from passerelle.core.plant.outages import Outage, Shared
from passerelle.core.plant.pulling import Fill
from passerelle.core.plant.riders import CableUse
from passerelle.core.plant.routing import Aim
from passerelle.core.plant.site import Plant
from passerelle.core.plant.strips import StripPlan
from passerelle.core.review import Review
from passerelle.core.selection.wish import Question, RankBy, RateMbps
from passerelle.core.sources import Source
from passerelle.core.stages import Stage
from passerelle.exchange.geojson import DEFAULT_SLACK_PERCENT
from passerelle.exchange.plant_table import Kept
from passerelle.exchange.table_in import BadLine

RowNumber = Annotated[int, Field(ge=1, le=2**63 - 1)]
Seen = Annotated[int, Query(ge=1, le=2**63 - 1, description="what was seen: a revision, or an entry of the log")]
RowId = Annotated[int, Path(ge=1, le=2**63 - 1, description="number of a row in the database")]


class EntryMark(BaseModel):
    """What undo or redo would take: its number, to be said with the wish, its words, and who made it."""

    entry: int
    label: str
    who: str


class ProjectOut(BaseModel):
    """A project, with what undo and redo would do. ``house_revision`` is said when the house rules are changed."""

    id: int
    revision: int
    name: str
    house_rules: HouseRules
    house_revision: int
    undo: EntryMark | None
    redo: EntryMark | None


class VerdictChange(BaseModel):
    """A link whose verdict a change of the house rules would move."""

    id: int
    name: str
    before: str
    after: str


class PieceMark(BaseModel):
    """A piece in the miniature of a chain: what it is, and the worst finding on it."""

    kind: str
    severity: Severity | None
    fiber: tuple[str, ...]


class LinkRowOut(BaseModel):
    """One row of the list of links."""

    id: int
    name: str
    from_place: str
    to_place: str
    applications: tuple[str, ...]
    length_m: float | None
    verdict: Verdict
    verdict_text: str
    margin_db: float | None
    stage: Stage
    pieces: tuple[PieceMark, ...]


class LinkOut(BaseModel):
    """A link with its review."""

    id: int
    project_id: int
    revision: int
    link: Link
    review: Review
    verdict_text: str
    stage: Stage
    undo: EntryMark | None
    redo: EntryMark | None


class EditRequest(BaseModel):
    """Edits made from one revision of a link; all are made, or none."""

    revision: int
    edits: Annotated[tuple[Edit, ...], Field(min_length=1, max_length=100)]
    label: Annotated[str, Field(max_length=300)] = ""


class PreviewRequest(BaseModel):
    """Edits to try without storing anything."""

    edits: Annotated[tuple[Edit, ...], Field(min_length=1, max_length=100)]


class PreviewOut(BaseModel):
    """The link as the edits would make it, with its review."""

    link: Link
    review: Review
    verdict_text: str


Place = Annotated[str, Field(min_length=1, max_length=120)]


class NewLink(Question):
    """The few answers from which a complete chain is made.

    ``rate_mbps`` asks for the best answer, or for the one that was picked. An ``application`` without a rate is
    made as it is asked for, whatever its verdict. ``instead_of`` is the link whose chain the answer replaces, as it
    was at ``revision``: its name, number and place in the list stay.
    """

    from_place: Place
    to_place: Place
    rate_mbps: RateMbps | None = None  # type: ignore[assignment]
    instead_of: RowNumber | None = None
    revision: int | None = None

    @model_validator(mode="after")
    def _speed(self) -> NewLink:
        if not self.application and self.rate_mbps is None:
            raise ValueError("give a speed (rate_mbps), or the application itself")
        return self


class LikeLink(BaseModel):
    """Two places, and the length where it is another, for a chain like one that exists."""

    from_place: Place
    to_place: Place
    length_m: LengthM | None = None


class WhatIfOut(BaseModel):
    """A link as it would be: the edits that make it so, its figures, and how far the same chain would pass."""

    edits: tuple[Edit, ...]
    review: Review
    verdict_text: str
    passes_to_m: float | None


class RequirementsRequest(BaseModel):
    """A CSV table of requirements, which of its lines to answer, and how its columns are matched."""

    text: Annotated[str, Field(max_length=5_000_000)]
    first: Annotated[int, Field(ge=0, le=20_000)] = 0
    count: Annotated[int, Field(ge=1, le=200)] = 25
    mapping: dict[str, str] | None = None
    unit: Literal["m", "ft"] = "m"
    rank_by: RankBy = "school"


class TakeRequirements(BaseModel):
    """The lines of a table of requirements whose best answers become links."""

    text: Annotated[str, Field(max_length=5_000_000)]
    lines: Annotated[tuple[Annotated[int, Field(ge=2, le=20_002)], ...], Field(min_length=1, max_length=2000)]
    mapping: dict[str, str] | None = None
    unit: Literal["m", "ft"] = "m"
    rank_by: RankBy = "school"


class PricesOut(BaseModel):
    """The price list of a project, in its own currency."""

    currency: str
    lines: tuple[PriceLine, ...]
    source: Source


class PriceCsv(BaseModel):
    """A table of prices, item and price; and the currency, empty to keep it."""

    text: Annotated[str, Field(max_length=1_000_000)]
    currency: Annotated[str, Field(max_length=12)] = ""


class HistoryOut(BaseModel):
    """One line of the log of changes."""

    id: int
    at: datetime
    label: str
    link_id: int | None
    state: str
    who: str


class WalkOut(BaseModel):
    """What undo or redo did, the project after it, and the link to look at, while there is one."""

    entry: HistoryOut
    show_link: int | None
    project: ProjectOut


class BulkRequest(BaseModel):
    """One change for several links."""

    links: Annotated[tuple[RowNumber, ...], Field(min_length=1, max_length=20_000)]
    change: BulkChange


class BulkOut(BaseModel):
    """What a change of several links does, or did."""

    links: int
    verdicts: tuple[VerdictChange, ...]


class PlanRequest(BaseModel):
    """The text of a plan file."""

    text: Annotated[str, Field(max_length=128 * 1024 * 1024)]


class ImportRequest(BaseModel):
    """The text of a CSV table, which column holds which field, and the unit of bare lengths."""

    text: Annotated[str, Field(max_length=20_000_000)]
    mapping: dict[str, str] | None = None
    unit: Literal["m", "ft"] = "m"


class ImportPreview(BaseModel):
    """What a table holds; ``names`` and ``verdicts`` are those of the links that can be made.

    ``unknown`` are the columns that no field was matched to, ``fields`` what they can be assigned to.
    """

    columns: tuple[str, ...]
    mapping: dict[str, str]
    unknown: tuple[str, ...]
    fields: tuple[str, ...]
    problems: tuple[BadLine, ...]
    names: tuple[str, ...]
    verdicts: tuple[str, ...]


class ImportOut(BaseModel):
    """How many links were added, how many of them have several ways on the plan, and the project after it."""

    added: int
    undecided: int = 0
    project: ProjectOut


class LengthOut(BaseModel):
    """A typed length as it was understood."""

    length_m: float
    metres: str
    feet: str


class CarriesOut(BaseModel):
    """How far in m a grade carries an application where its own loss ends it before the clause's table."""

    application: str
    fiber: str
    reach_m: float


class KindOut(BaseModel):
    """A kind of piece as a screen shows it: its words, its fields with what may be chosen, and what a hand can do.

    ``turns``: turning it round changes it; ``joins``: it joins two faces; ``drawing`` is how it is drawn at least.
    """

    kind: str
    word: str
    title: str
    drawing: Drawing
    insertable: bool
    turns: bool
    joins: bool
    fields: tuple[FieldSpec, ...]


class CatalogOut(BaseModel):
    """The whole catalog."""

    applications: tuple[Application, ...]
    fibers: tuple[FiberGrade, ...]
    connectors: tuple[Connector, ...]
    cages: tuple[Cage, ...]
    allowances: tuple[Allowance, ...]
    attenuator: AttenuatorFigures
    forms: tuple[ModuleForm, ...]
    temperature_classes: tuple[TemperatureRange, ...]
    house_rules: dict[str, HouseRuleText]
    polishes: tuple[PolishGrade, ...]
    constructions: tuple[Construction, ...]
    ingress_classes: tuple[IngressClass, ...]
    absent: tuple[Absent, ...]
    marks: Marks
    parts: tuple[Part, ...]
    teachings: tuple[Teaching, ...]
    copper: CopperFigures
    carries: tuple[CarriesOut, ...]
    kinds: tuple[KindOut, ...]


class PlantRequest(BaseModel):
    """A whole plant, made from one revision of it."""

    revision: int
    plant: Plant
    label: Annotated[str, Field(max_length=300)] = ""


class WayRow(BaseModel):
    """A way with what lies in it. ``unmeasured`` cables have no diameter and are not in the fill."""

    id: str
    cables: tuple[str, ...]
    fill: Fill | None
    unmeasured: int
    metal_by_power: tuple[str, ...]


class CableRow(BaseModel):
    """A cable with its length and the use of its strands."""

    id: str
    length_m: float
    use: CableUse


class SharedOut(BaseModel):
    """Two links between the same ends, and what they share."""

    first: int
    second: int
    shared: Shared


class LinkPath(BaseModel):
    """What a link on the plant rides on, in order: its ways."""

    link: int
    ways: tuple[str, ...]


class PlantTableRequest(BaseModel):
    """A table of one shelf of the plant: CSV text, or an XLSX workbook as base64; how its columns are matched."""

    shelf: Kept
    text: Annotated[str, Field(max_length=20_000_000)] = ""
    workbook: Annotated[str, Field(max_length=40_000_000)] = ""
    mapping: dict[str, str] | None = None
    unit: Literal["m", "ft"] = "m"


class PlantTableOut(BaseModel):
    """What a table would do: its columns and fields, what it adds and changes, every bad line."""

    fields: tuple[str, ...]
    columns: tuple[str, ...]
    mapping: dict[str, str]
    added: tuple[str, ...]
    changed: tuple[str, ...]
    problems: tuple[BadLine, ...]


class GeoRequest(BaseModel):
    """A GeoJSON text, and the slack in % for ways that come without a length."""

    text: Annotated[str, Field(max_length=128 * 1024 * 1024)]
    slack_percent: Annotated[float, Field(ge=0, le=100)] = DEFAULT_SLACK_PERCENT


class GeoOut(BaseModel):
    """What a GeoJSON text adds: new places and ways, and the ways whose length is geodesic with slack."""

    places: tuple[str, ...]
    ways: tuple[str, ...]
    measured: tuple[str, ...]
    slack_percent: float


class PlantOut(BaseModel):
    """The plant, and what follows from it and from the links on it."""

    revision: int
    plant: Plant
    ways: tuple[WayRow, ...]
    cables: tuple[CableRow, ...]
    outages: tuple[Outage, ...]
    pairs: tuple[SharedOut, ...]
    paths: tuple[LinkPath, ...]
    strips: StripPlan
    cautions: dict[str, tuple[str, ...]]


class LayRequest(BaseModel):
    """A run to put on a cable; an empty cable takes it off."""

    revision: int
    element: Label
    cable: Label
    tap: Label = ""


class PlaceRequest(BaseModel):
    """Where a link should lie: the key of one of its ways, made from one revision of the link."""

    revision: int
    key: Annotated[str, Field(max_length=4000)]


class RouteRequest(BaseModel):
    """A route to build: between two places, for one aim, apart from some links; and what to pull along it."""

    revision: int
    start: Place
    end: Place
    aim: Aim = "least work"
    apart_from: Annotated[tuple[RowNumber, ...], Field(max_length=20)] = ()
    new_ways: bool = False
    grade: Label = "OS2"
    strands: Annotated[int, Field(ge=2, le=6912)] = 12
    name: Annotated[str, Field(min_length=1, max_length=40)]


class FieldProblem(BaseModel):
    """One field that was not accepted, and why."""

    field: str
    message: str


class Problem(BaseModel):
    """An error as RFC 9457 problem details; ``retry_s`` where the same again helps, after so many seconds."""

    type: str = "about:blank"
    title: str
    status: int
    detail: str
    errors: tuple[FieldProblem, ...] = ()
    current: LinkOut | None = None
    retry_s: int | None = None

"""The plant, what follows from it, and its tables over the wire."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import BaseModel, Field

from passerelle.api.schemas.common import Place, RowNumber, VerdictChange
from passerelle.core.parts.piece import Label, Positions
from passerelle.core.plant.outages import Outage, Shared
from passerelle.core.plant.pulling import Fill
from passerelle.core.plant.riders import CableUse
from passerelle.core.plant.routing import Aim
from passerelle.core.plant.shared import SharedUse
from passerelle.core.plant.site import Plant
from passerelle.core.plant.strips import StripPlan
from passerelle.exchange.geojson import DEFAULT_SLACK_PERCENT
from passerelle.exchange.long_text import LongText, MostCharacters
from passerelle.exchange.plant_table import Kept
from passerelle.exchange.table_in import BadLine


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
    text: Annotated[LongText, MostCharacters(20_000_000)] = Field("", validate_default=True)
    workbook: Annotated[LongText, MostCharacters(40_000_000)] = Field("", validate_default=True)
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

    text: Annotated[LongText, MostCharacters(128 * 1024 * 1024)]
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
    shared: tuple[SharedUse, ...]
    moved: tuple[VerdictChange, ...] = ()


class LayRequest(BaseModel):
    """A piece to put on a shared part of the plan; an empty part takes it off.

    A run goes on the lowest free strands of a cable, another piece on the positions that are named, or on the
    lowest that is free.
    """

    revision: int
    element: Label
    part: Label
    tap: Label = ""
    positions: Positions = ()


class ShareRequest(BaseModel):
    """A piece to make a shared part of the plan, with so many positions, of which it takes the first."""

    revision: int
    element: Label
    name: Annotated[str, Field(min_length=1, max_length=40)]
    count: Annotated[int, Field(ge=1, le=10_000)]


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

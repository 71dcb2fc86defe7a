"""Orders, deliveries, reels, labels and the day of pulling over the wire."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Literal

from pydantic import BaseModel, Field

from passerelle.core.materials.arrival import Arrival, Matched
from passerelle.core.materials.bill import Bill
from passerelle.core.materials.build import BuiltPiece
from passerelle.core.materials.cuts import ReelPlan
from passerelle.core.materials.labels import Labelled
from passerelle.core.parts.piece import Key, Label, LengthM, State
from passerelle.exchange.table_in import BadLine

Words = Annotated[str, Field(min_length=1, max_length=300)]


class OrderLineOut(BaseModel):
    """A line of an order or of a delivery."""

    words: str
    quantity: float
    unit: str
    pieces: int
    differs: str = ""


class PaperOut(BaseModel):
    """An order or a delivery as it was written down; ``withdrawn`` says why it no longer counts."""

    key: str
    kind: Literal["order", "delivery"]
    number: int
    note: str
    at: datetime | None
    who: str
    withdrawn: str
    lines: tuple[OrderLineOut, ...]


class WaitingOut(BaseModel):
    """How much of a line was ordered in all, how much came, and how much is still ``open``."""

    words: str
    ordered: float
    came: float
    open: float


class BillOut(BaseModel):
    """The bill, what was ordered and came, and the revision of the plan that changes to it are made from."""

    bill: Bill
    waiting: tuple[WaitingOut, ...]
    currency: str
    plan_revision: int
    papers: tuple[PaperOut, ...]


class OrderRequest(BaseModel):
    """An order to place: of these lines, or of all that is still to be ordered."""

    note: Label = ""
    lines: Annotated[tuple[Words, ...], Field(max_length=20_000)] | None = None


class DeliveryRequest(BaseModel):
    """A delivery note: lines, or a table of them as CSV text or as a workbook in base64.

    ``all_as_ordered`` stands for all that was ordered and has not come, as it was ordered.
    """

    note: Label = ""
    all_as_ordered: bool = False
    lines: Annotated[tuple[Arrival, ...], Field(max_length=20_000)] = ()
    text: Annotated[str, Field(max_length=2_000_000)] = ""
    workbook: Annotated[str, Field(max_length=4_000_000)] = ""
    mapping: dict[str, str] | None = None


class LooseLine(BaseModel):
    """A line of a delivery that is nothing that was ordered, and why."""

    line: str
    quantity: float
    why: str


class DeliveryOut(BaseModel):
    """A delivery note held against the orders: what matches, what does not."""

    matched: tuple[Matched, ...]
    unmatched: tuple[LooseLine, ...]
    fields: tuple[str, ...] = ()
    columns: tuple[str, ...] = ()
    mapping: dict[str, str] = {}
    problems: tuple[BadLine, ...] = ()


class LineRequest(BaseModel):
    """A line of the bill as a person sets it: its quantity with a reason, its quoted price, what is at hand of it.

    What is None goes back to what is computed.
    """

    words: Words
    what: Literal["quantity", "price", "at hand"]
    value: Annotated[float, Field(ge=0, le=1e7, allow_inf_nan=False)] | None = None
    why: Label = ""


class StateRequest(BaseModel):
    """What has become of pieces and rows of the plan, by their keys, or of all pieces of some links."""

    keys: Annotated[tuple[Key, ...], Field(max_length=20_000)] = ()
    links: Annotated[tuple[int, ...], Field(max_length=10_000)] = ()
    state: State


class ReelsOut(BaseModel):
    """The reels of a project, a plan for each kind of cable; what is sold, and what is scrap."""

    plans: tuple[ReelPlan, ...]
    sold_m: tuple[float, ...]
    least_useful_m: float
    currency: str


class ReelMove(BaseModel):
    """A cut to put on another reel: the place of the reel in the plan of this cable, None for no reel."""

    line: Words
    of: Key
    section: int = 0
    to: int | None = None


class ReelRequest(BaseModel):
    """A reel by hand: one on hand, one more to buy, or what the factory report of one says. Lengths in m."""

    line: Words
    row: Label = ""
    name: Annotated[str, Field(min_length=1, max_length=120)] = "reel"
    length_m: LengthM
    on_hand: bool = False
    delivered_m: LengthM | None = None
    report: Label = ""
    report_nm: Annotated[int, Field(ge=600, le=1700)] | None = None
    report_db_per_km: Annotated[float, Field(ge=0, le=50, allow_inf_nan=False)] | None = None
    remove: bool = False


class TakeReels(BaseModel):
    """Take the proposed cuts of one kind of cable as the plan, or (``anew``) give the plan up."""

    line: Words
    anew: bool = False


class LabelsOut(BaseModel):
    """All that carries a label; where codes on labels lead, and whether only this machine can open that."""

    labels: tuple[Labelled, ...]
    places: tuple[str, ...]
    base_address: str
    loopback: bool


class LabelRequest(BaseModel):
    """Give labels to all that has none, or to some by their keys."""

    keys: Annotated[tuple[Key, ...], Field(max_length=20_000)] | None = None


class BuildOut(BaseModel):
    """A link as it is built, piece by piece."""

    pieces: tuple[BuiltPiece, ...]


class KeyOut(BaseModel):
    """What a permanent key is: a piece of a link, or a row of the plan, in which project."""

    project: int
    link: int | None
    element: str
    shelf: str
    row: str

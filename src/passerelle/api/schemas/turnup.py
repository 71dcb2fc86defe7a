"""Turn-up over the wire: a link with its steps, windows and ports; a dark one; boxes, the network, the logbook."""

from __future__ import annotations

from datetime import date, time
from typing import Annotated, Literal

from pydantic import BaseModel, Field

from passerelle.core.findings import Finding
from passerelle.core.parts.piece import Label
from passerelle.core.plant.records import Box, BoxKind, TreeProtocol
from passerelle.core.turned_up import LaneRead
from passerelle.core.turnup.belief import NextLook
from passerelle.core.turnup.bridges import Tree
from passerelle.core.turnup.compared import Difference, LaneStands
from passerelle.core.turnup.handover import TurnUp
from passerelle.core.turnup.hidden import HiddenFault, LinkLook
from passerelle.core.turnup.logbook import LogLine
from passerelle.core.turnup.module_pages import ModuleSeen
from passerelle.core.turnup.plan_network import Warned
from passerelle.core.turnup.steps import PHASES, Phase
from passerelle.core.turnup.tree import Failed
from passerelle.core.turnup.windows import ErrorRate

End = Literal["left", "right"]
Text = Annotated[str, Field(max_length=2000)]


class ByWhomThere(BaseModel):
    """Who did it, when and where; empty is not said."""

    operator: Label = ""
    taken_on: date | None = None
    at_time: time | None = None
    place: Label = ""


class EndOut(BaseModel):
    """An end of a link: its place, pieces, the box and port that it is, and how that is read."""

    end: End
    place: str
    port_element: str
    module_element: str
    application: str
    box: str = ""
    box_name: str = ""
    port: str = ""
    address: str = ""
    reads: bool = False
    why_not_read: str = ""
    correction: str = ""
    trouble: str = ""
    more: tuple[str, ...] = ()


class TurnUpOut(BaseModel):
    """A link at turn-up; ``ages_s`` says how old the values of an end are, ``live`` which came from its box now.

    ``errors`` is what the errors counted at an end prove, ``corrected`` what its error correction says.
    """

    revision: int
    plan_revision: int
    turnup: TurnUp
    state: str
    ends: tuple[EndOut, ...]
    lanes: tuple[LaneStands, ...]
    ages_s: dict[End, float]
    live: tuple[End, ...]
    findings: tuple[Finding, ...]
    warnings: tuple[Warned, ...]
    log: tuple[LogLine, ...]
    phases: tuple[tuple[Phase, str], ...] = PHASES
    errors: dict[End, ErrorRate] = {}
    corrected: dict[End, str] = {}


class StepWish(ByWhomThere):
    """A step that is ticked, or no longer; ``also`` are others that are ticked with it."""

    step: Annotated[str, Field(min_length=1, max_length=200)]
    also: Annotated[tuple[Annotated[str, Field(min_length=1, max_length=200)], ...], Field(max_length=200)] = ()
    done: bool = True
    words: Text = ""


class NoteWish(ByWhomThere):
    """An entry of the logbook; ``corrects`` names an earlier one that it puts right."""

    about: Literal["reading", "picture", "note"] = "note"
    words: Annotated[str, Field(min_length=1, max_length=2000)]
    serial: Label = ""
    picture: Annotated[str, Field(max_length=64, pattern="^[0-9a-f]*$")] = ""
    corrects: Label = ""


class PortWish(ByWhomThere):
    """What a port showed, typed by hand; what nobody looked at stays None."""

    end: End
    admin: Literal["up", "down", ""] = ""
    oper: Literal["up", "down", ""] = ""
    rate_mbps: Annotated[int, Field(ge=0, le=1_000_000)] | None = None
    errors: Annotated[int, Field(ge=0, le=2**53)] | None = None
    corrected: Annotated[int, Field(ge=0, le=2**53)] | None = None
    uncorrected: Annotated[int, Field(ge=0, le=2**53)] | None = None
    seconds: Annotated[float, Field(ge=0, le=1e9, allow_inf_nan=False)] | None = None
    temperature_c: Annotated[float, Field(ge=-100, le=200, allow_inf_nan=False)] | None = None
    lanes: Annotated[tuple[LaneRead, ...], Field(max_length=16)] = ()
    neighbor: Annotated[str, Field(max_length=200)] = ""
    neighbor_port: Annotated[str, Field(max_length=200)] = ""
    module: Annotated[str, Field(max_length=200)] = ""
    serial: Label = ""
    accepted: bool | None = None


class PortOfBox(BaseModel):
    """The port of a box that an end of a link is; an empty box is none."""

    end: End
    box: Annotated[str, Field(max_length=40)] = ""
    port: Annotated[str, Field(max_length=60)] = ""
    group: Label = ""


class ReadWish(BaseModel):
    """Read both ends from their boxes; ``write_down`` puts what was read into the logbook."""

    write_down: bool = False
    by: ByWhomThere = ByWhomThere()


class SituationWish(BaseModel):
    """Where one is and what is at hand; ``leave_out`` are looks whose reading at the port is not believed."""

    here: Literal["left", "right", "away"] = "left"
    travel_min: Annotated[float, Field(ge=0, le=2000, allow_inf_nan=False)] = 15.0
    tools: Annotated[tuple[Label, ...], Field(max_length=20)] = ()
    spares: bool = False
    people: Annotated[int, Field(ge=1, le=10)] = 1
    leave_out: Annotated[tuple[Annotated[str, Field(max_length=300)], ...], Field(max_length=100)] = ()


class PieceBelief(BaseModel):
    """How much of the belief lies at a piece."""

    element: str
    share: float


class FaultBelief(BaseModel):
    """A fault and how much it is believed."""

    fault: HiddenFault
    share: float


class AnswerOut(BaseModel):
    """An answer that counts, with the key by which it is taken back; ``read``: it follows from what was read."""

    key: str
    test: str
    asks: str
    outcome: str
    outcome_words: str
    read: bool = False
    impossible: bool = False


class DiagnosisOut(BaseModel):
    """A dark link: first questions, the next looks with what each outcome means, beliefs, and the cure to try."""

    first: tuple[LinkLook, ...]
    looks: tuple[LinkLook, ...]
    ranked: tuple[NextLook, ...]
    faults: tuple[FaultBelief, ...]
    pieces: tuple[PieceBelief, ...]
    answers: tuple[AnswerOut, ...]
    findings: tuple[Finding, ...]
    cure: FaultBelief | None
    cure_first: bool
    left_min: float
    tried: tuple[str, ...]
    tools: tuple[str, ...]
    words: str
    why_not: str = ""


class LookWish(ByWhomThere):
    """An answer to a look."""

    test: Annotated[str, Field(min_length=1, max_length=300)]
    outcome: Annotated[str, Field(min_length=1, max_length=60)]


class CureWish(ByWhomThere):
    """A cure that was tried, and whether that was it."""

    fault: Annotated[str, Field(min_length=1, max_length=300)]
    helped: bool


class BoxOut(BaseModel):
    """A box of the plan, whether its address may be contacted, and the kind of secret that is kept for it."""

    row: Box
    reached: bool
    secret: Literal["", "v2c", "v3"]
    trouble: str = ""
    read_at: float | None = None
    seconds: float | None = None


class BoxesOut(BaseModel):
    """The boxes of a project."""

    plan_revision: int
    boxes: tuple[BoxOut, ...]
    rates: tuple[str, ...]
    secrets_trouble: str = ""


class BoxWish(BaseModel):
    """A box as it is typed; ``row`` is empty for a new one."""

    row: Annotated[str, Field(max_length=40)] = ""
    remove: bool = False
    name: Annotated[str, Field(min_length=1, max_length=120)]
    kind: BoxKind = "switch"
    place: Annotated[str, Field(max_length=40)] = ""
    address: Annotated[str, Field(max_length=200)] = ""
    serial: Label = ""
    protocol: TreeProtocol = "unknown"
    priority: Annotated[int, Field(ge=0, le=65_535)] = 32_768
    bridge_address: Annotated[str, Field(max_length=17)] = ""
    filters: bool = False
    reached_through: Annotated[str, Field(max_length=60)] = ""


class SecretWish(BaseModel):
    """How a box is asked. It is kept in a file of its own and never shown again."""

    version: Literal["v2c", "v3"] = "v2c"
    community: Annotated[str, Field(max_length=200)] = ""
    user: Annotated[str, Field(max_length=64)] = ""
    auth: Literal["none", "SHA-256", "SHA-1", "MD5"] = "SHA-256"
    auth_secret: Annotated[str, Field(max_length=200)] = ""
    privacy: Literal["none", "AES-128", "DES"] = "AES-128"
    privacy_secret: Annotated[str, Field(max_length=200)] = ""
    forget: bool = False


class WriteWish(ByWhomThere):
    """Set a port of a box; without ``send`` it is only shown what would be sent."""

    port: Annotated[str, Field(min_length=1, max_length=60)]
    admin: Literal["up", "down", ""] = ""
    application: Label = ""
    send: bool = False
    way_back_s: Annotated[int, Field(ge=30, le=3600)] = 120


class WriteOut(BaseModel):
    """What is sent, object by object; ``way_back`` says how the port comes back by itself."""

    sent: bool
    objects: tuple[tuple[str, str, str], ...]
    way_back: str = ""
    words: str


class BoxInTree(BaseModel):
    """A box in the network with what was read of its tree beside what is reckoned."""

    name: str
    place: str
    kind: str
    protocol: str
    seen: str = ""


class NetworkOut(BaseModel):
    """The network of a project: boxes, links, the active tree, warnings, and what each failure does."""

    boxes: tuple[BoxInTree, ...]
    links: tuple[dict[str, str | int | bool | None], ...]
    tree: Tree
    failures: tuple[Failed, ...]
    warnings: tuple[Warned, ...]
    seen_states: dict[str, str]
    differs: tuple[str, ...]
    path_cost: str


class ModuleWish(BaseModel):
    """Memory pages of a module in hexadecimal, to be held against what is planned at an end."""

    layout: Annotated[str, Field(max_length=20)]
    pages: Annotated[dict[str, Annotated[str, Field(max_length=4000)]], Field(max_length=20)]
    end: End


class ModuleOut(BaseModel):
    """What a module's pages say, and what differs from the plan."""

    seen: ModuleSeen
    differences: tuple[Difference, ...]


class TurnUpLink(BaseModel):
    """How far the turn-up of a link is."""

    id: int
    key: str
    name: str
    places: tuple[str, ...]
    state: str
    steps: int
    done: int
    ends_read: int
    differs: int
    verdict: str


class TurnUpsOut(BaseModel):
    """How far all links are."""

    links: tuple[TurnUpLink, ...]
    dark: int
    warnings: tuple[Warned, ...]


class HandoverWish(ByWhomThere):
    """Sign a hand-over of a link, a place or the whole project."""

    scope: Literal["link", "place", "project"] = "project"
    link_id: int | None = None
    place_name: Annotated[str, Field(max_length=200)] = ""
    signer: Annotated[str, Field(min_length=1, max_length=120)]


class HandoverOut(BaseModel):
    """A signed hand-over; ``archive_sha256`` stands on its receipt, ``fingerprint`` on its sheet."""

    key: str
    scope: str
    name: str
    revision: int
    digest: str
    archive_sha256: str
    signer: str
    public_key: str
    fingerprint: str
    on: str
    stands: bool
    links: int | None = None
    open_points: int | None = None
    changed_since: bool = False
    new_key: bool = False

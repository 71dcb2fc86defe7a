"""The true network: what each end of each link of the demo really sends, receives and forwards, and which faults
hide in it.

Light is reckoned strand by strand from the true plant that the test instruments are put on: a bend costs there and
here. Whether a port comes up follows from light, modules and settings, not from any table of faults.
"""

from __future__ import annotations

import hashlib
from collections.abc import Sequence
from dataclasses import dataclass, field
from functools import cached_property
from typing import Literal

from passerelle.core.budget.loss import Direction
from passerelle.core.catalog.records import Application
from passerelle.core.house import HouseRules
from passerelle.core.link.candidates import variants
from passerelle.core.link.compose import Chain, Standing, compose
from passerelle.core.plant.records import Box
from passerelle.core.review import DirectionReview, examine
from passerelle.standins.truth import DARK_DB, Fault, TruePlant

End = Literal["left", "right"]
ENDS: tuple[End, ...] = ("left", "right")
FLOOR_DBM = -45.0
"""Below, a module sees no light."""


@dataclass
class Setting:
    """How a port of a box is set: up or shut, its rate in Mb/s, negotiation, error correction."""

    admin: Literal["up", "down"] = "up"
    rate_mbps: int = 0
    negotiation: bool = True
    saved: bool = True


@dataclass(frozen=True)
class Lit:
    """A lane of an end: what its module sends and receives in dBm, None for nothing."""

    tx_dbm: float | None
    rx_dbm: float | None


@dataclass
class TrueNetwork:
    """Links between boxes as they are."""

    plant: TruePlant
    boxes: Sequence[Box]
    settings: dict[tuple[str, End], Setting] = field(default_factory=dict)
    hidden: list[Fault] = field(default_factory=list)

    def __post_init__(self) -> None:
        self.hidden = list(self.plant.truth.fault)
        for name, link in self.plant.links.items():
            for end in ENDS:
                application = self.application(name, end)
                if application is not None:
                    self.settings[link.name, end] = Setting(rate_mbps=application.rate_mbps)

    @cached_property
    def end_of(self) -> dict[str, tuple[str, End]]:
        """The link and end of each port piece, by its key."""
        found: dict[str, tuple[str, End]] = {}
        for link in self.plant.links.values():
            if link.elements:
                found[link.elements[0].key] = (link.name, "left")
                found[link.elements[-1].key] = (link.name, "right")
        return found

    @cached_property
    def _chains(self) -> dict[str, Chain]:
        catalog = self.plant.catalog
        return {name: compose((variants(link) or [link])[0], catalog) for name, link in self.plant.links.items()}

    def _module(self, link: str, end: End) -> Standing | None:
        ends = self._chains[link].ends
        return (ends[0] if end == "left" else ends[-1]) if len(ends) == 2 else None

    def application(self, link: str, end: End) -> Application | None:
        """What the module of an end really is."""
        module = self._module(link, end)
        if module is None or module.traits.optics is None:
            return None
        planned = self.plant.catalog.application(module.traits.optics.application)
        for fault in self._faults(link, end):
            if fault.kind in ("wrong module", "wrong side") and fault.other_name:
                return self.plant.catalog.application(fault.other_name)
        return planned

    def _faults(self, link: str, end: End | None = None) -> list[Fault]:
        return [f for f in self.hidden if f.link == link and (end is None or f.end in (end, ""))]

    def has(self, link: str, kind: str, end: End | None = None) -> bool:
        """Whether a fault of a kind hides in a link, at an end."""
        return any(fault.kind == kind for fault in self._faults(link, end))

    def hide(self, fault: Fault) -> None:
        """Hide a fault."""
        self.hidden.append(fault)

    def cure(self, link: str, kind: str) -> int:
        """Put right what is of a kind in a link; answers with how many there were."""
        gone = [fault for fault in self.hidden if fault.link == link and fault.kind == kind]
        self.hidden = [fault for fault in self.hidden if fault not in gone]
        if kind == "port shut":
            for end in ENDS:
                self.settings[link, end].admin = "up"
        return len(gone)

    # what shines

    def sends_dbm(self, link: str, end: End) -> float | None:
        """What the module of an end sends on each lane."""
        application = self.application(link, end)
        dark = ("no power", "laser disabled", "dead transmitter", "port refused the coding", "port shut")
        if application is None or any(self.has(link, kind, end) for kind in dark):
            return None
        if self.settings[link, end].admin == "down":
            return None
        tx = application.tx_power_dbm
        return tx.min + (tx.max - tx.min) * (0.45 + 0.3 * _drawn(f"{self.plant.truth.seed}|{link}|{end}|tx"))

    def lanes(self, link: str, end: End) -> tuple[Lit, ...]:
        """What an end really sends and receives, lane by lane."""
        module = self.application(link, end)
        if module is None:
            return ()
        sent = self.sends_dbm(link, end)
        far: End = "right" if end == "left" else "left"
        return tuple(Lit(sent, self._received(link, far, end, lane)) for lane in range(1, module.lanes + 1))

    def _received(self, link: str, sender: End, end: End, lane: int) -> float | None:
        sent = self.sends_dbm(link, sender)
        if sent is None or self.has(link, "no power", end) or self.has(link, "dead receiver", end):
            return None
        if self.has(link, "wrong port", end) or self.has(link, "wrong port", sender):
            return None
        ours, theirs = self.application(link, end), self.application(link, sender)
        if ours is None or theirs is None or not _hears(ours, theirs):
            return None
        lost = self.loss_db(link, "right" if end == "right" else "left", lane)
        if lost >= DARK_DB / 2:
            return None
        arrives = sent - lost
        return arrives if arrives > FLOOR_DBM else None

    def loss_db(self, link: str, direction: Direction, lane: int = 1) -> float:
        """What is really lost from module to module in a direction, in dB."""
        found = self._directions(link).get(direction)
        if found is None:
            return DARK_DB
        total = 0.0
        for term in found.terms:
            if term.part == "attenuator" and self.has(link, "attenuator forgotten"):
                continue
            strand = lane if len(self.lanes_of(link)) > 1 else 1 if direction == "right" else 2
            between = (term.least_db, term.expected_db, term.worst_db)
            total += self.plant.drawn_db(link, term.at, strand, between)
        return total + sum(self._costs(fault, found, direction, lane) for fault in self._faults(link))

    def _costs(self, fault: Fault, found: DirectionReview, direction: Direction, lane: int) -> float:
        """What a fault takes of the light that goes in a direction, in dB; dark where nothing is left."""
        toward: End = "right" if direction == "right" else "left"
        strand = 1 if direction == "right" else 2
        match fault.kind:
            case "swapped pair" | "strands swapped" | "cut" | "plug not seated":
                return DARK_DB
            case "broken" | "one lane dark" | "crossed strand":
                whole = len(self.lanes_of(fault.link)) > 1
                here = lane in (fault.strand, fault.other) if whole else fault.strand in (0, strand)
                return DARK_DB if here and fault.end in ("", toward) else 0.0
            case "dirty face":
                cured = self.plant.cleaned.get((fault.link, fault.element, fault.face), 0) >= fault.cleanings
                return 0.0 if cured or fault.strand not in (0, strand) else fault.db
            case "bend":
                short = found.wavelengths_nm[0] < 1500 and found.wavelengths_nm[0] > 1200
                return 0.0 if fault.strand not in (0, strand) else fault.db * (0.25 if short else 1.0)
            case "bad splice" | "other core" | "wrong mode or core":
                return fault.db if fault.strand in (0, strand) else 0.0
            case _:
                return 0.0

    def lanes_of(self, link: str) -> range:
        """The lanes of a link."""
        application = self.application(link, "left")
        return range(1, (application.lanes if application else 1) + 1)

    def _directions(self, link: str) -> dict[str, DirectionReview]:
        if link not in self._reviewed:
            chain = self._chains[link]
            # readings are what was found; the glass is what it is without them
            bare = chain.link.model_copy(update={"readings": ()})
            seen = examine(bare, self.plant.catalog, HouseRules(), detail=False)
            self._reviewed[link] = {one.direction: one for one in seen.directions}
        return self._reviewed[link]

    @cached_property
    def _reviewed(self) -> dict[str, dict[str, DirectionReview]]:
        return {}

    # what comes up

    def answers(self, link: str, end: End) -> bool:
        """Whether the box of an end has power."""
        return not self.has(link, "no power", end)

    def up(self, link: str) -> bool:
        """Whether both ports of a link come up."""
        return all(self._hears_well(link, end) for end in ENDS) and not self._unlike(link)

    def _unlike(self, link: str) -> bool:
        left, right = (self.settings.get((link, end)) for end in ENDS)
        if left is None or right is None or self.has(link, "settings unlike"):
            return True
        hides = ("modal bandwidth", "offset launch missing", "dispersion or reflections", "foreign light")
        down = any(self.has(link, kind) for kind in hides)
        return down or left.rate_mbps != right.rate_mbps or left.negotiation != right.negotiation

    def _hears_well(self, link: str, end: End) -> bool:
        application = self.application(link, end)
        if application is None or self.settings[link, end].admin == "down" or not self.answers(link, end):
            return False
        if self.has(link, "port refused the coding", end):
            return False
        rx = application.rx_power_dbm
        lanes = self.lanes(link, end)
        return all(lane.rx_dbm is not None and rx.sensitivity <= lane.rx_dbm <= rx.overload for lane in lanes)

    def passes(self, link: str) -> bool:
        """Whether frames get through a link that is up."""
        stops = ("blocked by the tree", "VLAN or frame size", "loop")
        return self.up(link) and not any(self.has(link, kind) for kind in stops)


def _hears(ours: Application, theirs: Application) -> bool:
    """Whether a receiver is made for the light of the other end."""
    if ours.fibers == 1:
        return theirs.name == (ours.partner or ours.name)
    return abs(ours.wavelengths_nm[0] - theirs.wavelengths_nm[0]) < 100


def _drawn(name: str) -> float:
    return int.from_bytes(hashlib.sha256(name.encode()).digest()[:8], "big") / 2**64

"""The true plant: what each strand of the demo really loses, where it really comes out, and which faults hide in
it.
"""

from __future__ import annotations

import hashlib
import math
import tomllib
from collections.abc import Sequence
from dataclasses import dataclass, field
from functools import cached_property
from importlib import resources
from typing import Literal

from pydantic import Field

from passerelle.core.acceptance.stretch import Stretch, Taken, permanent_link, should_read, stretch_between
from passerelle.core.catalog.shelves import Catalog, load_catalog
from passerelle.core.errors import AcceptanceError
from passerelle.core.link.candidates import variants
from passerelle.core.link.chain import Link
from passerelle.core.link.compose import compose
from passerelle.core.sources import Frozen

FaultKind = Literal[
    "dirty face",
    "bend",
    "bad splice",
    "crossed strand",
    "swapped pair",
    "longer way",
    "broken",
    "other core",
    "strands swapped",
    "plug not seated",
    "cut",
    "one lane dark",
    "wrong mode or core",
    "wrong module",
    "wrong side",
    "wrong port",
    "dead transmitter",
    "dead receiver",
    "laser disabled",
    "port shut",
    "port refused the coding",
    "settings unlike",
    "blocked by the tree",
    "loop",
    "attenuator forgotten",
    "no power",
    "modal bandwidth",
    "offset launch missing",
    "dispersion or reflections",
    "foreign light",
    "VLAN or frame size",
]
DARK_DB = 200.0
_BENT_AT_SHORT = 0.25
"""How much of what a bend costs at 1550 nm it costs at 1310 nm, about."""


class Fault(Frozen):
    """A fault that no plan knows: at a piece of a link, on one strand or on all (0), or at an end.

    ``other_name`` is the application of a module that is not the planned one.
    """

    link: str
    kind: FaultKind
    element: str = ""
    face: Literal["left", "right"] = "left"
    strand: int = 0
    other: int = Field(default=0, alias="with")
    db: float = 0.0
    at_m: float = 0.0
    share: float = 0.0
    cleanings: int = 1
    end: Literal["left", "right", ""] = ""
    other_name: str = ""


class Truth(Frozen):
    """A seed and the faults."""

    seed: int = 0
    fault: tuple[Fault, ...] = ()


def shipped_truth() -> Truth:
    """The truth that ships with the demo."""
    path = resources.files("passerelle.standins") / "truth.toml"
    return Truth.model_validate(tomllib.loads(path.read_text(encoding="utf-8")))


@dataclass(frozen=True)
class Span:
    """A piece of fiber on a strand: length in m, loss in dB/m, and what its strand scatters, in dB at 1 ns."""

    element: str
    length_m: float
    db_per_m: float


@dataclass(frozen=True)
class Step:
    """A joint or a fault on a strand: its place in m from the stretch's left face, its loss and reflectance in
    dB.
    """

    element: str
    at_m: float
    db: float
    reflectance_db: float | None


@dataclass
class TruePlant:
    """The strands as they are. ``cleaned`` counts the cleanings of each face."""

    links: dict[str, Link]
    truth: Truth
    catalog: Catalog = field(default_factory=load_catalog)
    cleaned: dict[tuple[str, str, str], int] = field(default_factory=dict)

    @classmethod
    def of(cls, links: Sequence[Link], truth: Truth) -> TruePlant:
        """The true plant of some links, by their names."""
        return cls({link.name: link for link in links}, truth)

    def stretch(self, link: str, start: str = "", end: str = "") -> Stretch:
        """The stretch of a link that the instruments are put on; raises KeyError where there is none."""
        known = self.links[link]
        chain = compose((variants(known) or [known])[0], self.catalog)
        found = permanent_link(chain)
        if start and end:
            try:
                found = stretch_between(chain, start, end)
            except AcceptanceError as error:
                raise KeyError(link) from error
        if found is None:
            raise KeyError(link)
        return found

    def faults(self, link: str, strand: int) -> list[Fault]:
        """The faults on a strand that are not cured."""
        return [
            fault
            for fault in self.truth.fault
            if fault.link == link and fault.strand in (0, strand) and not self._cured(fault)
        ]

    def _cured(self, fault: Fault) -> bool:
        done = self.cleaned.get((fault.link, fault.element, fault.face), 0)
        return fault.kind == "dirty face" and done >= fault.cleanings

    def comes_out(self, stretch: Stretch, near: int) -> int:
        """Where a strand really comes out at the far face, 0 for nowhere."""
        link = stretch.chain.link.name
        planned = dict(stretch.strands)
        for fault in self.truth.fault:
            if fault.link != link:
                continue
            if fault.kind == "swapped pair" and len(planned) == 2:
                others = [strand for strand in planned if strand != near]
                return planned[others[0]] if others else planned.get(near, 0)
            if fault.kind == "crossed strand" and near in (fault.strand, fault.other):
                other = fault.other if near == fault.strand else fault.strand
                return planned.get(other, 0)
        return planned.get(near, 0)

    def factor(self, stretch: Stretch) -> float:
        """How much longer the way is than planned."""
        link = stretch.chain.link.name
        return 1 + sum(f.share for f in self.truth.fault if f.link == link and f.kind == "longer way")

    def spans(self, stretch: Stretch, near: int, nm: int) -> list[Span]:
        """The fiber of a strand, piece by piece from the left."""
        found = []
        for one in should_read(stretch, Taken("one cord", nm, reference_grade=True), self.catalog).terms:
            if one.term.part != "fiber":
                continue
            element = stretch.chain.link.element(one.term.at)
            length = float(getattr(element, "length_m", 0.0) or 0.0)
            db = self._drawn(stretch, one.term.at, near, one.term.least_db, one.term.expected_db, one.term.worst_db)
            longer = self.factor(stretch) if one.term.at == self._longest(stretch) else 1.0
            found.append(Span(one.term.at, length * longer, db / length if length else 0.0))
        return found

    def _longest(self, stretch: Stretch) -> str:
        lines = [s for s in stretch.chain.glass if stretch.inside(s.position)]
        return max(lines, key=lambda s: s.traits.length_m or 0.0).id

    def steps(self, stretch: Stretch, near: int, nm: int, *, ends: bool) -> list[Step]:
        """The joints of a strand and its faults, from the left; ``ends``: with its end connections."""
        spans = {span.element: span for span in self.spans(stretch, near, nm)}
        places = self._places(stretch, spans)
        faults = self.faults(stretch.chain.link.name, near)
        found = []
        for one in should_read(stretch, Taken("one cord", nm, reference_grade=True), self.catalog).terms:
            if one.term.part == "fiber" or (one.end and not ends):
                continue
            db = self._drawn(stretch, one.term.at, near, one.term.least_db, one.term.expected_db, one.term.worst_db)
            at = (
                places["start"] if one.end == "near" else places["end"] if one.end == "far" else places[one.term.at]
            )
            reflects = self._reflects(stretch, one.term.at) if one.term.part == "mated pair" else None
            found.append(Step(one.term.at, at, db, reflects))
        for fault in faults:
            if fault.kind == "dirty face" and ends:
                at = places["start"] if fault.face == "left" else places["end"]
                found.append(Step(fault.element, at, fault.db, -28.0))
            elif fault.kind == "bad splice":
                found.append(Step(fault.element, places.get(fault.element, 0.0), fault.db, None))
            elif fault.kind == "bend":
                db = fault.db if nm >= 1500 else fault.db * _BENT_AT_SHORT
                found.append(Step(fault.element, places.get(fault.element, 0.0) + fault.at_m, db, None))
            elif fault.kind == "broken":
                found.append(Step(fault.element, places.get(fault.element, 0.0) + fault.at_m, DARK_DB, -40.0))
        return sorted(found, key=lambda step: step.at_m)

    def _reflects(self, stretch: Stretch, at: str) -> float:
        """What a connection reflects in dB: a little better than its polish is sold for."""
        joint = next((j for j in stretch.chain.joints if at in j.at), None)
        polish = (joint.left_face.polish or joint.right_face.polish) if joint else "UPC"
        return {"PC": -39.0, "UPC": -49.0, "APC": -64.0}.get(polish or "PC", -39.0)

    def _places(self, stretch: Stretch, spans: dict[str, Span]) -> dict[str, float]:
        """Where each piece of a stretch begins, in m from its left face, and its two ends."""
        at, found = 0.0, {"start": 0.0}
        for place in stretch.chain.places[stretch.start.position : stretch.end.position + 1]:
            found[place.id] = at
            at += spans[place.id].length_m if place.id in spans else 0.0
        return {**found, "end": at}

    def loss_db(self, stretch: Stretch, near: int, far: int, nm: int, going: str) -> float:
        """What is lost between a near and a far position, with both end connections; dark where they do not
        meet.
        """
        if self.comes_out(stretch, near) != far:
            return DARK_DB
        spans = sum(span.length_m * span.db_per_m for span in self.spans(stretch, near, nm))
        steps = sum(step.db for step in self.steps(stretch, near, nm, ends=True))
        core = sum(f.db for f in self.faults(stretch.chain.link.name, near) if f.kind == "other core")
        return spans + steps + (core if going == "right" else 0.0)

    def _drawn(self, stretch: Stretch, at: str, strand: int, least: float, usual: float, worst: float) -> float:
        return self.drawn_db(stretch.chain.link.name, at, strand, (least, usual, worst))

    def drawn_db(self, link: str, at: str, strand: int, between: tuple[float, float, float]) -> float:
        """What a piece of a strand really loses: between least and worst with its peak at the usual value, the same
        whenever it is asked for. All in dB.
        """
        least, usual, worst = between
        name = f"{self.truth.seed}|{link}|{at}|{strand}"
        u = int.from_bytes(hashlib.sha256(name.encode()).digest()[:8], "big") / 2**64
        worst = usual + 0.6 * (worst - usual)  # a healthy part is seldom as bad as it may be
        width = worst - least
        if width <= 0:
            return usual
        if u * width < usual - least:
            return least + math.sqrt(u * width * (usual - least))
        return worst - math.sqrt((1 - u) * width * (worst - usual))

    def clean(self, link: str, element: str, face: str) -> None:
        """A face is cleaned once."""
        key = (link, element, face)
        self.cleaned[key] = self.cleaned.get(key, 0) + 1

    def dirt(self, link: str, element: str, face: str) -> list[Fault]:
        """What lies on a face."""
        return [
            f
            for f in self.truth.fault
            if (f.link, f.element, f.face) == (link, element, face)
            and f.kind == "dirty face"
            and not self._cured(f)
        ]

    @cached_property
    def names(self) -> tuple[str, ...]:
        """The links that there are."""
        return tuple(self.links)

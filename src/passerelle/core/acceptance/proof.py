"""The proof of a link: what is tested, what each reading must be, what was read, and what is still missing."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from functools import lru_cache
from typing import Literal

from passerelle.core.acceptance.inspection import NextStep, cleaner_of, kind_of_face, next_step
from passerelle.core.acceptance.loss_rows import ProofRow, loss_rows
from passerelle.core.acceptance.plan import Task, faces_of, test_plan
from passerelle.core.acceptance.stretch import (
    Stretch,
    Taken,
    channel,
    permanent_link,
    should_read,
)
from passerelle.core.acceptance.twisted import CopperJudged, judged_copper
from passerelle.core.accepted import Certified, Inspected, StrandsTraced, TraceTaken
from passerelle.core.catalog.shelves import Catalog
from passerelle.core.catalog.testing_figures import FaceKind, testing_figures
from passerelle.core.errors import AcceptanceError
from passerelle.core.events import Event, not_withdrawn
from passerelle.core.house import HouseRules
from passerelle.core.link.candidates import undecided_glass, variants
from passerelle.core.link.chain import Link
from passerelle.core.link.compose import Chain, compose
from passerelle.core.link.readings import signature
from passerelle.core.parts.face import Face
from passerelle.core.sources import Frozen


class ProofFace(Frozen):
    """A face that is plugged by hand: the piece and the side, what cleans it, what was done and what comes next."""

    piece: str
    element: str
    face: Literal["left", "right"]
    positions: tuple[int, ...]
    kind: FaceKind
    words: str
    cleaner: str
    steps: tuple[Inspected, ...]
    next: NextStep


class StrandSeen(Frozen):
    """A strand of the stretch: where it should come out and where it was seen, None while nobody looked."""

    near: int
    planned: int
    seen: int | None


class Proof(Frozen):
    """Everything that is tested of a link. ``why_not`` says what is missing before readings can be planned."""

    span: str
    start: str
    end: str
    family: str
    tasks: tuple[Task, ...]
    rows: tuple[ProofRow, ...]
    faces: tuple[ProofFace, ...]
    strands: tuple[StrandSeen, ...]
    traces: tuple[TraceTaken, ...]
    copper: tuple[CopperJudged, ...]
    category: str
    minutes: float
    why_not: str = ""

    @property
    def to_read(self) -> int:
        """How many readings are missing, or decide nothing."""
        return sum(1 for row in self.rows if row.judgement is None or row.informs)

    @property
    def failing(self) -> int:
        """How many readings fail, or cannot be believed."""
        return sum(1 for row in self.rows if row.bad)

    @property
    def acceptance(self) -> str:
        """How its readings stand in a few words; empty where nothing was read."""
        read = [row for row in self.rows if row.reading is not None]
        if not read:
            return ""
        whole = len(self.rows)
        if self.failing:
            return f"{self.failing} of {whole} readings {'fails' if self.failing == 1 else 'fail'}"
        if self.to_read:
            return f"{self.to_read} of {whole} readings {'is' if self.to_read == 1 else 'are'} missing"
        return f"all {whole} readings pass" if whole > 1 else "the reading passes"

    @property
    def state(self) -> str:
        """What it comes to in words, never better than its weakest part."""
        if self.why_not and not self.rows and not self.copper:
            return self.why_not
        if self.copper:
            bad = [one.value.parameter for one in self.copper if one.passes is False]
            return f"not accepted: {', '.join(bad)}" if bad else "accepted by its tester"
        if not self.rows:
            return "nothing to certify here"
        if self.failing:
            return "not accepted: readings are not good"
        if self.to_read:
            return f"open: {self.to_read} readings are missing, or inform only"
        if any(one.seen != one.planned for one in self.strands):
            return "open: where the strands come out was not seen, or is wrong"
        if dirty := sum(1 for face in self.faces if not face.next.done):
            return f"readings good, {dirty} faces not inspected to the end"
        marginal = any(row.judgement == "marginal" for row in self.rows)
        return "accepted, marginal within the uncertainty" if marginal else "accepted"


def proof_of(link: Link, events: Sequence[Event], catalog: Catalog, house: HouseRules) -> Proof:
    """The proof of a link from its own events, oldest first, with the catalog as the house has it.

    Where its glass may be of several grades, that with the tightest limits is taken, and ``why_not`` says so.
    """
    chain, why_not = _decided(link, catalog)
    tasks = test_plan(chain, catalog, house)
    stretch = permanent_link(chain) or channel(chain)
    standing = [one for one in not_withdrawn(events) if getattr(one, "link", link.key) == link.key]
    family = stretch.family(catalog) if stretch else None
    rows: tuple[ProofRow, ...] = ()
    if stretch is not None and family is not None and permanent_link(chain) is not None:
        rows = loss_rows(stretch, tasks, school_catalog(catalog, house, chain), house)
    certified = [one for one in standing if isinstance(one, Certified)]
    return Proof(
        span=stretch.span if stretch else "channel",
        start=stretch.start.id if stretch else "",
        end=stretch.end.id if stretch else "",
        family=family or "",
        tasks=tasks,
        rows=rows,
        faces=_faces(chain, standing, catalog),
        strands=_strands(stretch, standing) if stretch else (),
        traces=tuple(one for one in standing if isinstance(one, TraceTaken)),
        copper=judged_copper(certified[-1]) if certified else (),
        category=certified[-1].category if certified else "",
        minutes=round(sum(task.minutes for task in tasks), 1),
        why_not=why_not or _missing(chain, stretch, family),
    )


def acceptance_of(link: Link, catalog: Catalog, house: HouseRules) -> str:
    """How the readings of a link stand in a few words, with the catalog as the house has it; empty without any."""
    return proof_of(link, (), catalog, house).acceptance if link.readings else ""


def _decided(link: Link, catalog: Catalog) -> tuple[Chain, str]:
    possible = variants(link)
    if possible is None:
        return compose(undecided_glass(link), catalog), "The grade of the glass is not decided: read the print."
    if len(possible) > 1:
        words = "The grade of the glass is not decided: the one with the tightest limits is taken. Read the print."
        return min((compose(one, catalog) for one in possible), key=lambda chain: _tightness(chain, catalog)), words
    return compose(link, catalog), ""


def _tightness(chain: Chain, catalog: Catalog) -> float:
    """The tightest limit that its readings would be held against, in dB; where there is none, nothing is
    tighter.
    """
    stretch = permanent_link(chain)
    family = stretch.family(catalog) if stretch else None
    if stretch is None or family is None:
        return float("inf")
    wavelengths = testing_figures().wavelengths_of(family).loss_nm
    return min(should_read(stretch, Taken("one cord", nm), catalog).decides_db for nm in wavelengths)


def _missing(chain: Chain, stretch: Stretch | None, family: str | None) -> str:
    """What has to be known before readings can be planned, in words; empty where all is."""
    if chain.realms == {"copper"}:
        return "No result of a tester yet: twisted pair is certified by its own standard."
    if stretch is None:
        return ""
    if family is None:
        return "The grade of the glass is missing, so no limit can be given: say it on the run."
    if permanent_link(chain) is None:
        return "There is no fixed cable between two panels: cords alone are inspected, not certified."
    if any(s.traits.length_m is None for s in chain.glass if stretch.inside(s.position)):
        return "A length is missing, so the limit lacks its glass: measure it, or say it on the run."
    return ""


@lru_cache(maxsize=64)
def _school(catalog: Catalog, school: str, outdoors: bool) -> Catalog:
    figures = testing_figures()
    joints = next(one for one in figures.joint_allowance if one.school == school)
    cable: Literal["indoor", "outside"] = "outside" if outdoors else "indoor"
    fibers = {}
    for name, grade in catalog.fibers.items():
        row = figures.cable_of(joints.school, name.split(" (")[0], cable)
        if row is not None:
            allowed = {
                nm: max(row.db_per_km.get(nm, db), grade.typical_attenuation_db_per_km[nm])
                for nm, db in grade.attenuation_db_per_km.items()
            }
            sources = {nm: row.source for nm in row.db_per_km if nm in allowed}
            fibers[name] = grade.model_copy(
                update={
                    "attenuation_db_per_km": allowed,
                    "attenuation_sources": {**grade.attenuation_sources, **sources},
                }
            )
    pair = catalog.allowance("mated pair").model_copy(
        update={"worst_db": joints.pair_db, "worst_source": joints.pair_source}
    )
    splice = catalog.allowance("splice").model_copy(
        update={"worst_db": joints.splice_db, "worst_source": joints.splice_source}
    )
    allowances = {**catalog.allowances, "mated pair": pair, "splice": splice}
    return replace(catalog, fibers={**catalog.fibers, **fibers}, allowances=allowances)


def school_catalog(catalog: Catalog, house: HouseRules, chain: Chain) -> Catalog:
    """The catalog with the allowances by which the house holds readings."""
    if house.limit_school == "as budgeted":
        return catalog
    outdoors = any({"duct", "buried", "aerial"} & set(s.traits.spaces) for s in chain.glass)
    return _school(catalog, house.limit_school, outdoors)


def _faces(chain: Chain, standing: Sequence[Event], catalog: Catalog) -> tuple[ProofFace, ...]:
    steps = [one for one in standing if isinstance(one, Inspected)]
    found = []
    for part, side in faces_of(chain):
        face = part.right if side == "right" else part.left
        lens = part.traits.optics is not None and part.traits.realm != "copper" and not part.traits.line
        grades = part.traits.grades or next((s.traits.grades for s in chain.glass if s.traits.grades), ())
        family = catalog.fiber(grades[0]).family if grades else "single-mode"
        mine = tuple(one for one in steps if one.piece == part.piece.key and one.face == side and not one.test_cord)
        found.append(
            ProofFace(
                piece=part.piece.key,
                element=part.id,
                face=side,
                positions=(1,) if face.is_array else face.positions,
                kind=kind_of_face(face, family),
                words=f"{face.shape} {face.polish or ''}".strip(),
                cleaner=cleaner_of(face),
                steps=mine,
                next=_face_next(face, mine, fixed=part.traits.fixed, lens=lens),
            )
        )
    return tuple(found)


def _face_next(face: Face, steps: tuple[Inspected, ...], *, fixed: bool, lens: bool) -> NextStep:
    """What comes next at a face of several ferrules: at the first of them that is not done."""
    positions = (1,) if face.is_array else face.positions
    told = [
        next_step(face, [one for one in steps if one.position == at], fixed=fixed, in_module=lens)
        for at in positions or (1,)
    ]
    return next((step for step in told if not step.done), told[0])


def _strands(stretch: Stretch, standing: Sequence[Event]) -> tuple[StrandSeen, ...]:
    told = [
        one
        for one in standing
        if isinstance(one, StrandsTraced) and (one.start, one.end) == (stretch.start.id, stretch.end.id)
    ]
    seen = dict(told[-1].pairs) if told and told[-1].signature in ("", signature_between(stretch)) else {}
    return tuple(StrandSeen(near=near, planned=far, seen=seen.get(near)) for near, far in stretch.strands)


def signature_between(stretch: Stretch) -> str:
    """A short text that changes when a piece of a stretch does."""
    pieces = stretch.chain.link.elements[stretch.start.position : stretch.end.position + 1]
    return signature([piece.model_dump(mode="json") for piece in pieces])


def check_stretch(link: Link, start: str, end: str) -> None:
    """Check that two pieces stand in a link in this order; raises AcceptanceError where they do not."""
    ids = [element.id for element in link.elements]
    if start not in ids or end not in ids or ids.index(start) > ids.index(end):
        raise AcceptanceError("start", f"there is no stretch from '{start}' to '{end}': reload the page")

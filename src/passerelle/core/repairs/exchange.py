"""Cures at a joint: exchange a cord, a pigtail, an adapter, or put in what is missing."""

from __future__ import annotations

from collections.abc import Iterator
from typing import cast

from passerelle.core.catalog.records import Polish
from passerelle.core.catalog.shelves import Catalog
from passerelle.core.findings import Finding, Fix
from passerelle.core.link.bulk import of_grade
from passerelle.core.link.chain import Link, called, glass
from passerelle.core.link.compose import Joint, Side, Standing, compose
from passerelle.core.link.edits import Insert, SetFields
from passerelle.core.parts.face import Face
from passerelle.core.parts.kinds.outlet import Outlet
from passerelle.core.parts.kinds.panel import Panel
from passerelle.core.parts.kinds.splice import Splice
from passerelle.core.parts.part import Exchange
from passerelle.core.parts.piece import Piece, Shape
from passerelle.core.repairs.cures import cures
from passerelle.core.repairs.effort import Effort
from passerelle.core.rules.launch import (
    LAUNCH_FLIPPED,
    LAUNCH_NOT_SAID,
    LAUNCH_NOT_WANTED,
    LAUNCH_OFFSET_MISSING,
    LAUNCH_OMITTED,
)
from passerelle.core.rules.mating import (
    CHAIN_OPEN,
    CORE_MODE,
    CORE_SIZE,
    MATING_ANGLED_FLAT,
    MATING_ANGLED_NEEDED,
    MATING_SHAPE,
    MATING_STRANDS,
)


@cures(MATING_ANGLED_FLAT, MATING_ANGLED_NEEDED, MATING_SHAPE, CHAIN_OPEN)
def joint_cures(link: Link, finding: Finding, catalog: Catalog) -> Iterator[Fix]:
    """Cures for the joint that a mating finding stands at."""
    for joint in compose(link, catalog).joints:
        if set(finding.at) <= set(joint.at):
            if finding.code == "mating.angled_flat":
                yield from _same_polish(link, joint)
            elif finding.code == "mating.angled_needed":
                yield from _both_angled(joint)
            elif finding.code == "mating.shape":
                yield from _same_shape(link, joint, finding)
            elif finding.code == "chain.open":
                yield from _close(joint)


def _plugs(joint: Joint) -> Iterator[tuple[Standing, Face, Side, Face]]:
    """Each plug at a joint: its part, its face, on which side of the part it is, and what faces it."""
    sides: tuple[tuple[Standing | None, Side, Face], ...] = (
        (joint.left, "right", joint.right_face),
        (joint.right, "left", joint.left_face),
    )
    for standing, side, opposite in sides:
        if standing is not None and standing.face(side).kind == "plug":
            yield standing, standing.face(side), side, opposite


def _same_polish(link: Link, joint: Joint) -> Iterator[Fix]:
    for standing, plug, side, opposite in _plugs(joint):
        if standing.traits.line and opposite.polish:
            yield _other_plug(link, standing, side, plug.shape, opposite.polish)


def _both_angled(joint: Joint) -> Iterator[Fix]:
    """Both plugs at a joint angled: neither alone may be."""
    edits = [
        SetFields(element=standing.id, values={side: {"shape": plug.shape, "polish": "APC"}})
        for standing, plug, side, _ in _plugs(joint)
        if standing.traits.line
    ]
    if len(edits) == 2:
        yield Fix(label="Make both plugs at this panel angled", effort=Effort.RETERMINATE, edits=tuple(edits))


def _same_shape(link: Link, joint: Joint, finding: Finding) -> Iterator[Fix]:
    for standing, plug, side, opposite in _plugs(joint):
        if standing.id not in finding.at:
            continue
        wanted = joint.via.mating.shape if joint.via else opposite.shape
        if wanted and plug.polish and standing.traits.line:
            yield _other_plug(link, standing, side, wanted, plug.polish)
        if joint.via:
            yield Fix(
                label=f"Put an {plug.shape} adapter into {called(link, joint.via.piece)}",
                effort=Effort.ADAPTER,
                edits=(SetFields(element=joint.via.id, values={"shape": plug.shape}),),
            )


_EXCHANGED: dict[Exchange, tuple[str, int]] = {
    "cord": ("Exchange", Effort.CORD),
    "terminated": ("Splice in another", Effort.RETERMINATE),
    "pulled": ("Re-terminate", Effort.RETERMINATE),
}


def _other_plug(link: Link, standing: Standing, side: Side, shape: str, polish: Polish) -> Fix:
    ends = {"left": standing.left, "right": standing.right}
    ends[side] = Face("plug", shape, polish=polish)
    words = " to ".join(f"{face.shape}/{face.polish}" for face in ends.values() if face.kind == "plug")
    verb, effort = _EXCHANGED[standing.traits.exchange]
    return Fix(
        label=f"{verb} {called(link, standing.piece)}: {words}",
        effort=effort,
        edits=(SetFields(element=standing.id, values={side: {"shape": shape, "polish": polish}}),),
    )


def _close(joint: Joint) -> Iterator[Fix]:
    left, right = joint.left_face, joint.right_face
    if joint.via is not None or joint.left is None:
        return
    if left.kind == right.kind == "plug":
        yield _put(joint.left, "adapter", Panel(shape=cast(Shape, left.shape)), f"an {left.shape} adapter")
    elif left.kind == right.kind == "contacts":
        yield _put(joint.left, "adapter", Outlet(), "an outlet")
    elif "bare" in (left.kind, right.kind) and {left.kind, right.kind} <= {"bare", "plug"}:
        yield _put(joint.left, "terminated", Splice(), "a splice")


def _put(after: Standing, by: Exchange, piece: Piece, words: str) -> Fix:
    effort = Effort.ADAPTER if by == "adapter" else Effort.RETERMINATE
    return Fix(label=f"Insert {words}", effort=effort, edits=(Insert(after=after.id, piece=piece),))


@cures(CORE_MODE, CORE_SIZE)
def core_cures(link: Link, finding: Finding, catalog: Catalog) -> Iterator[Fix]:
    """Make the odd cord or pigtail the same glass as its neighbor, or all of them as the longest run."""
    pieces = glass(link)
    main = max(pieces, key=lambda piece: piece.length_m or 0, default=None)
    if main is None or len(main.fiber) != 1:
        return
    odd = [p for p in pieces if p.id != main.id and p.fiber != main.fiber and not p.pulled]
    here = [p for p in odd if p.id in finding.at]
    for group in (here, odd):
        if group:
            yield Fix(
                label=f"Exchange {' and '.join(called(link, p) for p in group)} for {main.fiber[0]}",
                effort=Effort.CORD * len(group),
                edits=tuple(of_grade(p, main.fiber[0], catalog) for p in group),
            )
        if here == odd:
            return


@cures(LAUNCH_OFFSET_MISSING, LAUNCH_OMITTED, LAUNCH_NOT_SAID, LAUNCH_FLIPPED, LAUNCH_NOT_WANTED)
def launch_cures(link: Link, finding: Finding, catalog: Catalog) -> Iterator[Fix]:
    """A mode-conditioning cord at each module that lacks one, turned the right way; plain cords elsewhere."""
    conditioners = [piece for piece in glass(link) if "offset_launch" in type(piece).model_fields]
    on_cord = any(piece.id in finding.at for piece in conditioners)
    if finding.code == "launch.not_wanted" or (finding.code == "launch.not_said" and on_cord):
        plain = tuple(SetFields(element=i, values={"offset_launch": None}) for i in finding.at)
        yield Fix(label="Exchange it for a plain cord", effort=Effort.CORD, edits=plain)
        return
    ends = {link.elements[2].id: "left", link.elements[-3].id: "right"} if len(link.elements) > 5 else {}
    cords = [c for c in conditioners if c.id in ends]
    edits = tuple(SetFields(element=c.id, values={"offset_launch": ends[c.id]}) for c in cords)
    if edits:
        yield Fix(
            label="Use a mode-conditioning cord at each end, its single-mode leg on the transmitter",
            effort=Effort.CORD * len(edits),
            edits=edits,
        )


@cures(MATING_STRANDS)
def strand_cures(link: Link, finding: Finding, catalog: Catalog) -> Iterator[Fix]:
    """Make up the odd glass with as many strands as the modules have."""
    for strands, word in ((1, "one strand"), (2, "two strands")):
        yield Fix(
            label=f"Make it up with {word}",
            effort=Effort.CORD * len(finding.at),
            edits=tuple(SetFields(element=i, values={"strands": strands}) for i in finding.at),
        )

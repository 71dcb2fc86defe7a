"""Cures at a joint: exchange a cord, a pigtail, an adapter, or put in what is missing."""

from __future__ import annotations

from collections.abc import Iterator

from passerelle.core.catalog.shelves import Catalog
from passerelle.core.findings import Finding, Fix
from passerelle.core.link.bulk import of_grade
from passerelle.core.link.chain import Link, called, glass
from passerelle.core.link.edits import Insert, SetFields
from passerelle.core.link.elements import Cord, Panel, Pigtail, Plug, Run, Splice
from passerelle.core.match.joints import Joint, Receptacle, joints
from passerelle.core.repairs.effort import Effort


def joint_cures(link: Link, finding: Finding, catalog: Catalog) -> Iterator[Fix]:
    """Cures for the joint that a mating finding stands at."""
    for joint in joints(link, catalog):
        if set(finding.at) <= set(joint.at):
            if finding.code == "mating.angled_flat":
                yield from _same_polish(link, joint)
            elif finding.code == "mating.angled_needed":
                yield from _both_angled(link, joint)
            elif finding.code == "mating.shape":
                yield from _same_shape(link, joint, finding)
            elif finding.code == "chain.open":
                yield from _close(joint)


def _same_polish(link: Link, joint: Joint) -> Iterator[Fix]:
    left, right = joint.left_face, joint.right_face
    assert isinstance(left, Plug | Receptacle)
    assert isinstance(right, Plug | Receptacle)
    for piece, side, other in ((joint.left, "right", right), (joint.right, "left", left)):
        plug = getattr(piece, side, None)
        if isinstance(piece, Cord | Pigtail | Run) and isinstance(plug, Plug):
            yield _other_plug(link, piece, side, Plug(shape=plug.shape, polish=other.polish))


def _both_angled(link: Link, joint: Joint) -> Iterator[Fix]:
    """Both plugs at a joint angled: neither alone may be."""
    edits = []
    for piece, side in ((joint.left, "right"), (joint.right, "left")):
        plug = getattr(piece, side, None)
        if isinstance(piece, Cord | Pigtail | Run) and isinstance(plug, Plug):
            edits.append(SetFields(element=piece.id, values={side: {"shape": plug.shape, "polish": "APC"}}))
    if len(edits) == 2:
        yield Fix(label="Make both plugs at this panel angled", effort=Effort.RETERMINATE, edits=tuple(edits))


def _same_shape(link: Link, joint: Joint, finding: Finding) -> Iterator[Fix]:
    for piece, side, opposite in (
        (joint.left, "right", joint.right_face),
        (joint.right, "left", joint.left_face),
    ):
        if piece is None or piece.id not in finding.at:
            continue
        wanted = joint.via.shape if isinstance(joint.via, Panel) else getattr(opposite, "shape", None)
        plug = getattr(piece, side, None)
        if wanted and isinstance(piece, Cord | Pigtail | Run) and isinstance(plug, Plug):
            yield _other_plug(link, piece, side, Plug(shape=wanted, polish=plug.polish))
        if isinstance(joint.via, Panel) and isinstance(plug, Plug):
            yield Fix(
                label=f"Put an {plug.shape} adapter into {called(link, joint.via)}",
                effort=Effort.ADAPTER,
                edits=(SetFields(element=joint.via.id, values={"shape": plug.shape}),),
            )


def _other_plug(link: Link, piece: Cord | Pigtail | Run, side: str, plug: Plug) -> Fix:
    changed = piece.model_copy(update={side: plug})
    ends = " to ".join(f"{p.shape}/{p.polish}" for p in (changed.left, changed.right) if p)
    verb, effort = {
        "cord": ("Exchange", Effort.CORD),
        "pigtail": ("Splice in another", Effort.RETERMINATE),
        "run": ("Re-terminate", Effort.RETERMINATE),
    }[piece.kind]
    return Fix(
        label=f"{verb} {called(link, piece)}: {ends}",
        effort=effort,
        edits=(SetFields(element=piece.id, values={side: plug.model_dump()}),),
    )


def _close(joint: Joint) -> Iterator[Fix]:
    left, right = joint.left_face, joint.right_face
    if joint.via is not None or joint.left is None:
        return
    if isinstance(left, Plug) and isinstance(right, Plug):
        panel = Panel(shape=left.shape)
        yield Fix(
            label=f"Insert an {left.shape} adapter",
            effort=Effort.ADAPTER,
            edits=(Insert(after=joint.left.id, piece=panel),),
        )
    elif not isinstance(left, Plug | Receptacle) and isinstance(joint.right, Run | Pigtail):
        yield Fix(
            label="Insert a splice",
            effort=Effort.RETERMINATE,
            edits=(Insert(after=joint.left.id, piece=Splice()),),
        )


def core_cures(link: Link, finding: Finding, catalog: Catalog) -> Iterator[Fix]:
    """Make the odd cord or pigtail the same glass as its neighbor, or all of them as the longest run."""
    pieces = glass(link)
    main = max(pieces, key=lambda piece: piece.length_m or 0, default=None)
    if main is None or len(main.fiber) != 1:
        return
    odd = [p for p in pieces if p.id != main.id and p.fiber != main.fiber and isinstance(p, Cord | Pigtail)]
    here = [p for p in odd if p.id in finding.at]
    for group in (here, odd):
        if group:
            yield Fix(
                label=f"Exchange {' and '.join(called(link, p) for p in group)} for {main.fiber[0]}",
                effort=Effort.CORD * len(group),
                edits=tuple(of_grade(p.id, p.left, p.right, main.fiber[0], catalog) for p in group),
            )
        if here == odd:
            return


def launch_cures(link: Link, finding: Finding, catalog: Catalog) -> Iterator[Fix]:
    """A mode-conditioning cord at each module that lacks one, turned the right way; plain cords elsewhere."""
    on_cord = any(isinstance(e, Cord) and e.id in finding.at for e in link.elements)
    if finding.code == "launch.not_wanted" or (finding.code == "launch.not_said" and on_cord):
        plain = tuple(SetFields(element=i, values={"offset_launch": None}) for i in finding.at)
        yield Fix(label="Exchange it for a plain cord", effort=Effort.CORD, edits=plain)
        return
    ends = {link.elements[2].id: "left", link.elements[-3].id: "right"} if len(link.elements) > 5 else {}
    cords = [c for c in glass(link) if isinstance(c, Cord) and c.id in ends]
    edits = tuple(SetFields(element=c.id, values={"offset_launch": ends[c.id]}) for c in cords)
    if edits:
        yield Fix(
            label="Use a mode-conditioning cord at each end, its single-mode leg on the transmitter",
            effort=Effort.CORD * len(edits),
            edits=edits,
        )


def strand_cures(link: Link, finding: Finding, catalog: Catalog) -> Iterator[Fix]:
    """Make up the odd glass with as many strands as the modules have."""
    for strands, word in ((1, "one strand"), (2, "two strands")):
        yield Fix(
            label=f"Make it up with {word}",
            effort=Effort.CORD * len(finding.at),
            edits=tuple(SetFields(element=i, values={"strands": strands}) for i in finding.at),
        )

"""What may touch what: shape, polish and core at every joint."""

from __future__ import annotations

from itertools import pairwise

from passerelle.core.catalog.records import FiberGrade
from passerelle.core.catalog.shelves import Catalog
from passerelle.core.findings import Finding, Rule, firmly
from passerelle.core.link.compose import Chain, Joint
from passerelle.core.parts.registry import spec_of
from passerelle.core.rules.arrays import array_findings, fiber_findings
from passerelle.core.sources import Source, estimated

CHAIN_OPEN = Rule("chain.open", "layout")
MATING_SHAPE = Rule("mating.shape", "match")
MATING_ANGLED_FLAT = Rule("mating.angled_flat", "match")
MATING_RETURN_LOSS = Rule("mating.return_loss", "match")
MATING_ANGLED_NEEDED = Rule("mating.angled_needed", "match")
PANEL_CLASS_NOT_FOR_GLASS = Rule("panel.class_not_for_glass", "match", asks=False)
ATTENUATOR_VARIABLE = Rule("attenuator.variable", "match")
CORE_MODE = Rule("core.mode", "match")
CORE_SIZE = Rule("core.size", "match")
CORE_GRADE = Rule("core.grade", "match")
MATING_STRANDS = Rule("mating.strands", "match")

ANGLED = Source(
    body="IEC",
    document="61755-3 series",
    clause="ferrule end face geometry",
    note="angled faces stand at 8°, flat (PC, UPC) faces at 0°",
)
DARKNESS = "Unplug both ends and confirm darkness with a meter; look at a ferrule through a video scope only."
SHAPES = Source(body="IEC", document="61754 series", clause="connector interfaces, one part a shape")
RETURN_LOSS = estimated("a PC and an UPC face mate; the joint returns as much light as the worse face")
CORES = estimated("core and aperture geometry of the fiber classes; the loss depends on the launch")


def mating_findings(chain: Chain, catalog: Catalog) -> list[Finding]:
    """All that is wrong where pieces touch: open joints, shapes, polishes and cores."""
    found: list[Finding] = []
    for joint in chain.joints:
        if joint.kind == "open":
            found.append(open_joint(joint))
        elif joint.kind in ("receptacle", "adapter"):
            found += _shapes(joint)
            found += _polishes(joint, catalog)
            found += array_findings(joint)
    found += grade_findings(chain, catalog)
    found += setting_notes(chain, catalog)
    found += core_findings(chain, catalog)
    found += strand_findings(chain, catalog)
    found += fiber_findings(chain, catalog)
    return found


def open_joint(joint: Joint) -> Finding:
    """The chain does not close here."""
    return CHAIN_OPEN.undecided(
        joint.at,
        f"The chain is not complete here: {joint.missing}.",
        "Light, polarity, loss and reach can be judged only from port to port.",
    ).of(missing=joint.missing)


def _shapes(joint: Joint) -> list[Finding]:
    left, right = joint.left_face, joint.right_face
    if joint.via is not None:
        shape = joint.via.mating.shape
        misfits = [
            (standing, plug)
            for standing, plug in ((joint.left, left), (joint.right, right))
            if standing is not None and plug.shape != shape
        ]
        return [
            MATING_SHAPE.fail(
                (standing.id, joint.via.id),
                f"The {plug.shape} plug does not fit the {shape} adapter.",
                f"The {standing.word} ends in {plug.shape}; the {spec_of(joint.via.piece).word} holds {shape} "
                "adapters.",
                SHAPES,
            ).of(plug=plug.shape, opening=shape)
            for standing, plug in misfits
        ]
    if left.shape == right.shape:
        return []
    plug, opening = (left, right) if left.kind == "plug" else (right, left)
    return [
        MATING_SHAPE.fail(
            joint.at,
            f"The {plug.shape} plug does not fit the {opening.shape} receptacle.",
            f"The plug is {plug.shape}; the opening takes {opening.shape}.",
            SHAPES,
        ).of(plug=plug.shape, opening=opening.shape)
    ]


def _polishes(joint: Joint, catalog: Catalog) -> list[Finding]:
    left, right = joint.left_face, joint.right_face
    if left.polish is None or right.polish is None:
        return []
    if left.polish == right.polish:
        asked = joint.via is not None and joint.via.mating.asks == "APC"
        return [_angled_needed(joint)] if asked and left.polish != "APC" else []
    if "APC" in (left.polish, right.polish):
        angled, flat = ("left", right.polish) if left.polish == "APC" else ("right", left.polish)
        opening = joint.left if joint.left_face.kind != "plug" else joint.right
        where = "panel" if joint.via else opening.word if opening else "joint"
        return [
            MATING_ANGLED_FLAT.damage(
                joint.at,
                f"An angled ferrule is pressed on a flat one in this {where}.",
                f"The {angled} face is APC (8°), the other is {flat} (0°): the tips touch at an edge, "
                "light is lost and reflected, and both end faces are scratched. "
                "Never allowed, even if some light would pass.",
                ANGLED,
            )
            .of(angled=angled, other=flat)
            .model_copy(update={"caution": DARKNESS})
        ]
    worse = min((catalog.polishes[p] for p in (left.polish, right.polish)), key=lambda p: p.return_loss_db)
    return [
        MATING_RETURN_LOSS.note(
            joint.at,
            f"{left.polish} meets {right.polish}: they mate, with the return loss of the worse face, "
            f"{worse.return_loss_db:g} dB.",
            "Both faces are flat and touch; only the reflected light differs.",
            RETURN_LOSS,
            worse.source,
        ).of(left=left.polish, right=right.polish, return_loss_db=worse.return_loss_db)
    ]


def _angled_needed(joint: Joint) -> Finding:
    return MATING_ANGLED_NEEDED.fail(
        joint.at,
        "Angled faces are asked for at this panel, and two flat ones meet.",
        "Providers and video services ask for them because a flat joint reflects; their hand-over is angled, and "
        "the next visitor plugs an angled cord on what stands here.",
        ANGLED,
    )


def grade_findings(chain: Chain, catalog: Catalog) -> list[Finding]:
    """Joints of a loss class that is not defined for the glass in them."""
    found: list[Finding] = []
    for joint in chain.joints:
        if joint.kind != "adapter" or joint.via is None or joint.via.mating.term is None:
            continue
        allowance = catalog.allowance(joint.via.mating.term.allowance)
        known = [side.traits.grades[0] for side in (joint.left, joint.right) if side and side.traits.grades]
        families = {catalog.fiber(grade).family for grade in known}
        if allowance.family is not None and families - {allowance.family}:
            found.append(
                PANEL_CLASS_NOT_FOR_GLASS.undecided(
                    (joint.via.id,),
                    f"The loss class '{allowance.name}' is not defined for {' and '.join(sorted(families))} glass.",
                    f"Its figures hold for {allowance.family} connections: take a class made for this glass.",
                    allowance.worst_source,
                ).of(loss_class=allowance.name, glass=" and ".join(sorted(families)))
            )
    return found


def setting_notes(chain: Chain, catalog: Catalog) -> list[Finding]:
    """What a variable attenuator asks of the hand that sets it."""
    source = catalog.attenuator.variable_source
    return [
        ATTENUATOR_VARIABLE.note(
            (standing.id,),
            f"Set this {standing.word} to {standing.traits.set_by_hand_db:g} dB with a meter, and lock it.",
            f"The plan counts {standing.traits.set_by_hand_db:g} dB ± "
            f"{catalog.attenuator.variable_tolerance_db:g} dB; a knob that is turned later makes another link.",
            source,
        ).of(set_db=standing.traits.set_by_hand_db, tolerance_db=catalog.attenuator.variable_tolerance_db)
        for standing in chain.parts
        if standing.traits.set_by_hand_db is not None
    ]


def core_findings(chain: Chain, catalog: Catalog) -> list[Finding]:
    """Glass of different kinds in one link. Each piece must have exactly one candidate grade here."""
    found: list[Finding] = []
    for left, right in pairwise(chain.glass):
        if not (left.traits.grades and right.traits.grades):
            continue
        a, b = catalog.fiber(left.traits.grades[0]), catalog.fiber(right.traits.grades[0])
        at = (left.id, *chain.joiners_between(left, right), right.id)
        if a.family != b.family:
            found.append(
                firmly(
                    CORE_MODE.fail(
                        at,
                        f"{_grade(a)} meets {_grade(b)}.",
                        f"{a.core_um:g} µm core on {b.core_um:g} µm: light from the wide core is lost in the "
                        "narrow one, and light from the narrow core fills the wide one in a way its clause does "
                        "not allow.",
                        CORES,
                    ).of(left=a.name, right=b.name, left_core_um=a.core_um, right_core_um=b.core_um)
                )
            )
        elif a.core_um != b.core_um:
            found.append(
                CORE_SIZE.caution(
                    at,
                    f"{a.core_um:g} µm glass meets {b.core_um:g} µm glass.",
                    "Light going from 62.5 into 50 µm loses decibels, the other way little: "
                    "the term is counted in its direction, and the poorer grade decides the reach.",
                    CORES,
                ).of(left=a.name, right=b.name, left_core_um=a.core_um, right_core_um=b.core_um)
            )
        elif a.name != b.name:
            found.append(
                CORE_GRADE.note(
                    at,
                    f"{a.name} meets {b.name}: the poorer grade decides the reach.",
                    "The cores are alike, so the joint costs nothing extra.",
                    CORES,
                ).of(left=a.name, right=b.name)
            )
    return found


def strand_findings(chain: Chain, catalog: Catalog) -> list[Finding]:
    """Glass with another number of strands than the modules have."""
    wanted = {catalog.application(end.traits.optics.application).fibers for end in chain.ends if end.traits.optics}
    words = {1: "one strand", 2: "two strands"}
    if len(wanted) != 1 or not wanted <= set(words):
        return []
    strands = wanted.pop()
    odd = tuple(p.id for p in chain.glass if p.traits.strands != strands and p.traits.strands in words)
    if not odd:
        return []
    return [
        MATING_STRANDS.fail(
            odd,
            f"The modules use {words[strands]}, this glass is made up with {words[3 - strands]}.",
            "A duplex plug does not enter a simplex opening, and a single strand cannot carry both directions "
            "of a two-strand application.",
            SHAPES,
        ).of(wanted=strands)
    ]


def _grade(grade: FiberGrade) -> str:
    return f"{grade.family} {grade.name}"

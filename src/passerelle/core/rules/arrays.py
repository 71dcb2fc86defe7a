"""What may touch what where arrays meet: rows and columns, pins, keys, and the fibers that a module has."""

from __future__ import annotations

from collections.abc import Iterator

from passerelle.core.catalog.shelves import Catalog
from passerelle.core.findings import Finding, Rule
from passerelle.core.link.compose import Chain, Joint
from passerelle.core.parts.face import Face
from passerelle.core.sources import Source

MATING_ARRAY_ROWS = Rule("mating.array_rows", "match")
MATING_TWO_PINNED = Rule("mating.two_pinned", "match")
MATING_NO_PINS = Rule("mating.no_pins", "match")
MATING_PINS_UNKNOWN = Rule("mating.pins_unknown", "match")
MATING_ANGLED_KEYS = Rule("mating.angled_keys", "match")

MPO = Source(
    body="IEC",
    document="61754-7 series",
    clause="MPO connector interfaces",
    note="one part for one row, one for two",
)
PINS = Source(
    body="IEC", document="61754-7 series", clause="MPO connector interfaces", note="one plug with pins, one without"
)
ANGLES = Source(
    body="TIA",
    document="TIA-568.3-D",
    clause="array adapters",
    note="angled plugs are mated key up to key down; geometry of two faces at 8°",
)


def array_findings(joint: Joint) -> Iterator[Finding]:
    """All that is wrong with two array faces that touch and have one shape."""
    left, right = joint.left_face, joint.right_face
    if not (left.is_array and right.is_array) or left.shape != right.shape:
        return
    yield from _rows(joint, left, right)
    yield from _pins(joint, left, right)
    if left.polish == right.polish == "APC" and joint.mirrors and _seats_plugs(joint):
        yield MATING_ANGLED_KEYS.fail(
            joint.at,
            "Angled arrays stand with their keys aligned: they do not seat.",
            "The two slopes of 8° lie the same way and leave a wedge of air between the faces. Angled arrays seat "
            "only with keys opposed.",
            ANGLES,
        ).of(keys="aligned")


def _seats_plugs(joint: Joint) -> bool:
    """Whether two plugs meet in an adapter; the receptacle of a module is made to fit its own plug."""
    return joint.via is not None or "adapter" in (joint.left_face.kind, joint.right_face.kind)


def _rows(joint: Joint, left: Face, right: Face) -> Iterator[Finding]:
    sizes = [(face.plugs, face.rows, face.columns) for face in (left, right)]
    if sizes[0] == sizes[1]:
        return
    rows_differ = left.rows != right.rows
    yield MATING_ARRAY_ROWS.fail(
        joint.at,
        f"An array of {_words(left)} meets one of {_words(right)}.",
        "The ferrules are of one size, so they go together, and the rows lie one beside the other: no fiber meets "
        "a fiber."
        if rows_differ
        else "Positions of one have nothing to meet at the other.",
        MPO,
    ).of(left=_words(left), right=_words(right))


def _words(face: Face) -> str:
    rows = f"{face.rows} row{'s' * (face.rows > 1)} of {face.columns}"
    return rows if face.plugs == 1 else f"{face.plugs} plugs with {rows}"


def _pins(joint: Joint, left: Face, right: Face) -> Iterator[Finding]:
    if left.pins is None or right.pins is None:
        yield MATING_PINS_UNKNOWN.undecided(
            joint.at,
            "It is not known which of the two arrays has pins here.",
            "Exactly one of two arrays that meet has pins: two pinned ones break, two without are not aligned. "
            "Look with a scope, both ends unplugged, and write it down.",
            PINS,
        )
    elif left.pins and right.pins:
        yield MATING_TWO_PINNED.damage(
            joint.at,
            "Two arrays with pins are pressed together.",
            "Pin meets pin: the ferrules cannot touch, and pressing bends the pins or breaks the holes. Exactly "
            "one of the two has pins.",
            PINS,
        ).model_copy(update={"caution": "Do not press: pull both plugs back and inspect them with a scope."})
    elif not left.pins and not right.pins:
        yield MATING_NO_PINS.fail(
            joint.at,
            "Two arrays without pins are put together.",
            "Nothing aligns the two ferrules: they latch, and most fibers miss each other. Exactly one of the two "
            "has pins.",
            PINS,
        )


MATING_ARRAY_FIBERS = Rule("mating.array_fibers", "match")


def fiber_findings(chain: Chain, catalog: Catalog) -> Iterator[Finding]:
    """Array cabling that has too few fibers for the lanes of the modules."""
    for end in chain.ends:
        if end.traits.optics is None:
            continue
        application = catalog.application(end.traits.optics.application)
        needed = application.fibers if application.array and end.traits.optics.leg_of == 1 else 0
        few = tuple(line.id for line in chain.glass if line.traits.strands < needed)
        if few:
            yield MATING_ARRAY_FIBERS.fail(
                few,
                f"{application.name} uses {needed} fibers, this cabling has fewer.",
                "Each lane takes one fiber to send and one to listen.",
                *application.sources,
            ).of(needed=needed)

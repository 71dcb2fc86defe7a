"""A record of acceptance in one sentence, as the list of what happened says it."""

from __future__ import annotations

from passerelle.core.accepted import (
    Certified,
    Inspected,
    ReferenceTaken,
    ReferenceVoid,
    StrandsTraced,
    TraceTaken,
)
from passerelle.core.events import Event

RECORDS = (ReferenceTaken, ReferenceVoid, Inspected, StrandsTraced, TraceTaken, Certified)


def record_words(event: Event) -> str:
    """What was recorded; empty for events that are no record of acceptance.

    >>> record_words(ReferenceVoid(key="v", of="r", why="power cycle"))
    'a reference is void: power cycle'
    """
    match event:
        case ReferenceTaken():
            return f"reference with {event.method}, {event.family}, {event.wavelength_nm} nm"
        case ReferenceVoid():
            return f"a reference is void: {event.why}"
        case Inspected():
            seen = {True: ", passes", False: ", fails", None: ""}[event.passes]
            return f"{event.step}: {event.element or 'a face'}, {event.face} side, ferrule {event.position}{seen}"
        case StrandsTraced():
            pairs = (f"{near} at {far or 'no end'}" for near, far in event.pairs[:12])
            return "strands come out: " + ", ".join(pairs)
        case TraceTaken():
            way = "left to right" if event.direction == "right" else "right to left"
            return f"trace of strand {event.strand}, {event.wavelength_nm} nm, {way}, {event.pulse_ns:g} ns"
        case Certified():
            return f"tester: {event.category}, {len(event.values)} values"
        case _:
            return ""

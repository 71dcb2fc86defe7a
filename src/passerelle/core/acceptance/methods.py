"""How a reading is taken: which end connections it includes, how far it may be off, which launch it asks for."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from passerelle.core.catalog.records import Family
from passerelle.core.catalog.testing_figures import testing_figures
from passerelle.core.errors import AcceptanceError
from passerelle.core.link.readings import Method, ReferenceMethod
from passerelle.core.sources import Frozen, Source, derived

SourceKind = Literal["LED", "laser", "VCSEL", "encircled flux"]
Void = Literal["cord left the source", "power cycle", "another cord", "another wavelength"]

LEFT_OUT: dict[ReferenceMethod, int] = {
    "one cord": 0,
    "two cords": 1,
    "three cords": 2,
    "launch and receive cords": 0,
}
"""How many connections were in the reference and are so not in the reading, of the two at the ends."""
REFERENCE_WORDS: dict[ReferenceMethod, str] = {
    "one cord": "The launch cord alone goes from the source to the meter and is the zero. Then it stays at the "
    "source; a second cord is joined to check both, and goes to the far end. Both end connections "
    "are in the reading.",
    "two cords": "Launch and receive cord joined are the zero: one end connection is in the reference and so "
    "not in the reading.",
    "three cords": "Launch, a short and the receive cord joined are the zero: two connections are in the "
    "reference, neither end connection is in the reading.",
    "launch and receive cords": "The trace starts in the launch cord and ends in the receive cord: both end "
    "connections are in the reading.",
}


class Launch(Frozen):
    """Whether a source and its launch cord certify, and why, or what to do instead."""

    certifies: bool
    words: str
    source: Source


@dataclass(frozen=True)
class Setup:
    """The meter, the source and the launch cord in hand.

    ``meter_port`` and ``link_plug`` are shapes of connectors, empty where unknown. ``mandrel`` and ``loop_mm`` say
    what is in the launch cord, 0 without a loop; ``bend_insensitive`` how it is made.
    """

    family: Family
    source: SourceKind
    mandrel: bool = False
    bend_insensitive: bool = False
    loop_mm: float = 0.0
    meter_port: str = ""
    link_plug: str = ""


_EF = Source(body="IEC", document="61280-4-1", clause="launch conditions", note="encircled flux")
_SM = Source(body="TIA", document="TIA-526-7", clause="launch conditions", note="loop of 30 mm in the launch cord")


def launch_of(setup: Setup) -> Launch:
    """Whether this launch certifies, by what the source is and what lies in its launch cord."""
    if setup.family == "single-mode":
        return _single_mode(setup)
    if setup.source == "VCSEL":
        words = "A VCSEL fills only the middle of the core and reads too little: it does not certify multimode. "
        return Launch(
            certifies=False, words=words + "Use an LED source with encircled flux at its cord.", source=_EF
        )
    if setup.source == "laser":
        words = "A single-mode laser does not certify multimode: use an LED source with encircled flux at its cord."
        return Launch(certifies=False, words=words, source=_EF)
    if setup.source == "encircled flux" and setup.mandrel:
        words = (
            "The source is conditioned already: a mandrel on top of it strips modes twice. Take the mandrel off."
        )
        return Launch(certifies=False, words=words, source=_EF)
    if setup.source == "encircled flux":
        words = "Encircled flux at the end of the launch cord, as it came from its controller."
        return Launch(certifies=True, words=words, source=_EF)
    return _led(setup)


def _led(setup: Setup) -> Launch:
    if setup.mandrel and setup.bend_insensitive:
        words = "A mandrel does nothing on a bend-insensitive cord: use one that is not, or a flux controller."
        return Launch(certifies=False, words=words, source=_EF)
    if not setup.mandrel:
        words = (
            "An LED overfills the core and reads too much: wind the launch cord on a mandrel, or use a controller."
        )
        return Launch(certifies=False, words=words, source=_EF)
    words = "An LED with a mandrel comes near encircled flux: it certifies where the house accepts that."
    return Launch(certifies=True, words=words, source=_EF)


def _single_mode(setup: Setup) -> Launch:
    if setup.source != "laser":
        words = "Single-mode is tested with a laser source at 1310 and 1550 nm."
        return Launch(certifies=False, words=words, source=_SM)
    if not 20 <= setup.loop_mm <= 40:
        words = "Put one loop of 30 mm in the launch cord: it takes the second-order mode out."
        return Launch(certifies=False, words=words, source=_SM)
    return Launch(certifies=True, words="One loop of 30 mm takes the second-order mode out.", source=_SM)


def refuse_one_cord(setup: Setup) -> str:
    """Why one cord cannot be the reference with this meter; empty where it can, or where that is not known."""
    if setup.meter_port and setup.link_plug and setup.meter_port != setup.link_plug:
        return (
            f"One cord needs a meter that takes the link's {setup.link_plug}; this one takes {setup.meter_port}. "
            "Use two or three cords, or change the adapter of the meter."
        )
    return ""


def joined_most_db(family: Family, *, reference_grade: bool) -> float | None:
    """The most that two test cords joined may read in dB before the first link; None for ordinary cords."""
    return testing_figures().grade_of(family).joined_db if reference_grade else None


def check_joined(value_db: float, family: Family, *, reference_grade: bool) -> None:
    """Check what the test cords read when they are joined.

    Raises:
        AcceptanceError: a negative reading, or more than their grade allows.
    """
    if value_db < 0:
        raise AcceptanceError(
            "joined_db",
            f"{value_db:.2f} dB: two cords joined cannot gain light. The reference was taken with a dirty or half "
            "seated plug: clean it, and take the reference again",
        )
    most = joined_most_db(family, reference_grade=reference_grade)
    usual = most if most is not None else 0.5
    if value_db > usual + 1e-9:
        raise AcceptanceError(
            "joined_db",
            f"{value_db:.2f} dB: {'reference-grade cords' if reference_grade else 'test cords'} "
            "joined read at most "
            f"{usual:g} dB. Clean both faces; if it stays, exchange the cord",
        )


def uncertainty_db(
    method: Method, reference: ReferenceMethod, family: Family, *, reference_grade: bool
) -> tuple[float, Source]:
    """How far a reading may be off in dB, and from where that is."""
    figures = testing_figures()
    row, extra = figures.uncertainty_of(method, family), figures.extra_uncertainty
    base = row.reference_grade_db if reference_grade else row.db
    more = {"two cords": extra.two_cords_db, "three cords": extra.three_cords_db}.get(reference, 0.0)
    if not more:
        return base, row.source
    note = f"{row.source.note}; {extra.source.note}"
    return round(base + more, 6), Source(body="estimate", note=note, estimate=True)


def direction_words(reference: ReferenceMethod) -> Source:
    """The reference as the source of what it leaves out."""
    left = LEFT_OUT[reference]
    return derived(f"reference with {reference}: {left} of the two end connections is in the reference")

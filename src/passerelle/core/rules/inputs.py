"""Inputs that are missing or guessed: lengths and grades."""

from __future__ import annotations

from passerelle.core.findings import Finding, Rule
from passerelle.core.link.compose import Chain

ARRIVED_OTHERWISE = Rule("delivery.otherwise", "match")
LENGTH_ESTIMATED = Rule("length.estimated", "match")
CHAIN_NO_GLASS = Rule("chain.no_glass", "layout")
LENGTH_UNKNOWN = Rule("length.unknown", "match")
FIBER_UNKNOWN = Rule("fiber.unknown", "match")


def estimated_lengths(chain: Chain) -> list[Finding]:
    """A note on each piece whose length is an estimate: it is measured before anything is ordered."""
    return [
        LENGTH_ESTIMATED.note(
            (line.id,),
            f"The length of this {line.word} is an estimate.",
            "Measure it before anything is ordered: on the drawing, with a wheel, or by the marks on a jacket.",
        )
        for line in chain.lines
        if line.traits.length_estimated
    ]


def arrived_otherwise(chain: Chain) -> list[Finding]:
    """A note on each piece that arrived otherwise than it was ordered: it is judged as it arrived."""
    return [
        ARRIVED_OTHERWISE.note(
            (part.id,),
            f"This {part.word} arrived otherwise than it was ordered: {', '.join(part.traits.arrived)}.",
            "The link is judged with what arrived. Keep it where the verdict allows it, or send it back.",
        )
        for part in chain.parts
        if part.traits.arrived
    ]


def missing_inputs(chain: Chain) -> list[Finding]:
    """A finding for each piece whose length, or the grade of whose glass, is not known."""
    found: list[Finding] = []
    if not chain.lines:
        found.append(
            CHAIN_NO_GLASS.undecided(
                (),
                "There is no fiber between the ports.",
                "Insert a cord, or a run with its panels.",
            )
        )
    for line in chain.lines:
        light = line.traits.realm == "light"
        if line.traits.length_m is None:
            why = "Loss and reach follow from it" if light else "The reach on copper is short"
            found.append(
                LENGTH_UNKNOWN.undecided(
                    (line.id,),
                    f"The length of this {line.word} is not known.",
                    f"{why}: measure it, pace it out with verticals and slack, or read the marks on the jacket.",
                ).of(piece=line.word)
            )
        if light and not line.traits.grades:
            found.append(
                FIBER_UNKNOWN.undecided(
                    (line.id,),
                    f"The fiber grade of this {line.word} is not known.",
                    "Read the print on the jacket. Until then name every grade that it may be: "
                    "the plan is computed for each of them.",
                ).of(piece=line.word)
            )
    return found

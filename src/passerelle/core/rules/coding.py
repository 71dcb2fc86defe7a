"""Whether a port accepts a module's coding: graded, not yes or no."""

from __future__ import annotations

from passerelle.core.findings import Finding, Rule
from passerelle.core.parts.part import Socket
from passerelle.core.sources import Source, estimated
from passerelle.core.units import format_rate

CODING_OVERRIDE = Rule("coding.override", "match")
CODING_TELEMETRY = Rule("coding.telemetry", "match")
CODING_UNKNOWN = Rule("coding.unknown", "match")
CODING_REFUSED = Rule("coding.refused", "match")

SURVEY = Source(body="survey", document="this project", clause="what was noted of the port")
PRACTICE = estimated("what equipment commonly does; the port's own manual decides")


def coding_findings(port: Socket, at: tuple[str, str], coding: str, rate_mbps: int) -> list[Finding]:
    """What the port's policy means for a plug of this ``coding`` and rate in Mb/s; each end for itself.

    ``at`` holds the ids of the port and of what is plugged into it.
    """
    policy = port.policy
    if policy == "own above a rate":
        policy = "own only" if rate_mbps > port.own_above_mbps else "any"
    if policy == "any":
        return []
    matches = bool(port.make) and port.make == coding
    if policy == "own only":
        return [] if matches else [_refused(port, coding, at)]
    if matches:
        return []
    if policy == "override":
        return [
            CODING_OVERRIDE.note(
                at,
                "The port takes this module only after its override setting is made.",
                "Make the setting while the box can still be reached, before it leaves for a remote site.",
                PRACTICE,
            )
        ]
    return [
        CODING_TELEMETRY.note(
            at,
            "The port accepts the module but does not read its received power.",
            "Without telemetry the level at this end is measured with a meter.",
            PRACTICE,
        )
    ]


def _refused(port: Socket, coding: str, at: tuple[str, str]) -> Finding:
    above = f" above {format_rate(port.own_above_mbps)}" if port.policy == "own above a rate" else ""
    if not port.make or not coding:
        missing = "the port's make" if not port.make else "the module's coding"
        return CODING_UNKNOWN.undecided(
            at,
            f"The port accepts modules of its own make only{above}, and {missing} is not known.",
            "A module with another coding is refused and the link stays dark.",
            SURVEY,
        ).of(missing=missing)
    return CODING_REFUSED.fail(
        at,
        f"The port accepts {port.make} coding only{above}; the module is coded {coding}.",
        "The port reads the module's memory and switches off what it does not know.",
        SURVEY,
    ).of(port_make=port.make, coding=coding)

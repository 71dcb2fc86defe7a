"""What is said of a link whose port is in another link too."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable, Mapping

from passerelle.core.findings import Finding, Rule
from passerelle.core.link.chain import Link
from passerelle.core.link.port_use import ANY_LEG, Clash, PortUse
from passerelle.core.parts.kinds.port import Port
from passerelle.core.sources import estimated

PORT_IN_TWO_LINKS = Rule("port.in_two_links", "match")
PRACTICE = estimated("a port takes one plug; of a split port each leg goes to one place")


def clash_findings(link: Link, found: Iterable[Clash], names: Mapping[int, str]) -> list[Finding]:
    """A finding for each port of a link that others use too, with their names."""
    others: dict[PortUse, list[str]] = defaultdict(list)
    for clash in found:
        others[clash.use].append(names[clash.other])
    said = []
    for use, named in others.items():
        port = next(
            piece
            for piece in link.elements
            if isinstance(piece, Port)
            and (piece.place.strip().casefold(), piece.label.strip().casefold()) == use[:2]
        )
        what = "This port" if use.leg <= ANY_LEG else f"Leg {use.leg} of this port"
        said.append(
            PORT_IN_TWO_LINKS.fail(
                (port.id,),
                f"{what}, {port.label} at {port.place}, is also an end of {' and '.join(named)}.",
                "One plug goes into a port: give one of the links another port or leg, or take the link out that "
                "is no longer there.",
                PRACTICE,
            ).of(port=port.label, place=port.place, others=" and ".join(named))
        )
    return said

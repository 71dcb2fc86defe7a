"""Ports and what is plugged into them: cage, speed, coding, and whether the two ends speak to each other."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from dataclasses import dataclass

from passerelle.core.catalog.copper_figures import copper_figures
from passerelle.core.catalog.records import Application
from passerelle.core.catalog.shelves import Catalog
from passerelle.core.findings import Finding, Rule
from passerelle.core.link.compose import Chain, Standing
from passerelle.core.parts.part import Socket
from passerelle.core.rules.air import ingress_findings, temperature_findings
from passerelle.core.rules.coding import PRACTICE, SURVEY, coding_findings
from passerelle.core.units import format_rate

CAGE_FORM = Rule("cage.form", "match")
SPEED_UNKNOWN = Rule("speed.unknown", "match")
SPEED_PORT = Rule("speed.port", "match")
SPEED_SET_PORT = Rule("speed.set_port", "match")
SPEED_BELOW_WANTED = Rule("speed.below_wanted", "match")
CHAIN_MODULES = Rule("chain.modules", "match", asks=False)
PAIR_SAME_SIDE = Rule("pair.same_side", "match")
SPEED_SPLIT = Rule("speed.split", "match")
SPEED_SET_SPLIT = Rule("speed.set_split", "match")
SPEED_ENDS_DIFFER = Rule("speed.ends_differ", "match")
APPLICATION_MIXED = Rule("application.mixed", "match")
APPLICATION_DIFFERS = Rule("application.differs", "match")

NATIVE = "RJ45"
"""The cage that is no cage: a native port takes a twisted-pair plug itself."""


@dataclass(frozen=True, slots=True)
class Plugged:
    """What is plugged into a port: by which edge, and the rates in Mb/s that it offers (None: it is a cable)."""

    port: Standing
    socket: Socket
    piece: Standing
    edge: str
    offered: frozenset[int] | None

    @property
    def legs(self) -> int:
        """Into how many slower ports it splits this one, by optics."""
        return self.piece.traits.optics.leg_of if self.piece.traits.optics else 1

    @property
    def at(self) -> tuple[str, str]:
        """Ids of the port and of what is in it."""
        return self.port.id, self.piece.id

    @property
    def coding(self) -> str:
        """The coding of this end."""
        return self.piece.traits.codings.get(self.edge, "")


def plugged(chain: Chain, catalog: Catalog) -> Iterator[Plugged]:
    """Each port that holds something, with what it holds, from left to right."""
    for joint in chain.joints:
        if joint.kind not in ("cage", "socket") or joint.left is None or joint.right is None:
            continue
        at_left = joint.left.traits.socket is not None
        port, piece = (joint.left, joint.right) if at_left else (joint.right, joint.left)
        edge = piece.enter if at_left else piece.leave
        socket = port.traits.socket
        if socket is not None:
            yield Plugged(port, socket, piece, edge, _offered(piece, catalog))


def _offered(piece: Standing, catalog: Catalog) -> frozenset[int] | None:
    optics, electrics = piece.traits.optics, piece.traits.electrics
    if optics:
        return frozenset({catalog.application(optics.application).rate_mbps})
    if electrics is None:
        return None
    usual = (row.rate_mbps for row in copper_figures().jack if row.form == electrics.form)
    return frozenset(electrics.rates_mbps) or frozenset(usual)


def port_findings(chain: Chain, catalog: Catalog) -> list[Finding]:
    """Findings on each port with what is in it, on each box in its place, and on two modules against each other."""
    found: list[Finding] = []
    for one in plugged(chain, catalog):
        found += _cage(one, catalog)
        found += _speed(one)
        if one.offered and one.piece.traits.codings and len(one.offered) == 1:
            found += coding_findings(one.socket, one.at, one.coding, min(one.offered))
        found += temperature_findings(one.socket, one.at, one.piece.traits.temperature_class, catalog)
    for port in chain.sockets:
        found += ingress_findings(port, catalog)
    return found


def _cage(one: Plugged, catalog: Catalog) -> list[Finding]:
    """A native port takes the plug itself, a cage takes a plug-in of its forms."""
    cage = catalog.cage(one.socket.cage)
    edge = one.piece.part.face(one.edge)
    if edge.kind == "contacts":
        return [] if cage.name == NATIVE else [_no_socket(one, cage.name, catalog)]
    optics = one.piece.traits.optics
    forms = (edge.shape,) if optics is None or optics.form else catalog.application(optics.application).forms
    if any(form in cage.accepts for form in forms):
        return []
    takes = f"takes {' and '.join(cage.accepts)} modules" if cage.accepts else "takes no module"
    name = optics.application if optics else forms[0]
    return [
        CAGE_FORM.fail(
            one.at,
            f"A {name} {'module' if one.piece.part.outward else 'plug'} does not work in a {cage.name} cage.",
            f"{f'{name} is made as ' if optics else 'Its form is '}{' or '.join(forms)}; the {cage.name} cage "
            f"{takes}, up to {format_rate(cage.max_rate_mbps)}.",
            cage.source,
        ).of(name=name, cage=cage.name, form=forms[0])
    ]


def _no_socket(one: Plugged, cage: str, catalog: Catalog) -> Finding:
    return CAGE_FORM.fail(
        (one.port.id,),
        f"A twisted-pair plug does not fit a {cage} cage.",
        "It needs a plug-in twisted-pair module, or a native port.",
        catalog.cage(cage).source,
    ).of(cage=cage)


def _speed(one: Plugged) -> list[Finding]:
    """The rates that a port can be set to against those that its plug offers: none of them negotiates."""
    port, offered = one.socket, one.offered
    if one.legs > 1:
        return _split(one)
    if not port.rates_mbps:
        only = f"The {one.piece.word} runs at {listed(offered)} only" if offered else "Both ends need one speed"
        return [
            SPEED_UNKNOWN.undecided(
                one.at if offered else (one.port.id,),
                "It is not known which speeds this port can be set to.",
                f"{only}; a port that cannot be set to that stays dark.",
            )
        ]
    if not offered:
        return []
    known = listed(port.rates_mbps)
    if not offered & set(port.rates_mbps):
        able = f"is fixed at {known} and cannot be set" if port.fixed_rate else f"can be set to {known}"
        runs = "runs at" if len(offered) == 1 else "lists"
        return [
            SPEED_PORT.fail(
                one.at,
                f"The {one.piece.word} {runs} {listed(offered)}, the port does not.",
                f"The port {able}. A plug of one rate does not negotiate another.",
                SURVEY,
            ).of(offered_mbps=max(offered), port_mbps=max(port.rates_mbps))
        ]
    if len(offered) == 1 and max(offered) < max(port.rates_mbps):
        return [
            SPEED_SET_PORT.note(
                one.at,
                f"Set this port to {listed(offered)} by hand before the link is lit.",
                f"The port can run at {known}; with a slower plug many ports do not find the speed themselves.",
                PRACTICE,
            ).of(rate_mbps=max(offered))
        ]
    return []


def _split(one: Plugged) -> list[Finding]:
    """A port that is split into slower ones: whether it can be, and that it must be set so."""
    port, legs, rate = one.socket, one.legs, max(one.offered or {0})
    into = f"{legs} x {format_rate(rate)}"
    if not port.splits:
        return [
            SPEED_SPLIT.undecided(
                one.at,
                f"It is not known whether this port can be split into {into}.",
                "Many ports of the same cage cannot, or only every second one: the box's own papers say.",
            ).of(legs=legs, rate_mbps=rate)
        ]
    if legs not in port.splits:
        able = " or ".join(map(str, sorted(port.splits)))
        return [
            SPEED_SPLIT.fail(
                one.at,
                f"This port cannot be split into {legs}.",
                f"It can be split into {able}; the legs stay dark.",
                SURVEY,
            ).of(legs=legs)
        ]
    return [
        SPEED_SET_SPLIT.note(
            one.at,
            f"Set this port to {into} before the legs are plugged.",
            "As one fast port it looks for all lanes at one far end, and none of the legs comes up. The change may "
            "need a restart of the box, and may shut a neighboring port.",
            PRACTICE,
        ).of(legs=legs, rate_mbps=rate)
    ]


def listed(rates: Iterable[int]) -> str:
    """Rates in Mb/s in words.

    >>> listed({10_000, 1000})
    '1 Gb/s or 10 Gb/s'
    """
    return " or ".join(format_rate(rate) for rate in sorted(rates))


def below_wanted(chain: Chain, at: tuple[str, ...], rate_mbps: int | None) -> list[Finding]:
    """A link that is slower than what is wanted (Mb/s)."""
    wanted = chain.link.wanted_rate_mbps
    if wanted is None or rate_mbps is None or rate_mbps >= wanted:
        return []
    return [
        SPEED_BELOW_WANTED.fail(
            at,
            f"{format_rate(wanted)} is wanted, this link carries {format_rate(rate_mbps)}.",
            "The slowest piece of the path is the speed that people get.",
            SURVEY,
        ).of(wanted_mbps=wanted, carries_mbps=rate_mbps)
    ]


def end_findings(chain: Chain, catalog: Catalog) -> list[Finding]:
    """Whether a module stands at each end of a link of glass, and whether the two speak to each other."""
    at = tuple(end.id for end in chain.ends)
    sides = [catalog.application(end.traits.optics.application) for end in chain.ends if end.traits.optics]
    found: list[Finding] = []
    if len(sides) == 2:
        found += _facing(sides[0], sides[1], (at[0], at[1]))
    else:
        found.append(
            CHAIN_MODULES.undecided(
                at,
                f"The link has {len(sides) or 'no'} module{'s' * (len(sides) != 1)}: it needs one at each end.",
                "What is sent and what is received is not known without both.",
            ).of(modules=len(sides))
        )
    return [*found, *below_wanted(chain, at, min((side.rate_mbps for side in sides), default=None))]


def _unlike(a: Application, b: Application) -> str:
    if a.wavelengths_nm == b.wavelengths_nm:
        return (
            f"Same rate and {a.wavelength_nm} nm at both ends, but made for other powers or another coding of the "
            "signal. No clause lets them work together."
        )
    return (
        f"Same rate, different light: {a.wavelength_nm} nm against {b.wavelength_nm} nm. "
        "No clause lets them work together."
    )


def _facing(a: Application, b: Application, at: tuple[str, str]) -> list[Finding]:
    if a.speaks_to(b):
        return []
    if a.name == b.name:
        return [
            PAIR_SAME_SIDE.fail(
                at,
                f"Both modules are the same side of a two-wavelength pair: {a.name}.",
                f"Both send at {a.wavelength_nm} nm and listen for the other wavelength: "
                f"one end must be {a.partner}.",
                *a.sources,
            ).of(application=a.name, needs=a.partner)
        ]
    if a.rate_mbps != b.rate_mbps:
        return [
            SPEED_ENDS_DIFFER.fail(
                at,
                f"A {format_rate(a.rate_mbps)} module faces a {format_rate(b.rate_mbps)} module.",
                f"{a.name} and {b.name} signal at different rates; neither negotiates, so neither end comes up.",
                *a.sources,
                *b.sources,
            ).of(left_mbps=a.rate_mbps, right_mbps=b.rate_mbps)
        ]
    source = a.interoperates_source or b.interoperates_source
    if a.works_with(b) and source:
        return [
            APPLICATION_MIXED.caution(
                at,
                f"{a.name} faces {b.name}: they are said to work together.",
                "Each direction is judged with its own transmitter and receiver; the shorter reach and the smaller "
                "channel loss of the two are kept.",
                source,
            ).of(left=a.name, right=b.name)
        ]
    return [
        APPLICATION_DIFFERS.fail(
            at,
            f"{a.name} faces {b.name}.",
            _unlike(a, b),
            *a.sources,
            *b.sources,
        ).of(left=a.name, right=b.name)
    ]

"""The steps of a turn-up in order, from the plan: set, bag, plug, look, leave."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from typing import Literal

from passerelle.core.catalog.shelves import Catalog
from passerelle.core.catalog.turnup_figures import Correction, turnup_figures
from passerelle.core.findings import Finding
from passerelle.core.link.chain import called, place_at
from passerelle.core.link.compose import Chain, Standing
from passerelle.core.parts.part import Socket
from passerelle.core.parts.registry import spec_of
from passerelle.core.sources import Frozen
from passerelle.core.units import format_rate

Phase = Literal["set", "bag", "plug", "look", "leave"]
PHASES: tuple[tuple[Phase, str], ...] = (
    ("set", "Before you leave: set what can still be reached"),
    ("bag", "In the bag"),
    ("plug", "On site: in this order"),
    ("look", "What lights, and what it must read"),
    ("leave", "Before you leave the site"),
)
LASER = "Laser light is invisible: never look into a fiber or a port."
STATIC = "Static charge kills modules: wear the strap, hold a module by its sides."
HOT = "A module that ran is hot: let it cool before you take it."
FAR_WARNED = "Warn the far end before any light goes in that is not the module's own, and cap what is open."


class Step(Frozen):
    """A step: its code is what the logbook ticks; ``end`` empty where it concerns the link."""

    code: str
    phase: Phase
    end: Literal["left", "right", ""] = ""
    words: str
    why: str = ""
    cautions: tuple[str, ...] = ()
    at: tuple[str, ...] = ()


@dataclass(frozen=True)
class _End:
    side: Literal["left", "right"]
    place: str
    module: Standing
    socket: Standing | None

    @property
    def port(self) -> Socket | None:
        return self.socket.traits.socket if self.socket else None

    @property
    def port_words(self) -> str:
        label = self.port.label if self.port else ""
        return f"{label or 'the port'} at {self.place}"


def steps_of(
    chain: Chain, catalog: Catalog, findings: Sequence[Finding], *, redundant: bool = False
) -> tuple[Step, ...]:
    """The steps of a link's turn-up.

    Args:
        chain: the link composed.
        catalog: the house's catalog.
        findings: of the plan: what it says must be set is a step.
        redundant: another way already leads from end to end: the tree is looked at before the second plug.
    """
    ends = _ends(chain)
    found = [*_set(chain, ends, catalog, findings), *_bag(chain, ends, catalog)]
    found += [*_plug(chain, ends, redundant=redundant), *_look(ends, catalog), *_leave(ends)]
    return tuple(found)


def _ends(chain: Chain) -> tuple[_End, ...]:
    if len(chain.ends) != 2:
        return ()
    sockets = chain.sockets
    left = sockets[0] if sockets and sockets[0].position < chain.ends[0].position else None
    right = sockets[-1] if sockets and sockets[-1].position > chain.ends[-1].position else None
    return (
        _End("left", place_at(chain.link, chain.ends[0].piece) or "the left end", chain.ends[0], left),
        _End("right", place_at(chain.link, chain.ends[-1].piece) or "the right end", chain.ends[-1], right),
    )


def _rate(end: _End, catalog: Catalog) -> int:
    optics = end.module.traits.optics
    assert optics is not None  # only such parts are ends
    return catalog.application(optics.application).rate_mbps


def _application(end: _End) -> str:
    optics = end.module.traits.optics
    return optics.application if optics else ""


CORRECTS_FROM_MBPS = 25_000
"""From this rate a lane on the clauses of IEEE 802.3 define an error correction; optical ports below have none."""


def _may_correct(known: Correction | None, end: _End, catalog: Catalog) -> bool:
    """Whether an error correction is to be set: the table says so, or a fast port is not in it."""
    if known is not None:
        return known.kind != "none"
    optics = end.module.traits.optics
    if optics is None:
        return False
    application = catalog.application(optics.application)
    return application.rate_mbps / application.lanes >= CORRECTS_FROM_MBPS


def _set(chain: Chain, ends: Sequence[_End], catalog: Catalog, findings: Sequence[Finding]) -> Iterator[Step]:
    for finding in findings:
        if finding.severity.value in ("damage", "fail"):
            words = f"Fix first: {finding.what}"
            code = " ".join(("finding", finding.code, *finding.at))
            yield Step(code=code, phase="set", words=words, why=finding.why, at=finding.at)
    for end in ends:
        rate = format_rate(_rate(end, catalog))
        at = tuple(s.id for s in (end.socket, end.module) if s)
        port = end.port
        if port is not None and port.fixed_rate:
            own = format_rate(port.rates_mbps[0])
            words = f"{end.port_words} has one speed, {own}: see that the other end is set to it"
        else:
            words = f"Set {end.port_words} to {rate}"
        yield Step(
            code="rate",
            phase="set",
            end=end.side,
            words=words,
            at=at,
            why="A module of one speed does not negotiate.",
        )
        yield Step(
            code="negotiation",
            phase="set",
            end=end.side,
            words=f"Negotiation at {end.port_words}: the same as at the other end, both on or both off",
            why="One on and one off: one end shows link, the other none.",
            at=at,
        )
        known = turnup_figures().correction_of(_application(end))
        told = f"{known.kind}" if known else "the same at both ends, as the clause of the port says"
        if _may_correct(known, end, catalog):
            yield Step(
                code="error correction",
                phase="set",
                end=end.side,
                words=f"Error correction at {end.port_words}: {told}",
                why=known.source.text if known else "It is not in the table: read the clause or the datasheet.",
                at=at,
            )
        if port is not None and port.policy not in ("any", "unknown"):
            yield Step(
                code="coding",
                phase="set",
                end=end.side,
                words=f"{end.port_words} is particular about coding ({port.policy}): set its override, or prove "
                "the module in a port of this make before the trip",
                why="A refused module stays dark, and the port says so only in its log.",
                at=at,
            )
        yield Step(
            code="port up",
            phase="set",
            end=end.side,
            words=f"{end.port_words}: administratively up, described",
            at=at,
        )


def _bag(chain: Chain, ends: Sequence[_End], catalog: Catalog) -> Iterator[Step]:
    names = dict.fromkeys(_application(end) for end in ends)
    for name in names:
        application = catalog.application(name)
        form = " or ".join(application.forms[:2])
        words = f"A spare module {name}, {form}, with the coding of its port"
        why = "The dearest trip is the one for a module."
        yield Step(code=f"bag module {name}", phase="bag", words=words, why=why, cautions=(STATIC,))
    cords = {spec_of(s.piece).word for s in chain.parts if s.traits.line and not s.traits.fixed}
    if cords:
        words = f"A spare {' and a spare '.join(sorted(cords))} of the same plugs and length"
        yield Step(code="bag cords", phase="bag", words=words)
    for place in chain.places:
        if place.piece.kind == "attenuator":
            words = f"The attenuator of {called(chain.link, place.piece)}, and one of the next value"
            yield Step(code=f"bag {place.id}", phase="bag", words=words, at=(place.id,))
    polishes = {face.polish for s in chain.parts for face in (s.left, s.right) if face.polish}
    angled = " (angled and flat)" if len(polishes) > 1 else ""
    tools = (
        f"Scope with tips for these ferrules{angled}, cleaners, caps, power meter, loopback cord, visible source"
    )
    yield Step(code="bag tools", phase="bag", words=tools, cautions=(LASER,))


def _plug(chain: Chain, ends: Sequence[_End], *, redundant: bool) -> Iterator[Step]:
    if redundant:
        yield Step(
            code="tree",
            phase="plug",
            words="Another way leads here already: spanning tree or an aggregation must be on at both ends "
            "before the second plug goes in",
            why="Two ways without either make a loop that takes the whole network.",
        )
    for end in reversed(ends):
        yield Step(
            code="faces",
            phase="plug",
            end=end.side,
            words=f"Inspect, clean, inspect again: the cord's plugs and the panel at {end.place}",
            why="Most dark links are dirty ones.",
            cautions=(LASER, FAR_WARNED),
            at=(end.module.id,),
        )
        yield Step(
            code="module",
            phase="plug",
            end=end.side,
            words=f"Insert the module into {end.port_words}: it must be recognized before any cord is plugged",
            cautions=(STATIC, HOT),
            at=(end.module.id,),
        )
        near = [p for p in chain.places if p.piece.kind == "attenuator" and _nearer(chain, p.position, end.side)]
        for pad in near:
            words = (
                f"Fit the attenuator {pad.piece.label or pad.id} at {end.place} before the cord: without it the "
            )
            words += "receiver is blinded or damaged"
            yield Step(
                code=f"pad {pad.id}", phase="plug", end=end.side, words=words, cautions=(LASER,), at=(pad.id,)
            )
        yield Step(
            code="cord",
            phase="plug",
            end=end.side,
            words=f"Plug the cord at {end.place}, transmit to receive as the strands are drawn, until it clicks",
            cautions=(LASER,),
            at=(end.module.id,),
        )


def _nearer(chain: Chain, position: int, side: str) -> bool:
    half = len(chain.places) / 2
    return position < half if side == "left" else position >= half


def _look(ends: Sequence[_End], catalog: Catalog) -> Iterator[Step]:
    for end in ends:
        yield Step(
            code="light",
            phase="look",
            end=end.side,
            words=f"Received and sent power at {end.place}, each lane, in its window",
            at=(end.module.id,),
        )
    for end in ends:
        words = f"Link at {end.port_words}, at {format_rate(_rate(end, catalog))}, the planned neighbor on it"
        yield Step(code="link", phase="look", end=end.side, words=words, at=(end.module.id,))
    if ends:
        yield Step(
            code="errors",
            phase="look",
            words="Count errors over some minutes with traffic on it: none may be left uncorrected",
            why="No error in n bits shows a rate below 3/n with 95 % confidence.",
        )


def _leave(ends: Sequence[_End]) -> Iterator[Step]:
    for end in ends:
        words = f"Save the configuration of {end.port_words} so that it survives a restart"
        yield Step(code="save", phase="leave", end=end.side, words=words)
    if ends:
        yield Step(code="labels", phase="leave", words="Label both ends of every cord; take pictures of both ends")
        yield Step(code="caps", phase="leave", words="Caps back on all that is open, doors closed, the place clean")
        yield Step(code="hand over", phase="leave", words="Write down serial numbers, sign the hand-over")

"""The faults that may be hidden in a link and the looks that tell them apart, from its own pieces.

Every fault of the house table is put where it can sit: at an end, a joint, a line, in one direction or in both.
What a look would show under it follows from its signs; where geometry decides (a live-fiber identifier beside a
break) it is reckoned from the chain.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from typing import Literal

from passerelle.core.catalog.shelves import Catalog
from passerelle.core.catalog.turnup_figures import (
    SPARE_MODULE,
    FaultKind,
    SignKind,
    SignPlace,
    TurnUpFigures,
    turnup_figures,
)
from passerelle.core.findings import Finding, Severity
from passerelle.core.link.chain import called, place_at
from passerelle.core.link.compose import Chain, Joint, Standing
from passerelle.core.sources import Frozen
from passerelle.core.turnup.belief import Answer, Case, Fault, NextLook
from passerelle.core.turnup.signs import End, Put, Spot, look_of, wears
from passerelle.core.turnup.steps import FAR_WARNED, LASER

Here = Literal["left", "right", "away"]
FOUND_HERE = 12.0
"""How much likelier a fault is at a piece of which a finding of the plan says the same (estimate)."""
FOUND_ELSEWHERE = 3.0


CAUTIONS = {
    "laser": f"{LASER} {FAR_WARNED}",
    "visible": f"A visible source is a laser too: do not look into it. {FAR_WARNED}",
}
"""What is said at a look, by its sort."""


class Situation(Frozen):
    """Where one is and what is at hand: minutes to the other end, tools, spare modules, people, and whether the box
    of each end is read from here.
    """

    here: Here = "left"
    travel_min: float = 15.0
    tools: tuple[str, ...] = ()
    spares: bool = False
    people: int = 1
    reads_left: bool = False
    reads_right: bool = False


class HiddenFault(Frozen):
    """A fault in its place: pieces by id, the end that it is at or that receives, and where it is put right."""

    name: str
    code: str
    words: str
    at: tuple[str, ...]
    end: End | Literal[""]
    prior: float
    cure_min: float


class LinkLook(Frozen):
    """A look in its place: what it asks, its outcomes in words, what it costs from here and what it needs."""

    name: str
    sign: str
    asks: str
    outcomes: dict[str, str]
    minutes: float
    at: tuple[str, ...]
    end: End | Literal[""]
    caution: str
    lacks: tuple[str, ...] = ()


@dataclass(frozen=True)
class LinkCase:
    """A case with the places of its faults and looks."""

    case: Case
    faults: tuple[HiddenFault, ...]
    looks: tuple[LinkLook, ...]

    def without(self, names: Sequence[str]) -> Case:
        """The case with faults whose cure did not help left out; as it is where nothing would be left."""
        gone = set(names)
        faults = tuple(
            one.model_copy(update={"prior": 0.0}) if one.name in gone else one for one in self.case.faults
        )
        return Case(faults, self.case.looks) if any(one.prior > 0 for one in faults) else self.case


def case_of(
    chain: Chain, catalog: Catalog, findings: Sequence[Finding], situation: Situation | None = None
) -> LinkCase:
    """The faults and looks of a link.

    Args:
        chain: the link composed, with a module at each end.
        catalog: the house's catalog.
        findings: of the plan: what they say is likelier.
        situation: where one is; by default at the left end, alone, without tools.
    """
    figures, now = turnup_figures(), situation or Situation()
    holds = _holds(chain, catalog)
    puts = [put for kind in figures.fault if not kind.needs or kind.needs in holds for put in _puts(kind, chain)]
    count = {kind.code: sum(1 for put in puts if put.kind is kind) for kind in figures.fault}
    whole = {kind.code: sum(put.spot.exposure for put in puts if put.kind is kind) for kind in figures.fault}
    share = {
        id(put): put.spot.exposure / whole[put.kind.code] if wears(put) else 1 / count[put.kind.code]
        for put in puts
    }
    faults = tuple(_fault(put, share[id(put)], findings, chain, now) for put in puts)
    bright = _bright(chain, catalog)
    looks = [
        (sign, spot, _look(sign, spot, now, figures, bright))
        for sign in figures.sign
        if (not sign.needs or sign.needs in holds) and (sign.code != "live" or "pair" in holds)
        for spot in _spots(sign, chain)
    ]
    far = figures.visible.share(_length_m(chain), multimode="multimode" in holds)
    looks = [(sign, spot, _for_one_strand(look) if "pair" not in holds else look) for sign, spot, look in looks]
    made = tuple(
        look_of(sign, spot, look.name, look.minutes, look.outcomes, puts, far) for sign, spot, look in looks
    )
    case = Case(tuple(Fault(name=one.name, prior=one.prior, cure_min=one.cure_min) for one in faults), made)
    return LinkCase(case, faults, tuple(look for _, _, look in looks))


def _length_m(chain: Chain) -> float:
    return sum(line.traits.length_m or 0.0 for line in chain.glass)


def _for_one_strand(look: LinkLook) -> LinkLook:
    """A look at a link of one strand, which has no other."""
    if look.sign != "visible":
        return look
    outcomes = {key: words for key, words in look.outcomes.items() if key != "one"}
    outcomes["planned"] = "at the planned strand"
    asks = look.asks.replace("into both strands from one end", "into the strand from one end")
    return look.model_copy(update={"asks": asks, "outcomes": outcomes})


def _holds(chain: Chain, catalog: Catalog) -> set[str]:
    """What is true of a link that faults and looks may need."""
    optics = [end.traits.optics for end in chain.ends if end.traits.optics]
    applications = [catalog.application(one.application) for one in optics]
    families = {catalog.fiber(line.traits.grades[0]).family for line in chain.glass if line.traits.grades}
    launches = {row.launch for one in applications for row in one.reaches}
    found = {
        "pair": any(one.fibers == 2 for one in applications),
        "array": any(one.array is not None for one in applications),
        "two wavelengths": any(one.fibers == 1 for one in applications),
        "multimode": "multimode" in families,
        "launch": "multimode" in families and "offset-launch" in launches,
        "attenuator": any(place.piece.kind == "attenuator" for place in chain.places),
    }
    return {name for name, true in found.items() if true}


def _puts(kind: FaultKind, chain: Chain) -> Iterator[Put]:
    for spot in _places(kind.at, chain):
        if kind.way:
            yield Put(kind, spot, "left")
            yield Put(kind, spot, "right")
        else:
            yield Put(kind, spot)


def _places(at: str, chain: Chain) -> Iterator[Spot]:
    match at:
        case "end":
            yield from _ends(chain)
        case "line":
            for line in chain.glass:
                spot = Spot((line.id,), _share(chain, line.position), called(chain.link, line.piece))
                spaces, movable = line.traits.spaces, not line.traits.fixed
                yield replace(
                    spot, exposure=_exposure_m(line), movable=movable, open=movable or "indoors" in spaces
                )
        case "joint":
            yield from _joints(chain)
        case "panel":
            panels = [joint for joint in chain.joints if joint.via is not None and joint.kind == "adapter"]
            yield from (_joint_spot(joint, chain) for joint in panels)
        case _:
            yield Spot((), 0.5, "the link")


def _exposure_m(line: Standing) -> float:
    """How much of a line there is to be hurt, in m of cable in a duct."""
    figures = turnup_figures().exposure
    length = line.traits.length_m or figures.cord_m
    if not line.traits.fixed:
        return length + figures.cord_m
    return length * max((figures.by_space.get(space, 1.0) for space in line.traits.spaces), default=1.0)


def _ends(chain: Chain) -> Iterator[Spot]:
    sides: tuple[End, ...] = ("left", "right")
    for side, end in zip(sides, (chain.ends[0], chain.ends[-1]), strict=True):
        place = place_at(chain.link, end.piece) or f"the {side} end"
        yield Spot((end.id,), 0.0 if side == "left" else 1.0, place, side)


def _joints(chain: Chain) -> Iterator[Spot]:
    for joint in chain.joints:
        if joint.kind in ("receptacle", "adapter"):
            yield _joint_spot(joint, chain)


def _joint_spot(joint: Joint, chain: Chain) -> Spot:
    """A joint by its joiner, or by the part that stays where it is: a module, a cassette."""
    if joint.via is not None:
        piece, position = joint.via.piece, joint.via.position
    else:
        stays = [s for s in (joint.left, joint.right) if s is not None and not s.traits.line]
        standing = stays[0] if stays else _first(joint)
        piece, position = standing.piece, standing.position
    return Spot(joint.at, _share(chain, position), called(chain.link, piece))


def _first(joint: Joint) -> Standing:
    found = joint.left or joint.right
    assert found is not None  # a joint has a part on one side at least
    return found


def _share(chain: Chain, position: int) -> float:
    return position / max(1, len(chain.places) - 1)


def _fault(put: Put, share: float, findings: Sequence[Finding], chain: Chain, now: Situation) -> HiddenFault:
    kind, spot = put.kind, put.spot
    where = {"end": f" at {spot.words}", "joint": f" at {spot.words}", "line": f" in {spot.words}", "panel": ""}
    words = kind.words.replace(" at this end", "")
    words += where.get(kind.at, "") if kind.at != "panel" else f", at {spot.words}"
    if kind.way:
        words += f", towards {_end_words(chain, put.receiver)}"
    return HiddenFault(
        name=put.name,
        code=kind.code,
        words=words,
        at=spot.at or _where(kind, chain),
        end=put.receiver or spot.end,
        prior=kind.prior * share * _likelier(put, findings),
        cure_min=kind.cure_min + _presence(kind.where, spot, now),
    )


def _where(kind: FaultKind, chain: Chain) -> tuple[str, ...]:
    """The pieces of a fault that sits at no single one: clips that turn by hand, ports that are set, modules."""
    if kind.code == "pair crossed":
        found = tuple(p.id for p in chain.parts if p.traits.turns_by_hand and not p.traits.fixed)
    elif kind.where == "box":
        found = tuple(part.id for part in chain.sockets)
    else:
        found = ()
    return found or tuple(end.id for end in chain.ends)


def _end_words(chain: Chain, end: str) -> str:
    standing = chain.ends[0] if end == "left" else chain.ends[-1]
    return place_at(chain.link, standing.piece) or f"the {end} end"


def _likelier(put: Put, findings: Sequence[Finding]) -> float:
    """What the plan's own findings make of a prior."""
    same = [
        finding
        for finding in findings
        if finding.severity in (Severity.FAIL, Severity.DAMAGE, Severity.CAUTION)
        and finding.code.startswith(put.kind.findings)
    ]
    if not put.kind.findings or not same:
        return 1.0
    here = not put.spot.at or any(set(put.spot.at) & set(finding.at) for finding in same)
    return FOUND_HERE if here else FOUND_ELSEWHERE


def _spots(sign: SignKind, chain: Chain) -> Iterator[Spot]:
    if sign.side == "each":
        yield from _ends(chain)
    elif sign.side == "once":
        yield Spot((), 0.5, "the link")
    else:
        yield from _places(sign.side, chain)


def _look(sign: SignKind, spot: Spot, now: Situation, figures: TurnUpFigures, bright: frozenset[str]) -> LinkLook:
    lacks = tuple(tool for tool in sign.tools if not (now.spares if tool == SPARE_MODULE else tool in now.tools))
    minutes = sign.minutes + _presence(sign.where, spot, now)
    if lacks:  # it has to be fetched
        minutes += figures.costs.trip_min
    if sign.people > now.people:
        minutes += figures.costs.second_person_min + now.travel_min
    name = " · ".join(
        one for one in (sign.code, "+".join(sorted(spot.at)) if sign.side != "each" else spot.end) if one
    )
    asks = sign.asks.replace("{end}", spot.words).replace("{piece}", spot.words)
    if sign.code in ("near loop", "far loop") and spot.end in bright:
        asks = asks.replace("with a short cord", "with a short cord and an attenuator").replace(
            "Join the two strands", "With an attenuator, join the two strands"
        )
    return LinkLook(
        name=name,
        sign=sign.code,
        asks=asks,
        outcomes=sign.outcomes,
        minutes=minutes,
        at=spot.at,
        end=spot.end,
        caution=CAUTIONS.get(sign.caution, ""),
        lacks=lacks,
    )


def _bright(chain: Chain, catalog: Catalog) -> frozenset[str]:
    """The ends whose module sends more than it takes: a loop without an attenuator blinds or damages it."""
    found = set[str]()
    for side, end in zip(("left", "right"), (chain.ends[0], chain.ends[-1]), strict=True):
        if end.traits.optics is not None:
            application = catalog.application(end.traits.optics.application)
            if application.tx_power_dbm.max > application.rx_power_dbm.overload:
                found.add(side)
    return frozenset(found)


def _presence(where: SignPlace, spot: Spot, now: Situation) -> float:
    """Minutes on the way before a look or a cure can begin."""

    def to(end: Here) -> float:
        return 0.0 if now.here == end else now.travel_min

    nearest: End = "left" if spot.position <= 0.5 else "right"
    match where:
        case "desk":
            return 0.0
        case "box":
            wanted: tuple[End, ...] = (spot.end,) if spot.end else ("left", "right")
            reads = {"left": now.reads_left, "right": now.reads_right}
            return sum(0.0 if reads[end] else to(end) for end in wanted)
        case "end":
            return to(spot.end) if spot.end else 0.0 if now.here != "away" else now.travel_min
        case "other end":
            return to("right" if spot.end == "left" else "left")
        case "both ends":
            return now.travel_min
        case _:
            inside = min(spot.position, 1 - spot.position)
            return to(nearest) + inside * now.travel_min


_UNPLUGS = frozenset({"near loop", "far loop", "flip", "faces", "spare", "visible", "seat"})
"""Looks at which a cord is pulled or a module drawn."""
_ALIVE = ("box", "port")
"""Whether a port is alive at all."""


def alive_first(ranked: Sequence[NextLook], case: LinkCase, seen: Sequence[Answer]) -> tuple[NextLook, ...]:
    """The looks as they are ranked, but whether a port is alive comes before a cord is pulled there.

    Only where that is not known, and where the first look is one that unplugs.
    """
    looks = {one.name: one for one in case.looks}
    first = looks.get(ranked[0].test) if ranked else None
    if first is None or first.sign not in _UNPLUGS:
        return tuple(ranked)
    known = {one.test for one in seen}
    before = [
        one
        for one in ranked
        if one.test not in known
        and (look := looks.get(one.test)) is not None
        and look.sign in _ALIVE
        and first.end in ("", look.end)
    ]
    return (*before, *(one for one in ranked if one not in before))

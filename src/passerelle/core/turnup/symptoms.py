"""What was read from the boxes, as answers of a diagnosis: nobody is asked what is known already."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Literal

from passerelle.core.turned_up import PortSeen
from passerelle.core.turnup.belief import Answer
from passerelle.core.turnup.compared import Difference, lane_stands, names_in
from passerelle.core.turnup.handover import TurnUp
from passerelle.core.turnup.hidden import LinkCase

End = Literal["left", "right"]


def read_answers(told: TurnUp, case: LinkCase) -> list[Answer]:
    """The looks of a case that follow from what the ports of a link were seen to do."""
    known = {look.name: look.outcomes for look in case.looks}
    found = [answer for seen in told.seen.values() for answer in _at(told, seen)]
    if any(seen.oper == "down" for seen in told.seen.values()):
        found.append(Answer(test="symptom", outcome="dark"))
    return [one for one in found if one.outcome in known.get(one.test, {})]


def _at(told: TurnUp, seen: PortSeen) -> Iterator[Answer]:
    end, codes = seen.end, {one.code for one in told.differences if one.end == seen.end}
    if seen.by == "box":
        yield Answer(test=f"box · {end}", outcome="answers")
    if light := _light(told, seen):
        yield Answer(test=f"rx · {end}", outcome=light)
    if any(lane.tx_off for lane in seen.lanes):
        yield Answer(test=f"tx · {end}", outcome="off")
    elif any(lane.tx_dbm is not None for lane in seen.lanes):
        yield Answer(test=f"tx · {end}", outcome="on")
    if seen.admin:
        yield Answer(test=f"port · {end}", outcome="open" if seen.admin == "up" else "shut")
    if seen.accepted is not None:
        yield Answer(test=f"module · {end}", outcome="accepted" if seen.accepted else "refused")
    if names_in(seen.module):  # words that name no application say neither
        yield Answer(test=f"identity · {end}", outcome="other" if "module.other" in codes else "planned")
    if seen.oper == "up" and seen.neighbor:
        yield Answer(test=f"neighbor · {end}", outcome="other" if _elsewhere(told.differences, end) else "planned")
    elif seen.oper == "down":
        yield Answer(test=f"neighbor · {end}", outcome="none")


def _elsewhere(found: tuple[Difference, ...], end: End) -> bool:
    return any(one.code == "neighbor.other" and one.end == end for one in found)


def _light(told: TurnUp, seen: PortSeen) -> str:
    """The worst lane: too much, none, too little, or normal; empty while nobody read it."""
    stood = [one.rx for one in lane_stands(seen, told.windows)]
    for stand, outcome in (("damage", "high"), ("high", "high"), ("dark", "dark"), ("low", "low")):
        if stand in stood:
            return outcome
    return "normal" if {"normal", "above"} & set(stood) else ""

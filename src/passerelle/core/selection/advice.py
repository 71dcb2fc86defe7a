"""What to say beside an answer: the speed that people get, what to do before a box leaves, what to fall back on."""

from __future__ import annotations

from passerelle.core.catalog.shelves import load_catalog
from passerelle.core.parts.kinds.array_cord import ArrayCord
from passerelle.core.parts.kinds.attenuator import Attenuator
from passerelle.core.parts.kinds.cord import Cord
from passerelle.core.parts.kinds.run import Run
from passerelle.core.parts.kinds.trunk import Trunk
from passerelle.core.rules.air import mildest_class
from passerelle.core.rules.port import NATIVE
from passerelle.core.selection.drafts import Draft
from passerelle.core.selection.several import CONVERTER
from passerelle.core.selection.wish import PortWish, Question
from passerelle.core.sources import Frozen
from passerelle.core.units import format_rate

RADIO = (
    "A radio link can be a fallback where there is a line of sight: it does not replace the fiber's speed, and "
    "weather, interference and a mast at each end come with it."
)
SECOND_CARRIER = (
    "A second carrier can be a fallback: it does not replace a way of its own unless its cable shares no duct and "
    "no entry with this one. Ask for its way on paper."
)
SPLITTABLE = ("Q", "CFP")
"""How the names of cages begin whose ports may be split."""
DIVERSE = "One link is one way: plan a second, diverse one under Layout, Routes."


def bottleneck(draft: Draft, question: Question) -> tuple[int, str]:
    """The speed in Mb/s that people get, and the slowest piece of the path that decides it."""
    pieces = [(draft.speed_mbps, "the link")]
    if draft.kind == "aggregated":
        pieces.append((draft.one_flow_mbps, "one member, for a single conversation"))
    if draft.kind == "converter":
        pieces.append((draft.speed_mbps, "the converter and the link behind it"))
    for wish, place in ((question.near, question.from_place), (question.far, question.to_place)):
        if wish.uplink_mbps is not None:
            pieces.append((wish.uplink_mbps, f"the uplink of the box at {place}"))
    slowest = min(rate for rate, _ in pieces)
    named = [words for rate, words in pieces if rate == slowest]
    return slowest, named[-1] if draft.kind == "converter" and len(named) > 1 else named[0]


def steps(draft: Draft, question: Question) -> tuple[str, ...]:
    """What must happen while a box can still be reached, before it leaves for its place."""
    rate = format_rate(draft.one_flow_mbps)
    found: list[str] = []
    for wish, place in ((question.near, question.from_place), (question.far, question.to_place)):
        split = draft.kind == "split port" and wish.cage.startswith("Q")
        negotiates = draft.medium == "twisted pair" and wish.cage in ("", NATIVE)
        found += _at_port(wish, place, draft, rate, negotiates or split, question.at_hand)
    if draft.kind == "split port":
        found.append(f"Set the fast port to {rate} legs: all of the port changes at once.")
        found.append("See in the papers of the box that this port can be split, and which neighbor it shuts.")
    found += _array_steps(draft)
    if draft.kind == "aggregated":
        found.append(
            f"Set up aggregation of {draft.count} members at both ends before the second plug goes in: "
            "until then they are a loop. Members in one cable are cut together."
        )
    if draft.kind == "converter":
        box = CONVERTER if CONVERTER in draft.key else "small switch"
        found.append(
            f"The {box} needs power at its place: mains work is an electrician's. "
            + (
                "It has one speed and cannot be set; let the port beside it negotiate or fix it to the same."
                if box == CONVERTER
                else "Set its cage's speed, and its name and address, before it leaves."
            )
        )
    link = draft.links[0]
    if any(isinstance(e, Cord) and e.offset_launch for e in link.elements):
        found.append(
            "Order two offset-launch (mode-conditioning) cords, one at each end, with the single-mode leg on the "
            "transmitter: the clause asks for them at any length."
        )
    pads = [e for e in link.elements if isinstance(e, Attenuator)]
    if pads:
        found.append(
            f"Fit the {pads[0].value_db:g} dB attenuators before the second plug goes in: without them the "
            "receiver is blinded. Laser light is invisible: never look into a fiber or a port."
        )
    runs = [e for e in link.elements if isinstance(e, Run)]
    if any(run.spaces and not run.construction for run in runs):
        found.append(
            f"No one cable is made for all of {', '.join(runs[0].spaces)}: change from one to another at the entry."
        )
    return tuple(found)


def _array_steps(draft: Draft) -> list[str]:
    """What is ordered and written on an array trunk and its cords."""
    trunks = [e for e in draft.links[0].elements if isinstance(e, Trunk)]
    cords = [e.wiring for e in draft.links[0].elements if isinstance(e, ArrayCord)]
    if not trunks:
        return []
    pins = {"pins": "with pins", "holes": "without pins", "unknown": "pins to be looked up"}[trunks[0].left_pins]
    if not draft.new_cable:
        return [
            f"Look at both ends of the trunk with a scope before anything is ordered: this counts on one that is "
            f"{trunks[0].wiring}, {pins}. If it is otherwise, set it on its piece and look at the verdict again."
        ]
    told = f"The trunk is {trunks[0].wiring}, {pins} at both ends"
    told += f"; array cords without pins, {' and '.join(dict.fromkeys(cords))}" if cords else ""
    return [f"{told}: write it on the order and on the label, one position turned leaves all of it dark."]


def _at_port(
    wish: PortWish, place: str, draft: Draft, rate: str, finds_it: bool, at_hand: tuple[str, ...]
) -> list[str]:
    found: list[str] = []
    slower = len(wish.rates_mbps) > 1 and draft.one_flow_mbps < max(wish.rates_mbps)
    if slower and not finds_it:
        found.append(
            f"At {place}: set the port to {rate} and switch off negotiation; a slower module is not found."
        )
    above = wish.coding_policy == "own above a rate" and draft.one_flow_mbps > wish.own_above_mbps
    if (wish.coding_policy == "own only" or above) and wish.make:
        found.append(f"At {place}: order the module coded {wish.make}.")
        if draft.application in at_hand:
            found.append(f"At {place}: a module at hand counts only if it is coded {wish.make}; look at its label.")
    if wish.coding_policy == "override":
        found.append(
            f"At {place}: make the override setting for modules of other makes while the box can be reached."
        )
    if wish.coding_policy == "any, telemetry lost":
        found.append(f"At {place}: the port will not read received power; take a meter along.")
    needed = mildest_class(wish.coldest_c, wish.hottest_c, load_catalog())
    if needed not in ("unknown", "commercial"):
        found.append(f"At {place}: order modules and boxes of the {needed} class; an office box does not stand it.")
    if wish.water != "dry" or wish.dusty:
        found.append(f"At {place}: the box goes into a cabinet that stands the water and dust there.")
    return found


class Asked(Frozen):
    """An input that is missed: its field in the question, such as ``near.make``, and what to say there."""

    field: str
    words: str


def asks(question: Question) -> tuple[Asked, ...]:
    """What has to be said before an answer can be judged, where it is missed."""
    found = []
    for side, wish, place in (
        ("near", question.near, question.from_place),
        ("far", question.far, question.to_place),
    ):
        insists = wish.coding_policy == "own only" or (
            wish.coding_policy == "own above a rate" and question.rate_mbps > wish.own_above_mbps
        )
        if question.hosts > 1 and wish.cage.startswith(SPLITTABLE) and not wish.splits:
            words = f"Say into how many the port at {place} can be split: its papers tell, many cannot."
            found.append(Asked(field=f"{side}.splits", words=words))
        if insists and not wish.make:
            words = f"The port at {place} takes modules of its own make only: say which make, to order them so."
            found.append(Asked(field=f"{side}.make", words=words))
    return tuple(found)


def fallbacks(question: Question) -> tuple[str, ...]:
    """What could stand in when the link is down, where an outage matters, and what it does not replace.

    Nothing is advised for want of an answer: what is missed or absent then is told instead.
    """
    return (DIVERSE, RADIO, SECOND_CARRIER) if question.outage_matters else ()

"""Whether each transmitter ends on a receiver, in which order, and what a wrong order is called."""

from __future__ import annotations

from collections.abc import Sequence

from passerelle.core.findings import Finding, Rule
from passerelle.core.link.compose import Chain, Joiner, Standing
from passerelle.core.parts.face import Face
from passerelle.core.parts.part import Optics, Spot
from passerelle.core.polarity.trace import Lane, entered_at, turns
from passerelle.core.sources import Source

POLARITY_DARK = Rule("polarity.dark", "match")
POLARITY_ORDER = Rule("polarity.order", "match")
POLARITY_LEG = Rule("polarity.leg", "match")

GEOMETRY = Source(
    body="TIA",
    document="TIA-568.3-D",
    clause="duplex polarity",
    note="by composition of positions A and B along the chain",
)
ARRAYS = Source(
    body="TIA",
    document="TIA-568.3-D",
    clause="array polarity",
    note="by composition of the positions along the chain",
)
REORDERED = Source(
    body="IEEE",
    document="802.3-2022",
    clause="Clauses 82 and 119",
    note="the receiver finds each lane by its marker, wherever it arrives",
)


def polarity_findings(chain: Chain, lanes: tuple[Lane, ...]) -> list[Finding]:
    """What is said of a trace: a link that stays dark, a leg that is another one, lanes in another order."""
    if not lanes:
        return []
    if all(lane.lights for lane in lanes):
        return _order(chain, lanes)
    if any(part.left.is_array or part.right.is_array for part in chain.parts):
        return [_dark_array(chain, lanes)]
    return [_dark_pair(chain, lanes)]


def _dark_pair(chain: Chain, lanes: tuple[Lane, ...]) -> Finding:
    turning = turns(chain)
    return POLARITY_DARK.fail(
        tuple(dict.fromkeys(lane.sender for lane in lanes)),
        "Each transmitter faces the other transmitter: the link stays dark.",
        f"{len(turning)} crossings between the modules ({', '.join(_name(p) for p in turning) or 'none'}); "
        "an odd number is needed for transmit to end on receive. Adapters with aligned keys cross too.",
        GEOMETRY,
    ).of(crossings=len(turning))


def _name(place: Standing | Joiner) -> str:
    return place.piece.label or (place.mating.word if isinstance(place, Joiner) else place.word)


def _dark_array(chain: Chain, lanes: tuple[Lane, ...]) -> Finding:
    first = lanes[0].sender
    there = [lane for lane in lanes if lane.sender == first]
    ends = {end.id: end for end in chain.ends}
    receiver = ends[there[0].receiver]
    heard = sum(lane.lights for lane in lanes)
    named = pattern(there, receiver)
    dark = [lane for lane in lanes if not lane.lights]
    lost = tuple(dict.fromkeys(lane.lost_at for lane in dark if lane.lost_at))
    one_way = [lane for lane in dark if lane.sender == dark[0].sender]
    told = "; ".join(_told(lane, _stray(chain, lane)) for lane in one_way[:4]) + (" …" if len(one_way) > 4 else "")
    count = f"{heard} of {len(lanes)} transmitters end" if heard else "No transmitter ends"
    at = tuple(dict.fromkeys((*lost[:1], *(lane.sender for lane in dark))))
    if _is_leg(chain, lost):
        return POLARITY_LEG.fail(
            at,
            "The leg is another one than the port counts here.",
            f"The port's leg does not come out at the leg that this link takes: {told}. A host on another leg "
            "answers on another port.",
            ARRAYS,
        ).of(pattern=named)
    return POLARITY_DARK.fail(
        at, f"{count} on a receiver: {named}.", f"By position: {told}. The link stays dark.", ARRAYS
    ).of(pattern=named, lit=heard)


def _is_leg(chain: Chain, lost: tuple[str, ...]) -> bool:
    """Whether light is lost because a numbered leg of a split port goes out at another number."""
    numbered = any(end.traits.optics and end.traits.optics.leg for end in chain.ends)
    branches = [part.id for part in chain.parts if len(part.part.faces) > 2]
    return numbered and bool(set(lost) & set(branches))


def _stray(chain: Chain, lane: Lane) -> str:
    """The other face of a part at which a lane that is lost there comes out, in words."""
    part = next((one for one in chain.parts if one.id == lane.lost_at), None)
    if part is None or len(part.part.faces) < 3:
        return ""
    rightward = chain.link.index(lane.sender) < chain.link.index(lane.receiver)
    entered = part.enter if rightward else part.leave
    at = entered_at(chain, lane)
    outs = {
        end.face for path in part.part.paths for end in (path.a, path.b) if Spot(entered, at) in (path.a, path.b)
    }
    out = outs - {entered}
    return f": it comes out at {out.pop()} of the {part.word}" if out else ""


def _told(lane: Lane, stray: str) -> str:
    if lane.ends is None:
        return f"lane {lane.number} from {lane.start} is lost{stray}"
    return f"lane {lane.number} from {lane.start} ends on {lane.ends}"


def pattern(lanes: Sequence[Lane], receiver: Standing) -> str:
    """What the error of some lanes of one direction is called."""
    optics = receiver.traits.optics
    assert optics is not None  # only such parts are ends
    ends = [lane.ends for lane in lanes]
    if None in ends:
        return "all lanes lead to empty positions" if not any(ends) else "some lanes lead to empty positions"
    wanted = _wanted(optics, ends)
    found = [end for end in ends if end is not None]
    return named(found, wanted, receiver.left if receiver.left.is_array else receiver.right, optics.sends)


def _wanted(optics: Optics, ends: list[int | None]) -> tuple[int, ...]:
    groups = optics.groups
    return max((hears for _, hears in groups), key=lambda hears: len(set(hears) & set(ends)))


def named(ends: Sequence[int], wanted: Sequence[int], face: Face, sends: Sequence[int]) -> str:
    """The name of a wrong order of positions.

    >>> named([9, 10, 11, 12], [12, 11, 10, 9], Face("opening", "MPO", columns=12), [1, 2, 3, 4])
    'lanes in reverse order'
    >>> named([1, 2, 3, 4], [12, 11, 10, 9], Face("opening", "MPO", columns=12), [1, 2, 3, 4])
    'transmit meets transmit'
    """
    pairs = list(zip(ends, wanted, strict=False))
    apart = {end - want for end, want in pairs}
    if list(ends) == list(wanted)[::-1] and len(ends) > 1:
        return "lanes in reverse order"
    if set(ends) <= set(sends):
        return "transmit meets transmit"
    if all(end == (want + 1 if want % 2 else want - 1) for end, want in pairs):
        return "pairs swapped"
    if face.rows > 1 and {abs(step) for step in apart} == {face.columns}:
        return "one row off"
    rows = {(end - 1) // face.columns - (want - 1) // face.columns for end, want in pairs}
    if face.rows > 1 and 0 not in rows:
        return "one row off, and in another order"
    if len(apart) == 1 and 0 not in apart:
        return f"all positions shifted by {abs(apart.pop())}"
    if set(ends) == set(wanted):
        return "lanes in another order"
    return "lanes at positions where nothing listens" if not set(ends) & set(wanted) else "some lanes out of place"


def _order(chain: Chain, lanes: tuple[Lane, ...]) -> list[Finding]:
    """Lanes that all light and arrive in another order: a note where the application puts them in order itself."""
    moved = [lane for lane in lanes if lane.heard_as != lane.number]
    if not moved:
        return []
    ends = {end.id: end for end in chain.ends}
    there = [lane for lane in lanes if lane.sender == moved[0].sender]
    name = pattern(there, ends[moved[0].receiver])
    at = tuple(dict.fromkeys(lane.receiver for lane in moved))
    told = "; ".join(f"lane {lane.number} arrives as {lane.heard_as}" for lane in moved[:4])
    if all(end.traits.optics and end.traits.optics.reorders for end in chain.ends):
        return [
            POLARITY_ORDER.note(
                at,
                f"All lanes light, {name}: the application puts them in order itself.",
                f"{told}. Each lane carries its own marker.",
                REORDERED,
            ).of(pattern=name)
        ]
    return [
        POLARITY_ORDER.fail(
            at,
            f"All lanes light, {name}, and nothing puts them in order.",
            f"{told}. Each lane is a port of its own here.",
            ARRAYS,
        ).of(pattern=name)
    ]

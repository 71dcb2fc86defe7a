"""What a look would show under a fault: shares of its outcomes, by the signs of the fault and by where both are."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Literal

from passerelle.core.catalog.turnup_figures import FaultKind, Outcomes, Shares, SignKind
from passerelle.core.turnup.belief import Look

End = Literal["left", "right"]


@dataclass(frozen=True)
class Spot:
    """Where something sits: pieces, their place in the chain between 0 and 1, an end or none.

    ``exposure`` is how much of it there is to be hurt, in m of cable in a duct; ``movable`` a cord, ``open`` where
    light that leaks is seen.
    """

    at: tuple[str, ...]
    position: float
    words: str
    end: End | Literal[""] = ""
    exposure: float = 1.0
    movable: bool = False
    open: bool = True


@dataclass(frozen=True)
class Put:
    """A fault kind in a spot."""

    kind: FaultKind
    spot: Spot
    receiver: End | Literal[""] = ""

    @property
    def name(self) -> str:
        """Its kind, its pieces and its direction."""
        end = self.receiver or self.spot.end
        return " · ".join(one for one in (self.kind.code, "+".join(sorted(self.spot.at)), end) if one)


def wears(put: Put) -> bool:
    """Whether a fault comes of work near a cable, so that each meter of it is as likely."""
    return put.kind.at == "line" and "cable" in put.kind.touched


def look_of(
    sign: SignKind,
    spot: Spot,
    name: str,
    minutes: float,
    outcomes_of: Mapping[str, str],
    puts: Sequence[Put],
    far: float,
) -> Look:
    """A look with how likely its outcomes are under each fault; ``far`` is how surely light is seen so far."""
    outcomes: dict[str, dict[str, float]] = {outcome: {} for outcome in outcomes_of}
    for put in puts:
        shown = _shown(sign, spot, put)
        if sign.code == "visible":
            shown = _seen_so_far(shown, put, far, one_strand="one" not in outcomes_of)
        for outcome, share in shown.items():
            outcomes[outcome][put.name] = share
    for shares in outcomes.values():
        for put in puts:
            shares.setdefault(put.name, 0.0)
    return Look(name=name, minutes=minutes, outcomes=outcomes)


def _seen_so_far(shown: Shares, put: Put, far: float, *, one_strand: bool) -> Shares:
    """What a visible source shows on this length: beyond its reach nothing, whatever is wrong.

    A leak is seen in cords, and indoors where cable lies open: elsewhere its light is gone, or comes out all the
    same.
    """
    found = dict(shown)
    if one_strand and "one" in found:
        found["nowhere"] = found.get("nowhere", 0.0) + found.pop("one")
    if not put.spot.open and "leaks" in found:
        gone = "planned" if "planned" in found else "nowhere"
        found[gone] = found.get(gone, 0.0) + found.pop("leaks")
    seen = {outcome: share * far for outcome, share in found.items()}
    seen["nowhere"] = seen.get("nowhere", 0.0) + 1 - far
    return seen


def _shown(sign: SignKind, spot: Spot, put: Put) -> Shares:
    """What a look would show if this fault were there, as shares."""
    if sign.code == "worked":
        both = put.kind.new + put.kind.old
        return {"never": put.kind.new / both, "before": put.kind.old / both}
    if sign.code == "touched":
        factors = dict(put.kind.touched)
        if wears(put):  # work near the cable hurts no cord, and hands at a panel no cable
            factors.pop("cable" if put.spot.movable else "cords", None)
        weighed = {what: share * factors.get(what, 1.0) for what, share in sign.usual.items()}
        return {what: share / sum(weighed.values()) for what, share in weighed.items()}
    if sign.code == "live":
        return _lit(spot, put)
    if sign.side in ("line", "joint"):
        here = put.kind.here if set(spot.at) == set(put.spot.at) else {}
        return _shares(here, sign)
    if sign.side == "once":
        return _shares(put.kind.once, sign)
    own = put.receiver or put.spot.end or "left"
    return _shares(put.kind.own if spot.end == own else put.kind.other, sign)


def _shares(said: Outcomes, sign: SignKind) -> Shares:
    found = said.get(sign.code)
    if found is None:
        return sign.usual
    return {found: 1.0} if isinstance(found, str) else found


def _lit(spot: Spot, put: Put) -> Shares:
    """What a live-fiber identifier shows at a line: each strand is lit from its sender up to where it stops."""
    lit = {"left": 1.0, "right": 1.0}  # by the end that receives the strand
    for receiver in ("left", "right"):
        if _sends_not(put, "right" if receiver == "left" else "left"):
            lit[receiver] = 0.0
            continue
        if put.kind.code not in ("cut", "one strand broken", "plug not seated"):
            continue
        if put.receiver and put.receiver != receiver:
            continue
        before = spot.position < put.spot.position if receiver == "right" else spot.position > put.spot.position
        lit[receiver] = 0.5 if spot.position == put.spot.position else 1.0 if before else 0.0
    both, none = lit["left"] * lit["right"], (1 - lit["left"]) * (1 - lit["right"])
    return {"both": both, "none": none, "one": 1 - both - none}


def _sends_not(put: Put, end: str) -> bool:
    """Whether the module of an end sends no light under a fault at that end."""
    return put.spot.end == end and put.kind.own.get("tx") is not None

"""What a crew would see at a dark link of the true network: the answers to the looks of a diagnosis.

Light, loops and link lights follow from the true network; what a hand or an eye finds at a piece follows from what
is really wrong there. Nothing here knows a likelihood.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Literal

from passerelle.core.link.compose import Chain
from passerelle.core.turnup.hidden import LinkLook
from passerelle.core.turnup.windows import Stand, Window, stands
from passerelle.standins.network import ENDS, End, TrueNetwork
from passerelle.standins.truth import Fault

_WORST: tuple[Stand, ...] = ("damage", "high", "dark", "low", "above", "normal")
_AS_OUTCOME = {"damage": "high", "above": "normal", "unknown": "normal"}
_NO_LINK = ("blocked by the tree", "VLAN or frame size", "loop")


@dataclass(frozen=True)
class Crew:
    """A crew at a link: its true network, the chain that they hold against it, and the windows of the plan."""

    network: TrueNetwork
    link: str
    chain: Chain
    windows: tuple[Window, ...]

    def sees(self, look: LinkLook) -> str:
        """The outcome of a look."""
        by_sign: dict[str, Callable[[LinkLook], str]] = {
            "symptom": self._symptom,
            "worked": lambda _look: "never",
            "touched": lambda _look: "nothing",
            "box": lambda look: "answers" if self.network.answers(self.link, _end(look)) else "silent",
            "rx": lambda look: self.light(_end(look)),
            "tx": lambda look: "off" if self.network.sends_dbm(self.link, _end(look)) is None else "on",
            "port": lambda look: "shut" if self._has("port shut", _end(look)) else "open",
            "module": lambda look: "refused" if self._has("port refused the coding", _end(look)) else "accepted",
            "identity": self._identity,
            "settings": lambda _look: "unlike" if self._has("settings unlike") else "alike",
            "neighbor": self._neighbor,
            "tree": lambda _look: "blocks" if self._has("blocked by the tree") else "forwards",
            "frames": self._frames,
            "lanes": self._lanes,
            "near loop": self._near_loop,
            "far loop": self._far_loop,
            "flip": lambda _look: "up" if self._has("swapped pair") else "still",
            "visible": self._visible,
            "live": self._live,
            "seat": lambda look: "loose" if self._at(look, "plug not seated") else "seated",
            "faces": lambda look: "dirty" if self._at(look, "dirty face") else "clean",
            "colors": self._colors,
            "spare": self._spare,
            "trace": self._trace,
        }
        return by_sign[look.sign](look)

    def light(self, end: End) -> str:
        """What the module of an end receives, against its window."""
        window = next(one for one in self.windows if one.end == end and one.quantity == "rx power")
        stood = [stands(window, lane.rx_dbm) for lane in self.network.lanes(self.link, end)]
        worst = next((one for one in _WORST if one in stood), "normal")
        return _AS_OUTCOME.get(worst, worst)

    def _has(self, kind: str, end: End | None = None) -> bool:
        return self.network.has(self.link, kind, end)

    def _faults(self) -> list[Fault]:
        return [fault for fault in self.network.hidden if fault.link == self.link]

    def _at(self, look: LinkLook, kind: str) -> bool:
        return any(fault.kind == kind and fault.element in look.at for fault in self._faults())

    def _symptom(self, _look: LinkLook) -> str:
        if not self.network.up(self.link):
            return "dark"
        return "silent" if any(self._has(kind) for kind in _NO_LINK) else "errors"

    def _identity(self, look: LinkLook) -> str:
        other = any(f.kind in ("wrong module", "wrong side") and f.end == look.end for f in self._faults())
        return "other" if other else "planned"

    def _neighbor(self, look: LinkLook) -> str:
        if self._has("wrong port"):
            return "other" if self._has("wrong port", _end(look)) else "none"
        return "planned" if self.network.up(self.link) else "none"

    def _frames(self, _look: LinkLook) -> str:
        if self._has("loop"):
            return "storm"
        return "part" if self._has("VLAN or frame size") else "all" if self.network.passes(self.link) else "none"

    def _lanes(self, _look: LinkLook) -> str:
        dark = [sum(lane.rx_dbm is None for lane in self.network.lanes(self.link, end)) for end in ENDS]
        count = len(self.network.lanes_of(self.link))
        return "all" if not any(dark) else "none" if max(dark) == count else "one"

    def _near_loop(self, look: LinkLook) -> str:
        """The module's own light, on its own receiver."""
        end = _end(look)
        if self.network.sends_dbm(self.link, end) is None or self._has("dead receiver", end):
            return "dark"
        return "light" if self._has("port refused the coding", end) else "up"

    def _far_loop(self, look: LinkLook) -> str:
        """The light of an end, there and back."""
        end = _end(look)
        sent = self.network.sends_dbm(self.link, end)
        application = self.network.application(self.link, end)
        if sent is None or application is None or self._has("dead receiver", end) or self._has("wrong port", end):
            return "dark"
        stops = ("strands swapped", "plug not seated", "cut", "broken")
        if any(self._has(kind) for kind in stops):
            return "dark"
        there_and_back = sum(self.network.loss_db(self.link, way) for way in ("right", "left"))
        if self._has("swapped pair"):  # both strands of the pair are there: the loop closes all the same
            return "returns"
        return "low" if sent - there_and_back < application.rx_power_dbm.sensitivity - 6 else "returns"

    def _trace(self, _look: LinkLook) -> str:
        if any(self._has(kind) for kind in ("cut", "broken", "plug not seated")):
            return "ends"
        return "loss" if any(self._has(kind) for kind in ("dirty face", "bend")) else "whole"

    def _visible(self, _look: LinkLook) -> str:
        if any(self._has(kind) for kind in ("strands swapped", "wrong port", "swapped pair")):
            return "swapped"
        if self._has("cut"):
            return "nowhere"
        if self._has("broken") or self._has("one lane dark"):
            return "one"
        if self._has("plug not seated"):
            return "nowhere"
        return "leaks" if self._has("bend") else "planned"

    def _live(self, look: LinkLook) -> str:
        """Each strand is lit from its sender up to where it stops."""
        here = self._place(look.at[0])
        lit = 0
        for receiver in ENDS:
            sender: End = "right" if receiver == "left" else "left"
            if self.network.sends_dbm(self.link, sender) is None:
                continue
            stops = [self._place(f.element) for f in self._faults() if _stops(f, receiver)]
            beyond = [here > stop if receiver == "right" else here < stop for stop in stops]
            lit += 0 if any(beyond) else 1
        return {0: "none", 1: "one", 2: "both"}[lit]

    def _place(self, element: str) -> int:
        return next((place.position for place in self.chain.places if place.id == element), 0)

    def _colors(self, _look: LinkLook) -> str:
        dark = ("cut", "broken", "strands swapped", "plug not seated")
        if any(self._has(kind) for kind in dark):
            return "nothing"
        if self._has("bend"):
            return "longer"
        return "both" if self._has("dirty face") or self._has("wrong mode or core") else "neither"

    def _spare(self, look: LinkLook) -> str:
        kinds = ("wrong module", "wrong side", "dead transmitter", "dead receiver")
        return "up" if any(self._has(kind, _end(look)) for kind in kinds) else "still"


def _end(look: LinkLook) -> Literal["left", "right"]:
    return "right" if look.end == "right" else "left"


def _stops(fault: Fault, receiver: End) -> bool:
    """Whether a fault stops the light that an end should receive."""
    if fault.kind in ("cut", "plug not seated"):
        return True
    return fault.kind == "broken" and fault.end in ("", receiver)

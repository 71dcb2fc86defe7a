"""Simulated bridges that find their tree by telling each other what they know, as IEEE 802.1Q has them do.

Nothing here is shared with the reckoning of the core: every bridge begins as a root of its own and believes the
best that a neighbor tells, round by round, until nobody changes.
"""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import NamedTuple


class Told(NamedTuple):
    """What a bridge tells at a port: the root that it believes in, its cost to it, who it is, and the port."""

    root: tuple[int, int]
    cost: int
    bridge: tuple[int, int]
    port: tuple[int, int]


@dataclass
class SimulatedPort:
    """A port: its number with priority, its cost, the wire that is plugged in (empty for none)."""

    name: str
    number: tuple[int, int]
    cost: int
    wire: str
    role: str = "designated"


@dataclass
class SimulatedBridge:
    """A bridge by its identifier (priority, address)."""

    name: str
    number: tuple[int, int]
    ports: list[SimulatedPort] = field(default_factory=list)
    root: tuple[int, int] = (1 << 20, 0)
    cost: int = 0
    root_port: SimulatedPort | None = None

    def tells(self, port: SimulatedPort) -> Told:
        """What it tells at a port."""
        return Told(self.root, self.cost, self.number, port.number)

    def hears(self, heard: dict[str, Told]) -> bool:
        """Take in what was told at its ports, by port name; says whether it changed its mind."""
        was = (self.root, self.cost, self.root_port)
        self.root, self.cost, self.root_port = self.number, 0, None
        best: tuple[object, ...] | None = None
        for port in self.ports:
            told = heard.get(port.name)
            if told is None or told.bridge == self.number or told.root >= self.number:
                continue
            vector = (told.root, told.cost + port.cost, told.bridge, told.port, port.number)
            if best is None or vector < best:
                best = vector
                self.root, self.cost, self.root_port = told.root, told.cost + port.cost, port
        return was != (self.root, self.cost, self.root_port)

    def settle(self, heard: dict[str, Told]) -> None:
        """Give every port its role."""
        for port in self.ports:
            told = heard.get(port.name)
            if port is self.root_port:
                port.role = "root"
            elif told is None or self.tells(port) < told:
                port.role = "designated"
            else:
                port.role = "backup" if told.bridge == self.number else "alternate"


def converge(bridges: list[SimulatedBridge]) -> None:
    """Let bridges tell each other until nobody changes, then settle the roles of their ports.

    Raises:
        RuntimeError: they do not settle: two have the same identifier.
    """
    for bridge in bridges:
        bridge.root, bridge.cost, bridge.root_port = bridge.number, 0, None
    for _ in range(4 * len(bridges) + 8):
        heard = _heard(bridges)
        changed = [bridge.hears(heard[bridge.name]) for bridge in bridges]
        if not any(changed):
            for bridge in bridges:
                bridge.settle(heard[bridge.name])
            return
    raise RuntimeError("the bridges do not settle: two have the same identifier")


def _heard(bridges: list[SimulatedBridge]) -> dict[str, dict[str, Told]]:
    """What is told at each port, by bridge and port: a wire carries the words of the port at its other end."""
    wires: dict[str, list[tuple[SimulatedBridge, SimulatedPort]]] = {}
    for bridge in bridges:
        for port in bridge.ports:
            if port.wire:
                wires.setdefault(port.wire, []).append((bridge, port))
    found: dict[str, dict[str, Told]] = {bridge.name: {} for bridge in bridges}
    for ends in wires.values():
        if len(ends) == 2:
            (a, a_port), (b, b_port) = ends
            found[a.name][a_port.name] = b.tells(b_port)
            found[b.name][b_port.name] = a.tells(a_port)
    return found

"""Simulated switches and converters over the true network: their objects as SNMP has them, what may be written."""

from __future__ import annotations

import threading
import time
import zlib
from collections.abc import Callable, Sequence
from dataclasses import dataclass, field

from passerelle.core.plant.records import Box
from passerelle.core.turnup.bridges import path_cost
from passerelle.equipment.objects import mau_name, mau_type, oid
from passerelle.standins.agent import Agents, Objects, Oid, Table, Value
from passerelle.standins.network import End, TrueNetwork
from passerelle.standins.spanning import SimulatedBridge, SimulatedPort, converge

COMMUNITY = "port-aubier"
"""The community of the simulated boxes: made up, and of no use anywhere else."""
USER = ("crew", "not-a-real-secret", "nor-is-this-one")
_PORT, _MODULE, _SENSOR = 10, 9, 8
_WATTS, _CELSIUS, _VOLTS, _AMPERES = 6, 8, 4, 5
_NANO, _MILLI, _UNITS = 6, 8, 9
_IF = (1, 3, 6, 1, 2, 1, 2, 2, 1, 1)
BEGUN = time.monotonic()
_CREATE_AND_GO = 4
_ANSWERS_FIRST_S = 0.2
"""A box that cuts itself off has answered before it is gone."""


@dataclass
class SimulatedBox:
    """A box: its ports by number, and whether it is silent, slow, lies or has lost its sensors."""

    row: Box
    network: TrueNetwork
    mood: str = "well"
    tree: dict[str, str] = field(default_factory=dict)
    schedule: dict[str, int | Oid] = field(default_factory=dict)
    hurry: float = 1.0
    on_cut: Callable[[], None] | None = None
    on_back: Callable[[], None] | None = None
    timer: threading.Timer | None = None

    def objects(self) -> Objects:
        """All that it answers with now."""
        found: dict[Oid, Value] = {
            oid("system", "description"): f"simulated {self.row.kind}",
            oid("system", "up_time"): int((time.monotonic() - BEGUN) * 100) + 1,
            oid("system", "name"): self.row.name,
        }
        self._bridge(found)
        for index, port in enumerate(self.row.ports, 1):
            link, end = self.network.end_of.get(port.of, ("", "left"))
            if link:
                self._interface(found, index, port.name, link, end)
                self._module(found, index, port.name, link, end)
        return found

    def _bridge(self, found: dict[Oid, Value]) -> None:
        digits = "".join(c for c in self.row.bridge_address if c in "0123456789abcdefABCDEF")
        if digits:
            found[oid("bridge", "address")] = bytes.fromhex(digits)
        if self.row.protocol in ("RSTP", "STP"):
            found[oid("bridge", "protocol")] = 3
            found[oid("bridge", "version")] = 2 if self.row.protocol == "RSTP" else 0
            found[oid("bridge", "priority")] = self.row.priority
            found[oid("bridge", "path_cost")] = 2

    def _interface(self, found: dict[Oid, Value], index: int, name: str, link: str, end: End) -> None:
        network, setting = self.network, self.network.settings[link, end]
        up = network.up(link)
        found[*oid("interface", "name"), index] = name
        found[*oid("interface", "admin"), index] = 1 if setting.admin == "up" else 2
        found[*oid("interface", "oper"), index] = 1 if up else 2
        found[*oid("interface", "rate_mbps"), index] = setting.rate_mbps if up else 0
        found[*oid("interface", "errors_in"), index] = 0
        found[*oid("interface", "octets_in"), index] = int((time.monotonic() - BEGUN) * 1e5) if up else 0
        application = network.application(link, end)
        kind = mau_type(application.name) if application else None
        if kind:
            found[*oid("mau", "type"), index, 1] = kind
            found[*oid("mau", "default_type"), index, 1] = kind
        found[*oid("mau", "negotiation"), index, 1] = 1 if setting.negotiation else 2
        found[*oid("bridge", "interface"), index] = index
        if name in self.tree:
            blocked = self.tree[name] in ("alternate", "backup")
            found[*oid("bridge", "port_state"), index] = 1 if not up else 2 if blocked else 5
        found[*oid("neighbor", "local_port"), index] = name
        if up:
            self._neighbor(found, index, link, end)

    def _neighbor(self, found: dict[Oid, Value], index: int, link: str, end: End) -> None:
        far: End = "right" if end == "left" else "left"
        for box in self.network.boxes:
            for port in box.ports:
                if self.network.end_of.get(port.of) == (link, far):
                    found[*oid("neighbor", "name"), 0, index, 1] = box.name
                    found[*oid("neighbor", "port"), 0, index, 1] = port.name

    def _module(self, found: dict[Oid, Value], index: int, name: str, link: str, end: End) -> None:
        port, module = 1000 + index, 2000 + index
        found[*oid("entity", "alias"), port, 0] = (*_IF, index)
        _entity(found, port, 0, _PORT, f"port {name}")
        application = self.network.application(link, end)
        if application is None or self.network.has(link, "port refused the coding", end):
            return
        _entity(found, module, port, _MODULE, f"{application.name} module")
        found[*oid("entity", "description"), module] = f"{application.name}, simulated"
        found[*oid("entity", "serial"), module] = f"SM{index:02d}{zlib.crc32(f'{link}{end}'.encode()) % 10_000:04d}"
        if self.mood == "half":
            return
        sensors: list[tuple[str, int, int, int, float]] = [
            ("temperature", _CELSIUS, _UNITS, 1, 38.5),
            ("supply", _VOLTS, _MILLI, 0, 3290),
        ]
        for number, lane in enumerate(self.network.lanes(link, end), 1):
            lied = 2e8 if self.mood == "lies" else None
            sensors.append((f"lane {number} transmit power", _WATTS, _NANO, 1, lied or _nano(lane.tx_dbm)))
            sensors.append((f"lane {number} receive power", _WATTS, _NANO, 1, lied or _nano(lane.rx_dbm)))
            sensors.append((f"lane {number} bias", _AMPERES, _MILLI, 2, 31.2 if lane.tx_dbm is not None else 0.0))
        for number, (words, kind, scale, precision, value) in enumerate(sensors):
            sensor = 10_000 + 100 * index + number
            _entity(found, sensor, module, _SENSOR, words)
            found[*oid("sensor", "type"), sensor] = kind
            found[*oid("sensor", "scale"), sensor] = scale
            found[*oid("sensor", "precision"), sensor] = precision
            found[*oid("sensor", "value"), sensor] = min(2**31 - 1, round(value * 10**precision))
            found[*oid("sensor", "status"), sensor] = 1

    def write(self, at: Oid, value: Value) -> None:
        """Take what is written: a port up or shut, its rate by MAU type, its schedule.

        Raises:
            KeyError: it is read only.
            ValueError: it takes no such value.
        """
        if self._scheduled(at, value):
            return
        for index, port in enumerate(self.row.ports, 1):
            link, end = self.network.end_of.get(port.of, ("", "left"))
            if not link:
                continue
            setting = self.network.settings[link, end]
            if at == (*oid("interface", "admin"), index):
                if value not in (1, 2):
                    raise ValueError(value)
                setting.admin, setting.saved = ("up" if value == 1 else "down"), False
                if value == 1:
                    self.network.cure(link, "port shut")
                elif port.name == self.row.reached_through and self.on_cut:
                    self.on_cut()  # its own way in: nobody hears it from now on
                return
            if at == (*oid("mau", "default_type"), index, 1) and isinstance(value, tuple):
                known = mau_name(value)
                application = self.network.plant.catalog.applications.get(known)
                if application is None:
                    raise ValueError(value)
                setting.rate_mbps, setting.saved = application.rate_mbps, False
                return
        raise KeyError(at)

    def _scheduled(self, at: Oid, value: Value) -> bool:
        """An entry of its schedule (RFC 3231): after so many seconds it sets an object by itself."""
        for name in ("interval", "variable", "value", "type", "row"):
            column = oid("schedule", name)
            if at[: len(column)] != column or isinstance(value, str | bytes):
                continue
            self.schedule[name] = value
            if name == "row":
                self._arm(value == _CREATE_AND_GO)
            return True
        return False

    def _arm(self, set_up: bool) -> None:
        if self.timer is not None:
            self.timer.cancel()
        self.timer = None
        interval, variable = self.schedule.get("interval"), self.schedule.get("variable")
        if set_up and isinstance(interval, int) and isinstance(variable, tuple):
            self.timer = threading.Timer(interval / self.hurry, self._fire, [variable, self.schedule["value"]])
            self.timer.daemon = True
            self.timer.start()

    def _fire(self, variable: Oid, value: int | Oid) -> None:
        self.write(variable, value)
        if self.on_back:
            self.on_back()


def _nano(dbm: float | None) -> float:
    """dBm as nanowatts: nothing is zero."""
    return 0.0 if dbm is None else 10 ** (dbm / 10) * 1e6


def _entity(found: dict[Oid, Value], number: int, within: int, kind: int, name: str) -> None:
    found[*oid("entity", "within"), number] = within
    found[*oid("entity", "class"), number] = kind
    found[*oid("entity", "name"), number] = name


class SimulatedNetwork:
    """All simulated boxes of a plant, each on its port of the loopback."""

    def __init__(self, network: TrueNetwork, rows: Sequence[Box], *, fixed_ports: bool = True) -> None:
        self.network, self.agents = network, Agents()
        self.boxes = {row.id: SimulatedBox(row, network) for row in rows if row.address}
        self.settle()
        try:
            for box in self.boxes.values():
                self._begin(box, int(box.row.address.rpartition(":")[2]) if fixed_ports else 0)
        except OSError:
            self.agents.stop()
            raise

    def _begin(self, box: SimulatedBox, port: int) -> None:
        """On its own port, or on a free one where that is taken."""
        try:
            self._start(box, port)
        except OSError:
            self._start(box, 0)

    def _start(self, box: SimulatedBox, port: int) -> None:
        v3 = box.row.kind == "switch"
        table = Table(box.objects, box.write)
        agent = self.agents.start(box.row.id, port, table, community=COMMUNITY, user=USER if v3 else None)
        at = agent.port
        box.on_cut = lambda: threading.Timer(_ANSWERS_FIRST_S, self.silence, [box.row.id]).start()
        box.on_back = lambda: None if box.row.id in self.agents.agents else self._start(box, at)

    @property
    def addresses(self) -> dict[str, str]:
        """The address of each box by its row."""
        return {name: f"127.0.0.1:{agent.port}" for name, agent in self.agents.agents.items()}

    def settle(self) -> None:
        """Have the bridges find their tree anew."""
        bridges = []
        for box in self.boxes.values():
            row = box.row
            if row.protocol not in ("RSTP", "STP"):
                continue
            digits = "".join(c for c in row.bridge_address if c in "0123456789abcdefABCDEF") or "0"
            made = SimulatedBridge(row.id, (row.priority, int(digits, 16)))
            for index, port in enumerate(row.ports, 1):
                link, end = self.network.end_of.get(port.of, ("", "left"))
                if not link:
                    continue
                rate = self.network.settings[link, end].rate_mbps or 1000
                wire = link if self.network.up(link) else ""
                made.ports.append(SimulatedPort(port.name, (128, index), path_cost(rate, "long"), wire))
            bridges.append(made)
        converge(bridges)
        for bridge in bridges:
            self.boxes[bridge.name].tree = {port.name: port.role for port in bridge.ports}

    def silence(self, name: str) -> None:
        """Pull the plug of a box."""
        self.agents.stop_one(name)

    def stop(self) -> None:
        """Stop all."""
        self.agents.stop()

"""Boxes as they are now: the planned ports of many boxes, read at once through SNMP, and what is written to them.

Only the columns of planned ports are read; how a box is built (which sensor sits in which port) is read once and
remembered until the box starts anew. What a box does not have is None, what it lies about is said.
"""

from __future__ import annotations

import asyncio
import math
import re
import threading
import time
from collections.abc import Coroutine, Mapping, Sequence
from dataclasses import dataclass, field
from typing import TYPE_CHECKING, Any, Literal, TypeVar

from passerelle.clock import Clock, system_clock
from passerelle.equipment.credentials import Credentials
from passerelle.equipment.objects import BoxError, Oid, Value, mau_name, mau_type, oid, text

if TYPE_CHECKING:
    from passerelle.equipment.snmp import Session

PATIENCE_S = 12.0
AT_ONCE = 32
LABEL = 120
"""So long a serial number may be in the plan."""
DARK_W = 1e-9
"""Below a nanowatt (−60 dBm) a photodiode of a module reads its own noise (estimate)."""
MOST_WATTS = 1.0
"""More than this no port of this trade sends or receives: a box that says so is not believed."""
_WATTS, _CELSIUS, _VOLTS, _AMPERES = 6, 8, 4, 5
_OK = 1
_IF_INDEX = (1, 3, 6, 1, 2, 1, 2, 2, 1, 1)
_RX = re.compile(r"\b(rx|receive[sd]?|received|receiver|input)\b", re.IGNORECASE)
_TX = re.compile(r"\b(tx|transmit(ted|ter)?|output|sent)\b", re.IGNORECASE)
_LANE = re.compile(r"(?:lane|channel|ch)\s*(\d+)", re.IGNORECASE)
_STATE = {1: "disabled", 2: "blocking", 3: "listening", 4: "learning", 5: "forwarding", 6: "broken"}
Answer = TypeVar("Answer")


@dataclass
class LaneNow:
    """A lane of a module as its box says it: watts, None where it says nothing; zero is no light."""

    tx_w: float | None = None
    rx_w: float | None = None
    bias_ma: float | None = None


@dataclass
class PortNow:
    """A planned port as its box says it."""

    name: str
    index: int | None = None
    admin: str = ""
    oper: str = ""
    rate_mbps: int | None = None
    errors: int | None = None
    octets: int | None = None
    mau: str = ""
    negotiation: bool | None = None
    lanes: dict[int, LaneNow] = field(default_factory=dict)
    temperature_c: float | None = None
    supply_v: float | None = None
    module: str = ""
    serial: str = ""
    neighbor: str = ""
    neighbor_port: str = ""
    tree: str = ""
    aggregated: int | None = None
    powered: str = ""
    problems: list[str] = field(default_factory=list)


@dataclass
class BoxNow:
    """A box as it was read: when, for how long, what it said, or why not."""

    address: str
    at: float
    seconds: float
    ports: dict[str, PortNow] = field(default_factory=dict)
    trouble: str = ""
    name: str = ""
    bridge_address: str = ""
    priority: int | None = None
    protocol: str = ""
    path_cost: str = ""


@dataclass(frozen=True)
class Wanted:
    """A box to read: address, secret, the names of its planned ports."""

    address: str
    secret: Credentials
    ports: tuple[str, ...]


@dataclass
class _Built:
    """How a box is built: ports by name, sensors by port, as it was when it started."""

    up_time: int
    ports: frozenset[str]
    index_of: dict[str, int]
    sensors: dict[int, list[tuple[int, str, int, float]]]
    """By interface: number of the sensor, its name, its kind, what its value is multiplied by."""
    modules: dict[int, tuple[int, ...]]
    bridge_port: dict[int, int]
    lldp_port: dict[int, str]


class Poller:
    """Reads boxes in a loop of its own, so that nothing waits for them; one engine for all."""

    def __init__(self, clock: Clock = system_clock) -> None:
        self._clock = clock
        self._loop = asyncio.new_event_loop()
        self._thread = threading.Thread(target=self._run, daemon=True, name="poller")
        self._thread.start()
        self._engines: dict[tuple[str, Credentials] | None, Any] = {}
        self._built: dict[str, _Built] = {}

    def _run(self) -> None:
        asyncio.set_event_loop(self._loop)
        self._loop.run_forever()

    def _wait(self, work: Coroutine[Any, Any, Answer], seconds: float, address: str = "the boxes") -> Answer:
        asked = asyncio.run_coroutine_threadsafe(work, self._loop)
        try:
            return asked.result(seconds)
        except TimeoutError as error:
            asked.cancel()
            raise BoxError(address, f"it is slow: nothing more within {seconds:g} s, try again") from error

    def read(self, wanted: Sequence[Wanted]) -> list[BoxNow]:
        """Read boxes at once; one that is silent says so in its own place and holds up no other."""
        return self._wait(self._all(wanted), self._patience(len(wanted)) * (2 + len(wanted) / AT_ONCE))

    @staticmethod
    def _patience(count: int) -> float:
        """Seconds for a box: those that are read beside it take their share of this machine."""
        return PATIENCE_S + count

    async def _all(self, wanted: Sequence[Wanted]) -> list[BoxNow]:
        gate = asyncio.Semaphore(AT_ONCE)

        async def one(box: Wanted) -> BoxNow:
            async with gate:
                return await self._one(box, self._patience(len(wanted)))

        return list(await asyncio.gather(*(one(box) for box in wanted)))

    async def _one(self, box: Wanted, patience_s: float) -> BoxNow:
        begun = time.monotonic()
        now = BoxNow(box.address, self._clock().timestamp(), 0.0)
        try:
            await asyncio.wait_for(self._fill(box, now), patience_s)
        except BoxError as error:
            now.trouble = str(error)
        except TimeoutError:
            now.trouble = f"{box.address}: it is slow: no more within {patience_s:g} s, what came before stands"
        except Exception as error:  # whatever one box sends, the others are read
            now.trouble = (
                f"{box.address}: it answers what nobody can read ({type(error).__name__}): type its values"
            )
        now.seconds = time.monotonic() - begun
        return now

    def _session(self, address: str, secret: Credentials) -> Session:
        from pysnmp.hlapi.v3arch import asyncio as hlapi

        from passerelle.equipment.snmp import Session  # the package is read when a box is first asked

        # the package knows a user once an engine: boxes that share a name and not its secrets need one each
        key = None if secret.version == "v2c" else (address, secret)
        if key not in self._engines:
            self._engines[key] = hlapi.SnmpEngine()
        return Session(self._engines[key], address, secret)

    async def _fill(self, box: Wanted, now: BoxNow) -> None:
        session = self._session(box.address, box.secret)
        head = await session.get([oid("system", "up_time"), oid("system", "name")])
        now.name = text(head.get(oid("system", "name")))
        up_time = _int(head.get(oid("system", "up_time")), 0)
        built = self._built.get(box.address)
        if built is None or up_time < built.up_time or not set(box.ports) <= built.ports:
            built = await _building(session, up_time, box.ports)
            self._built[box.address] = built
        built.up_time = up_time
        for name in box.ports:
            now.ports[name] = PortNow(name, built.index_of.get(name))
            if name not in built.index_of:
                now.ports[name].problems.append(f"the box has no port '{name}': check its name")
        known = {port.index: port for port in now.ports.values() if port.index is not None}
        await _bridge(session, now)
        await _interfaces(session, built, known)
        if not await _sensors(session, built, known):
            self._built.pop(box.address, None)  # a module was changed: look again how it is built
        await _neighbors(session, built, known)

    def write(self, address: str, secret: Credentials, values: Mapping[Oid, int | Oid]) -> None:
        """Write objects of a box.

        Raises:
            BoxError: it is silent, or refuses.
        """

        async def put() -> None:
            await self._session(address, secret).put(values)

        self._wait(put(), PATIENCE_S, address)

    def get(self, address: str, secret: Credentials, objects: Sequence[Oid]) -> dict[Oid, Value]:
        """Some objects of a box; raises BoxError."""

        async def found() -> dict[Oid, Value]:
            return await self._session(address, secret).get(objects)

        return self._wait(found(), PATIENCE_S, address)

    def index_of(self, address: str, secret: Credentials, port: str) -> int:
        """The number of a port in the box's own table of interfaces.

        Raises:
            BoxError: it is silent, or has no such port.
        """

        async def found() -> dict[str, int]:
            names = await self._session(address, secret).walk(oid("interface", "name"))
            return {text(name): index[0] for index, name in names.items()}

        known = self._wait(found(), PATIENCE_S, address)
        if port not in known:
            raise BoxError(address, f"it has no port '{port}': it has {', '.join(list(known)[:8])}")
        return known[port]

    def names(self, address: str, secret: Credentials) -> list[str]:
        """The names of all ports of a box; raises BoxError."""

        async def found() -> list[str]:
            return [
                text(name)
                for name in (await self._session(address, secret).walk(oid("interface", "name"))).values()
            ]

        return self._wait(found(), PATIENCE_S, address)

    def close(self) -> None:
        """Stop reading."""

        def stop() -> None:
            for engine in self._engines.values():
                engine.close_dispatcher()
            self._loop.call_later(0.05, self._loop.stop)  # what was cancelled ends first

        self._loop.call_soon_threadsafe(stop)
        self._thread.join(2)


def to_write(index: int, *, admin: Literal["up", "down", ""] = "", application: str = "") -> dict[Oid, int | Oid]:
    """What is sent to set a port up or down, and its rate by MAU type; raises ValueError where there is no type."""
    found: dict[Oid, int | Oid] = {}
    if application:
        kind = mau_type(application)
        if kind is None:
            raise ValueError(f"there is no MAU type for {application} in the table: set the rate at the box")
        found[*oid("mau", "default_type"), index, 1] = kind
    if admin:
        found[*oid("interface", "admin"), index] = 1 if admin == "up" else 2
    return found


async def _building(session: Session, up_time: int, ports: Sequence[str]) -> _Built:
    """How a box is built, as far as the planned ports go: names of all, the rest only of what sits in them."""
    names = await session.walk(oid("interface", "name"))
    index_of = {text(name): index[0] for index, name in names.items()}
    planned = {index_of[name] for name in ports if name in index_of}
    alias = await session.walk(oid("entity", "alias"))
    port_of = {
        index[0]: value[-1]
        for index, value in alias.items()
        if isinstance(value, tuple) and value[: len(_IF_INDEX)] == _IF_INDEX and value[-1] in planned
    }
    within = await session.walk(oid("entity", "within")) if port_of else {}
    inside: dict[int, int] = {}
    for entity in within:
        above = next((port_of[one] for one in _up(entity[0], within) if one in port_of), None)
        if above is not None and entity[0] not in port_of:
            inside[entity[0]] = above
    kinds = await session.get((*oid("sensor", "type"), entity) for entity in inside)
    sensors = await _sensors_of(session, {at[-1]: _int(kind, 0) for at, kind in kinds.items()}, inside)
    modules: dict[int, tuple[int, ...]] = {}
    for number, port in inside.items():
        if (*oid("sensor", "type"), number) not in kinds:
            modules[port] = (*modules.get(port, ()), number)
    bridge = await session.walk(oid("bridge", "interface"))
    lldp = await session.walk(oid("neighbor", "local_port"))
    return _Built(
        up_time,
        frozenset(ports),
        index_of,
        sensors,
        modules,
        {_int(value, 0): index[0] for index, value in bridge.items()},
        {index[0]: text(value) for index, value in lldp.items()},
    )


async def _sensors_of(
    session: Session, kinds: Mapping[int, int], inside: Mapping[int, int]
) -> dict[int, list[tuple[int, str, int, float]]]:
    """Sensors by interface: number, name, kind, what the value is multiplied by (RFC 3433: scale, precision)."""
    asked = [oid("entity", "name"), oid("sensor", "scale"), oid("sensor", "precision")]
    found = await session.get((*column, number) for number in kinds for column in asked)
    sensors: dict[int, list[tuple[int, str, int, float]]] = {}
    for number, kind in kinds.items():
        name, scale, precision = (found.get((*column, number)) for column in asked)
        times = 10.0 ** (3 * (_int(scale, 9) - 9) - max(0, _int(precision, 0)))
        sensors.setdefault(inside[number], []).append((number, text(name), kind, times))
    return sensors


def _up(entity: int, within: Mapping[Oid, Value]) -> list[int]:
    """An entity and all that it sits in."""
    found = [entity]
    while len(found) < 20:
        above = _int(within.get((found[-1],)), 0)
        if not above or above in found:
            break
        found.append(above)
    return found


def _int(value: Value | None, otherwise: int) -> int:
    return value if isinstance(value, int) else otherwise


async def _bridge(session: Session, now: BoxNow) -> None:
    names = ("address", "priority", "protocol", "version", "path_cost")
    found = await session.get([oid("bridge", name) for name in names])
    address = found.get(oid("bridge", "address"))
    if isinstance(address, bytes) and len(address) == 6:
        now.bridge_address = address.hex(":")
    priority = found.get(oid("bridge", "priority"))
    now.priority = priority if isinstance(priority, int) else None
    if found.get(oid("bridge", "protocol")) == 3:
        now.protocol = "RSTP" if found.get(oid("bridge", "version")) == 2 else "STP"
    elif oid("bridge", "protocol") in found:
        now.protocol = "none" if found[oid("bridge", "protocol")] == 0 else "other"
    now.path_cost = {1: "short", 2: "long"}.get(_int(found.get(oid("bridge", "path_cost")), 0), "")


async def _interfaces(session: Session, built: _Built, ports: Mapping[int, PortNow]) -> None:
    columns = ("admin", "oper", "rate_mbps", "errors_in", "octets_in")
    wanted = [(*oid("interface", column), index) for index in ports for column in columns]
    wanted += [(*oid("mau", column), index, 1) for index in ports for column in ("type", "negotiation")]
    wanted += [(*oid("aggregation", "attached"), index) for index in ports]
    wanted += [(*oid("power", "status"), 1, index) for index in ports]
    wanted += [
        (*oid("bridge", "port_state"), built.bridge_port[index]) for index in ports if index in built.bridge_port
    ]
    found = await session.get(wanted)
    for index, port in ports.items():
        port.admin = {1: "up", 2: "down"}.get(_int(found.get((*oid("interface", "admin"), index)), 0), "")
        oper = _int(found.get((*oid("interface", "oper"), index)), 0)
        port.oper = "up" if oper == 1 else "down" if oper else ""
        port.rate_mbps = _believed(port, "rate in Mb/s", _some(found.get((*oid("interface", "rate_mbps"), index))))
        port.errors = _some(found.get((*oid("interface", "errors_in"), index)))
        port.octets = _some(found.get((*oid("interface", "octets_in"), index)))
        kind = found.get((*oid("mau", "type"), index, 1))
        port.mau = mau_name(kind) if isinstance(kind, tuple) else ""
        negotiation = found.get((*oid("mau", "negotiation"), index, 1))
        port.negotiation = None if negotiation is None else negotiation == 1
        port.aggregated = _some(found.get((*oid("aggregation", "attached"), index))) or None
        port.tree = _STATE.get(
            _int(found.get((*oid("bridge", "port_state"), built.bridge_port.get(index, 0))), 0), ""
        )
        status = _int(found.get((*oid("power", "status"), 1, index)), 0)
        port.powered = {3: "gives power", 2: "searching", 4: "fault", 1: "off"}.get(status, "")


_PLAUSIBLE = {
    "rate in Mb/s": (0, 1_000_000),
    "temperature in °C": (-60, 150),
    "supply in V": (0, 20),
    "bias in mA": (0, 1000),
}
"""What a port of this trade can say; a box that says otherwise is not believed."""
Number = TypeVar("Number", int, float)


def _believed(port: PortNow, what: str, value: Number | None) -> Number | None:
    low, high = _PLAUSIBLE[what]
    if value is None or low <= value <= high:
        return value
    port.problems.append(f"it says {value:g} as its {what}: that cannot be, it is not believed")
    return None


def _some(value: Value | None) -> int | None:
    return value if isinstance(value, int) else None


async def _sensors(session: Session, built: _Built, ports: Mapping[int, PortNow]) -> bool:
    """Fill in what the modules read; False where a sensor that was there is gone."""
    wanted, whole = [], True
    for index in ports:
        for number, *_ in built.sensors.get(index, []):
            wanted += [(*oid("sensor", "value"), number), (*oid("sensor", "status"), number)]
        for entity in built.modules.get(index, ()):
            wanted += [(*oid("entity", column), entity) for column in ("description", "serial", "model")]
    found = await session.get(wanted)
    for index, port in ports.items():
        for number, name, kind, times in built.sensors.get(index, []):
            value = found.get((*oid("sensor", "value"), number))
            status = found.get((*oid("sensor", "status"), number))
            if value is None:
                whole = False
                port.problems.append(f"the sensor '{name}' answers no more")
            elif status == _OK and isinstance(value, int):
                _take(port, name, kind, value * times)
        for entity in built.modules.get(index, ()):
            port.serial = port.serial or text(found.get((*oid("entity", "serial"), entity)))[:LABEL]
            model = text(found.get((*oid("entity", "model"), entity)))
            port.module = port.module or text(found.get((*oid("entity", "description"), entity))) or model
    return whole


def _take(port: PortNow, name: str, kind: int, value: float) -> None:
    number = _LANE.search(name)
    lane = int(number.group(1)) if number else 1
    if kind == _CELSIUS:
        port.temperature_c = _believed(port, "temperature in °C", round(value, 3))
    elif kind == _VOLTS:
        port.supply_v = _believed(port, "supply in V", round(value, 4))
    elif kind == _AMPERES and 1 <= lane <= 16:
        port.lanes.setdefault(lane, LaneNow()).bias_ma = _believed(port, "bias in mA", round(value * 1000, 4))
    elif kind == _WATTS and 1 <= lane <= 16:
        receives, sends = bool(_RX.search(name)), bool(_TX.search(name))
        if receives == sends:
            port.problems.append(f"the sensor '{name}' does not say whether it reads sent or received light")
        elif not 0 <= value <= MOST_WATTS:
            port.problems.append(f"the sensor '{name}' says {value:g} W: that cannot be, it is not believed")
        else:
            at = port.lanes.setdefault(lane, LaneNow())
            at.rx_w, at.tx_w = (value, at.tx_w) if receives else (at.rx_w, value)


async def _neighbors(session: Session, built: _Built, ports: Mapping[int, PortNow]) -> None:
    names = await session.walk(oid("neighbor", "name"))
    remote = await session.walk(oid("neighbor", "port"))
    for index, name in names.items():
        local = index[1] if len(index) > 2 else 0
        said = built.lldp_port.get(local, "")
        for number, port in ports.items():
            if said == port.name or (not said and local == number):
                port.neighbor = text(name)
                port.neighbor_port = text(remote.get(index))


def dbm(watts: float | None) -> float | None:
    """Watts as dBm; None where nothing is said or no light arrives.

    >>> dbm(0.001), dbm(0.0), dbm(None)
    (0.0, None, None)
    """
    return round(10 * math.log10(watts * 1000), 2) if watts else None


def is_dark(watts: float | None) -> bool:
    """Whether a reading says that there is no light."""
    return watts is not None and watts < DARK_W

"""The test instruments of the demo on one true plant: source, meters, switch, trace instrument, scope, and the
hands.
"""

from __future__ import annotations

import random
import threading
import time
import zlib
from collections.abc import Sequence
from dataclasses import dataclass, field

import numpy as np

from passerelle.core.acceptance.stretch import Stretch
from passerelle.core.catalog.testing_figures import testing_figures
from passerelle.core.link.chain import Link
from passerelle.core.plant.records import Box
from passerelle.exchange.trace_record import LIGHT_M_PER_S, Fixed, General, Supplier, TraceRecord
from passerelle.exchange.trace_record_out import write_record
from passerelle.standins.boxes import SimulatedNetwork
from passerelle.standins.network import TrueNetwork
from passerelle.standins.picture import face_picture
from passerelle.standins.pulse import POINTS, Fiber, Shot, Spot, returned_db
from passerelle.standins.scpi import CommandError, Device, Served, number
from passerelle.standins.truth import DARK_DB, Fault, TruePlant, Truth

PORTS = {
    "light source": 5101,
    "power meter": 5102,
    "array meter": 5103,
    "position switch": 5104,
    "trace instrument": 5105,
    "scope": 5106,
    "fitter": 5107,
}
SERIALS = {
    "light source": "LS-0311",
    "power meter": "PM-0417",
    "array meter": "AM-0052",
    "position switch": "SW-0008",
    "trace instrument": "OT-0129",
    "scope": "SC-0733",
    "fitter": "HANDS",
}
CALIBRATED_ON = "2026-03-02"
LAUNCH_DBM = -7.0
FLOOR_DBM = -75.0


_SETTINGS = {"pulse": 30.0, "time": 5.0, "index": 1.468, "range": 5000.0}


@dataclass
class Plugged:
    """What the instruments are put on: a strand of a stretch, or cords alone."""

    stretch: Stretch
    near: int
    far: int
    going: str
    method: int
    launch_m: float = 0.0
    receive_m: float = 0.0


@dataclass
class Bench:
    """The state that the instruments share: what is plugged, what shines, at which wavelength."""

    plant: TruePlant
    plugged: Plugged | None = None
    reference: int = 0
    joined: bool = False
    on: bool = False
    nm: int = 1310
    meter_nm: int = 1310
    position: int = 1
    looked: tuple[str, str, str] = ("", "", "left")
    settings: dict[str, float] = field(
        default_factory=lambda: {"pulse": 30, "time": 5, "index": 1.468, "range": 5000}
    )
    record: bytes = b""

    def power_dbm(self) -> float:
        """What falls on the meter now."""
        if not self.on:
            return FLOOR_DBM
        if abs(self.nm - self.meter_nm) > 20:
            return LAUNCH_DBM - 3.0
        noise = random.gauss(0.0, 0.004)
        if self.joined:
            return LAUNCH_DBM - self._pairs(1) + noise
        if self.plugged is None:
            return LAUNCH_DBM - self._pairs(max(0, self.reference - 1)) + noise
        on = self.plugged
        lost = self.plant.loss_db(on.stretch, on.near, on.far, self.nm, on.going)
        return max(FLOOR_DBM, LAUNCH_DBM - lost + noise) if lost < DARK_DB / 2 else FLOOR_DBM

    def array_dbm(self) -> list[float]:
        """What falls on each position of the array meter: the switch lights one strand at a time."""
        if self.plugged is None or not self.on:
            return [FLOOR_DBM] * 12
        stretch = self.plugged.stretch
        lit = [near for near, _ in stretch.strands if near == self.position]
        far = {self.plant.comes_out(stretch, near): near for near in lit}
        found = []
        for place in range(1, 13):
            near = far.get(place)
            lost = self.plant.loss_db(stretch, near, place, self.nm, "right") if near else DARK_DB
            found.append(max(FLOOR_DBM, LAUNCH_DBM - lost))
        return found

    def _pairs(self, count: int) -> float:
        """What some pairs of test cords lose: good ones, of reference grade."""
        return 0.06 * count

    def shoot(self) -> None:
        """Take a trace of what is plugged."""
        on = self.plugged
        if on is None:
            raise CommandError(-200, "Execution error; nothing is plugged")
        family = on.stretch.family(self.plant.catalog) or "single-mode"
        core = {"single-mode": 9.0, "multimode": 50.0}[family]
        back = testing_figures().backscatter_of(family, core)
        at_1ns = back.at_1ns_db.get(self.nm, -80.0)
        spans = self.plant.spans(on.stretch, on.near, self.nm)
        steps = self.plant.steps(on.stretch, on.near, self.nm, ends=True)
        length = sum(span.length_m for span in spans)
        inside = [Fiber(span.length_m, span.db_per_m, at_1ns) for span in spans]
        places = [(step.at_m, step.db, step.reflectance_db) for step in steps]
        if on.going == "left":
            inside.reverse()
            places = [(length - at, db, back_db) for at, db, back_db in reversed(places)]
        cord = spans[0].db_per_m if spans else 0.0003
        fibers = [Fiber(on.launch_m, cord, at_1ns), *inside, Fiber(on.receive_m, cord, at_1ns)]
        spots = [Spot(0.0, 0.0, -45.0)]
        spots += [Spot(on.launch_m + at, db, back_db) for at, db, back_db in places]
        spots.append(Spot(on.launch_m + length + on.receive_m, DARK_DB, -14.7))
        shot = Shot(
            pulse_ns=self.settings["pulse"],
            averaging_s=self.settings["time"],
            index=self.settings["index"],
            range_m=self.settings["range"],
            seed=zlib.crc32(f"{on.stretch.chain.link.name}{on.near}{on.going}{self.nm}".encode()),
        )
        self.record = _as_record(returned_db(fibers, spots, shot), shot, self.nm, on)

    def picture(self) -> bytes:
        """What the scope sees of the face that it was put on."""
        link, element, face = self.looked
        dirty = bool(self.plant.dirt(link, element, face))
        return face_picture(dirty=dirty, core_um=9.0, name=f"{link}{element}{face}")


def _as_record(levels: np.ndarray, shot: Shot, nm: int, on: Plugged) -> bytes:
    raw = np.clip(np.round((levels.max() - levels) * 1000), 0, 65_535).astype(np.uint16)
    one_way = shot.range_m * shot.index / LIGHT_M_PER_S
    fixed = Fixed(
        taken_at=int(time.time()),
        wavelength=nm * 10,
        pulses=(int(shot.pulse_ns),),
        spacings=(round(one_way / POINTS * 1e14),),
        counts=(POINTS,),
        index=round(shot.index * 1e5),
        averaging_time=round(shot.averaging_s * 10),
        range_time=round(one_way * 1e10),
    )
    general = General(wavelength_nm=nm, cable=on.stretch.chain.link.name[:60], fiber=f"strand {on.near}")
    supplier = Supplier(
        name="SIMULATED", mainframe="trace instrument", mainframe_serial=SERIALS["trace instrument"]
    )
    return write_record(TraceRecord(fixed=fixed, raw=raw, general=general, supplier=supplier))


def _devices(bench: Bench, network: SimulatedNetwork | None = None) -> dict[str, Device]:
    def put(name: str):  # type: ignore[no-untyped-def]
        def handler(args: list[str]) -> None:
            value = number(args)
            if name in ("nm", "meter_nm", "position"):
                setattr(bench, name, int(value))
            else:
                bench.settings[name] = value

        return handler

    def shine(args: list[str]) -> None:
        bench.on = args[0].upper() in ("ON", "1")

    def look(args: list[str]) -> None:
        bench.looked = (args[0], args[1], args[2])

    commands = {
        "light source": {"SOUR:WAV": put("nm"), "OUTP:STAT": shine},
        "power meter": {"SENS:WAV": put("meter_nm"), "READ:POW?": lambda _a: f"{bench.power_dbm():.3f}"},
        "array meter": {
            "SENS:WAV": put("meter_nm"),
            "READ:ARR:POW?": lambda _a: ",".join(f"{one:.3f}" for one in bench.array_dbm()),
        },
        "position switch": {"ROUT:CLOS": put("position"), "ROUT:CLOS?": lambda _a: str(bench.position)},
        "trace instrument": {
            "SOUR:WAV": put("nm"),
            "SOUR:PULS:WIDT": put("pulse"),
            "SENS:AVER:TIME": put("time"),
            "SENS:RIND": put("index"),
            "SENS:RANG": put("range"),
            "INIT:IMM": lambda _a: bench.shoot(),
            "TRAC:DATA:SOR?": lambda _a: bench.record,
        },
        "scope": {"HCOP:DATA?": lambda _a: bench.picture()},
        "fitter": {
            "ROUT:CONN:REF": lambda args: _refer(bench, int(args[0])),
            "ROUT:CONN:JOIN": lambda _a: _join(bench),
            "ROUT:CONN:LINK": lambda args: _plug(bench, args),
            "ROUT:CLEAN": lambda args: bench.plant.clean(args[0], args[1], args[2]),
            "ROUT:LOOK": look,
            "ROUT:HIDE": lambda args: _hide(network, args),
            "ROUT:CURE": lambda args: _cure(network, args),
        },
    }
    return {kind: Device(kind, SERIALS[kind], known) for kind, known in commands.items()}


def _hide(network: SimulatedNetwork | None, args: list[str]) -> None:
    """``"link","kind",end,element,strand,db``: hide a fault in the true network."""
    if network is None:
        raise CommandError(-241, "Hardware missing; there is no network")
    link, kind, *more = args
    end, element, strand, db = [*more, *["", "", "0", "0"][len(more) :]]
    values = {"link": link, "kind": kind, "end": end, "element": element, "strand": int(strand), "db": float(db)}
    network.network.hide(Fault.model_validate(values))
    network.settle()


def _cure(network: SimulatedNetwork | None, args: list[str]) -> None:
    """``"link","kind"``: put a fault right."""
    if network is None:
        raise CommandError(-241, "Hardware missing; there is no network")
    network.network.cure(args[0], args[1])
    network.settle()


def _refer(bench: Bench, cords: int) -> None:
    bench.plugged, bench.reference, bench.joined = None, cords, False


def _join(bench: Bench) -> None:
    bench.plugged, bench.joined = None, True


def _plug(bench: Bench, args: list[str]) -> None:
    """``"link",start,end,near,far,going,cords,launch_m,receive_m``."""
    link, start, end, near, far, going = args[:6]
    if link not in bench.plant.links:
        raise CommandError(-224, "Illegal parameter value; there is no such link in the true plant")
    more = [float(one) for one in args[6:9]] + [0.0] * 3
    bench.joined = False
    bench.plugged = Plugged(
        stretch=bench.plant.stretch(link, start, end),
        near=int(near),
        far=int(far),
        going=going,
        method=int(more[0]) or 1,
        launch_m=more[1],
        receive_m=more[2],
    )


@dataclass
class StandIns:
    """All instruments, running."""

    servers: dict[str, Served]
    bench: Bench
    network: SimulatedNetwork | None = None

    @property
    def addresses(self) -> dict[str, str]:
        """The address of each by its kind."""
        return {kind: f"127.0.0.1:{server.port}" for kind, server in self.servers.items()}

    def stop(self) -> None:
        """Stop all."""
        for server in self.servers.values():
            server.stop()
        if self.network is not None:
            self.network.stop()


def _served(port: int, device: Device, lock: threading.RLock) -> Served:
    try:
        return Served(port, device, lock)
    except OSError:  # somebody else has it
        return Served(0, device, lock)


def start_standins(
    links: Sequence[Link], truth: Truth, boxes: Sequence[Box] = (), *, fixed_ports: bool = True
) -> StandIns:
    """Start the instruments on the true plant of some links, and the boxes between them, on the loopback.

    Each has its own port with ``fixed_ports``, a free one where that is taken; ``addresses`` say which.

    Raises:
        OSError: no port is to be had.
    """
    bench = Bench(TruePlant.of(links, truth))
    lock = threading.RLock()
    servers: dict[str, Served] = {}
    network = None
    try:
        if boxes:
            network = SimulatedNetwork(TrueNetwork(bench.plant, boxes), boxes, fixed_ports=fixed_ports)
        for kind, device in _devices(bench, network).items():
            servers[kind] = _served(PORTS[kind] if fixed_ports else 0, device, lock)
    except OSError:
        if network is not None:
            network.stop()
        for server in servers.values():
            server.server_close()
        raise
    for server in servers.values():
        server.start()
    return StandIns(servers, bench, network)

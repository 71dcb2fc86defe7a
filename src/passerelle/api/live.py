"""What boxes said last: kept in memory, never in the database; and the file of secrets beside it."""

from __future__ import annotations

import threading
import time
from collections.abc import Mapping, Sequence
from datetime import UTC, datetime
from typing import Any, Literal, NamedTuple

from fastapi import Request

from passerelle.api.state import database_of
from passerelle.clock import Clock
from passerelle.core.link.chain import Link
from passerelle.core.turned_up import LaneRead, PortSeen
from passerelle.equipment.boxes import BoxNow, Poller, PortNow, Wanted, dbm, is_dark
from passerelle.equipment.credentials import Credentials, CredentialsFile
from passerelle.equipment.objects import BoxError, Oid, oid

End = Literal["left", "right"]


class Counted(NamedTuple):
    """Counters of a port when counting began."""

    errors: int
    octets: int


class Live:
    """The newest answers of boxes by their address."""

    def __init__(self, clock: Clock) -> None:
        self._clock = clock
        self._lock = threading.Lock()
        self._boxes: dict[str, BoxNow] = {}
        self._begun: dict[tuple[str, str], Counted] = {}
        self._poller: Poller | None = None

    @property
    def poller(self) -> Poller:
        """What reads; it is started when it is first needed."""
        with self._lock:
            self._poller = self._poller or Poller(self._clock)
            return self._poller

    def read(self, wanted: Sequence[Wanted]) -> None:
        """Read some boxes."""
        if not wanted:
            return
        found = self.poller.read(wanted)
        with self._lock:
            self._boxes.update({one.address: one for one in found})
            for box in found:
                for port in box.ports.values():
                    self._count(box, port)

    def _count(self, box: BoxNow, port: PortNow) -> None:
        """Errors are counted from the first reading on, for as long as the link stays up and no counter falls."""
        key = (box.address, port.name)
        before = self._begun.get(key)
        if port.oper != "up" or port.errors is None or port.octets is None:
            self._begun.pop(key, None)
        elif before is None or port.errors < before.errors or port.octets < before.octets:
            self._begun[key] = Counted(port.errors, port.octets)

    def counted(self, address: str, port: PortNow) -> tuple[int, float] | None:
        """Errors since the first reading, and the seconds in which a full line brings as many octets as came.

        None before a second reading. An idle line proves nothing, so octets count and not the clock.
        """
        with self._lock:
            first = self._begun.get((address, port.name))
        if first is None or port.errors is None or port.octets is None or not port.rate_mbps:
            return None
        octets = port.octets - first.octets
        return (port.errors - first.errors, octets * 8 / (port.rate_mbps * 1e6)) if octets > 0 else None

    def of(self, address: str) -> BoxNow | None:
        """What a box said last, None before it was read."""
        with self._lock:
            return self._boxes.get(address)

    def told(self, address: str) -> dict[str, Any]:
        """When a box was read, how long it took, and what was wrong."""
        found = self.of(address) if address else None
        if found is None:
            return {}
        return {"trouble": found.trouble, "read_at": found.at, "seconds": round(found.seconds, 3)}

    def with_way_back(
        self, address: str, secret: Credentials, index: int, seconds: int, values: Mapping[Oid, int | Oid]
    ) -> None:
        """Write to the port through which a box is reached: the box itself puts the port back after some seconds,
        unless it answers again and is told not to.

        Raises:
            BoxError: it has no timed way back (RFC 3231), or it did not answer again: then it goes back by itself.
        """
        back = _schedule(index, seconds)
        try:
            self.poller.write(address, secret, back)
        except BoxError as error:
            words = "it has no timed way back (RFC 3231): set this port at the box itself, or by another way in"
            raise BoxError(address, words) from error
        self.poller.write(address, secret, values)
        time.sleep(1.0)
        try:
            self.poller.write(address, secret, _unschedule())
        except BoxError as error:
            raise BoxError(address, f"it is silent since: it puts the port back within {seconds} s") from error
        admin = (*oid("interface", "admin"), index)
        if admin in values and self.poller.get(address, secret, [admin]).get(admin) != values[admin]:
            raise BoxError(address, "it was cut off and has put the port back by itself")

    def close(self) -> None:
        """Stop reading."""
        if self._poller is not None:
            self._poller.close()


_ROW = (10, *b"passerelle", 4, *b"back")
"""Owner and name of the entry in the box's schedule, as the index of its row."""
_CREATE_AND_GO, _DESTROY, _PERIODIC = 4, 6, 1


def _schedule(index: int, seconds: int) -> dict[Oid, int | Oid]:
    return {
        (*oid("schedule", "interval"), *_ROW): seconds,
        (*oid("schedule", "variable"), *_ROW): (*oid("interface", "admin"), index),
        (*oid("schedule", "value"), *_ROW): 1,
        (*oid("schedule", "type"), *_ROW): _PERIODIC,
        (*oid("schedule", "row"), *_ROW): _CREATE_AND_GO,
    }


def _unschedule() -> dict[Oid, int | Oid]:
    return {(*oid("schedule", "row"), *_ROW): _DESTROY}


def live_of(request: Request) -> Live:
    """What boxes said last."""
    found: Live = request.app.state.live
    return found


def secrets_of(request: Request) -> CredentialsFile:
    """The file of secrets beside the database."""
    return CredentialsFile.beside(database_of(request).path)


def port_seen(
    now: PortNow, box: BoxNow, end: End, link: Link, box_name: str, counted: tuple[int, float] | None
) -> PortSeen:
    """A port that was read as an entry that could be written down.

    Args:
        link: as it is drawn now.
        counted: errors since counting began, and the seconds of a full line.
    """
    at = datetime.fromtimestamp(box.at, UTC).replace(microsecond=0)
    lanes = tuple(
        LaneRead(
            lane=number,
            tx_dbm=None if is_dark(lane.tx_w) else dbm(lane.tx_w),
            tx_off=is_dark(lane.tx_w),
            rx_dbm=None if is_dark(lane.rx_w) else dbm(lane.rx_w),
            rx_dark=is_dark(lane.rx_w),
            bias_ma=lane.bias_ma,
        )
        for number, lane in sorted(now.lanes.items())
    )
    return PortSeen(
        key=f"live{end}",
        at=at,
        link=link.key,
        link_name=link.name,
        turned=link.turned,
        end=end,
        by="box",
        box=box_name,
        port=now.name,
        admin=now.admin,
        oper=now.oper,
        rate_mbps=now.rate_mbps or None,
        errors=counted[0] if counted else None,
        seconds=counted[1] if counted else None,
        temperature_c=now.temperature_c,
        supply_v=now.supply_v,
        lanes=lanes,
        neighbor=now.neighbor,
        neighbor_port=now.neighbor_port,
        module=now.module,
        serial=now.serial,
    )

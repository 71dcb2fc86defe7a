"""What boxes said last: kept in memory, never in the database; and the file of secrets beside it."""

from __future__ import annotations

import threading
import time
from collections.abc import Mapping, Sequence
from datetime import UTC, datetime
from typing import Any, Literal

from fastapi import Request

from passerelle.api.state import database_of
from passerelle.core.turned_up import LaneRead, PortSeen
from passerelle.equipment.boxes import BoxNow, Poller, PortNow, Wanted, dbm
from passerelle.equipment.credentials import Credentials, CredentialsFile
from passerelle.equipment.objects import oid
from passerelle.equipment.snmp import BoxError, Oid

End = Literal["left", "right"]


class Live:
    """The newest answers of boxes by their address."""

    def __init__(self) -> None:
        self._lock = threading.Lock()
        self._boxes: dict[str, BoxNow] = {}
        self._poller: Poller | None = None

    @property
    def poller(self) -> Poller:
        """What reads; it is started when it is first needed."""
        with self._lock:
            self._poller = self._poller or Poller()
            return self._poller

    def read(self, wanted: Sequence[Wanted]) -> None:
        """Read some boxes."""
        if not wanted:
            return
        found = self.poller.read(wanted)
        with self._lock:
            self._boxes.update({one.address: one for one in found})

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


def port_seen(now: PortNow, box: BoxNow, end: End, link: tuple[str, str], box_name: str) -> PortSeen:
    """A port that was read as an entry that could be written down.

    Args:
        link: key and name of the link.
    """
    at = datetime.fromtimestamp(box.at, UTC).replace(microsecond=0)
    lanes = tuple(
        LaneRead(
            lane=number,
            tx_dbm=dbm(lane.tx_w),
            tx_off=lane.tx_w == 0,
            rx_dbm=dbm(lane.rx_w),
            rx_dark=lane.rx_w == 0,
            bias_ma=lane.bias_ma,
        )
        for number, lane in sorted(now.lanes.items())
    )
    return PortSeen(
        key=f"live{end}",
        at=at,
        link=link[0],
        link_name=link[1],
        end=end,
        by="box",
        box=box_name,
        port=now.name,
        admin=now.admin,
        oper=now.oper,
        rate_mbps=now.rate_mbps or None,
        errors=now.errors,
        temperature_c=now.temperature_c,
        supply_v=now.supply_v,
        lanes=lanes,
        neighbor=now.neighbor,
        neighbor_port=now.neighbor_port,
        module=now.module,
        serial=now.serial,
    )

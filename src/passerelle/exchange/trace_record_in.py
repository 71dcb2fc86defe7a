"""Reading trace records: every count is bounded, every place checked to lie in the file, before anything is made
of it.
"""

from __future__ import annotations

import struct
from binascii import crc_hqx

import numpy as np

from passerelle.exchange.trace_record import (
    START_CRC,
    Block,
    Checksum,
    Event,
    Fixed,
    General,
    Supplier,
    Total,
    TraceRecord,
    TraceRecordError,
)

MOST_BYTES = 64 * 1024 * 1024
MOST_BLOCKS = 100
MOST_EVENTS = 4000
MOST_POINTS = 8_000_000
MOST_SCALES = 16


class _Reader:
    """Walks over the bytes of one block; every step says where the file is too short."""

    def __init__(self, data: bytes, at: int, end: int) -> None:
        self.data, self.at, self.end = data, at, end

    def take(self, form: str) -> tuple[int, ...]:
        size = struct.calcsize("<" + form)
        if self.at + size > self.end:
            raise TraceRecordError(self.at, "the block ends here and more is expected: the file was cut short")
        found = struct.unpack_from("<" + form, self.data, self.at)
        self.at += size
        return found

    def one(self, form: str) -> int:
        return self.take(form)[0]

    def text(self, size: int = 0) -> str:
        """A text of ``size`` bytes, or up to its zero byte."""
        if size:
            if self.at + size > self.end:
                raise TraceRecordError(self.at, "the block ends within a text: the file was cut short")
            stop, after = self.at + size, self.at + size
        else:
            stop = self.data.find(b"\0", self.at, self.end)
            if stop < 0:
                raise TraceRecordError(self.at, "a text here has no end: the file was cut short or is damaged")
            after = stop + 1
        found = self.data[self.at : stop].decode("latin-1")
        self.at = after
        return found

    def rest(self) -> bytes:
        return self.data[self.at : self.end]


def read_record(data: bytes) -> TraceRecord:
    """Read a record.

    Raises:
        TraceRecordError: it is no such record, of another version, cut short, or has counts that cannot be.
    """
    if len(data) > MOST_BYTES:
        raise TraceRecordError(MOST_BYTES, "the file is larger than 64 MiB: this is no trace record")
    blocks = _map(data)
    places = {name: (revision, start, end) for name, revision, start, end in blocks}
    for name in ("FxdParams", "DataPts"):
        if name not in places:
            raise TraceRecordError(0, f"there is no block {name}: the record holds no trace. Export it again")
    read: dict[str, object] = {}
    rests: list[tuple[str, bytes]] = []
    for name, parse in _KNOWN.items():
        if name in places:
            _, start, end = places[name]
            reader = _Reader(data, start, end)
            read |= parse(reader)
            if left := reader.rest():
                rests.append((name, left))
    others = tuple(
        Block(name, revision, data[start:end])
        for name, revision, start, end in blocks
        if name not in _KNOWN and name != "Cksum"
    )
    return TraceRecord(
        order=tuple(name for name, *_ in blocks),
        revisions=tuple((name, revision) for name, revision, *_ in blocks),
        others=others,
        rests=tuple(rests),
        checksum=_checksum(data, places.get("Cksum")),
        **read,  # type: ignore[arg-type]
    )


def _map(data: bytes) -> list[tuple[str, int, int, int]]:
    """The blocks by name, revision, start of their content and end; each checked to lie in the file."""
    if not data.startswith(b"Map\0"):
        if data[:2] in (b"\x64\x00", b"\x65\x00"):
            raise TraceRecordError(0, "this is a record of version 1: save it as version 2 at the instrument")
        raise TraceRecordError(0, "this is no trace record: it does not begin with its map")
    reader = _Reader(data, 4, min(len(data), 1_000_000))
    version, size, count = reader.take("HIH")
    if not 200 <= version < 300:
        raise TraceRecordError(4, f"the record is of version {version / 100:g}; version 2 is read here")
    if not 1 <= count <= MOST_BLOCKS:
        raise TraceRecordError(10, f"the map tells of {count} blocks: the file is damaged")
    if size > len(data):
        raise TraceRecordError(
            6, f"the map is said to be {size} bytes long, the file has {len(data)}: it was cut short"
        )
    found: list[tuple[str, int, int, int]] = []
    start = size
    for _ in range(count - 1):
        name = reader.text()
        at = reader.at
        revision, length = reader.take("HI")
        head = name.encode("latin-1") + b"\0"
        if start + length > len(data) or length < len(head):
            words = f"the block {name} is said to be {length} bytes long at byte {start}, the file has {len(data)}"
            raise TraceRecordError(at, f"{words}: it was cut short. Copy it again")
        if data[start : start + len(head)] != head:
            raise TraceRecordError(start, f"the block {name} does not begin with its name: the file is damaged")
        if name in {one[0] for one in found}:
            raise TraceRecordError(at, f"the block {name} is there twice: the file is damaged")
        found.append((name, revision, start + len(head), start + length))
        start += length
    return found


def _checksum(data: bytes, place: tuple[int, int, int] | None) -> Checksum:
    """Whether the checksum fits any of the three ways in which writers count it."""
    if place is None:
        return "absent"
    _, at, end = place
    if end - at < 2:
        return "wrong"
    (said,) = struct.unpack_from("<H", data, at)
    before_block = crc_hqx(data[: at - len(b"Cksum\0")], START_CRC)
    if before_block == said:
        return "ok"
    before_value = crc_hqx(data[at - len(b"Cksum\0") : at], before_block)
    if before_value == said:
        return "ok"
    return "ok" if crc_hqx(b"\0\0" + data[at + 2 :], before_value) == said else "wrong"


def _general(reader: _Reader) -> dict[str, object]:
    language = reader.text(2)
    cable, fiber = reader.text(), reader.text()
    fiber_type, wavelength = reader.take("HH")
    origin, destination, code = reader.text(), reader.text(), reader.text()
    condition = reader.text(2)
    offset, distance = reader.take("ii")
    operator, comment = reader.text(), reader.text()
    return {
        "general": General(
            language=language,
            cable=cable,
            fiber=fiber,
            fiber_type=fiber_type,
            wavelength_nm=wavelength,
            origin=origin,
            destination=destination,
            cable_code=code,
            condition=condition,
            user_offset=offset,
            user_offset_distance=distance,
            operator=operator,
            comment=comment,
        )
    }


def _supplier(reader: _Reader) -> dict[str, object]:
    return {"supplier": Supplier(*(reader.text() for _ in range(7)))}


def _fixed(reader: _Reader) -> dict[str, object]:
    taken_at = reader.one("I")
    unit = reader.text(2)
    wavelength, offset, offset_distance = reader.take("Hii")
    at = reader.at
    entries = reader.one("H")
    if not 1 <= entries <= MOST_SCALES:
        raise TraceRecordError(at, f"{entries} pulse widths: the file is damaged")
    pulses, spacings, counts = (reader.take(f"{entries}{form}") for form in ("H", "I", "I"))
    at = reader.at
    index = reader.one("I")
    if not 100_000 <= index <= 250_000:
        raise TraceRecordError(at, f"a group index of {index / 1e5:g}: glass has about 1.47. The file is damaged")
    if not all(spacings):
        raise TraceRecordError(at, "the points are said to have no distance: the file is damaged")
    backscatter, averages, averaging, range_time, range_distance, front = reader.take("HIHIii")
    noise, noise_scale, first, loss, reflectance, end = reader.take("HhHHHH")
    kind = reader.text(2)
    window = reader.take("iiii")
    return {
        "fixed": Fixed(
            taken_at=taken_at,
            unit=unit,
            wavelength=wavelength,
            offset=offset,
            offset_distance=offset_distance,
            pulses=pulses,
            spacings=spacings,
            counts=counts,
            index=index,
            backscatter=backscatter,
            averages=averages,
            averaging_time=averaging,
            range_time=range_time,
            range_distance=range_distance,
            front_offset=front,
            noise_level=noise,
            noise_scale=noise_scale,
            first_point=first,
            loss_threshold=loss,
            reflectance_threshold=reflectance,
            end_threshold=end,
            kind=kind,
            window=(window[0], window[1], window[2], window[3]),
        )
    }


def _events(reader: _Reader) -> dict[str, object]:
    at = reader.at
    count = reader.one("H")
    if count > MOST_EVENTS:
        raise TraceRecordError(at, f"{count} events: the file is damaged")
    found = []
    for _ in range(count):
        number, time, slope, loss, reflectance = reader.take("HIhhi")
        code = reader.text(8)
        marks = reader.take("IIIII")
        comment = reader.text()
        found.append(
            Event(
                number=number,
                time=time,
                slope=slope,
                loss=loss,
                reflectance=reflectance,
                code=code,
                marks=(marks[0], marks[1], marks[2], marks[3], marks[4]),
                comment=comment,
            )
        )
    return {"events": tuple(found), "total": Total(*reader.take("iiiHii"))}


def _points(reader: _Reader) -> dict[str, object]:
    at = reader.at
    count, scales = reader.take("IH")
    if count > MOST_POINTS or count * 2 > reader.end - reader.at:
        raise TraceRecordError(
            at,
            f"{count} points are told and {max(0, reader.end - reader.at) // 2} fit in the block: it was cut short",
        )
    if not 1 <= scales <= MOST_SCALES:
        raise TraceRecordError(at + 4, f"{scales} scales: the file is damaged")
    at = reader.at
    points, scale = reader.take("IH")
    if points > count or points * 2 > reader.end - reader.at:
        raise TraceRecordError(at, f"{points} points are told, more than there are: the file was cut short")
    if scale == 0:
        raise TraceRecordError(at + 4, "a scale of zero makes all points alike: the file is damaged")
    raw = np.frombuffer(reader.data, dtype="<u2", count=points, offset=reader.at)
    reader.at += 2 * points
    return {"raw": raw, "scale": scale}


_KNOWN = {
    "GenParams": _general,
    "SupParams": _supplier,
    "FxdParams": _fixed,
    "KeyEvents": _events,
    "DataPts": _points,
}

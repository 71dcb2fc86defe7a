"""Trace records of the vendor-neutral format (Telcordia SR-4731, ``.sor``, version 2): read and written.

Distances in a record are one-way times; the group index makes metres of them. Little-endian throughout.
"""

from __future__ import annotations

import struct
from binascii import crc_hqx
from dataclasses import dataclass, field, replace
from functools import cached_property
from typing import Literal

import numpy as np
from numpy.typing import NDArray

LIGHT_M_PER_S = 299_792_458.0
VERSION = 200
MOST_BYTES = 64 * 1024 * 1024
MOST_BLOCKS = 100
MOST_EVENTS = 4000
MOST_POINTS = 8_000_000
MOST_SCALES = 16
_START_CRC = 0xFFFF
Checksum = Literal["ok", "absent", "wrong"]


class TraceRecordError(ValueError):
    """A record that cannot be read. The message names the byte and says what to do."""

    def __init__(self, at: int, what: str) -> None:
        super().__init__(f"byte {at}: {what}")
        self.at = at


@dataclass(frozen=True)
class Block:
    """A block that is kept as it is: its name, revision and content after the name."""

    name: str
    revision: int
    content: bytes


@dataclass(frozen=True)
class General:
    """What the record is of. Offsets as they are written."""

    language: str = "EN"
    cable: str = ""
    fiber: str = ""
    fiber_type: int = 652
    wavelength_nm: int = 1550
    origin: str = ""
    destination: str = ""
    cable_code: str = ""
    condition: str = "BC"
    user_offset: int = 0
    user_offset_distance: int = 0
    operator: str = ""
    comment: str = ""


@dataclass(frozen=True)
class Supplier:
    """With what it was taken."""

    name: str = ""
    mainframe: str = ""
    mainframe_serial: str = ""
    module: str = ""
    module_serial: str = ""
    software: str = ""
    other: str = ""


@dataclass(frozen=True)
class Fixed:
    """The settings of the acquisition in the units of the file.

    ``wavelength`` in 0.1 nm, ``pulses`` in ns, ``spacings`` in 1e-14 s (one way), ``index`` in 1e-5,
    ``backscatter``
    in -0.1 dB, ``range_time`` and offsets in 0.1 ns, thresholds in 0.001 dB.
    """

    taken_at: int = 0
    unit: str = "mt"
    wavelength: int = 15500
    offset: int = 0
    offset_distance: int = 0
    pulses: tuple[int, ...] = (100,)
    spacings: tuple[int, ...] = (0,)
    counts: tuple[int, ...] = (0,)
    index: int = 146_820
    backscatter: int = 815
    averages: int = 0
    averaging_time: int = 0
    range_time: int = 0
    range_distance: int = 0
    front_offset: int = 0
    noise_level: int = 0
    noise_scale: int = 0
    first_point: int = 0
    loss_threshold: int = 0
    reflectance_threshold: int = 0
    end_threshold: int = 0
    kind: str = "ST"
    window: tuple[int, int, int, int] = (0, 0, 0, 0)


@dataclass(frozen=True)
class Event:
    """An event in the units of the file: one-way time in 0.1 ns, slope, loss and reflectance in 0.001 dB."""

    number: int
    time: int
    slope: int = 0
    loss: int = 0
    reflectance: int = 0
    code: str = "0F9999LS"
    marks: tuple[int, int, int, int, int] = (0, 0, 0, 0, 0)
    comment: str = ""


@dataclass(frozen=True)
class Total:
    """End-to-end loss and return loss as the instrument has them, in 0.001 dB, with their places in 0.1 ns."""

    loss: int = 0
    start: int = 0
    finish: int = 0
    return_loss: int = 0
    return_start: int = 0
    return_finish: int = 0


@dataclass(frozen=True)
class TraceRecord:
    """A trace: settings, points and events. ``raw`` holds the points as they are stored, shape (n,).

    ``others`` are blocks that are not read, kept with the place that they had among the blocks; ``rests`` what
    stood behind the known fields of a known block.
    """

    fixed: Fixed
    raw: NDArray[np.uint16]
    scale: int = 1000
    general: General = field(default_factory=General)
    supplier: Supplier = field(default_factory=Supplier)
    events: tuple[Event, ...] = ()
    total: Total = field(default_factory=Total)
    order: tuple[str, ...] = ("GenParams", "SupParams", "FxdParams", "KeyEvents", "DataPts", "Cksum")
    revisions: tuple[tuple[str, int], ...] = ()
    others: tuple[Block, ...] = ()
    rests: tuple[tuple[str, bytes], ...] = ()
    checksum: Checksum = "absent"

    @property
    def wavelength_nm(self) -> float:
        """The wavelength of the pulse in nm."""
        return self.fixed.wavelength / 10

    @property
    def pulse_ns(self) -> float:
        """The length of the pulse in ns."""
        return float(self.fixed.pulses[0])

    @property
    def group_index(self) -> float:
        """The group index that makes metres of times."""
        return self.fixed.index / 1e5

    @property
    def spacing_m(self) -> float:
        """The distance between two points in m."""
        return self.fixed.spacings[0] * 1e-14 * LIGHT_M_PER_S / self.group_index

    @property
    def range_m(self) -> float:
        """How far the acquisition reached, in m; by its points where the record does not say it."""
        if self.fixed.range_time > 0:
            return self.metres(self.fixed.range_time)
        return self.spacing_m * len(self.raw)

    def metres(self, time: int) -> float:
        """A one-way time in 0.1 ns as a distance in m."""
        return time * 1e-10 * LIGHT_M_PER_S / self.group_index

    @cached_property
    def levels_db(self) -> NDArray[np.float64]:
        """The level at each point in dB (one way), falling from the start, shape (n,)."""
        return np.asarray(self.raw * (-self.scale * 1e-6), dtype=np.float64)

    @property
    def distances_m(self) -> NDArray[np.float64]:
        """The distance of each point in m, shape (n,)."""
        return np.asarray(np.arange(len(self.raw)) * self.spacing_m, dtype=np.float64)

    def same_as(self, other: TraceRecord) -> bool:
        """Whether two records hold the same, whatever their checksums are."""
        bare = [replace(one, raw=np.empty(0, np.uint16), checksum="absent") for one in (self, other)]
        return _plain(bare[0]) == _plain(bare[1]) and np.array_equal(self.raw, other.raw)


def _plain(record: TraceRecord) -> dict[str, object]:
    return {name: value for name, value in vars(record).items() if name not in ("raw", "levels_db")}


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
    before_block = crc_hqx(data[: at - len(b"Cksum\0")], _START_CRC)
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


def write_record(record: TraceRecord) -> bytes:
    """The bytes of a record; its checksum covers all before its value.

    Raises:
        TraceRecordError: a text or figure that the format has no room for.
    """
    rests, revisions = dict(record.rests), dict(record.revisions)
    kept = {block.name: block.content for block in record.others}
    made = {
        "GenParams": _general_bytes(record.general),
        "SupParams": b"".join(_text(value) for value in vars(record.supplier).values()),
        "FxdParams": _fixed_bytes(record.fixed),
        "KeyEvents": _event_bytes(record),
        "DataPts": _point_bytes(record),
        "Cksum": b"\0\0",
        **kept,
    }
    bodies = [
        (name, revisions.get(name, VERSION), _text(name) + made[name] + rests.get(name, b""))
        for name in record.order
        if name in made
    ]
    entries = b"".join(_text(name) + struct.pack("<HI", revision, len(body)) for name, revision, body in bodies)
    head = b"Map\0" + struct.pack("<HIH", VERSION, 12 + len(entries), len(bodies) + 1) + entries
    data = head + b"".join(body for *_, body in bodies)
    if record.order and record.order[-1] == "Cksum":
        data = data[:-2] + struct.pack("<H", crc_hqx(data[:-2], _START_CRC))
    return data


def _text(value: str) -> bytes:
    try:
        return value.replace("\0", " ").encode("latin-1", "replace") + b"\0"
    except UnicodeError as error:  # pragma: no cover - replaced above
        raise TraceRecordError(0, f"the text {value!r} cannot be written") from error


def _two(value: str) -> bytes:
    return value.encode("latin-1", "replace")[:2].ljust(2)


def _pack(form: str, *values: int) -> bytes:
    try:
        return struct.pack("<" + form, *values)
    except struct.error as error:
        raise TraceRecordError(0, f"a figure is outside what the format holds: {error}") from error


def _general_bytes(general: General) -> bytes:
    return (
        _two(general.language)
        + _text(general.cable)
        + _text(general.fiber)
        + _pack("HH", general.fiber_type, general.wavelength_nm)
        + _text(general.origin)
        + _text(general.destination)
        + _text(general.cable_code)
        + _two(general.condition)
        + _pack("ii", general.user_offset, general.user_offset_distance)
        + _text(general.operator)
        + _text(general.comment)
    )


def _fixed_bytes(fixed: Fixed) -> bytes:
    entries = len(fixed.pulses)
    return (
        _pack("I", fixed.taken_at)
        + _two(fixed.unit)
        + _pack("HiiH", fixed.wavelength, fixed.offset, fixed.offset_distance, entries)
        + _pack(f"{entries}H", *fixed.pulses)
        + _pack(f"{entries}I", *fixed.spacings)
        + _pack(f"{entries}I", *fixed.counts)
        + _pack("IHIH", fixed.index, fixed.backscatter, fixed.averages, fixed.averaging_time)
        + _pack("Iii", fixed.range_time, fixed.range_distance, fixed.front_offset)
        + _pack("HhHHHH", *_noise(fixed))
        + _two(fixed.kind)
        + _pack("iiii", *fixed.window)
    )


def _noise(fixed: Fixed) -> tuple[int, int, int, int, int, int]:
    return (
        fixed.noise_level,
        fixed.noise_scale,
        fixed.first_point,
        fixed.loss_threshold,
        fixed.reflectance_threshold,
        fixed.end_threshold,
    )


def _event_bytes(record: TraceRecord) -> bytes:
    told = [_pack("H", len(record.events))]
    for one in record.events:
        code = one.code.encode("latin-1", "replace")[:8].ljust(8)
        told += [_pack("HIhhi", one.number, one.time, one.slope, one.loss, one.reflectance), code]
        told += [_pack("IIIII", *one.marks), _text(one.comment)]
    total = record.total
    ends = (total.loss, total.start, total.finish, total.return_loss, total.return_start, total.return_finish)
    return b"".join(told) + _pack("iiiHii", *ends)


def _point_bytes(record: TraceRecord) -> bytes:
    points = len(record.raw)
    return _pack("IHIH", points, 1, points, record.scale) + record.raw.astype("<u2").tobytes()

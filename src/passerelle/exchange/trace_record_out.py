"""Writing trace records: what was read and not understood is written again as it was."""

from __future__ import annotations

import struct
from binascii import crc_hqx

from passerelle.exchange.trace_record import (
    START_CRC,
    VERSION,
    Fixed,
    General,
    TraceRecord,
    TraceRecordError,
)


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
        data = data[:-2] + struct.pack("<H", crc_hqx(data[:-2], START_CRC))
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

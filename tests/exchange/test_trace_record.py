"""Trace records: written and read again they are the same; what is no record is refused with its byte."""

from __future__ import annotations

import struct
from binascii import crc_hqx
from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from passerelle.exchange.attachment import AttachmentError, media_type_of
from passerelle.exchange.trace_record import (
    Block,
    Event,
    Fixed,
    General,
    Supplier,
    Total,
    TraceRecord,
    TraceRecordError,
)
from passerelle.exchange.trace_record_in import read_record
from passerelle.exchange.trace_record_out import write_record

U16, I16 = st.integers(0, 65_535), st.integers(-32_768, 32_767)
U32, I32 = st.integers(0, 2**32 - 1), st.integers(-(2**31), 2**31 - 1)
TEXT = st.text(st.characters(min_codepoint=32, max_codepoint=255), max_size=12)
ORDER = ("GenParams", "SupParams", "FxdParams", "KeyEvents", "DataPts")


def events() -> st.SearchStrategy[Event]:
    marks = st.tuples(U32, U32, U32, U32, U32)
    return st.builds(Event, number=U16, time=U32, slope=I16, loss=I16, reflectance=I32, marks=marks, comment=TEXT)


@st.composite
def records(draw: st.DrawFn) -> TraceRecord:
    pulses = draw(st.lists(U16, min_size=1, max_size=3))
    own = draw(st.lists(st.sampled_from(["MakerA", "MakerB"]), unique=True))
    order = draw(st.permutations([*ORDER, *own]))
    return TraceRecord(
        fixed=Fixed(
            wavelength=draw(U16),
            pulses=tuple(pulses),
            spacings=tuple(draw(st.integers(1, 2**32 - 1)) for _ in pulses),
            counts=tuple(draw(U32) for _ in pulses),
            index=draw(st.integers(100_000, 250_000)),
            range_time=draw(U32),
            noise_scale=draw(I16),
        ),
        raw=np.array(draw(st.lists(U16, max_size=40)), dtype=np.uint16),
        scale=draw(st.integers(1, 65_535)),
        general=draw(st.builds(General, cable=TEXT, fiber=TEXT, operator=TEXT, comment=TEXT, user_offset=I32)),
        supplier=draw(st.builds(Supplier, name=TEXT, other=TEXT)),
        events=tuple(draw(st.lists(events(), max_size=4))),
        total=draw(st.builds(Total, loss=I32, return_loss=U16)),
        order=(*order, "Cksum"),
        revisions=tuple((name, 200) for name in (*order, "Cksum")),
        others=tuple(Block(name, 200, draw(st.binary(max_size=9))) for name in order if name in own),
        rests=tuple((name, draw(st.binary(min_size=1, max_size=5))) for name in ORDER if draw(st.booleans())),
    )


@given(records())
def test_written_and_read_again_it_is_the_same(record: TraceRecord) -> None:
    data = write_record(record)
    found = read_record(data)
    assert found.same_as(record)
    assert found.checksum == "ok"
    assert write_record(found) == data


WHOLE = write_record(
    TraceRecord(
        fixed=Fixed(wavelength=15_500, spacings=(500_000,), counts=(800,), range_time=40_000),
        raw=np.arange(800, dtype=np.uint16),
        events=(Event(1, 5000, loss=250, reflectance=-45_200, comment="joint"),),
        others=(Block("Own", 200, b"kept"),),
        order=(*ORDER, "Own", "Cksum"),
        revisions=tuple((name, 200) for name in (*ORDER, "Own", "Cksum")),
    )
)


def with_crc(value: int) -> bytes:
    return WHOLE[:-2] + struct.pack("<H", value)


def test_any_of_three_ways_to_count_the_checksum_is_right_and_none_at_all_too() -> None:
    before_value, before_block = crc_hqx(WHOLE[:-2], 0xFFFF), crc_hqx(WHOLE[:-8], 0xFFFF)
    zeroed = crc_hqx(WHOLE[:-2] + b"\0\0", 0xFFFF)
    assert len({before_value, before_block, zeroed}) == 3
    for value in (before_value, before_block, zeroed):
        assert read_record(with_crc(value)).checksum == "ok"
    wrong = next(value for value in range(9) if value not in (before_value, before_block, zeroed))
    assert read_record(with_crc(wrong)).checksum == "wrong"
    bare = replace(read_record(WHOLE), order=(*ORDER, "Own"))
    assert read_record(write_record(bare)).checksum == "absent"


def test_what_it_says_is_in_metres_and_decibels() -> None:
    found = read_record(WHOLE)
    assert (found.wavelength_nm, found.pulse_ns, found.group_index) == (1550.0, 100.0, 1.4682)
    assert found.metres(found.events[0].time) == pytest.approx(5000e-10 * 299_792_458 / 1.4682)
    assert found.range_m == pytest.approx(816.76, abs=0.01)
    assert found.levels_db[:3].tolist() == pytest.approx([0, -0.001, -0.002])


@given(st.data())
def test_a_changed_or_cut_record_is_read_or_refused_and_nothing_else(data: st.DataObject) -> None:
    body = bytearray(WHOLE[: data.draw(st.integers(0, len(WHOLE)))])
    for _ in range(data.draw(st.integers(0, 5))):
        if body:
            body[data.draw(st.integers(0, min(len(body), 700) - 1))] = data.draw(st.integers(0, 255))
    told = "byte "
    try:
        read_record(bytes(body))
    except TraceRecordError as error:
        told = str(error)
    assert told.startswith("byte ")


def patched(find: bytes, form: str, offset: int, value: int) -> bytes:
    at = WHOLE.index(find, WHOLE.index(b"DataPts\0") + 8) + offset  # the block itself, behind its line in the map
    return WHOLE[:at] + struct.pack(form, value) + WHOLE[at + struct.calcsize(form) :]


@pytest.mark.parametrize(
    ("body", "words"),
    [
        (WHOLE[: len(WHOLE) // 2], "cut short"),
        (WHOLE[:30], "cut short"),
        (b"\x64\x00" + WHOLE, "version 1"),
        (b"hello", "map"),
        (patched(b"DataPts\0", "<I", 8, 2_000_000_000), "points are told"),
        (patched(b"DataPts\0", "<I", 14, 2_000_000_000), "points are told"),
        (patched(b"DataPts\0", "<H", 12, 60_000), "scales"),
        (patched(b"DataPts\0", "<H", 18, 0), "scale of zero"),
        (patched(b"KeyEvents\0", "<H", 10, 65_000), "events"),
        (patched(b"FxdParams\0", "<H", 10 + 16, 60_000), "pulse widths"),
    ],
)
def test_absurd_counts_and_cut_files_are_refused_with_their_byte(body: bytes, words: str) -> None:
    with pytest.raises(TraceRecordError, match=f"byte .*{words}"):
        read_record(body)
    with pytest.raises(AttachmentError):
        media_type_of(body)

"""Memory maps of modules: values that the agreements print as examples, and dumps that cannot be trusted."""

from __future__ import annotations

import struct

import pytest
from hypothesis import given
from hypothesis import strategies as st

from passerelle.core.catalog.shelves import Catalog
from passerelle.core.errors import TurnUpError
from passerelle.core.turnup.compared import module_differences
from passerelle.core.turnup.module_memory import read_module
from passerelle.core.turnup.module_pages import ModuleSeen, from_binary, pages_from
from passerelle.demo.port_aubier import demo_links


def summed(page: bytearray, first: int, last: int, at: int, base: int = 0) -> None:
    page[at - base] = sum(page[first - base : last - base + 1]) & 0xFF


def put(page: bytearray, at: int, value: int, base: int = 0, length: int = 2) -> None:
    page[at - base : at - base + length] = (value & (1 << 8 * length) - 1).to_bytes(length, "big")


def a0(kind: int = 0x68, *, nm: int = 1310, ten_g: int = 0x20, one_g: int = 0, km: int = 10) -> bytearray:
    page = bytearray(256)
    page[0], page[2], page[3], page[6], page[12], page[14], page[15] = 3, 7, ten_g, one_g, 103, km, km * 10
    page[20:36], page[40:56] = b"MADE UP         ", b"MU-10G-LR       "
    page[68:84], page[84:92] = b"SN000001        ", b"261126  "
    put(page, 60, nm)
    page[92] = kind
    summed(page, 0, 62, 63)
    summed(page, 64, 94, 95)
    return page


def a2(
    temperature: int = 0x1900, supply: int = 33_000, bias: int = 15_000, tx: int = 5012, rx: int = 1000
) -> bytearray:
    page = bytearray(256)
    # thresholds: 75 and -5, 70 and 0 °C; 3.6 to 3.0 V; 80 and 4 mA; -8.2 to 0.5 dBm sent; -16 to 0.5 received
    for at, values in (
        (0, (75 * 256, -5 * 256, 70 * 256, 0)),
        (8, (36_000, 30_000, 35_000, 31_000)),
        (16, (40_000, 2_000, 35_000, 5_000)),
        (24, (11_220, 1_514, 10_000, 1_905)),
        (32, (11_220, 251, 10_000, 316)),
    ):
        for n, value in enumerate(values):
            put(page, at + 2 * n, value)
    put(page, 96, temperature)
    for at, value in ((98, supply), (100, bias), (102, tx), (104, rx)):
        put(page, at, value)
    summed(page, 0, 94, 95)
    return page


def seen_8472(first: bytearray, second: bytearray | None = None) -> ModuleSeen:
    pages = {"a0": first.hex()} | ({"a2": second.hex(" ")} if second is not None else {})
    return read_module("SFF-8472", pages_from("SFF-8472", pages))


@pytest.mark.parametrize(
    ("raw", "celsius"),
    # SFF-8472, internally calibrated temperature: the table of examples
    [
        (0x7D00, 125.0),
        (0x1900, 25.0),
        (0x0100, 1.0),
        (0x00FF, 0.9961),
        (0x0000, 0.0),
        (0xFF00, -1.0),
        (0xD800, -40.0),
    ],
)
def test_temperatures_read_as_the_agreement_prints_them(raw: int, celsius: float) -> None:
    assert seen_8472(a0(), a2(temperature=raw)).temperature_c == celsius


def test_a_module_of_one_lane_says_who_it_is_and_what_it_reads() -> None:
    seen = seen_8472(a0(), a2())
    assert seen.present
    assert seen.identity is not None
    assert (seen.identity.compliance, seen.identity.connector) == (("10GBASE-LR",), "LC")
    assert (seen.identity.part, seen.identity.serial, seen.identity.wavelength_nm) == (
        "MU-10G-LR",
        "SN000001",
        1310,
    )
    assert seen.identity.reach_m == {"single-mode": 10_000.0}
    assert (seen.calibration, seen.received_power_kind) == ("internal", "average")
    assert (seen.supply_v, seen.bias_ma) == (3.3, 30.0)
    assert seen.tx is not None
    assert seen.rx is not None
    assert (seen.tx.uw, seen.tx.dbm) == (501.2, -3.0)
    assert (seen.rx.uw, seen.rx.dbm) == (100.0, -10.0)
    assert (seen.alarms, seen.warnings, seen.problems) == ((), (), ())


def test_no_light_is_none_and_its_alarm_stands() -> None:
    seen = seen_8472(a0(), a2(rx=0))
    assert seen.rx is not None
    assert (seen.rx.uw, seen.rx.dbm) == (0.0, None)
    assert seen.alarms == ("rx power low",)
    assert seen.warnings == ("rx power low",)


def test_flags_that_the_module_set_count_beside_what_is_compared_now() -> None:
    page = a2()
    page[112], page[116] = 0x80, 0x20  # temperature high alarm, supply high warning
    seen = seen_8472(a0(), page)
    assert seen.alarms == ("temperature high",)
    assert seen.warnings == ("supply high",)


def test_external_calibration_takes_slopes_offsets_and_a_polynomial() -> None:
    page = a2(temperature=0x1000, supply=30_000, bias=10_000, tx=4000, rx=200)
    page[56:76] = struct.pack(">5f", 0.0, 0.0, 0.01, 3.0, 5.0)  # x^4 ... x^0
    for at, value in (
        (76, 0x0180),
        (78, -100),
        (80, 0x0200),
        (82, 50),
        (84, 0x0100),
        (86, 0x0200),
        (88, 0x0101),
        (90, 7),
    ):
        put(page, at, value)
    summed(page, 0, 94, 95)
    seen = seen_8472(a0(0x58), page)
    assert seen.calibration == "external"
    assert seen.temperature_c == 18.0  # 1 x 16 °C + 2 °C
    assert seen.supply_v == pytest.approx((30_000 * 257 / 256 + 7) * 1e-4, abs=1e-4)
    assert seen.bias_ma == pytest.approx((10_000 * 1.5 - 100) * 2e-3)
    assert seen.tx is not None
    assert seen.rx is not None
    assert seen.tx.uw == pytest.approx((4000 * 2 + 50) * 0.1)
    assert seen.rx.uw == pytest.approx((0.01 * 200**2 + 3 * 200 + 5) * 0.1)


def test_what_cannot_be_trusted_is_left_out_and_said() -> None:
    no_telemetry = seen_8472(a0(0x00))
    assert (no_telemetry.diagnostics, no_telemetry.rx, no_telemetry.problems) == (False, None, ())
    unread = seen_8472(a0())
    assert unread.rx is None
    assert unread.problems == ("page a2 was not read: its readings are missing",)
    not_ready = a2()
    not_ready[110] = 0x01
    assert seen_8472(a0(), not_ready).rx is None
    torn = a2()
    torn[60] ^= 0xFF
    external = seen_8472(a0(0x58), torn)
    assert "do not rely on its readings" in external.problems[-1]
    neither = seen_8472(a0(0x48), a2())
    assert neither.rx is None
    assert seen_8472(bytearray(b"\xff" * 256)).present is False


def test_received_power_is_named_as_modulation_amplitude_where_it_is() -> None:
    assert seen_8472(a0(0x60), a2()).received_power_kind == "OMA"


def qsfp() -> dict[str, bytearray]:
    lower, upper, limits = bytearray(128), bytearray(128), bytearray(128)
    lower[0], lower[1] = 0x11, 8
    put(lower, 22, 0x2A80)
    put(lower, 26, 32_500)
    for lane in range(4):
        put(lower, 34 + 2 * lane, (0, 7943, 10_000, 12_589)[lane])
        put(lower, 42 + 2 * lane, 3_500)
        put(lower, 50 + 2 * lane, 8_000)
    lower[3], lower[9] = 0x01, 0x50  # no light in lane 1; its low alarm and low warning
    upper[0], upper[2], upper[3], upper[12], upper[15] = 0x11, 0x0C, 0x80, 0xFF, 50
    upper[19] = 0x00
    upper[20:36], upper[40:56], upper[68:84] = b"MADE UP         ", b"MU-100G-SR4     ", b"QN000007        "
    put(upper, 186, 850 * 20, 128)
    upper[192 - 128], upper[220 - 128], upper[222 - 128] = 0x02, 0x3C, 103
    summed(upper, 128, 190, 191, 128)
    summed(upper, 192, 222, 223, 128)
    for at, values in ((128, (75 * 256, -5 * 256, 70 * 256, 0)), (176, (34_674, 490, 21_878, 977))):
        for n, value in enumerate(values):
            put(limits, at + 2 * n, value, 128)
    return {"lower": lower, "upper_00": upper, "upper_03": limits}


def test_a_module_of_four_lanes_reads_each_of_them() -> None:
    seen = read_module("SFF-8636", pages_from("SFF-8636", {n: p.hex() for n, p in qsfp().items()}))
    assert seen.identity is not None
    assert seen.identity.compliance == ("100GBASE-SR4",)
    assert (seen.identity.connector, seen.identity.wavelength_nm) == ("MPO-12", 850)
    assert (seen.identity.reach_m, seen.identity.rate_mbd) == ({"OM3": 100.0}, 25_750)
    assert (seen.temperature_c, seen.supply_v) == (42.5, 3.25)
    assert [lane.rx.dbm if lane.rx else 0 for lane in seen.lanes] == [None, -1.0, 0.0, 1.0]
    assert seen.lanes[0].no_light
    assert seen.alarms == ("rx power low, lane 1",)
    assert seen.warnings == ("rx power low, lane 1",)
    whole = {name: bytes(page) for name, page in qsfp().items()}
    layout, pages = from_binary(whole["lower"] + whole["upper_00"])
    assert layout == "SFF-8636"
    assert read_module(layout, pages).lanes == seen.lanes


def cmis(module_state: int = 3) -> dict[str, bytearray]:
    lower, who, can, lanes = bytearray(128), bytearray(128), bytearray(128), bytearray(128)
    lower[0], lower[1], lower[3], lower[85] = 0x18, 0x40, module_state << 1, 2
    put(lower, 14, 0x2A80)
    put(lower, 16, 32_900)
    lower[86:90] = bytes((0x11, 0x1C, 0x84, 0x01))  # 400GBASE-DR4: eight host lanes, four of light
    lower[90] = 0xFF
    who[0], who[203 - 128], who[212 - 128] = 0x18, 0x0C, 0x06
    who[1:17], who[20:36], who[38:54] = b"MADE UP         ", b"MU-400G-DR4     ", b"DN000009        "
    summed(who, 128, 221, 222, 128)
    can[132 - 128], can[151 - 128], can[159 - 128], can[160 - 128] = 0x05, 0x10, 0x03, 0x0F
    put(can, 138, 1311 * 20, 128)
    summed(can, 130, 254, 255, 128)
    for lane in range(4):
        put(lanes, 154 + 2 * lane, 15_849, 128)
        put(lanes, 170 + 2 * lane, 20_000, 128)
        put(lanes, 186 + 2 * lane, (10_000, 5_012, 0, 10_000)[lane], 128)
    lanes[150 - 128] = 0x04  # received power of lane 3: low alarm
    return {"lower": lower, "upper_00": who, "upper_01": can, "upper_11": lanes}


def test_a_module_of_cmis_says_its_applications_and_lanes() -> None:
    seen = read_module("CMIS", pages_from("CMIS", {n: p.hex(":") for n, p in cmis().items()}))
    assert seen.identity is not None
    (one,) = seen.identity.applications
    assert (one.media, one.host_lanes, one.media_lanes) == ("400GBASE-DR4", 8, 4)
    assert (seen.identity.reach_m, seen.identity.wavelength_nm) == ({"single-mode": 500.0}, 1311)
    assert seen.received_power_kind == "average"
    assert [lane.rx.dbm if lane.rx else 0 for lane in seen.lanes] == [0.0, -3.0, None, 0.0]
    assert [lane.bias_ma for lane in seen.lanes] == [80.0] * 4  # times two
    assert seen.alarms == ("rx power low, lane 3",)
    faulty = read_module("CMIS", pages_from("CMIS", {n: p.hex() for n, p in cmis(5).items()}))
    assert "the module says that it is faulty" in faulty.problems


@pytest.mark.parametrize(
    ("layout", "pages", "field"),
    [
        ("SFF-9999", {}, "layout"),
        ("SFF-8472", {"a2": "00"}, "pages.a0"),
        ("SFF-8472", {"a0": "03 04 0"}, "pages.a0"),
        ("SFF-8472", {"a0": "03 04 07"}, "pages.a0"),
        ("SFF-8472", {"upper_00": "00"}, "pages.upper_00"),
        ("SFF-8472", {"a0": "00" * 300}, "pages.a0"),
        ("CMIS", {"lower": "18" * 128}, "pages.upper_00"),
    ],
)
def test_a_dump_that_cannot_be_read_names_its_page(layout: str, pages: dict[str, str], field: str) -> None:
    with pytest.raises(TurnUpError) as told:
        read_module(layout, pages_from(layout, pages))  # type: ignore[arg-type]
    assert told.value.field == field


@given(st.binary(min_size=0, max_size=700))
def test_no_dump_whatever_breaks_the_reader(body: bytes) -> None:
    try:
        layout, pages = from_binary(body)
        seen = read_module(layout, pages)
    except TurnUpError:
        return
    for lane in seen.lanes:
        for level in (lane.tx, lane.rx):
            assert level is None or (level.dbm is None) == (level.uw == 0)


def differences(catalog: Catalog, name: str, seen: ModuleSeen) -> set[str]:
    link = next(link for link in demo_links() if link.name == name)
    return {one.code for one in module_differences(link, catalog, "left", seen)}


def test_pages_are_held_against_the_plan(catalog: Catalog) -> None:
    assert differences(catalog, "Ferry terminal", seen_8472(a0(), a2())) == set()
    short_reach = seen_8472(a0(nm=850, ten_g=0x10, km=0), a2())
    assert differences(catalog, "Ferry terminal", short_reach) >= {"module.other", "module.wavelength"}
    other_side = seen_8472(a0(nm=1310, ten_g=0, one_g=0x40), a2())
    assert "module.side" in differences(catalog, "Tide station", other_side)  # planned is the side that sends 1490
    assert differences(catalog, "Ferry terminal", seen_8472(a0(0x00))) == {"module.telemetry"}
    assert differences(catalog, "Ferry terminal", seen_8472(bytearray(256))) == {"module.absent"}

"""The memory of a module of one lane by SFF-8472: A0h says who it is, A2h what it reads.

A module that is calibrated externally gives raw counts and constants: value = slope x count + offset, the received
power a polynomial of fourth degree in tenths of a microwatt (SFF-8472, external calibration).
"""

from __future__ import annotations

import struct
from collections.abc import Callable
from dataclasses import dataclass

from passerelle.core.catalog.module_codes import bits, module_codes, word
from passerelle.core.errors import TurnUpError
from passerelle.core.turnup.module_pages import (
    Identity,
    LaneSeen,
    ModuleSeen,
    Page,
    Pages,
    Quantity,
    Thresholds,
    beyond,
    power,
)

_IMPLEMENTED, _INTERNAL, _EXTERNAL, _AVERAGE = 0x40, 0x20, 0x10, 0x08
_FLAGS: tuple[tuple[int, int, Quantity, str], ...] = (
    (0, 7, "temperature", "high"),
    (0, 6, "temperature", "low"),
    (0, 5, "supply", "high"),
    (0, 4, "supply", "low"),
    (0, 3, "bias", "high"),
    (0, 2, "bias", "low"),
    (0, 1, "tx power", "high"),
    (0, 0, "tx power", "low"),
    (1, 7, "rx power", "high"),
    (1, 6, "rx power", "low"),
)
"""Byte behind 112 (alarms) or 116 (warnings), bit, quantity, side."""
_THRESHOLDS: tuple[tuple[Quantity, int], ...] = (
    ("temperature", 0),
    ("supply", 8),
    ("bias", 16),
    ("tx power", 24),
    ("rx power", 32),
)


def read_sff_8472(pages: Pages) -> ModuleSeen:
    """What A0h and A2h say.

    Raises:
        TurnUpError: a page is missing or too short.
    """
    if "a0" not in pages:
        raise TurnUpError("pages.a0", "page a0 says who the module is: dump it")
    a0 = pages["a0"]
    if a0.blank:
        return ModuleSeen(present=False, layout="SFF-8472")
    problems = [] if a0.sums_to(0, 62, 63) else ["the checksum of its base identity is wrong"]
    if a0.has(95) and not a0.sums_to(64, 94, 95):
        problems.append("the checksum of its extended identity is wrong")
    kind = a0.u8(92)
    seen = ModuleSeen(present=True, layout="SFF-8472", identity=_identity(a0), problems=tuple(problems))
    if not kind & _IMPLEMENTED:
        return seen
    if not kind & (_INTERNAL | _EXTERNAL):
        words = "it says that it has diagnostics, and not how they are calibrated: its readings are left out"
        return seen.model_copy(update={"problems": (*problems, words)})
    said = seen.model_copy(
        update={
            "diagnostics": True,
            "calibration": "internal" if kind & _INTERNAL else "external",
            "received_power_kind": "average" if kind & _AVERAGE else "OMA",
        }
    )
    if "a2" not in pages or pages["a2"].blank:
        return said.model_copy(update={"problems": (*problems, "page a2 was not read: its readings are missing")})
    return _with_readings(said, pages["a2"])


def _identity(a0: Page) -> Identity:
    codes = module_codes()
    cable = a0.u8(8) & 0x0C
    rate = a0.u8(12)
    rate_mbd = a0.u8(66) * 250 if rate == 0xFF else rate * 100
    extended = a0.u8(36)
    compliance = (*bits(codes.ethernet_10g, a0.u8(3)), *bits(codes.ethernet_1g, a0.u8(6)))
    if extended in codes.extended_one:
        compliance = (*compliance, codes.extended_one[extended])
    connector = a0.u8(2)
    return Identity(
        identifier=word(codes.identifier, a0.u8(0)),
        vendor=a0.text(20, 16),
        part=a0.text(40, 16),
        serial=a0.text(68, 16),
        revision=a0.text(56, 4),
        date=a0.text(84, 8),
        connector=word(codes.connector, connector),
        wavelength_nm=None if cable else float(a0.u16(60)) or None,
        rate_mbd=rate_mbd or None,
        compliance=compliance,
        reach_m=_reach(a0, copper=bool(cable) or connector in (0x21, 0x22)),
        copper=bool(cable & 0x04) or connector == 0x22,
    )


def _reach(a0: Page, *, copper: bool) -> dict[str, float]:
    km, hundreds = a0.u8(14), a0.u8(15)
    found = {"single-mode": max(km * 1000.0, hundreds * 100.0), "OM2": a0.u8(16) * 10.0, "OM1": a0.u8(17) * 10.0}
    found |= {"copper": a0.u8(18) * 1.0} if copper else {"OM4": a0.u8(18) * 10.0}
    found["OM3"] = a0.u8(19) * 10.0
    return {name: reach for name, reach in found.items() if reach}


@dataclass(frozen=True)
class _Scale:
    """How raw counts become values: °C, V, mA, tenths of a microwatt."""

    temperature: Callable[[int], float]
    supply: Callable[[int], float]
    bias: Callable[[int], float]
    tx: Callable[[int], float]
    rx: Callable[[int], float]


_PLAIN = _Scale(lambda n: n / 256, lambda n: n * 1e-4, lambda n: n * 2e-3, float, float)


def _line(a2: Page, at: int, unit: float) -> Callable[[int], float]:
    """Slope (8.8 fixed point) and offset (signed counts) at an address."""
    slope, offset = a2.u16(at) / 256, a2.s16(at + 2)
    return lambda raw: (slope * raw + offset) * unit


def _external(a2: Page) -> _Scale:
    constants = struct.unpack(">5f", a2.some(56, 20))  # of the fourth power first

    def received(raw: int) -> float:
        total = 0.0
        for constant in constants:
            total = total * raw + constant
        return total

    return _Scale(
        temperature=_line(a2, 84, 1 / 256),
        supply=_line(a2, 88, 1e-4),
        bias=_line(a2, 76, 2e-3),
        tx=_line(a2, 80, 1.0),
        rx=received,
    )


def _with_readings(seen: ModuleSeen, a2: Page) -> ModuleSeen:
    problems = list(seen.problems)
    if not a2.sums_to(0, 94, 95):
        words = "the checksum of its thresholds and calibration is wrong"
        problems.append(f"{words}: do not rely on its readings" if seen.calibration == "external" else words)
    if a2.u8(110) & 0x01:
        return seen.model_copy(update={"problems": (*problems, "its readings are not ready yet: read again")})
    scale = _PLAIN if seen.calibration == "internal" else _external(a2)
    raw = {96: a2.s16(96)} | {at: a2.u16(at) for at in (98, 100, 102, 104)}
    temperature, supply = round(scale.temperature(raw[96]), 4), round(scale.supply(raw[98]), 4)
    bias, tx, rx = round(scale.bias(raw[100]), 4), power(scale.tx(raw[102])), power(scale.rx(raw[104]))
    limits = _limits(a2, scale)
    values: list[tuple[Quantity, int, float | None]] = [
        ("temperature", 0, temperature),
        ("supply", 0, supply),
        ("bias", 0, bias),
        ("tx power", 0, tx.uw),
        ("rx power", 0, rx.uw),
    ]
    flags = [
        (quantity, 0, side, grade)
        for grade, base in (("alarm", 112), ("warning", 116))
        for byte, bit, quantity, side in _FLAGS
        if a2.u8(base + byte) >> bit & 1
    ]
    told = beyond(values, limits, flags)
    status = a2.u8(110)
    lane = LaneSeen(
        lane=1,
        bias_ma=bias,
        tx=tx,
        rx=rx,
        disabled=bool(status & 0xC0),
        fault=bool(status & 0x04),
        no_light=bool(status & 0x02),
    )
    return seen.model_copy(
        update={
            "temperature_c": temperature,
            "supply_v": supply,
            "bias_ma": bias,
            "tx": tx,
            "rx": rx,
            "lanes": (lane,),
            "thresholds": limits,
            "alarms": told.alarms,
            "warnings": told.warnings,
            "problems": tuple(problems),
        }
    )


def _limits(a2: Page, scale: _Scale) -> dict[Quantity, Thresholds]:
    """The thresholds, calibrated like the readings."""
    found: dict[Quantity, Thresholds] = {}
    for quantity, at in _THRESHOLDS:
        read = a2.s16 if quantity == "temperature" else a2.u16
        raw = [read(at + 2 * n) for n in range(4)]
        if not any(raw) or all(one in (-1, 0xFFFF) for one in raw):
            continue
        high_alarm, low_alarm, high_warning, low_warning = (_calibrated(scale, quantity, one) for one in raw)
        found[quantity] = Thresholds(
            high_alarm=high_alarm, low_alarm=low_alarm, high_warning=high_warning, low_warning=low_warning
        )
    return found


def _calibrated(scale: _Scale, quantity: Quantity, raw: int) -> float:
    match quantity:
        case "temperature":
            return round(scale.temperature(raw), 4)
        case "supply":
            return round(scale.supply(raw), 4)
        case "bias":
            return round(scale.bias(raw), 4)
        case "tx power":
            return power(scale.tx(raw)).uw
        case _:
            return power(scale.rx(raw)).uw

"""The memory of a module of four lanes by SFF-8636: the lower page reads, upper page 00h says who it is, 03h holds
its thresholds.
"""

from __future__ import annotations

from passerelle.core.catalog.module_codes import bits, module_codes, word
from passerelle.core.turnup.module_pages import (
    Identity,
    LaneSeen,
    ModuleSeen,
    Page,
    Pages,
    Quantity,
    Thresholds,
    beyond,
    four,
    power,
    values_of,
    who_and_what,
)

LANES = (1, 2, 3, 4)
_SAYS_MONITORS = 8
"""From this revision of the memory on a module says whether it reads its temperature and supply."""
_SIDES = (("high", "alarm"), ("low", "alarm"), ("high", "warning"), ("low", "warning"))
_LANE_FLAGS: tuple[tuple[Quantity, int], ...] = (("rx power", 9), ("bias", 11), ("tx power", 13))


def read_sff_8636(pages: Pages) -> ModuleSeen:
    """What the pages say.

    Raises:
        TurnUpError: a page is missing or too short.
    """
    lower, upper = who_and_what(pages)
    if lower.blank and upper.blank:
        return ModuleSeen(present=False, layout="SFF-8636")
    problems = [] if upper.sums_to(128, 190, 191) else ["the checksum of its base identity is wrong"]
    if not upper.sums_to(192, 222, 223):
        problems.append("the checksum of its extended identity is wrong")
    monitors = upper.u8(220)
    seen = ModuleSeen(
        present=True,
        layout="SFF-8636",
        identity=_identity(upper),
        diagnostics=not _copper(upper),
        calibration=None if _copper(upper) else "internal",
        received_power_kind=None if _copper(upper) else "average" if monitors & 0x08 else "OMA",
        problems=tuple(problems),
    )
    if _copper(upper):
        return seen
    if lower.u8(2) & 0x01:
        return seen.model_copy(update={"problems": (*problems, "its readings are not ready yet: read again")})
    return _with_readings(seen, lower, monitors, _limits(pages.get("upper_03")))


def _copper(upper: Page) -> bool:
    return upper.u8(147) >> 4 >= 0x0A or upper.u8(130) == 0x21


def _identity(upper: Page) -> Identity:
    codes, copper = module_codes(), _copper(upper)
    rate = upper.u8(140)
    rate_mbd = upper.u8(222) * 250 if rate == 0xFF else rate * 100
    said = bits(codes.ethernet_40g, upper.u8(131)) + bits(codes.ethernet_1g_lanes, upper.u8(134))
    extended = upper.u8(192)
    if extended in codes.extended_four:
        said = (*said, codes.extended_four[extended])
    reach = {
        "single-mode": upper.u8(142) * 1000.0,
        "OM3": upper.u8(143) * 2.0,
        "OM2": upper.u8(144) * 1.0,
        "OM1": upper.u8(145) * 1.0,
        "copper" if copper else "OM4": upper.u8(146) * (1.0 if copper else 2.0),
    }
    return Identity(
        identifier=word(codes.identifier, upper.u8(128)),
        vendor=upper.text(148, 16),
        part=upper.text(168, 16),
        serial=upper.text(196, 16),
        revision=upper.text(184, 2),
        date=upper.text(212, 8),
        connector=word(codes.connector, upper.u8(130)),
        wavelength_nm=None if copper else upper.u16(186) / 20 or None,
        technology=word(codes.technology, upper.u8(147) >> 4),
        rate_mbd=rate_mbd or None,
        compliance=said,
        reach_m={name: metres for name, metres in reach.items() if metres},
        copper=copper,
    )


def _limits(page: Page | None) -> dict[Quantity, Thresholds]:
    if page is None or page.blank:
        return {}
    found = {
        "temperature": four(page, 128, 1 / 256, signed=True),
        "supply": four(page, 144, 1e-4),
        "rx power": four(page, 176, 0.1),
        "bias": four(page, 184, 2e-3),
        "tx power": four(page, 192, 0.1),
    }
    return {name: known for name, known in found.items() if known is not None}  # type: ignore[misc]


def _with_readings(seen: ModuleSeen, lower: Page, monitors: int, limits: dict[Quantity, Thresholds]) -> ModuleSeen:
    says = lower.u8(1) >= _SAYS_MONITORS
    temperature = round(lower.s16(22) / 256, 4) if not says or monitors & 0x20 else None
    supply = round(lower.u16(26) * 1e-4, 4) if not says or monitors & 0x10 else None
    sends = bool(monitors & 0x04)
    lanes = tuple(
        LaneSeen(
            lane=lane,
            rx=power(lower.u16(32 + 2 * lane)),
            bias_ma=round(lower.u16(40 + 2 * lane) * 2e-3, 4),
            tx=power(lower.u16(48 + 2 * lane)) if sends else None,
            disabled=bool(lower.u8(86) >> (lane - 1) & 1),
            fault=bool(lower.u8(4) >> (lane - 1) & 1),
            no_light=bool(lower.u8(3) >> (lane - 1) & 1),
        )
        for lane in LANES
    )
    told = beyond(values_of(temperature, supply, lanes), limits, _flags(lower))
    return seen.model_copy(
        update={
            "temperature_c": temperature,
            "supply_v": supply,
            "lanes": lanes,
            "thresholds": limits,
            "alarms": told.alarms,
            "warnings": told.warnings,
        }
    )


def _flags(lower: Page) -> list[tuple[Quantity, int, str, str]]:
    found: list[tuple[Quantity, int, str, str]] = []
    whole: tuple[tuple[Quantity, int], ...] = (("temperature", 6), ("supply", 7))
    for quantity, at in whole:
        byte = lower.u8(at)
        found += [(quantity, 0, side, grade) for n, (side, grade) in enumerate(_SIDES) if byte >> (7 - n) & 1]
    for quantity, at in _LANE_FLAGS:
        for lane in LANES:
            byte = lower.u8(at + (lane - 1) // 2) << (0 if lane % 2 else 4) & 0xFF
            found += [
                (quantity, lane, side, grade) for n, (side, grade) in enumerate(_SIDES) if byte >> (7 - n) & 1
            ]
    return found

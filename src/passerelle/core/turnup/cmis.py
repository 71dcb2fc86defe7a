"""The memory of a module by CMIS, in its basic pages.

They are the lower one, 00h (who), 01h (what it can), 02h (thresholds) and 11h (lanes).
"""

from __future__ import annotations

from passerelle.core.catalog.module_codes import module_codes, word
from passerelle.core.turnup.module_pages import (
    Application,
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

_LENGTH = (0.1, 1.0, 10.0, 100.0)
_BIAS = (1, 2, 4, 1)
_MULTIMODE, _SINGLE_MODE, _PASSIVE = 1, 2, 3
_WHOLE_FLAGS: tuple[tuple[int, Quantity, str, str], ...] = (
    (7, "supply", "low", "warning"),
    (6, "supply", "high", "warning"),
    (5, "supply", "low", "alarm"),
    (4, "supply", "high", "alarm"),
    (3, "temperature", "low", "warning"),
    (2, "temperature", "high", "warning"),
    (1, "temperature", "low", "alarm"),
    (0, "temperature", "high", "alarm"),
)
_LANE_FLAGS: tuple[tuple[int, Quantity], ...] = ((139, "tx power"), (143, "bias"), (149, "rx power"))
_SIDES = (("high", "alarm"), ("low", "alarm"), ("high", "warning"), ("low", "warning"))
_FAULT_STATE = 5


def read_cmis(pages: Pages) -> ModuleSeen:
    """What the pages say; lanes need page 11h, and page 01h says which of their values are measured.

    Raises:
        TurnUpError: a page is missing or too short.
    """
    lower, who = who_and_what(pages)
    if lower.blank and who.blank:
        return ModuleSeen(present=False, layout="CMIS")
    problems = [] if who.sums_to(128, 221, 222) else ["the checksum of its identity is wrong"]
    can = _whole(pages.get("upper_01"), 130, "what it can", problems)
    limits = _whole(pages.get("upper_02"), 128, "its thresholds", problems)
    flat = bool(lower.u8(2) & 0x80)
    if lower.u8(3) >> 1 & 7 == _FAULT_STATE:
        problems.append("the module says that it is faulty")
    copper = flat or lower.u8(85) == _PASSIVE
    seen = ModuleSeen(
        present=True,
        layout="CMIS",
        identity=_identity(lower, who, can),
        diagnostics=not flat,
        calibration=None if flat else "internal",
        received_power_kind=None if can is None or copper else "average" if can.u8(151) & 0x10 else "OMA",
        problems=tuple(problems),
    )
    return seen if flat else _with_readings(seen, lower, can, _limits(limits, can), pages.get("upper_11"))


def _whole(page: Page | None, first: int, what: str, problems: list[str]) -> Page | None:
    """A page whose checksum stands in its last byte; None where it is not there."""
    if page is None or page.blank:
        return None
    if not page.sums_to(first, 254, 255):
        problems.append(f"the checksum of the page with {what} is wrong")
    return page


def _identity(lower: Page, who: Page, can: Page | None) -> Identity:
    codes, media = module_codes(), lower.u8(85)
    copper = media == _PASSIVE
    length = who.u8(202)
    reach = {"copper": (length & 0x3F) * _LENGTH[length >> 6]} if copper else {}
    if can is not None and not copper:
        far = can.u8(132)
        reach = {
            "single-mode": (far & 0x3F) * (100.0, 1000.0, 10_000.0, 0.0)[far >> 6],
            "OM5": can.u8(133) * 2.0,
            "OM4": can.u8(134) * 2.0,
            "OM3": can.u8(135) * 2.0,
            "OM2": can.u8(136) * 1.0,
        }
    applications = _applications(lower, media)
    return Identity(
        identifier=word(codes.identifier, lower.u8(0)),
        vendor=who.text(129, 16),
        part=who.text(148, 16),
        serial=who.text(166, 16),
        revision=who.text(164, 2),
        date=who.text(182, 8),
        connector=word(codes.connector, who.u8(203)),
        wavelength_nm=None if can is None or copper else can.u16(138) / 20 or None,
        technology=word(codes.technology, who.u8(212)),
        compliance=tuple(dict.fromkeys(one.media for one in applications)),
        applications=applications,
        reach_m={name: metres for name, metres in reach.items() if metres},
        copper=copper,
    )


def _applications(lower: Page, media: int) -> tuple[Application, ...]:
    codes = module_codes()
    table = {_MULTIMODE: codes.media_multimode, _SINGLE_MODE: codes.media_single_mode}.get(media, {})
    found = []
    for at in range(86, 118, 4):
        host, what, lanes = lower.u8(at), lower.u8(at + 1), lower.u8(at + 2)
        if host == 0xFF:
            break
        if host:
            one = Application(
                host_code=host, media=word(table, what), host_lanes=lanes >> 4, media_lanes=lanes & 0x0F
            )
            found.append(one)
    return tuple(found)


def _limits(page: Page | None, can: Page | None) -> dict[Quantity, Thresholds]:
    if page is None:
        return {}
    found = {
        "temperature": four(page, 128, 1 / 256, signed=True),
        "supply": four(page, 136, 1e-4),
        "tx power": four(page, 176, 0.1),
        "bias": four(page, 184, 2e-3 * _bias(can)),
        "rx power": four(page, 192, 0.1),
    }
    return {name: known for name, known in found.items() if known is not None}  # type: ignore[misc]


def _bias(can: Page | None) -> int:
    return 1 if can is None else _BIAS[can.u8(160) >> 3 & 3]


def _with_readings(
    seen: ModuleSeen, lower: Page, can: Page | None, limits: dict[Quantity, Thresholds], page: Page | None
) -> ModuleSeen:
    temperature = round(lower.s16(14) / 256, 4) if can is None or can.u8(159) & 0x01 else None
    supply = round(lower.u16(16) * 1e-4, 4) if can is None or can.u8(159) & 0x02 else None
    problems = seen.problems
    if can is None:
        words = "page 01h was not read: which values it measures is not known, and its bias is left out"
        problems = (*problems, words)
    elif page is None:
        problems = (*problems, "page 11h was not read: its lanes are missing")
    lanes = _lanes(page, can, _count(seen)) if page is not None else ()
    byte = lower.u8(9)
    flags = [(quantity, 0, side, grade) for bit, quantity, side, grade in _WHOLE_FLAGS if byte >> bit & 1]
    for lane in lanes:
        flags += _lane_flags(page, lane.lane)
    told = beyond(values_of(temperature, supply, lanes), limits, flags)
    return seen.model_copy(
        update={
            "temperature_c": temperature,
            "supply_v": supply,
            "lanes": lanes,
            "thresholds": limits,
            "alarms": told.alarms,
            "warnings": told.warnings,
            "problems": problems,
        }
    )


def _count(seen: ModuleSeen) -> int:
    """Media lanes of the application that takes the most; eight where none is told."""
    listed = seen.identity.applications if seen.identity else ()
    return max((one.media_lanes for one in listed), default=8) or 8


def _lanes(page: Page, can: Page | None, count: int) -> tuple[LaneSeen, ...]:
    monitors, times = (can.u8(160) if can else 0x06), _bias(can)
    return tuple(
        LaneSeen(
            lane=lane,
            tx=power(page.u16(152 + 2 * lane)) if monitors & 0x02 else None,
            bias_ma=round(page.u16(168 + 2 * lane) * 2e-3 * times, 4) if monitors & 0x01 else None,
            rx=power(page.u16(184 + 2 * lane)) if monitors & 0x04 else None,
            fault=bool(page.u8(135) >> (lane - 1) & 1),
            no_light=bool(page.u8(147) >> (lane - 1) & 1),
        )
        for lane in range(1, min(8, count) + 1)
    )


def _lane_flags(page: Page | None, lane: int) -> list[tuple[Quantity, int, str, str]]:
    if page is None:
        return []
    return [
        (quantity, lane, side, grade)
        for at, quantity in _LANE_FLAGS
        for n, (side, grade) in enumerate(_SIDES)
        if page.u8(at + n) >> (lane - 1) & 1
    ]

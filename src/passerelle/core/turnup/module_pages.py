"""The memory pages of a module: as bytes, and as what they say whatever their layout.

Powers are in microwatts and dBm, temperatures in °C, supplies in V, bias currents in mA. A module that sees no
light reads zero microwatts: that has no level in dBm.
"""

from __future__ import annotations

import math
import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Literal

from pydantic import Field

from passerelle.core.errors import TurnUpError
from passerelle.core.sources import Frozen

Layout = Literal["SFF-8472", "SFF-8636", "CMIS"]
LAYOUTS: tuple[Layout, ...] = ("SFF-8472", "SFF-8636", "CMIS")
Quantity = Literal["temperature", "supply", "bias", "tx power", "rx power"]
ReceivedKind = Literal["average", "OMA"]
Calibration = Literal["internal", "external"]
HALF = 128
_UW = 0.1
"""Powers are counted in tenths of a microwatt in all three layouts."""


class Power(Frozen):
    """An optical power: microwatts, and dBm, which is None where there is no light."""

    uw: float
    dbm: float | None


class Thresholds(Frozen):
    """A module's own limits of a quantity, in its unit (°C, V, mA, µW)."""

    high_alarm: float
    low_alarm: float
    high_warning: float
    low_warning: float


class LaneSeen(Frozen):
    """What a lane reads; None where the module does not say."""

    lane: int
    bias_ma: float | None = None
    tx: Power | None = None
    rx: Power | None = None
    disabled: bool = False
    fault: bool = False
    no_light: bool = False


class Application(Frozen):
    """A way in which a CMIS module can work: host and media interface by code, with their lanes."""

    host_code: int
    media: str
    host_lanes: int
    media_lanes: int


class Identity(Frozen):
    """Who a module says that it is. ``reach_m`` by kind of fiber; ``wavelength_nm`` None of copper."""

    identifier: str = ""
    vendor: str = ""
    part: str = ""
    serial: str = ""
    revision: str = ""
    date: str = ""
    connector: str = ""
    wavelength_nm: float | None = None
    technology: str = ""
    rate_mbd: int | None = None
    compliance: tuple[str, ...] = ()
    applications: tuple[Application, ...] = ()
    reach_m: dict[str, float] = Field(default_factory=dict)
    copper: bool = False


class ModuleSeen(Frozen):
    """What a module's pages say. Readings are None where the module gives none; ``problems`` are words on what
    cannot be trusted in the pages themselves.
    """

    present: bool
    layout: Layout
    identity: Identity | None = None
    diagnostics: bool = False
    calibration: Calibration | None = None
    received_power_kind: ReceivedKind | None = None
    temperature_c: float | None = None
    supply_v: float | None = None
    bias_ma: float | None = None
    tx: Power | None = None
    rx: Power | None = None
    lanes: tuple[LaneSeen, ...] = ()
    thresholds: dict[Quantity, Thresholds] = Field(default_factory=dict)
    alarms: tuple[str, ...] = ()
    warnings: tuple[str, ...] = ()
    problems: tuple[str, ...] = ()


class Page:
    """Bytes of a page; ``base`` is the address of its first one."""

    def __init__(self, name: str, body: bytes, base: int = 0) -> None:
        self.name, self._body, self._base = name, body, base

    def u8(self, at: int) -> int:
        """The byte at an address."""
        return self.some(at, 1)[0]

    def u16(self, at: int) -> int:
        """Two bytes, most significant first."""
        return int.from_bytes(self.some(at, 2), "big")

    def s16(self, at: int) -> int:
        """Two bytes in two's complement."""
        return int.from_bytes(self.some(at, 2), "big", signed=True)

    def text(self, at: int, length: int) -> str:
        """Letters, without what pads them; a byte that is no letter is a question mark."""
        letters = (chr(b) if 32 <= b < 127 else "?" for b in self.some(at, length).rstrip(b"\0 \xff"))
        return "".join(letters).strip()

    def some(self, at: int, length: int) -> bytes:
        """Some bytes.

        Raises:
            TurnUpError: the dump ends before.
        """
        start = at - self._base
        found = self._body[start : start + length]
        if start < 0 or len(found) < length:
            last = self._base + len(self._body) - 1
            raise TurnUpError(
                f"pages.{self.name}",
                f"it ends at byte {last}, and byte {at + length - 1} is needed: dump the whole page",
            )
        return found

    def has(self, at: int) -> bool:
        """Whether the dump reaches an address."""
        return 0 <= at - self._base < len(self._body)

    @property
    def blank(self) -> bool:
        """Nothing but what an empty bus reads."""
        return set(self._body) <= {0xFF} or set(self._body) <= {0x00}

    def sums_to(self, first: int, last: int, at: int) -> bool:
        """Whether the low byte of the sum of some bytes stands at an address."""
        return sum(self.some(first, last - first + 1)) & 0xFF == self.u8(at)


Pages = Mapping[str, Page]


def pages_from(layout: str, pages: Mapping[str, str]) -> dict[str, Page]:
    """Pages from hexadecimal text, which may hold blanks, colons, commas and ``0x``.

    Raises:
        TurnUpError: a layout that is not known, a page without a name that its layout has, text that is no dump.
    """
    if layout not in LAYOUTS:
        raise TurnUpError("layout", f"'{layout}' is not known: {', '.join(LAYOUTS)}")
    return {name.lower(): _page(name.lower(), text, layout) for name, text in pages.items()}


def _page(name: str, text: str, layout: str) -> Page:
    known = r"a0|a2" if layout == "SFF-8472" else r"lower|upper_[0-9a-f]{2}"
    if not re.fullmatch(known, name):
        wanted = "a0 and a2" if layout == "SFF-8472" else "lower, upper_00, upper_01 and so on"
        raise TurnUpError(f"pages.{name}", f"{layout} has no such page: {wanted}")
    if not isinstance(text, str):
        raise TurnUpError(f"pages.{name}", "a page is text in hexadecimal, such as '03 04 07 ...'")
    plain = re.sub(r"0x|[\s:,]", "", text, flags=re.IGNORECASE)
    try:
        body = bytes.fromhex(plain)
    except ValueError as error:
        raise TurnUpError(f"pages.{name}", "this is no hexadecimal dump: two digits a byte") from error
    if len(body) > 2 * HALF:
        raise TurnUpError(f"pages.{name}", f"{len(body)} bytes: a page has no more than 256")
    upper = name.startswith("upper")
    if upper and len(body) == 2 * HALF:  # dumped with the lower half before it
        body = body[HALF:]
    return Page(name, body, HALF if upper else 0)


def from_binary(body: bytes) -> tuple[Layout, dict[str, Page]]:
    """The layout and pages of a binary dump, by its first byte: A0h then A2h, or the lower then the upper pages.

    Upper pages follow in the order 00h, 01h, 02h, 03h of CMIS; of SFF-8636 00h, 01h, 02h, 03h too. A dump of 256
    bytes holds the lower half and page 00h, or A0h alone.

    Raises:
        TurnUpError: too short, or no module that is known.
    """
    if len(body) < HALF:
        raise TurnUpError("file", f"{len(body)} bytes: a dump has at least {HALF}")
    kind = body[0]
    if kind in (0x02, 0x03, 0xFF, 0x00):
        halves = {"a0": Page("a0", body[:256])}
        return "SFF-8472", halves | ({"a2": Page("a2", body[256:512])} if len(body) > 256 else {})
    layout: Layout
    if kind in (0x0C, 0x0D, 0x11):
        layout = "SFF-8636"
    elif kind in (0x18, 0x19, 0x1E, 0x1F):
        layout = "CMIS"
    else:
        raise TurnUpError("file", f"it begins with {kind:#04x}: this is no module that is known here")
    found = {"lower": Page("lower", body[:HALF])}
    for number in range((len(body) - HALF) // HALF):
        name = f"upper_{number:02x}"
        found[name] = Page(name, body[HALF * (number + 1) : HALF * (number + 2)], HALF)
    return layout, found


def power(raw: float) -> Power:
    """A power from tenths of a microwatt; what is zero or less is no light."""
    uw = round(max(0.0, raw) * _UW, 4)
    return Power(uw=uw, dbm=round(10 * math.log10(uw / 1000), 3) if uw > 0 else None)


def four(page: Page, at: int, scale: float, *, signed: bool = False) -> Thresholds | None:
    """Four thresholds from an address in the order of all layouts; None where they were never set."""
    read = page.s16 if signed else page.u16
    raw = [read(at + 2 * n) for n in range(4)]
    if not any(raw) or all(one in (-1, 0xFFFF) for one in raw):
        return None
    high_alarm, low_alarm, high_warning, low_warning = (round(one * scale, 6) for one in raw)
    return Thresholds(
        high_alarm=high_alarm, low_alarm=low_alarm, high_warning=high_warning, low_warning=low_warning
    )


@dataclass(frozen=True)
class Beyond:
    """Readings beyond a module's own thresholds, in words, and what its latched flags say."""

    alarms: tuple[str, ...]
    warnings: tuple[str, ...]


def beyond(
    values: Sequence[tuple[Quantity, int, float | None]],
    limits: Mapping[Quantity, Thresholds],
    flagged: Sequence[tuple[Quantity, int, str, str]] = (),
) -> Beyond:
    """What stands beyond its threshold now, or is flagged by the module since it was last read.

    Args:
        values: quantity, lane (0 for the module) and value; None is not compared.
        limits: the module's thresholds by quantity.
        flagged: quantity, lane, ``high`` or ``low``, ``alarm`` or ``warning``, as the module's flags say.
    """
    found: dict[str, list[str]] = {"alarm": [], "warning": []}
    for quantity, lane, side, grade in (*flagged, *_compared(values, limits)):
        words = f"{quantity} {side}" + (f", lane {lane}" if lane else "")
        if words not in found[grade]:
            found[grade].append(words)
    return Beyond(tuple(found["alarm"]), tuple(found["warning"]))


def _compared(
    values: Sequence[tuple[Quantity, int, float | None]], limits: Mapping[Quantity, Thresholds]
) -> list[tuple[Quantity, int, str, str]]:
    found = []
    for quantity, lane, value in values:
        known = limits.get(quantity)
        if known is None or value is None:
            continue
        for grade, high, low in (
            ("alarm", known.high_alarm, known.low_alarm),
            ("warning", known.high_warning, known.low_warning),
        ):
            if value > high:
                found.append((quantity, lane, "high", grade))
            if value < low:
                found.append((quantity, lane, "low", grade))
    return found


def values_of(
    temperature_c: float | None, supply_v: float | None, lanes: Sequence[LaneSeen]
) -> list[tuple[Quantity, int, float | None]]:
    """What a module of several lanes reads, as it is held against its thresholds; lane 0 is the module."""
    found: list[tuple[Quantity, int, float | None]] = [("temperature", 0, temperature_c), ("supply", 0, supply_v)]
    for lane in lanes:
        found.append(("bias", lane.lane, lane.bias_ma))
        found.append(("tx power", lane.lane, lane.tx.uw if lane.tx else None))
        found.append(("rx power", lane.lane, lane.rx.uw if lane.rx else None))
    return found


def who_and_what(pages: Pages) -> tuple[Page, Page]:
    """The lower page and upper page 00h, without which a module of several lanes says nothing.

    Raises:
        TurnUpError: one of them was not dumped.
    """
    for name, why in (("lower", "what the module reads"), ("upper_00", "who the module is")):
        if name not in pages:
            raise TurnUpError(f"pages.{name}", f"page {name} says {why}: dump it")
    return pages["lower"], pages["upper_00"]

"""Lengths as people type them, and decibels as people read them.

Inside the program every length is in metres. Feet, miles and the like exist only here, at the edge.
"""

from __future__ import annotations

import math
import re

from passerelle.core.errors import DoubtfulNumberError, UnitError

METRES_PER_FOOT = 0.3048  # exactly, by the international yard and pound agreement of 1959

_METRES_PER_UNIT = {
    "mm": 0.001,
    "cm": 0.01,
    "m": 1.0,
    "km": 1000.0,
    "in": METRES_PER_FOOT / 12,
    "ft": METRES_PER_FOOT,
    "yd": METRES_PER_FOOT * 3,
    "mi": METRES_PER_FOOT * 5280,
}
_SPELLINGS = {
    "metre": "m", "metres": "m", "meter": "m", "meters": "m",
    "kilometre": "km", "kilometres": "km", "kilometer": "km", "kilometers": "km",
    "foot": "ft", "feet": "ft", "'": "ft", "′": "ft",
    "inch": "in", "inches": "in", '"': "in", "″": "in",
    "yard": "yd", "yards": "yd", "mile": "mi", "miles": "mi",
}  # fmt: skip
_VULGAR = {"½": "1/2", "¼": "1/4", "¾": "3/4", "⅓": "1/3", "⅔": "2/3"}
_PART = re.compile(r"""\s*(?P<number>\d[\d.,\s]*(?:/\s*\d+)?|[.,]\d+)\s*(?P<unit>[a-z]+|'|"|′|″)?\s*""", re.VERBOSE)
_MINUS = ("-", "−", "–")
_EXAMPLES = "write for example 320 m, 1250 ft, 2.9 km or 1/2 mi"


def parse_length(text: str, default_unit: str = "m") -> float:
    """Read a length as a technician types it and return metres.

    Accepts a number with a unit (``1250 ft``, ``2.9 km``, ``0,4 km``), fractions (``1/2 mi``,
    ``3 1/2 ft``), feet with inches (``12 ft 6 in``, ``12'6"``), grouped digits (``1 500 m``,
    ``1,500.5 ft``). Without a unit ``default_unit`` is taken.

    >>> parse_length("1250 ft")
    381.0
    >>> parse_length("0,4 km")
    400.0

    Raises:
        UnitError: the text is not a length, is negative or not finite, names an unknown unit, or a comma
            stands before exactly three digits (``1,500``), which may mean 1.5 or 1500.
    """
    body = text.strip().lower().replace("\u00a0", " ").replace("\u202f", " ")
    for sign, spelled in _VULGAR.items():
        body = body.replace(sign, f" {spelled}")
    body = body.strip()
    if not body:
        raise UnitError(f"no length was typed: {_EXAMPLES}")
    total, position, last_size = 0.0, 0, math.inf
    while position < len(body):
        part = _PART.match(body, position)
        if part is None or (position > 0 and part["unit"] is None):
            raise UnitError(f"'{text}' is not a length: {_EXAMPLES}")
        size = _unit_size(part["unit"] or default_unit, text)
        if size >= last_size:
            raise UnitError(f"'{text}' repeats a unit: {_EXAMPLES}")
        total += _number(part["number"].strip(), text) * size
        position, last_size = part.end(), size
    if not math.isfinite(total) or total > 1e8:
        raise UnitError(f"'{text}' is longer than any cable: check the unit")
    return round(total, 6)


def typed_length(value: object) -> object:
    """A length as a field takes it: text is read as a technician types it, anything else is left as it is."""
    return parse_length(value) if isinstance(value, str) else value


def _unit_size(unit: str, text: str) -> float:
    name = _SPELLINGS.get(unit, unit)
    if name not in _METRES_PER_UNIT:
        raise UnitError(f"'{unit}' in '{text}' is not a unit of length: use m, km, cm, ft, in, yd or mi")
    return _METRES_PER_UNIT[name]


def _number(digits: str, text: str) -> float:
    mixed = re.fullmatch(r"(?:(\d+)\s+)?(\d+)\s*/\s*(\d+)", digits)
    if mixed:
        whole, above, below = (int(g) if g else 0 for g in mixed.groups())
        if below == 0:
            raise UnitError(f"'{text}' divides by zero: {_EXAMPLES}")
        return whole + above / below
    plain = plain_number(digits)
    if not plain:
        raise UnitError(f"'{text}' is not a length: {_EXAMPLES}")
    if len(plain) == 2:
        grouped, decimal = (text.strip().replace(digits, one, 1) for one in plain)
        raise DoubtfulNumberError(text, (grouped, decimal))
    return float(plain[0])


def plain_number(text: str) -> tuple[str, ...]:
    """The ways in which a typed number can be meant, as plain digits with a point: one where it is sure.

    Two, grouped and decimal, where a comma stands before exactly three digits; none where it is no number.
    Groups of three may be parted by spaces, commas or points; any dash is a minus sign.

    >>> plain_number("0,4"), plain_number("1,005"), plain_number("−6.2"), plain_number("six")
    (('0.4',), ('1005', '1.005'), ('-6.2',), ())
    """
    body = text.strip().replace("\u00a0", " ").replace("\u202f", " ")
    sign = "-" if body[:1] in _MINUS else ""
    digits = body[1:].strip() if body[:1] in (*_MINUS, "+") else body
    if re.fullmatch(r"\d{1,3}( \d{3})+([.,]\d+)?", digits):
        found: tuple[str, ...] = (digits.replace(" ", "").replace(",", "."),)
    elif re.fullmatch(r"[1-9]\d{0,2},\d{3}", digits):
        found = digits.replace(",", ""), digits.replace(",", ".").rstrip("0").rstrip(".")
    elif re.fullmatch(r"\d{1,3}(,\d{3})+\.\d+|\d{1,3}(,\d{3}){2,}", digits):
        found = (digits.replace(",", ""),)
    elif re.fullmatch(r"\d{1,3}(\.\d{3})+,\d+|\d{1,3}(\.\d{3}){2,}", digits):
        found = (digits.replace(".", "").replace(",", "."),)
    elif re.fullmatch(r"(\d+([.,]\d*)?|[.,]\d+)(e[+-]?\d{1,3})?", digits):
        found = (digits.replace(",", "."),)
    else:
        found = ()
    return tuple(sign + one for one in found)


def parse_number(text: str) -> float:
    """Read a number as a technician types it: ``0,35``, ``−6.2``, ``1 500``.

    Raises:
        UnitError: it is no number; DoubtfulNumberError where a comma may group digits or mark a decimal.

    >>> parse_number("0,35"), parse_number("12,500.5")
    (0.35, 12500.5)
    """
    plain = plain_number(text)
    if not plain:
        raise UnitError(f"'{text}' is not a number: write for example 12.5")
    if len(plain) == 2:
        raise DoubtfulNumberError(text, (plain[0], plain[1]))
    return float(plain[0])


def typed_number(value: object) -> object:
    """A number as a field takes it: text is read as a technician types it, anything else is left as it is."""
    return parse_number(value) if isinstance(value, str) else value


_POWER = re.compile(r"(?P<number>.*?\d)\s*(?P<unit>dbm|mw|uw|µw|μw)?", re.IGNORECASE)
_MILLIWATTS = {"mw": 1.0, "uw": 1e-3, "µw": 1e-3, "μw": 1e-3}


def parse_power(text: str) -> float:
    """Read an optical power as a device shows it and return dBm: ``-6.2``, ``−6,2 dBm``, ``0.24 mW``, ``240 µW``.

    By definition dBm = 10 log10(mW); 0.25 mW is -6.02 dBm. Range: any power above zero.

    Raises:
        UnitError: it is no power, or no light at all; DoubtfulNumberError as for a number.

    >>> parse_power("0.25 mW"), parse_power("−6,2")
    (-6.02, -6.2)
    """
    found = _POWER.fullmatch(text.strip())
    plain = plain_number(found["number"]) if found else ()
    if found is None or not plain:
        raise UnitError(f"'{text}' is not a power: type it as the device shows it, such as -6.2, 0.24 mW or 240 µW")
    if len(plain) == 2:
        grouped, decimal = (text.strip().replace(found["number"], one, 1) for one in plain)
        raise DoubtfulNumberError(text, (grouped, decimal))
    unit = (found["unit"] or "dbm").lower()
    value = float(plain[0])
    if unit == "dbm":
        return value
    if value <= 0:
        raise UnitError(f"'{text}' is no light: say so instead of a power")
    return round(10 * math.log10(value * _MILLIWATTS[unit]), 2)


def typed_power(value: object) -> object:
    """A power in dBm as a field takes it: text is read as a device shows it, anything else is left as it is."""
    return parse_power(value) if isinstance(value, str) else value


def format_length(length_m: float, unit: str = "m") -> str:
    """Write a length for a person: ``2.90 km``, ``320 m``, ``0.5 m``, or in feet ``1,050 ft``."""
    if unit == "ft":
        feet = length_m / METRES_PER_FOOT
        return f"{feet:.1f} ft" if feet < 100 else f"{feet:.0f} ft"
    if length_m >= 1000:
        return f"{length_m / 1000:.2f} km"
    return f"{length_m:.0f} m" if length_m >= 100 or length_m == int(length_m) else f"{length_m:.1f} m"


def format_db(value_db: float, digits: int = 1) -> str:
    """Write a margin with its sign, rounded towards the worse: ``+3.2 dB``, with two digits ``−0.08 dB``.

    A margin is never shown better than it is, so a small negative one does not read as zero. Lists show one digit,
    sums that a person checks by hand two.
    """
    scale = 10**digits
    shown = math.floor(round(value_db * scale, 6)) / scale
    zero = f"{0:.{digits}f}"
    return f"{shown:+.{digits}f} dB".replace(f"-{zero} ", f"+{zero} ").replace("-", "−")


_RATE = re.compile(
    r"(?:(?P<value>\d+(?:[.,]\d+)?)\s*)?"
    r"(?:(?P<unit>[gm])(?:ig(?:s|abits?)?|egabits?|be|b|bit)?(?:ethernet)?(?:\s*(?:/\s*s|ps|e))?)?",
    re.IGNORECASE,
)


def parse_rate(text: str) -> int:
    """Read a data rate in Mb/s: ``10G``, ``10 Gb/s``, ``10 gig``, ``gigabit``; a bare number from 100 on is Mb/s.

    Raises:
        UnitError: not a rate, or a bare number that could mean either.

    >>> parse_rate("10 Gb/s"), parse_rate("10 gig"), parse_rate("gigabit")
    (10000, 10000, 1000)
    """
    found = _RATE.fullmatch(text.strip())
    if not found or not found[0]:
        raise UnitError(f"'{text}' is not a speed: write for example 10G, 10 Gb/s or 100M")
    unit = (found["unit"] or "").lower()
    value = float((found["value"] or "1").replace(",", "."))
    if not unit and value < 100:
        raise UnitError(f"'{text}' can mean {text} Gb/s or {text} Mb/s: write {text}G or {text}M")
    rate = round(value * (1000 if unit == "g" else 1))
    if not 1 <= rate <= 1_000_000:
        raise UnitError(f"'{text}' is no speed that anything here runs at: write for example 10G")
    return rate


def format_rate(rate_mbps: int) -> str:
    """Write a data rate: ``100 Mb/s``, ``1 Gb/s``, ``10 Gb/s``."""
    return f"{rate_mbps / 1000:g} Gb/s" if rate_mbps >= 1000 else f"{rate_mbps} Mb/s"

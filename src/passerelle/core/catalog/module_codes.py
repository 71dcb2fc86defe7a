"""What the codes in a module's memory mean."""

from __future__ import annotations

import tomllib
from functools import cache
from importlib import resources

from passerelle.core.sources import Frozen, Source

Codes = dict[int, str]


class ModuleCodes(Frozen):
    """Code tables by name; a code that is not known for certain stands in none of them."""

    source: Source
    identifier: Codes
    connector: Codes
    ethernet_10g: Codes
    ethernet_1g: Codes
    ethernet_40g: Codes
    ethernet_1g_lanes: Codes
    extended_one: Codes
    extended_four: Codes
    media_multimode: Codes
    media_single_mode: Codes
    technology: Codes


@cache
def module_codes() -> ModuleCodes:
    """The shipped codes."""
    path = resources.files("passerelle.core.catalog") / "data" / "module_codes.toml"
    return ModuleCodes.model_validate(tomllib.loads(path.read_text(encoding="utf-8")))


def word(codes: Codes, code: int) -> str:
    """The word for a code, or its number where it is not known.

    >>> word(module_codes().connector, 7), word(module_codes().connector, 0x99)
    ('LC', 'code 0x99')
    """
    return codes.get(code) or f"code {code:#04x}"


def bits(codes: Codes, byte: int) -> tuple[str, ...]:
    """The words of the bits that are set in a byte."""
    return tuple(words for bit, words in codes.items() if byte >> bit & 1)

"""The objects of equipment by their numeric identifiers, from one table with its sources; what their values are."""

from __future__ import annotations

import tomllib
from functools import cache
from importlib import resources
from typing import Any

Oid = tuple[int, ...]
Value = int | bytes | Oid


SILENT = "it is silent"
"""How the trouble of a box begins that did not answer at all."""


class BoxError(RuntimeError):
    """A box that cannot be read or written. ``address`` is its own; the message says what to do."""

    def __init__(self, address: str, message: str) -> None:
        super().__init__(f"{address}: {message}")
        self.address = address


@cache
def _table() -> dict[str, Any]:
    path = resources.files("passerelle.equipment") / "objects.toml"
    return tomllib.loads(path.read_text(encoding="utf-8"))


@cache
def oid(module: str, name: str) -> tuple[int, ...]:
    """The identifier of an object, or of a column of a table; raises KeyError where the table has none.

    >>> oid("interface", "oper")
    (1, 3, 6, 1, 2, 1, 2, 2, 1, 8)
    """
    return tuple(int(part) for part in _table()[module][name].split("."))


def mau_type(application: str) -> tuple[int, ...] | None:
    """The medium attachment type of an application; None where the table does not have it."""
    types = _table()["mau_types"]
    number = types["of"].get(application)
    return None if number is None else (*(int(part) for part in types["base"].split(".")), number)


def mau_applications() -> tuple[str, ...]:
    """The applications whose rate can be set by a medium attachment type."""
    return tuple(_table()["mau_types"]["of"])


def mau_name(identifier: tuple[int, ...]) -> str:
    """The application of a medium attachment type, or its number; empty for none.

    >>> mau_name((1, 3, 6, 1, 2, 1, 26, 4, 35)), mau_name((0, 0))
    ('10GBASE-LR', '')
    """
    types = _table()["mau_types"]
    base = tuple(int(part) for part in types["base"].split("."))
    if identifier[: len(base)] != base or len(identifier) != len(base) + 1:
        return ""
    named = {number: name for name, number in types["of"].items()}
    return str(named.get(identifier[-1], f"MAU type {identifier[-1]}"))


def text(value: Value | None) -> str:
    """Bytes of a box as text; control characters are left out, so that nothing hides in it.

    >>> text(b"quay\\x00 1")
    'quay 1'
    """
    if not isinstance(value, bytes):
        return ""
    return "".join(one for one in value.decode("utf-8", "replace") if one.isprintable()).strip()[:200]

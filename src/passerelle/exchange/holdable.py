"""Text that every database, sheet and drawing can hold: what comes from outside is checked once, at the door."""

from __future__ import annotations

import re
from collections.abc import Iterator
from typing import Any

UNHELD = re.compile("[\x00-\x08\x0b\x0c\x0e-\x1f\x7f\ud800-\udfff\ufffe\uffff]")
"""Control characters but tab and line ends, halves of surrogate pairs, what is no character: XML 1.0, 2.2 Char."""

MOST_DIGITS = 60
"""A number of more digits is no measure of anything; reading it takes time with the square of its length."""

_ESCAPED = re.compile(r"(\\\\)|\\u00(?:0[0-8bcef]|1[0-9a-f])")
_LONG = re.compile(rf"[0-9]{{{MOST_DIGITS + 1}}}")


class UnheldTextError(ValueError):
    """A text that cannot be held; ``place`` is where it stands."""

    def __init__(self, place: str, text: str) -> None:
        found = UNHELD.search(text)
        code = f"U+{ord(found.group()):04X}" if found else "?"
        near = UNHELD.sub("\N{REPLACEMENT CHARACTER}", text)[:40]
        super().__init__(f"{place}: no text that can be kept: remove the control character {code} from '{near}'")
        self.place = place


_SUSPECT = re.compile(r"\\[bf]|\\u(?:00[01]|007[fF]|[dD][89a-fA-F]|[fF]{3}[eEfF])|" + UNHELD.pattern)
"""What JSON has only if a text in it cannot be held; whether it does is then looked at with care."""


def suspect(text: str) -> bool:
    """Whether JSON text may hold a text that cannot be held; most holds none, and is read through once."""
    return _SUSPECT.search(text) is not None


def unheld(text: str) -> bool:
    """Whether a text has a character that a database, a sheet or XML cannot hold."""
    return UNHELD.search(text) is not None


def held(text: str) -> str:
    """A text as it can leave: what cannot be held, from a time when it was not asked, shows as U+FFFD."""
    return UNHELD.sub("\N{REPLACEMENT CHARACTER}", text)


def held_json(text: str) -> str:
    """JSON text as it can leave: escapes of what cannot be held show as U+FFFD too."""
    if "\\u00" in text:
        text = _ESCAPED.sub(lambda found: found[1] or "\N{REPLACEMENT CHARACTER}", text)
    return held(text)


def check_texts(value: Any, place: str = "") -> None:
    """Look at every text in what was read as JSON, keys too.

    Raises:
        UnheldTextError: with the path of the first one that cannot be held.
    """
    for where, text in _texts(value, place):
        if unheld(text):
            raise UnheldTextError(where or "the text", text)


def _texts(value: Any, place: str) -> Iterator[tuple[str, str]]:
    todo = [(place, value)]
    while todo:
        where, one = todo.pop()
        if isinstance(one, str):
            yield where, one
        elif isinstance(one, dict):
            for key, inner in one.items():
                yield where, key
                todo.append((f"{where}.{key}" if where else key, inner))
        elif isinstance(one, list):
            todo += [(f"{where}[{n}]", inner) for n, inner in enumerate(one)]


def overlong_number(text: str) -> bool:
    """Whether a text has a number of more digits than any measure has."""
    return _LONG.search(text) is not None

"""Permanent keys: every project, link, piece, part and event has one of its own, which is never given again."""

from __future__ import annotations

import hashlib
from collections.abc import Callable

from passerelle.core.link.chain import Link
from passerelle.core.link.readings import Reading, is_stale, signed
from passerelle.core.parts.registry import Element

Fresh = Callable[[], str]
"""Gives a key that nothing has had: random, so it comes from outside the core."""


def keyed(link: Link, fresh: Fresh) -> Link:
    """The link with a key for itself and for each piece that has none; its readings name the pieces by them."""
    if link.key and all(piece.key for piece in link.elements):
        return link
    elements = tuple(e if e.key else e.model_copy(update={"key": fresh()}) for e in link.elements)
    readings = tuple(_over(link, elements, reading) for reading in link.readings)
    return link.model_copy(update={"key": link.key or fresh(), "elements": elements, "readings": readings})


def _over(link: Link, elements: tuple[Element, ...], reading: Reading) -> Reading:
    unnamed = not reading.over and not is_stale(link.elements, reading)
    return signed(elements, reading) if unnamed else reading


def unkeyed(link: Link) -> Link:
    """The link as a copy of it begins: without keys, and without readings, which are the first one's."""
    elements = tuple(e.model_copy(update={"key": ""}) if e.key else e for e in link.elements)
    return link.model_copy(update={"key": "", "elements": elements, "readings": ()})


def derived(*parts: object) -> str:
    """A key that follows from others: the same for the same parts, and for no other.

    >>> derived("a", 1) == derived("a", 1), derived("a", 1) == derived("a", 2)
    (True, False)
    """
    return hashlib.blake2b("\n".join(map(str, parts)).encode(), digest_size=8).hexdigest()

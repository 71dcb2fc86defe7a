"""What the legs of a split port share: the fast module or assembly and the cord that splits it are bought once."""

from __future__ import annotations

from collections import Counter
from collections.abc import Collection, Hashable

from passerelle.core.link.chain import Link, ports
from passerelle.core.parts.kinds.assembly import Assembly
from passerelle.core.parts.kinds.breakout import Breakout
from passerelle.core.parts.kinds.module import Module
from passerelle.core.parts.kinds.port import Port


class SplitPorts:
    """Counts the legs of each fast port as links go by: by its place and label, else by what is in it."""

    def __init__(self) -> None:
        self._legs: Counter[Hashable] = Counter()

    def bought_before(self, link: Link) -> Collection[int]:
        """The places of the pieces of a link that another leg of the same port has brought already."""
        shared, legs, what = _shared(link)
        if not shared:
            return ()
        fast = _fast(link, legs)
        key = (fast.place.strip().casefold(), fast.label.strip().casefold(), what) if fast else ("", "", what)
        number = self._legs[key]
        self._legs[key] += 1
        return shared if number % legs else ()


def _shared(link: Link) -> tuple[tuple[int, ...], int, str]:
    """The places of the pieces that all legs have in common, how many legs there are, and what splits the port."""
    for position, piece in enumerate(link.elements):
        if isinstance(piece, Assembly) and piece.legs > 1:
            return (position,), piece.legs, f"{piece.made} {piece.rate_mbps} {piece.left_form} {piece.right_form}"
        if isinstance(piece, Module) and piece.legs > 1:
            parting = next((n for n, e in enumerate(link.elements) if isinstance(e, Breakout)), position)
            first, last = sorted((position, parting))
            return tuple(range(first, last + 1)), piece.legs, f"{piece.application} {piece.form}"
    return (), 1, ""


def _fast(link: Link, legs: int) -> Port | None:
    """The port that is split: the one that can be, else the fastest."""
    return max(ports(link), key=lambda port: (legs in port.splits, max(port.rates_mbps, default=0)), default=None)

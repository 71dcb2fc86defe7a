"""Lengths that somebody guessed: they are measured before anything is ordered."""

from __future__ import annotations

from passerelle.core.findings import Finding, note
from passerelle.core.link.chain import Link, copper, glass
from passerelle.core.stages import ESTIMATED_LENGTH


def estimated_lengths(link: Link) -> list[Finding]:
    """A note on each piece whose length is an estimate: it is measured before anything is ordered."""
    return [
        note(
            ESTIMATED_LENGTH,
            (piece.id,),
            f"The length of this {piece.kind} is an estimate.",
            "Measure it before anything is ordered: on the drawing, with a wheel, or by the marks on a jacket.",
        )
        for piece in (*glass(link), *copper(link))
        if getattr(piece, "length_estimated", False)
    ]

"""Pieces that are in place and cannot be used."""

from __future__ import annotations

from passerelle.core.findings import Finding, Rule
from passerelle.core.link.chain import called
from passerelle.core.link.compose import Chain

PIECE_DEAD = Rule("piece.dead", "match")
_OWN = "Use another one, or correct its state if it was repaired."
_SHARED = (
    "Choose another cable, strand or part for it, or correct the state on the site plan (cable, pathway "
    "or part) if it was repaired."
)


def dead_pieces(chain: Chain) -> list[Finding]:
    """A finding for each piece in state *dead*: its own, or that of the cable or the pathway that it lies in."""
    return [
        PIECE_DEAD.fail(
            (place.id,),
            f"Marked as dead: {called(chain.link, place.piece)} is in place and cannot be used.",
            f"Built over it, the link would stay dark. {_SHARED if place.piece.part else _OWN}",
        )
        for place in chain.places
        if place.piece.state == "dead"
    ]

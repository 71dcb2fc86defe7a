"""Which pieces of a link are cables of the plan, and which strands of it they take."""

from __future__ import annotations

from typing import TypeGuard

from passerelle.core.catalog.shelves import load_catalog
from passerelle.core.link.chain import Link
from passerelle.core.link.compose import compose
from passerelle.core.link.hops import used_positions
from passerelle.core.parts.array_cable import ArrayCable
from passerelle.core.parts.piece import Glass, Piece
from passerelle.core.parts.registry import spec_of


def lies(piece: Piece) -> TypeGuard[Glass]:
    """Whether a piece can be a cable of the plan: fixed glass, which is pulled."""
    return isinstance(piece, Glass) and piece.pulled


def own_strands(link: Link, piece: Glass) -> tuple[int, ...]:
    """The strands that a piece takes whatever is free: of an array those that the light can reach, else none."""
    if not isinstance(piece, ArrayCable):
        return ()
    inner = tuple(e for e in link.elements if spec_of(e).turned)
    chain = compose(link.model_copy(update={"elements": inner}), load_catalog())
    standing = next((part for part in chain.parts if part.id == piece.id), None)
    return used_positions(chain, standing) if standing else ()


def strands_needed(link: Link, piece: Glass) -> int:
    """How many strands of a cable a piece takes."""
    return len(own_strands(link, piece)) or piece.width

"""A link: its name, what it is for, and its pieces in order."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field, model_validator

from passerelle.core.link.readings import Reading
from passerelle.core.parts.kinds.module import Module
from passerelle.core.parts.kinds.port import Port
from passerelle.core.parts.piece import Glass, Key, Line, Piece
from passerelle.core.parts.registry import Element, spec_of
from passerelle.core.sources import Frozen

MAX_PIECES = 200
MAX_READINGS = 400


class Link(Frozen):
    """A chain of pieces from port to port. While it is being edited it may be incomplete.

    ``key`` is its own for good and never given again. ``turned``: it is drawn from the other end than at first.
    """

    name: Annotated[str, Field(min_length=1, max_length=120)]
    key: Key = ""
    turned: bool = False
    wanted_rate_mbps: Annotated[int, Field(gt=0, le=1_000_000)] | None = None
    notes: Annotated[str, Field(max_length=4000)] = ""
    elements: Annotated[tuple[Element, ...], Field(max_length=MAX_PIECES)]
    readings: Annotated[tuple[Reading, ...], Field(max_length=MAX_READINGS)] = ()

    @model_validator(mode="after")
    def _distinct_ids(self) -> Link:
        ids = [element.id for element in self.elements]
        doubled = sorted({i for i in ids if i and ids.count(i) > 1})
        if doubled:
            raise ValueError(f"two pieces have the id '{doubled[0]}': give each piece its own")
        return self

    def index(self, element_id: str) -> int:
        """Position of a piece in the chain; raises KeyError when there is none of this id."""
        for position, element in enumerate(self.elements):
            if element.id == element_id:
                return position
        raise KeyError(element_id)

    def element(self, element_id: str) -> Piece:
        """The piece of this id; raises KeyError when there is none."""
        return self.elements[self.index(element_id)]


def lines(link: Link) -> tuple[Line, ...]:
    """The pieces that have a length, from left to right."""
    return tuple([e for e in link.elements if isinstance(e, Line)])


def glass(link: Link) -> tuple[Glass, ...]:
    """The pieces that are fiber, from left to right."""
    return tuple([e for e in link.elements if isinstance(e, Glass)])


def copper(link: Link) -> tuple[Line, ...]:
    """The twisted pair and the direct-attach assemblies, from left to right."""
    return tuple([e for e in link.elements if isinstance(e, Line) and not isinstance(e, Glass)])


def modules(link: Link) -> tuple[Module, ...]:
    """The modules, from left to right."""
    return tuple([e for e in link.elements if isinstance(e, Module)])


def ports(link: Link) -> tuple[Port, ...]:
    """The ports, from left to right."""
    return tuple([e for e in link.elements if isinstance(e, Port)])


def length_m(link: Link) -> float | None:
    """Length of all glass, twisted pair and assemblies in m, or None while one piece's length is not known."""
    lengths = [piece.length_m for piece in lines(link)]
    return None if None in lengths else round(sum(x for x in lengths if x is not None), 6)


def place_at(link: Link, element: Piece) -> str:
    """The place at the end of the link that a piece is nearer to; may be empty."""
    ends = ports(link)
    if not ends:
        return ""
    end = ends[0] if link.index(element.id) < len(link.elements) / 2 else ends[-1]
    return end.place or end.label


def called(link: Link, element: Piece) -> str:
    """The piece as one says it: ``the panel F2``, or by its end of the link: ``the cord at Ferry terminal``."""
    place = place_at(link, element)
    at_place = f"at {place}" if place else ""
    return f"the {spec_of(element).word} {element.label or at_place}".strip()


def with_ids(link: Link) -> Link:
    """The same link with an id for every piece that has none."""
    taken = {e.id for e in link.elements if e.id}
    elements: list[Piece] = []
    for element in link.elements:
        if not element.id:
            element = element.model_copy(update={"id": fresh_id(element.kind, taken)})
            taken.add(element.id)
        elements.append(element)
    return link.model_copy(update={"elements": tuple(elements)})


def fresh_id(kind: str, taken: set[str]) -> str:
    """An id that no piece of the link has: the kind and the lowest free number."""
    number = 1
    while f"{kind}-{number}" in taken:
        number += 1
    return f"{kind}-{number}"

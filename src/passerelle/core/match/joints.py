"""Where two pieces of a chain touch: the joints, found by walking the chain once."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from passerelle.core.catalog.records import Polish
from passerelle.core.catalog.shelves import Catalog
from passerelle.core.link.chain import Link
from passerelle.core.link.elements import (
    Attenuator,
    Cord,
    Element,
    Module,
    Panel,
    Pigtail,
    Plug,
    Port,
    Run,
    Splice,
)

Side = Literal["left", "right"]


@dataclass(frozen=True)
class Receptacle:
    """An opening that takes a plug: a module's or an attenuator's."""

    shape: str
    polish: Polish


@dataclass(frozen=True)
class Cage:
    """The opening of a port, which takes a module."""


@dataclass(frozen=True)
class Edge:
    """The electrical end of a module, which goes into a cage."""


@dataclass(frozen=True)
class Bare:
    """Bare fiber."""


@dataclass(frozen=True)
class Nothing:
    """No piece at all: the chain ends here, or the piece has nothing to offer on this side."""


Face = Plug | Receptacle | Cage | Edge | Bare | Nothing
JointKind = Literal["cage", "receptacle", "adapter", "splice", "open"]


@dataclass(frozen=True)
class Joint:
    """Two faces that meet, directly or in a panel or splice (``via``).

    ``open`` joints do not close: ``missing`` says in words what is not there.
    """

    kind: JointKind
    left: Element | None
    right: Element | None
    left_face: Face
    right_face: Face
    via: Panel | Splice | None = None
    missing: str = ""

    @property
    def at(self) -> tuple[str, ...]:
        """Ids of the pieces that meet, from left to right."""
        return tuple(e.id for e in (self.left, self.via, self.right) if e is not None)


def joints(link: Link, catalog: Catalog) -> tuple[Joint, ...]:
    """All joints of a chain from left to right, the ends included where they are open."""
    found: list[Joint] = []
    elements = link.elements
    solid = [i for i, e in enumerate(elements) if not isinstance(e, (Panel, Splice))]
    for before, after in zip([None, *solid], [*solid, None], strict=True):
        start = -1 if before is None else before
        stop = len(elements) if after is None else after
        between = elements[start + 1 : stop]
        left = None if before is None else elements[before]
        right = None if after is None else elements[after]
        if left is None and isinstance(right, Port) and not between:
            continue
        if right is None and isinstance(left, Port) and not between:
            continue
        left_face = face(link, before, "right", catalog)
        right_face = face(link, after, "left", catalog)
        found.append(_joint(left, right, left_face, right_face, between))
    return tuple(found)


def face(link: Link, position: int | None, side: Side, catalog: Catalog) -> Face:
    """What the piece at ``position`` shows on one side."""
    if position is None:
        return Nothing()
    element = link.elements[position]
    if isinstance(element, Port):
        inner: Side = "left" if position == len(link.elements) - 1 else "right"
        return Cage() if side == inner else Nothing()
    if isinstance(element, Module):
        if side == module_port_side(link, position):
            return Edge()
        application = catalog.application(element.application)
        return Receptacle(catalog.form(form_of(element, catalog)).connector, application.polish)
    if isinstance(element, (Cord, Run, Pigtail)):
        plug: Plug | None = getattr(element, side)
        return plug if plug is not None else Bare()
    if isinstance(element, Attenuator):
        if side == element.plug_side:
            return Plug(shape=element.shape, polish=element.polish)
        return Receptacle(element.shape, element.polish)
    return Nothing()


def form_of(module: Module, catalog: Catalog) -> str:
    """The module's form: as noted, else the usual one of its application."""
    return module.form or catalog.application(module.application).forms[0]


def joiners_between(link: Link, left: Element, right: Element) -> tuple[str, ...]:
    """Ids of the panels and splices that stand between two pieces."""
    between = link.elements[link.index(left.id) + 1 : link.index(right.id)]
    return tuple(e.id for e in between if isinstance(e, (Panel, Splice)))


def module_port_side(link: Link, position: int) -> Side:
    """On which side of a module its port is: where one stands, else towards the nearer end."""
    if position + 1 < len(link.elements) and isinstance(link.elements[position + 1], Port):
        return "right"
    if position > 0 and isinstance(link.elements[position - 1], Port):
        return "left"
    return "left" if position < len(link.elements) / 2 else "right"


def _joint(
    left: Element | None,
    right: Element | None,
    left_face: Face,
    right_face: Face,
    between: tuple[Element, ...],
) -> Joint:
    def made(kind: JointKind, via: Panel | Splice | None = None, missing: str = "") -> Joint:
        return Joint(kind, left, right, left_face, right_face, via, missing)

    first = between[0] if between else None
    via = first if isinstance(first, (Panel, Splice)) else None
    if len(between) > 1:
        return made("open", via, "two joints stand side by side: a cord or a run is missing between them")
    match (left_face, via, right_face):
        case (Nothing(), _, _) | (_, _, Nothing()):
            return made("open", via, _open_end(left, right))
        case (Cage(), None, Edge()) | (Edge(), None, Cage()):
            return made("cage")
        case (Receptacle(), None, Plug()) | (Plug(), None, Receptacle()):
            return made("receptacle")
        case (Plug(), Panel(), Plug()):
            return made("adapter", via)
        case (Bare(), Splice(), Bare()):
            return made("splice", via)
        case (Plug(), None, Plug()):
            return made("open", None, "two plugs need an adapter between them: insert a panel")
        case (Bare(), None, Bare()):
            return made("open", None, "two bare ends need a splice between them")
        case (Cage(), _, _) | (_, _, Cage()):
            return made("open", via, "the port has no module")
        case (Edge(), _, _) | (_, _, Edge()):
            return made("open", via, "the module stands in no port")
        case (Receptacle(), _, Receptacle()):
            return made("open", via, "a cord is missing between the two openings")
        case (_, Panel(), _):
            return made("open", via, "an adapter needs a plug on each side")
        case (_, Splice(), _):
            return made("open", via, "a splice needs bare fiber on each side: use a pigtail where there is a plug")
        case _:
            return made("open", via, "a plug or an opening cannot take bare fiber: splice a pigtail on")


def _open_end(left: Element | None, right: Element | None) -> str:
    if left is None or right is None:
        return "the chain does not end in a port"
    return "a port or module stands in the middle of the chain"

"""A link as the rules see it: its pieces as parts, each entered at one face and left at another, and the joints."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from functools import cached_property
from typing import Literal

from passerelle.core.catalog.shelves import Catalog
from passerelle.core.link.chain import Link
from passerelle.core.parts.face import NOTHING, Face
from passerelle.core.parts.maps import Map, mating, straight
from passerelle.core.parts.part import Mating, Part, Realm, Traits
from passerelle.core.parts.piece import Piece
from passerelle.core.parts.registry import part_of, spec_of

JointKind = Literal["cage", "socket", "receptacle", "adapter", "splice", "contacts", "open"]
Side = Literal["left", "right"]


@dataclass(frozen=True, slots=True)
class Standing:
    """A part in its place in a chain: which piece it is, where it is entered and left, seen from the left.

    ``left`` and ``right`` are the faces that look there.
    """

    id: str
    piece: Piece
    position: int
    part: Part
    traits: Traits
    enter: str
    leave: str
    left: Face
    right: Face

    @property
    def word(self) -> str:
        """What one calls it."""
        return spec_of(self.piece).word

    def face(self, side: Side) -> Face:
        """The face that looks to one side."""
        return self.left if side == "left" else self.right


@dataclass(frozen=True, slots=True)
class Joiner:
    """A mating in its place in a chain."""

    piece: Piece
    position: int
    mating: Mating

    @property
    def id(self) -> str:
        """The id of the piece."""
        return self.piece.id


@dataclass(frozen=True, slots=True)
class Joint:
    """Two faces that meet, directly or in a joiner (``via``).

    ``open`` joints do not close: ``missing`` says in words what is not there.
    """

    kind: JointKind
    left: Standing | None
    right: Standing | None
    via: Joiner | None = None
    missing: str = ""

    @property
    def left_face(self) -> Face:
        """What the left part shows."""
        return self.left.right if self.left else NOTHING

    @property
    def right_face(self) -> Face:
        """What the right part shows."""
        return self.right.left if self.right else NOTHING

    @property
    def mirrors(self) -> bool | None:
        """Whether what is pressed together is keyed alike (aligned); None where no key says it."""
        return mirrored(self.left_face, self.right_face, self.via.mating if self.via else None)

    @property
    def map(self) -> Map:
        """Where each position of the left face ends at the right one; raises ValueError where they do not fit."""
        return map_between(self.left_face, self.right_face, self.via.mating if self.via else None)

    @property
    def at(self) -> tuple[str, ...]:
        """Ids of the pieces that meet, from left to right."""
        return tuple(e.id for e in (self.left, self.via, self.right) if e is not None)


def mirrored(left: Face, right: Face, via: Mating | None) -> bool | None:
    """Whether two faces meet with their keys aligned, by their joiner or by the key of an opening; None without."""
    if via is not None:
        return via.keys == "aligned" if via.shape else None
    keys = [face.key for face in (left, right) if face.key]
    return keys[0] == "up" if keys else None


def map_between(left: Face, right: Face, via: Mating | None) -> Map:
    """Where each position of one face ends at another that it meets, directly or in a joiner.

    Raises:
        ValueError: the two faces do not have the same rows and columns.
    """
    if (left.plugs, left.rows, left.columns) != (right.plugs, right.rows, right.columns):
        raise ValueError(f"{left.size} positions cannot meet {right.size}")
    if via is not None:
        return via.map_of(left)
    aligned = mirrored(left, right, via)
    return straight(left.size) if aligned is None else mating(left.columns, aligned, left.rows, left.plugs)


@dataclass(frozen=True)
class Chain:
    """A link composed: what stands in it, in order, and its joints from left to right."""

    link: Link
    places: tuple[Standing | Joiner, ...]
    joints: tuple[Joint, ...]

    @cached_property
    def parts(self) -> tuple[Standing, ...]:
        """The parts, without what joins them."""
        return tuple(place for place in self.places if isinstance(place, Standing))

    @cached_property
    def glass(self) -> tuple[Standing, ...]:
        """The parts that are fiber with a length."""
        return tuple(s for s in self.parts if s.traits.line and s.traits.realm == "light")

    @cached_property
    def copper(self) -> tuple[Standing, ...]:
        """The parts that are copper with a length."""
        return tuple(s for s in self.parts if s.traits.line and s.traits.realm == "copper")

    @cached_property
    def lines(self) -> tuple[Standing, ...]:
        """All parts with a length."""
        return tuple(s for s in self.parts if s.traits.line)

    @cached_property
    def column_of(self) -> dict[int, int]:
        """The place among the lines of each part with a length, by its position."""
        return {line.position: column for column, line in enumerate(self.lines)}

    @cached_property
    def ends(self) -> tuple[Standing, ...]:
        """The parts that turn current into light."""
        return tuple(s for s in self.parts if s.traits.optics)

    @cached_property
    def sockets(self) -> tuple[Standing, ...]:
        """The ports."""
        return tuple(s for s in self.parts if s.traits.socket)

    @cached_property
    def realms(self) -> frozenset[Realm]:
        """Whether light, copper or both stand in it."""
        found = {s.part.traits.realm if isinstance(s, Standing) else s.mating.realm for s in self.places}
        return frozenset(realm for realm in found if realm)

    @property
    def closed(self) -> bool:
        """Whether it runs from port to port without a gap."""
        return all(joint.kind != "open" for joint in self.joints)

    @cached_property
    def length_m(self) -> float | None:
        """Its length in m, None while one piece's is not known."""
        lengths = [s.traits.length_m for s in self.lines]
        return None if None in lengths else round(sum(x for x in lengths if x is not None), 6)

    def beside(self, standing: Standing, side: Side) -> Standing | None:
        """The part next to another one, whatever joins them; None at the end."""
        step = 1 if side == "right" else -1
        position = standing.position + step
        while 0 <= position < len(self.places):
            here = self.places[position]
            if isinstance(here, Standing):
                return here
            position += step
        return None

    def joiners_between(self, left: Standing, right: Standing) -> tuple[str, ...]:
        """Ids of what joins, between two parts."""
        between = self.places[left.position + 1 : right.position]
        return tuple(place.id for place in between if isinstance(place, Joiner))


def compose(link: Link, catalog: Catalog) -> Chain:
    """The link as parts and joints.

    Raises:
        CatalogError: a piece names something that the catalog does not have (``check_names``).
    """
    found = [part_of(piece, catalog) for piece in link.elements]
    places = tuple(_placed(link, found, position) for position in range(len(found)))
    return Chain(link, places, tuple(_joints(places)))


def _placed(link: Link, found: list[Part | Mating], position: int) -> Standing | Joiner:
    piece, part = link.elements[position], found[position]
    if isinstance(part, Mating):
        return Joiner(piece, position, part)
    inner_is_left = _outward_side(found, position) == "right" if part.outward is not None else True
    enter, leave = (part.enter, part.leave) if inner_is_left else (part.leave, part.enter)
    if {piece.enter, piece.leave} <= part.faces.keys():
        enter, leave = piece.enter, piece.leave
    faces = part.face(enter), part.face(leave)
    return Standing(piece.id, piece, position, part, part.traits, enter, leave, *faces)


def _outward_side(found: list[Part | Mating], position: int) -> Side:
    """On which side the outward face of an end part is: where its port stands, else towards the nearer end.

    A port itself ends the chain on the right only where it is the last.
    """
    part = found[position]
    if isinstance(part, Part) and part.outward == "":
        return "right" if position == len(found) - 1 else "left"
    if position + 1 < len(found) and _is_socket(found[position + 1]):
        return "right"
    if position > 0 and _is_socket(found[position - 1]):
        return "left"
    return "left" if position < len(found) / 2 else "right"


def _is_socket(part: Part | Mating) -> bool:
    return isinstance(part, Part) and part.traits.socket is not None


def _joints(places: tuple[Standing | Joiner, ...]) -> Iterator[Joint]:
    """All joints from left to right, the ends included where they are open."""
    left: Standing | None = None
    between: list[Joiner] = []
    for place in places:
        if isinstance(place, Joiner):
            between.append(place)
            continue
        if not (left is None and not between and place.traits.socket):
            yield _joint(left, place, between)
        left, between = place, []
    if not (left is not None and not between and left.traits.socket):
        yield _joint(left, None, between)


_CLOSED: dict[tuple[str, str, str], JointKind] = {
    ("cage", "", "edge"): "cage",
    ("cage", "", "contacts"): "socket",
    ("opening", "", "plug"): "receptacle",
    ("adapter", "", "plug"): "receptacle",
    ("plug", "plug", "plug"): "adapter",
    ("bare", "bare", "bare"): "splice",
}


def _joint(left: Standing | None, right: Standing | None, between: list[Joiner]) -> Joint:
    via = between[0] if between else None
    if len(between) > 1:
        words = "two joints stand side by side: a cord or a run is missing between them"
        return Joint("open", left, right, via, words)
    a = left.right if left else NOTHING
    b = right.left if right else NOTHING
    if "nothing" in (a.kind, b.kind):
        return Joint("open", left, right, via, _open_end(left, right))
    takes = via.mating.takes if via else ""
    if a.kind == b.kind == "contacts":
        met = {"plug"} if via else {"plug", "jack"}
        if takes in ("", "contacts") and {a.shape, b.shape} == met:
            return Joint("contacts", left, right, via)
        return Joint("open", left, right, via, _missing(a, b, takes))
    kind = _CLOSED.get((a.kind, takes, b.kind)) or _CLOSED.get((b.kind, takes, a.kind))
    if kind and not (kind == "socket" and "jack" in (a.shape, b.shape)):
        return Joint(kind, left, right, via)
    return Joint("open", left, right, via, _missing(a, b, takes))


def _missing(a: Face, b: Face, takes: str) -> str:
    """What is not there between two faces and what joins them, in words."""
    kinds = {a.kind, b.kind}
    if kinds == {"plug"} and not takes:
        return "two plugs need an adapter between them: insert a panel"
    if kinds == {"contacts"} and not takes and a.shape == b.shape == "plug":
        return "two plugs face each other: an outlet stands between two pieces of twisted pair"
    if kinds == {"bare"} and not takes:
        return "two bare ends need a splice between them"
    if kinds == {"cage"}:
        return "there is nothing between the two ports"
    if kinds == {"cage", "contacts"} and "jack" in (a.shape, b.shape):
        return "there is no cable between the module and the port"
    if "cage" in kinds:
        return "the port has no module"
    if "edge" in kinds:
        return "the module stands in no port"
    if kinds <= {"opening", "adapter"}:
        return "a cord is missing between the two openings"
    return {
        "plug": "an adapter needs a plug on each side",
        "bare": "a splice needs bare fiber on each side: use a pigtail where there is a plug",
        "contacts": "an outlet needs a twisted-pair plug on each side",
        "": "a plug or an opening cannot take bare fiber: splice a pigtail on",
    }[takes]


def _open_end(left: Standing | None, right: Standing | None) -> str:
    if left is None or right is None:
        return "the chain does not end in a port"
    return "a port or module stands in the middle of the chain"

"""What makes a kind of piece: one complete ``KindSpec``. Nothing else in the program names a kind."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass, field
from typing import Any, Generic, Literal, TypeVar, get_args, get_origin

from passerelle.core.catalog.records import Polish
from passerelle.core.catalog.shelves import Catalog
from passerelle.core.errors import KindError
from passerelle.core.parts.face import Face
from passerelle.core.parts.need import Need, priced
from passerelle.core.parts.part import Mating, Part
from passerelle.core.parts.piece import Piece, Shape, Strands
from passerelle.core.sources import Frozen

Record = TypeVar("Record", bound=Piece)
Drawing = Literal["box", "cable", "joint"]
Names = Iterator[tuple[str, Callable[[], object]]]
Editor = Literal["text", "number", "length", "yes or no", "choice", "choices", "plug"]


def alike(piece: Record) -> Record:
    """Turning the piece round changes nothing."""
    return piece


class Choice(Frozen):
    """One value that a field takes, and how it is said."""

    value: str | int
    word: str


class FieldSpec(Frozen):
    """One field of a piece for a screen: its word, how it is edited, what may be chosen, the unit of a number.

    ``shelf`` names the list of the catalog that the choices are from, where they are not fixed. ``default`` is
    what it is when nobody says anything.
    """

    name: str
    word: str
    editor: Editor
    choices: tuple[Choice, ...] = ()
    shelf: str = ""
    unit: str = ""
    default: Any = None


By = Literal["setting", "clip", "plugs", "cord", "key", "pins", "adapter", "cassette", "terminated", "pulled"]


class Alternative(Frozen):
    """One way in which a piece can be made to map its positions otherwise, or to meet another face.

    ``words`` say it with ``{name}`` for the piece, ``by`` is the work that it takes, ``of`` what it is about,
    ``values`` what it sets.
    """

    words: str
    by: By
    values: dict[str, Any]
    of: Literal["positions", "pins", "polish", "fibers"] = "positions"


def by_hand(piece: Piece) -> Iterator[Alternative]:
    """The other crossing of a pair, where the piece has one: a clip that is opened and turned."""
    crossed = piece.__dict__.get("crossed")
    if crossed is not None:
        yield Alternative(words="Flip one duplex clip on {name}", by="clip", values={"crossed": not crossed})


@dataclass(frozen=True, slots=True)
class Gap:
    """Where a piece is put: the faces that look at it, and what its neighbors and the link suggest.

    ``left_part`` and ``right_part`` are what stands there, None at an end. ``fastest_mbps`` is the fastest speed
    that both ports have, ``forms`` those of the modules that both cages take, ``rates_mbps`` what assemblies exist.
    """

    left: Face
    right: Face
    left_part: Part | Mating | None
    right_part: Part | Mating | None
    left_shape: Shape
    right_shape: Shape
    grades: tuple[str, ...]
    strands: Strands
    polish: Polish
    application: str
    fastest_mbps: int
    forms: frozenset[str]


@dataclass(frozen=True)
class KindSpec(Generic[Record]):
    """A kind of piece, whole.

    Args:
        record: what is written down of it; its ``kind`` names it.
        order: where it stands in lists.
        word: as one says it in a sentence. title: as one says it in a list.
        part: what the rules see of a record.
        words: the word of each field that a person sets, in the order of a screen; fields without one are set
            elsewhere (plugs in the drawing, strands by the plant).
        fitted: a piece of this kind that fits a gap, None for a kind that is never put in (a port).
        turned: the piece turned round (``alike``: that changes nothing), None for one that ends a link.
        names: for each name that the catalog must have: its field, and what looks it up.
        needs: what a new piece is bought as; the second argument is the catalog.
        work: items of the price list for the work that a new piece takes, with their counts.
        joins: whether it joins two faces (its part is a mating).
        drawing: how it is drawn where a screen has no drawing of its own.
        units, shelves: unit or catalog list of a field that has one.
        active: what makes two spare parts the same, None where it needs no spare.
        in_frames: whether it is an adapter that a hole of a panel frame can hold.
        any_position: whether it is the same to the rules which positions of a shared part it takes.
        alternatives: how its map of positions, or what its faces meet, can be changed, and by which work.
        seat: the field that says which position of a shared part the link takes: a front, a leg; empty for none.
        skill: 0 by hand, 1 inspected and cleaned, 2 terminated on site, 3 spliced on site.
    """

    record: type[Record]
    order: int
    word: str
    title: str
    part: Callable[[Record, Catalog], Part | Mating]
    words: Mapping[str, str]
    needs: Callable[[Record, Catalog], tuple[Need, ...]]
    joins: bool
    drawing: Drawing
    fitted: Callable[[Gap], Record] | None
    turned: Callable[[Record], Record] | None
    work: Callable[[Record], dict[str, float]] = lambda _piece: {}
    names: Callable[[Record, Catalog], Names] = lambda _piece, _catalog: iter(())
    units: Mapping[str, str] = field(default_factory=dict)
    shelves: Mapping[str, str] = field(default_factory=dict)
    active: Callable[[Record], tuple[str, ...] | None] = lambda _piece: None
    alternatives: Callable[[Record], Iterator[Alternative]] = by_hand
    seat: Callable[[Record], str] = lambda _piece: ""
    skill: Callable[[Record], int] = lambda _piece: 0
    in_frames: bool = False
    any_position: bool = False

    @property
    def kind(self) -> str:
        """Its name in a record."""
        return str(self.record.model_fields["kind"].default)

    @property
    def fields(self) -> tuple[FieldSpec, ...]:
        """What a person can set, in the order of a screen.

        Raises:
            KindError: a word for a field that the record does not have.
        """
        unknown = [name for name in self.words if name not in self.record.model_fields]
        if unknown:
            raise KindError(f"the kind '{self.kind}' has a word for '{unknown[0]}', which its record does not have")
        return tuple(self._field(name, word) for name, word in self.words.items())

    def buys(self, piece: Record, catalog: Catalog) -> dict[str, float]:
        """Items of the price list with their counts for a new piece: its parts and its work."""
        return priced(self.needs(piece, catalog)) | self.work(piece)

    def choices(self, name: str) -> tuple[dict[str, Any], ...]:
        """The values that a field of the record may have, each as what it sets; none where it has no such field."""
        info = self.record.model_fields.get(name)
        return tuple({name: value} for value in _choices(info.annotation)) if info else ()

    def _field(self, name: str, word: str) -> FieldSpec:
        info = self.record.model_fields[name]
        choices = tuple(Choice(value=value, word=str(value)) for value in _choices(info.annotation))
        return FieldSpec(
            name=name,
            word=word,
            editor=_editor(name, info.annotation, bool(choices or name in self.shelves)),
            choices=choices,
            shelf=self.shelves.get(name, ""),
            unit=self.units.get(name, ""),
            default=None if info.is_required() else _plain(info.get_default(call_default_factory=True)),
        )


def _plain(value: Any) -> Any:
    return list(value) if isinstance(value, tuple) else value


def _choices(annotation: Any) -> list[Any]:
    """The values of a literal, of an optional one, or of a tuple of them."""
    if get_origin(annotation) is Literal:
        return list(get_args(annotation))
    return [value for inner in get_args(annotation) if inner is not Ellipsis for value in _choices(inner)]


def _types(annotation: Any) -> Iterator[Any]:
    """The plain types that an annotation is made of."""
    args = get_args(annotation)
    if not args:
        yield annotation
    for inner in args:
        if isinstance(inner, type) or get_args(inner):
            yield from _types(inner)


def _editor(name: str, annotation: Any, chosen: bool) -> Editor:
    if get_origin(annotation) is tuple:
        return "choices"
    if chosen:
        return "choice"
    inner = set(_types(annotation))
    if bool in inner:
        return "yes or no"
    if name.endswith("_m"):
        return "length"
    if inner & {int, float}:
        return "number"
    return "text"

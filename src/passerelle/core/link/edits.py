"""Changes to a link, as data: the same record is what a person does, what a fix does and what is stored."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Annotated, Any, Literal

from pydantic import Field, TypeAdapter, ValidationError

from passerelle.core.errors import EditError
from passerelle.core.link.chain import Link, fresh_id
from passerelle.core.link.readings import Reading, between, signed
from passerelle.core.link.readings import turned as turned_reading
from passerelle.core.parts.registry import Element, spec_of
from passerelle.core.sources import Frozen

_ELEMENT: TypeAdapter[Element] = TypeAdapter(Element)


class SetFields(Frozen):
    """Give fields of one piece new values."""

    op: Literal["set"] = "set"
    element: str
    values: dict[str, Any]


class Insert(Frozen):
    """Put a piece behind another one (``after`` empty: in front of all). A missing id is filled in."""

    op: Literal["insert"] = "insert"
    after: str
    piece: Element


class Remove(Frozen):
    """Take a piece out."""

    op: Literal["remove"] = "remove"
    element: str


class Flip(Frozen):
    """Turn a piece round, so that its left end is its right one."""

    op: Literal["flip"] = "flip"
    element: str


class Reverse(Frozen):
    """Draw the link from its other end: the order and each piece turned round."""

    op: Literal["reverse"] = "reverse"


class Measure(Frozen):
    """Write down a reading: it stands for the pieces as they are now, and stays until it is withdrawn."""

    op: Literal["measure"] = "measure"
    reading: Reading


class Withdraw(Frozen):
    """Say that a reading no longer counts, and why; it stays in the link."""

    op: Literal["withdraw"] = "withdraw"
    reading: str
    why: Annotated[str, Field(min_length=1, max_length=120)]


class Describe(Frozen):
    """Change the link's own fields: name, wanted rate, notes."""

    op: Literal["describe"] = "describe"
    values: dict[str, Any]


Edit = Annotated[
    SetFields | Insert | Remove | Flip | Reverse | Describe | Measure | Withdraw, Field(discriminator="op")
]


def apply_edits(link: Link, edits: tuple[Edit, ...]) -> Link:
    """The link after all edits, in order. All are made or none.

    Raises:
        EditError: a piece is missing, a field or value is not accepted, or a piece cannot be turned.
    """
    for edit in edits:
        link = _apply(link, edit)
    return link


def _apply(link: Link, edit: Edit) -> Link:
    match edit:
        case Describe():
            if {"elements", "readings"} & set(edit.values):
                raise EditError(
                    "elements", "pieces and readings are changed one by one, not through the link's fields"
                )
            if {"key", "turned"} & set(edit.values):
                raise EditError("key", "a link keeps its key, and is turned as a whole: reverse it")
            return _checked_link({**link.model_dump(), **edit.values})
        case Reverse():
            turned = turned_round(link.elements)
            readings = tuple(turned_reading(link.elements, turned, reading) for reading in link.readings)
            now = link.model_copy(update={"readings": readings, "turned": not link.turned})
            return _replaced(now, 0, len(link.elements), turned)
        case Measure():
            return _measured(link, edit.reading)
        case Withdraw():
            return _withdrawn(link, edit)
        case Insert():
            position = 0 if edit.after == "" else _index(link, edit.after) + 1
            piece = edit.piece.model_copy(update={"key": ""})
            taken = {e.id for e in link.elements}
            if not piece.id:
                piece = piece.model_copy(update={"id": fresh_id(piece.kind, taken)})
            return _replaced(link, position, position, (piece,))
        case Remove():
            position = _index(link, edit.element)
            return _replaced(link, position, position + 1, ())
        case Flip():
            position = _index(link, edit.element)
            return _replaced(link, position, position + 1, (_turned(link.elements[position]),))
        case SetFields():
            position = _index(link, edit.element)
            return _replaced(link, position, position + 1, (_changed(link.elements[position], edit.values),))


def _measured(link: Link, reading: Reading) -> Link:
    taken = {known.id for known in link.readings}
    named = reading.model_copy(update={"id": fresh_id("reading", taken), "withdrawn": ""})
    if between(link.elements, named) is None:
        raise EditError(
            "start", "the reading's first piece must stand in the link, at or left of its last: choose both again"
        )
    return _checked_link({**_fields(link), "readings": (*link.readings, signed(link.elements, named))})


def _withdrawn(link: Link, edit: Withdraw) -> Link:
    if edit.reading not in {reading.id for reading in link.readings}:
        raise EditError("reading", f"the link has no reading '{edit.reading}': reload the link")
    readings = tuple(
        reading.model_copy(update={"withdrawn": edit.why}) if reading.id == edit.reading else reading
        for reading in link.readings
    )
    return _checked_link({**_fields(link), "readings": readings})


def _fields(link: Link) -> dict[str, Any]:
    return {name: getattr(link, name) for name in Link.model_fields}


def _index(link: Link, element_id: str) -> int:
    try:
        return link.index(element_id)
    except KeyError:
        raise EditError("element", f"the link has no piece '{element_id}': reload the link") from None


def _replaced(link: Link, start: int, stop: int, new: tuple[Element, ...]) -> Link:
    elements = link.elements[:start] + new + link.elements[stop:]
    return _checked_link({**_fields(link), "elements": elements})


def _checked_link(values: dict[str, Any]) -> Link:
    try:
        return Link.model_validate(values)
    except ValidationError as error:
        raise _as_edit_error(error) from error


def _changed(element: Element, values: dict[str, Any]) -> Element:
    fixed = {"id", "kind", "key"} & set(values)
    if fixed:
        raise EditError(fixed.pop(), "a piece keeps its id, key and kind: remove it and insert another one")
    try:
        return _ELEMENT.validate_python({**element.model_dump(), **values})
    except ValidationError as error:
        raise _as_edit_error(error) from error


def _turned(element: Element) -> Element:
    spec = spec_of(element)
    if spec.turned is None:
        raise EditError("element", f"a {spec.word} ends the link and cannot be turned")
    turned: Element = spec.turned(element)
    if element.enter == element.leave:
        return turned
    return turned.model_copy(update={"enter": element.leave, "leave": element.enter})


def turned_round(elements: Sequence[Element]) -> tuple[Element, ...]:
    """The pieces as they stand when the link is drawn from its other end."""
    return tuple(_turned(e) if spec_of(e).turned else e for e in reversed(elements))


def _as_edit_error(error: ValidationError) -> EditError:
    first = error.errors(include_url=False, include_context=False)[0]
    where = [str(part) for part in first["loc"] if not isinstance(part, int)]
    field = where[-1] if where else "value"
    message = first["msg"].removeprefix("Value error, ")
    if first["type"] == "extra_forbidden":
        message = f"this piece has no field '{field}'"
    return EditError(field, f"{field.replace('_', ' ')}: {message}")

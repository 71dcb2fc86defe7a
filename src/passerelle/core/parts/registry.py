"""The list of kinds, found one module a kind; the union of records and what the rules see are made from it."""

from __future__ import annotations

import pkgutil
from dataclasses import replace
from functools import reduce
from importlib import import_module
from operator import itemgetter, or_
from typing import TYPE_CHECKING, Annotated, Any

from pydantic import Field

from passerelle.core.catalog.shelves import Catalog
from passerelle.core.errors import KindError
from passerelle.core.parts import kinds
from passerelle.core.parts.need import Need
from passerelle.core.parts.part import Mating, Part
from passerelle.core.parts.piece import Ordered, Piece
from passerelle.core.parts.spec import KindSpec


def _found() -> tuple[KindSpec[Any], ...]:
    """The spec of every module in the folder of kinds.

    Raises:
        KindError: a module has no whole spec, or two kinds have one name.
    """
    specs: list[KindSpec[Any]] = []
    for module in pkgutil.iter_modules(kinds.__path__):
        spec = getattr(import_module(f"{kinds.__name__}.{module.name}"), "SPEC", None)
        if not isinstance(spec, KindSpec):
            raise KindError(f"the module '{module.name}' has no SPEC: a kind is described whole or not at all")
        assert spec.fields is not None  # raises where a word has no field
        specs.append(spec)
    names = [spec.kind for spec in specs]
    doubled = sorted({name for name in names if names.count(name) > 1})
    if doubled:
        raise KindError(f"two kinds are called '{doubled[0]}'")
    return tuple(sorted(specs, key=lambda spec: spec.order))


KINDS: tuple[KindSpec[Any], ...] = _found()
"""Every kind of piece, in the order of the screens."""
SPEC_OF: dict[str, KindSpec[Any]] = {spec.kind: spec for spec in KINDS}
INSERTABLE: tuple[str, ...] = tuple(spec.kind for spec in KINDS if spec.fitted)
"""The kinds that can be put into a chain."""

if TYPE_CHECKING:
    Element = Piece
else:
    Element = Annotated[reduce(or_, (spec.record for spec in KINDS)), Field(discriminator="kind")]


def adapters() -> tuple[Piece, ...]:
    """One ready piece for each adapter that a hole of a frame can hold, of each kind in each of its shapes."""
    return tuple(
        spec.record.model_validate({"kind": spec.kind, **shape})
        for spec in KINDS
        if spec.in_frames
        for shape in spec.choices("shape") or ({},)
    )


def spec_of(piece: Piece) -> KindSpec[Any]:
    """The spec of a piece's kind."""
    return SPEC_OF[piece.kind]


def arrived_words(piece: Piece) -> tuple[str, ...]:
    """What of a piece is otherwise than it was ordered: ``OM3 instead of OM4``."""
    return tuple(
        f"{Ordered(field=one.field, value=piece.__dict__.get(one.field)).words} instead of {one.words}"
        for one in piece.ordered
    )


def part_of(piece: Piece, catalog: Catalog) -> Part | Mating:
    """What the rules see of a piece.

    Raises:
        CatalogError: it names something that the catalog does not have (``check_names`` says so beforehand).
    """
    values: dict[str, Any] = piece.__dict__
    seen = id(catalog), _SEEN[values["kind"]](values)
    kept = _PARTS.get(seen)
    if kept is not None and kept[0] is catalog:
        return kept[1]
    part: Part | Mating = SPEC_OF[piece.kind].part(piece, catalog)
    if piece.ordered and isinstance(part, Part):
        part = replace(part, traits=replace(part.traits, arrived=arrived_words(piece)))
    if values.get("way_m") is not None and isinstance(part, Part):
        way = {"way_m": values["way_m"], "way_guessed": values["way_guessed"]}
        part = replace(part, traits=replace(part.traits, **way))
    if len(_PARTS) >= MOST_KEPT:
        _PARTS.clear()
    _PARTS[seen] = catalog, part
    return part


def needs_of(piece: Piece, catalog: Catalog) -> tuple[Need, ...]:
    """What a piece is bought as; pieces that are the same but for their own id, key and state share it."""
    values: dict[str, Any] = piece.__dict__
    seen = id(catalog), _SEEN[values["kind"]](values)
    kept = _NEEDS.get(seen)
    if kept is not None and kept[0] is catalog:
        return kept[1]
    needs: tuple[Need, ...] = SPEC_OF[piece.kind].needs(piece, catalog)
    if len(_NEEDS) >= MOST_KEPT:
        _NEEDS.clear()
    _NEEDS[seen] = catalog, needs
    return needs


_SAYS_NOTHING = {"id", "key", "state"}
_SEEN = {spec.kind: itemgetter(*sorted(set(spec.record.model_fields) - _SAYS_NOTHING)) for spec in KINDS}
_PARTS: dict[tuple[int, tuple[Any, ...]], tuple[Catalog, Part | Mating]] = {}
"""Parts seen last, for all pieces that are the same but for their own id and key: none of them ever changes."""
_NEEDS: dict[tuple[int, tuple[Any, ...]], tuple[Catalog, tuple[Need, ...]]] = {}
MOST_KEPT = 8192

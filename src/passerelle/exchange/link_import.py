"""Links from a CSV table: columns matched to fields, every bad line named, all of it or nothing."""

from __future__ import annotations

from collections.abc import Callable
from typing import TypeVar

from pydantic import ValidationError

from passerelle.core.catalog.shelves import Catalog
from passerelle.core.errors import CatalogError, UnitError
from passerelle.core.link.build import LinkEnd, build_link, cage_for
from passerelle.core.link.chain import Link
from passerelle.core.parts.piece import LONGEST_M
from passerelle.core.selection.identify import grades_called
from passerelle.core.sources import Frozen
from passerelle.core.units import parse_length
from passerelle.exchange.table_in import (
    BadLine,
    CellError,
    Table,
    TableError,
    matched,
    read_table,
    unmatched,
    values_of,
)

Value = TypeVar("Value")
EXAMPLE = "from,to,length,application,fiber"
FIELDS = ("name", "from", "to", "length", "application", "fiber", "pairs", "splices", "notes")
NEEDED = ("from", "to", "application")
_ALIASES = {
    "name": ("name", "link", "label"),
    "from": ("from", "near", "a end", "from place", "building a", "place a", "site a"),
    "to": ("to", "far", "b end", "to place", "building b", "place b", "site b"),
    "length": ("length", "length m", "length (m)", "distance", "how far", "route length", "route length (m)"),
    "application": ("application", "optics", "module"),
    "fiber": ("fiber", "grade", "fibre", "glass", "fiber type", "fibre type"),
    "pairs": ("pairs", "mated pairs"),
    "splices": ("splices",),
    "notes": ("notes", "remarks"),
}

_FIELD_OF: dict[int | str, str] = {"length_m": "length", "fiber": "fiber", "name": "name", "place": "from"}


class ImportedLinks(Frozen):
    """What a table holds: its columns, how they were matched, the links, and every bad line."""

    columns: tuple[str, ...]
    mapping: dict[str, str]
    links: tuple[Link, ...]
    problems: tuple[BadLine, ...]

    @property
    def unknown(self) -> tuple[str, ...]:
        """The columns that no field was matched to."""
        return unmatched(self.columns, self.mapping)


def _unmatched(field: str) -> str:
    said = f"no column is matched to '{field}'"
    if field == "application":
        return f"{said}: name it, or, where the table has speeds, take it as a table of requirements"
    return said


def read_links(
    text: str,
    catalog: Catalog,
    mapping: dict[str, str] | None = None,
    unit: str = "m",
    tell: Callable[[str, int, int], None] | None = None,
) -> ImportedLinks:
    """Read a CSV text with a head line; comma, semicolon or tab between the cells.

    ``mapping`` says which column holds which field (see ``FIELDS``); without it columns are matched by name.
    Lengths without a unit are in ``unit``. Nothing is raised for bad content: it is named in ``problems``. ``tell``
    is told how many lines are read.
    """
    try:
        table = read_table(text, EXAMPLE)
    except TableError as error:
        problem = BadLine(line=1, column="", message=str(error))
        return ImportedLinks(columns=(), mapping={}, links=(), problems=(problem,))
    columns = table.columns
    found = mapping if mapping is not None else matched(columns, _ALIASES)
    wrong = [
        BadLine(line=1, column=found.get(field, ""), message=_unmatched(field))
        for field in NEEDED
        if found.get(field) not in columns
    ]
    if wrong:
        return ImportedLinks(columns=columns, mapping=found, links=(), problems=tuple(wrong))
    return _read_lines(table, found, catalog, unit, tell or _silent)


def _silent(_words: str, _done: int, _of: int) -> None:
    """Tells nobody."""


def _read_lines(
    table: Table, mapping: dict[str, str], catalog: Catalog, unit: str, tell: Callable[[str, int, int], None]
) -> ImportedLinks:
    columns = table.columns
    links: list[Link] = []
    problems: list[BadLine] = []
    for number, cells in table.lines:
        if number % 100 == 0:
            tell("reading lines", number, len(table.lines))
        try:
            links.append(_link(values_of(cells, columns, mapping), catalog, unit))
        except ValidationError as error:
            first = error.errors(include_url=False, include_context=False)[0]
            field = next((_FIELD_OF[part] for part in first["loc"] if part in _FIELD_OF), "")
            message = f"'{field}': {str(first['msg']).removeprefix('Value error, ')}"
            problems.append(BadLine(line=number, column=mapping.get(field, ""), message=message))
        except CellError as error:
            problems.append(BadLine(line=number, column=mapping.get(error.field, ""), message=str(error)))
    if not links and not problems:
        problems.append(BadLine(line=2, column="", message="there are no lines below the head"))
    return ImportedLinks(columns=columns, mapping=mapping, links=tuple(links), problems=tuple(problems))


def _link(values: dict[str, str], catalog: Catalog, unit: str) -> Link:
    for field in NEEDED:
        if not values.get(field):
            raise CellError(field, f"'{field}' is empty")
    for field in ("name", "from", "to"):
        if len(values.get(field, "")) > 120:
            raise CellError(field, f"'{field}' is longer than 120 characters")
    application = _read("application", values, catalog.application).name
    typed = values.get("fiber", "")
    grades = _read("fiber", values, lambda text: grades_called(text, catalog)) if typed else ()
    length = values.get("length", "")
    length_m = _read("length", values, lambda text: parse_length(text, unit)) if length else None
    if length_m is not None and length_m > LONGEST_M:
        raise CellError(
            "length", f"'{length}' is longer than a link can be, {LONGEST_M / 1000:,.0f} km: check the unit"
        )
    cage = cage_for(catalog, application)
    rates = (catalog.application(application).rate_mbps,)
    name = values.get("name") or f"{values['from']} to {values['to']}"[:120]
    link = build_link(
        name,
        LinkEnd(values["from"], "", cage, rates),
        LinkEnd(values["to"], "", cage, rates),
        application,
        grades,
        length_m,
        catalog,
        pairs=_count("pairs", values, 2),
        splices=_count("splices", values, 0),
    )
    return link.model_copy(update={"notes": values.get("notes", "")[:4000]})


def _read(field: str, values: dict[str, str], reader: Callable[[str], Value]) -> Value:
    try:
        return reader(values[field])
    except (CatalogError, UnitError) as error:
        raise CellError(field, str(error)) from error


def _count(field: str, values: dict[str, str], default: int) -> int:
    text = values.get(field, "")
    if not text:
        return default
    if not (text.isascii() and text.isdecimal() and len(text) < 4) or int(text) > 40:
        raise CellError(field, f"'{text}' is not a number of {field} from 0 to 40")
    return int(text)

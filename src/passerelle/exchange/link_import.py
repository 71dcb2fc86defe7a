"""Links from a CSV table: columns matched to fields, every bad line named, all of it or nothing."""

from __future__ import annotations

import csv
import io
from collections.abc import Callable
from typing import TypeVar

from passerelle.core.catalog.shelves import Catalog, CatalogError
from passerelle.core.link.build import LinkEnd, build_link, cage_for
from passerelle.core.link.chain import Link
from passerelle.core.sources import Frozen
from passerelle.core.units import UnitError, parse_length
from passerelle.exchange.ladder_table import restored

Value = TypeVar("Value")
MAX_LINES = 20_000
FIELDS = ("name", "from", "to", "length", "application", "fiber", "pairs", "splices", "notes")
NEEDED = ("from", "to", "application")
_ALIASES = {
    "name": ("name", "link", "label"),
    "from": ("from", "near", "a end", "from place"),
    "to": ("to", "far", "b end", "to place"),
    "length": ("length", "length m", "distance", "how far"),
    "application": ("application", "optics", "module"),
    "fiber": ("fiber", "grade", "fibre"),
    "pairs": ("pairs", "mated pairs"),
    "splices": ("splices",),
    "notes": ("notes", "remarks"),
}


class BadLine(Frozen):
    """A line that cannot be read: its number in the file, the column, and what was expected."""

    line: int
    column: str
    message: str


class ImportedLinks(Frozen):
    """What a table holds: its columns, how they were matched, the links, and every bad line."""

    columns: tuple[str, ...]
    mapping: dict[str, str]
    links: tuple[Link, ...]
    problems: tuple[BadLine, ...]


class _CellError(ValueError):
    def __init__(self, field: str, message: str) -> None:
        super().__init__(message)
        self.field = field


def read_links(
    text: str, catalog: Catalog, mapping: dict[str, str] | None = None, unit: str = "m"
) -> ImportedLinks:
    """Read a CSV text with a head line; comma, semicolon or tab between the cells.

    ``mapping`` says which column holds which field (see ``FIELDS``); without it columns are matched by name.
    Lengths without a unit are in ``unit``. Nothing is raised for bad content: it is named in ``problems``.
    """
    if "\ufffd" in text or "\x00" in text:
        return _hopeless("the file is not UTF-8 text: save it again as CSV, UTF-8")
    try:
        lines = list(csv.reader(io.StringIO(text.lstrip("\ufeff")), delimiter=_delimiter(text), strict=True))
    except csv.Error as error:
        return _hopeless(f"this is not a CSV table: {error}")
    if not lines or not any(cell.strip() for cell in lines[0]):
        return _hopeless("the first line must name the columns, for example: from,to,length,application,fiber")
    columns = tuple(cell.strip() for cell in lines[0])
    matched = mapping if mapping is not None else _matched(columns)
    wrong = [
        BadLine(line=1, column=matched.get(field, ""), message=f"no column is matched to '{field}'")
        for field in NEEDED
        if matched.get(field) not in columns
    ]
    if len(lines) - 1 > MAX_LINES:
        wrong.append(BadLine(line=MAX_LINES + 2, column="", message=f"more than {MAX_LINES} lines: split the file"))
    if wrong:
        return ImportedLinks(columns=columns, mapping=matched, links=(), problems=tuple(wrong))
    return _read_lines(lines, columns, matched, catalog, unit)


def _read_lines(
    lines: list[list[str]], columns: tuple[str, ...], mapping: dict[str, str], catalog: Catalog, unit: str
) -> ImportedLinks:
    places = {field: columns.index(column) for field, column in mapping.items() if column in columns}
    links: list[Link] = []
    problems: list[BadLine] = []
    for number, cells in enumerate(lines[1:], start=2):
        if not any(cell.strip() for cell in cells):
            continue
        values = {field: restored(cells[at].strip()) if at < len(cells) else "" for field, at in places.items()}
        try:
            if len(cells) > len(columns):
                raise _CellError("", f"{len(cells)} cells under {len(columns)} columns: is a comma not quoted?")
            links.append(_link(values, catalog, unit))
        except _CellError as error:
            problems.append(BadLine(line=number, column=mapping.get(error.field, ""), message=str(error)))
    if not links and not problems:
        problems.append(BadLine(line=2, column="", message="there are no lines below the head"))
    return ImportedLinks(columns=columns, mapping=mapping, links=tuple(links), problems=tuple(problems))


def _link(values: dict[str, str], catalog: Catalog, unit: str) -> Link:
    for field in NEEDED:
        if not values.get(field):
            raise _CellError(field, f"'{field}' is empty")
    for field in ("name", "from", "to"):
        if len(values.get(field, "")) > 120:
            raise _CellError(field, f"'{field}' is longer than 120 characters")
    application = _read("application", values, catalog.application).name
    fiber = values.get("fiber", "")
    grades = tuple(
        _read("fiber", {"fiber": part.strip()}, catalog.fiber).name for part in fiber.split(" or ") if part
    )
    length = values.get("length", "")
    length_m = _read("length", values, lambda text: parse_length(text, unit)) if length else None
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
        raise _CellError(field, str(error)) from error


def _count(field: str, values: dict[str, str], default: int) -> int:
    text = values.get(field, "")
    if not text:
        return default
    if not text.isdecimal() or int(text) > 40:
        raise _CellError(field, f"'{text}' is not a number of {field} from 0 to 40")
    return int(text)


def _delimiter(text: str) -> str:
    head = text.partition("\n")[0]
    return max(",;\t", key=head.count)


def _matched(columns: tuple[str, ...]) -> dict[str, str]:
    names = {column.lower(): column for column in columns}
    found = {field: next((names[a] for a in aliases if a in names), None) for field, aliases in _ALIASES.items()}
    return {field: column for field, column in found.items() if column is not None}


def _hopeless(message: str) -> ImportedLinks:
    problem = BadLine(line=1, column="", message=message)
    return ImportedLinks(columns=(), mapping={}, links=(), problems=(problem,))

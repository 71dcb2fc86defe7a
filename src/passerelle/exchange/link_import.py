"""Links from a CSV table: columns matched to fields, every bad line named, all of it or nothing."""

from __future__ import annotations

from collections.abc import Callable
from typing import TypeVar

from passerelle.core.catalog.shelves import Catalog, CatalogError
from passerelle.core.link.build import LinkEnd, build_link, cage_for
from passerelle.core.link.chain import Link
from passerelle.core.sources import Frozen
from passerelle.core.units import UnitError, parse_length
from passerelle.exchange.table_in import BadLine, CellError, Table, TableError, matched, read_table, values_of

Value = TypeVar("Value")
EXAMPLE = "from,to,length,application,fiber"
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


class ImportedLinks(Frozen):
    """What a table holds: its columns, how they were matched, the links, and every bad line."""

    columns: tuple[str, ...]
    mapping: dict[str, str]
    links: tuple[Link, ...]
    problems: tuple[BadLine, ...]


def read_links(
    text: str, catalog: Catalog, mapping: dict[str, str] | None = None, unit: str = "m"
) -> ImportedLinks:
    """Read a CSV text with a head line; comma, semicolon or tab between the cells.

    ``mapping`` says which column holds which field (see ``FIELDS``); without it columns are matched by name.
    Lengths without a unit are in ``unit``. Nothing is raised for bad content: it is named in ``problems``.
    """
    try:
        table = read_table(text, EXAMPLE)
    except TableError as error:
        problem = BadLine(line=1, column="", message=str(error))
        return ImportedLinks(columns=(), mapping={}, links=(), problems=(problem,))
    columns = table.columns
    found = mapping if mapping is not None else matched(columns, _ALIASES)
    wrong = [
        BadLine(line=1, column=found.get(field, ""), message=f"no column is matched to '{field}'")
        for field in NEEDED
        if found.get(field) not in columns
    ]
    if wrong:
        return ImportedLinks(columns=columns, mapping=found, links=(), problems=tuple(wrong))
    return _read_lines(table, found, catalog, unit)


def _read_lines(table: Table, mapping: dict[str, str], catalog: Catalog, unit: str) -> ImportedLinks:
    columns = table.columns
    links: list[Link] = []
    problems: list[BadLine] = []
    for number, cells in table.lines:
        try:
            links.append(_link(values_of(cells, columns, mapping), catalog, unit))
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
        raise CellError(field, str(error)) from error


def _count(field: str, values: dict[str, str], default: int) -> int:
    text = values.get(field, "")
    if not text:
        return default
    if not text.isdecimal() or int(text) > 40:
        raise CellError(field, f"'{text}' is not a number of {field} from 0 to 40")
    return int(text)

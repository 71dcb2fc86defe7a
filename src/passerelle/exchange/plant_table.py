"""Places, ways, cables, strands and the other shelves of the plant as tables, both ways."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable, Mapping
from typing import Any, Literal

from pydantic import ValidationError

from passerelle.core.catalog.shelves import Catalog
from passerelle.core.errors import DoubtfulNumberError, PlantError, UnitError
from passerelle.core.link.chain import Link
from passerelle.core.plant.records import ROWS
from passerelle.core.plant.riders import cable_uses, strand_map
from passerelle.core.plant.site import Plant, check_plant_names
from passerelle.core.sources import Frozen
from passerelle.core.units import parse_length, parse_number
from passerelle.exchange.table_in import BadLine, CellError, Table, matched, values_of
from passerelle.exchange.table_out import Cell, neutral

Listed = Literal["places", "ways", "cables", "taps", "devices", "orders"]
Kept = Literal["places", "ways", "cables", "taps", "devices", "orders", "strands"]
_LENGTHS = {"length_m", "slack_m", "rise_m"}
_LISTS = {"ways", "fiber"}
_NUMBER_LISTS = {"bends_deg", "dead", "strands of taps", "pull_points_m"}
_FLAGS = {"power_conductors", "wet", "metal", "joint"}
_TRUE, _FALSE = {"yes", "true", "1", "x"}, {"no", "false", "0", ""}
STRAND_HEAD = ("cable", "strand", "tube", "tube color", "position", "color", "use")


class PlantTable(Frozen):
    """What a table of one shelf holds: columns, how they were matched, the plant with it, and every bad line.

    ``added`` and ``changed`` are ids; the plant is None while a line is bad.
    """

    columns: tuple[str, ...]
    mapping: dict[str, str]
    added: tuple[str, ...]
    changed: tuple[str, ...]
    problems: tuple[BadLine, ...]
    plant: Plant | None


def fields_of(shelf: Kept) -> tuple[str, ...]:
    """The fields that a table of a shelf may have, its id first."""
    return (
        ("cable", "strand", "use")
        if shelf == "strands"
        else tuple(f for f in ROWS[shelf].model_fields if f not in ("key", "ordered"))
    )


def plant_rows(plant: Plant, shelf: Listed) -> tuple[tuple[str, ...], list[tuple[Cell, ...]]]:
    """Head and rows of one shelf; lists with semicolons, lengths in m, nothing where nothing is known."""
    head = fields_of(shelf)
    rows = [tuple(_cell(getattr(row, field)) for field in head) for row in getattr(plant, shelf)]
    return head, rows


def strand_rows(
    plant: Plant, links: Iterable[Link], catalog: Catalog
) -> tuple[tuple[str, ...], list[tuple[Cell, ...]]]:
    """Head and rows of all strands of all cables, with what each carries."""
    uses = cable_uses(plant, links)
    rows: list[tuple[Cell, ...]] = [
        (cable.id, row.number, row.tube, row.tube_color, row.position, row.color, neutral(row.use or "free"))
        for cable in plant.cables
        for row in strand_map(cable, uses[cable.id], catalog.marks.strands)
    ]
    return STRAND_HEAD, rows


def _cell(value: object) -> Cell:
    if isinstance(value, bool):
        return "yes" if value else "no"
    if value is None or isinstance(value, int | float):
        return value
    if isinstance(value, tuple):
        return "; ".join(f"{one:g}" if isinstance(one, float) else str(one) for one in value)
    return neutral(str(value))


def read_plant_table(
    table: Table,
    shelf: Kept,
    plant: Plant,
    links: list[Link],
    catalog: Catalog,
    mapping: dict[str, str] | None,
    unit: str,
) -> PlantTable:
    """A table of one shelf laid over a plant: rows of a known id are changed, others are added, none is removed.

    ``mapping`` says which column holds which field; without it columns are matched by name. Lengths without a unit
    are in ``unit``. Nothing is raised for bad content: every bad line is named in ``problems``.
    """
    names = {field: (field, field.replace("_", " "), *_also(field)) for field in fields_of(shelf)}
    found = mapping if mapping is not None else matched(table.columns, names)
    needed = ("cable", "strand", "use") if shelf == "strands" else ("id",)
    wrong = [
        BadLine(line=1, column=found.get(field, ""), message=f"no column is matched to '{field}'")
        for field in needed
        if found.get(field) not in table.columns
    ]
    if not wrong and not table.lines:
        wrong = [BadLine(line=2, column="", message="there are no lines below the head")]
    if wrong:
        return _answer(table, found, wrong)
    reader = _Strands(plant, links, table, found) if shelf == "strands" else _Rows(plant, shelf, table, found, unit)
    return reader.read(catalog)


def _also(field: str) -> tuple[str, ...]:
    """Other names that people give a column."""
    names = {
        "length_m": ("length", "length m", "metres", "meters"),
        "start": ("from",),
        "end": ("to",),
        "bore_mm": ("bore", "inner diameter"),
        "slack_m": ("slack",),
        "rise_m": ("rise",),
        "fiber": ("grade", "fibre"),
        "use": ("carries", "state"),
        "strand": ("number", "strands"),
        "key_holder": ("key", "keys"),
    }
    return names.get(field, ())


class _Rows:
    """Rows of places, ways, cables and their like."""

    def __init__(self, plant: Plant, shelf: Listed, table: Table, mapping: Mapping[str, str], unit: str) -> None:
        self.plant, self.shelf, self.table, self.mapping, self.unit = plant, shelf, table, mapping, unit
        self.line_of: dict[str, int] = {}

    def read(self, catalog: Catalog) -> PlantTable:
        known = {row.id: row for row in getattr(self.plant, self.shelf)}
        rows = dict(known)
        problems: list[BadLine] = []
        for number, cells in self.table.lines:
            try:
                values = values_of(cells, self.table.columns, self.mapping)
                row_id = values.get("id", "")
                if not row_id:
                    raise CellError("id", "'id' is empty")
                if row_id in self.line_of:
                    raise CellError("id", f"'{row_id}' stands in line {self.line_of[row_id]} already")
                self.line_of[row_id] = number
                rows[row_id] = self.record(row_id, values, known.get(row_id))
            except CellError as error:
                column = self.mapping.get(error.field, error.field)
                problems.append(BadLine(line=number, column=column, message=str(error)))
        if problems:
            return _answer(self.table, self.mapping, problems)
        try:
            after = self.plant.changed(**{self.shelf: tuple(rows.values())})
            check_plant_names(after, catalog)
        except PlantError as error:
            return _answer(self.table, self.mapping, [self.blame(error)])
        added = tuple(i for i in self.line_of if i not in known)
        changed = tuple(i for i in self.line_of if i in known and rows[i] != known[i])
        return _answer(self.table, self.mapping, [], added, changed, after)

    def record(self, row_id: str, values: dict[str, str], before: Any) -> Any:
        content: dict[str, Any] = dict(before) if before is not None else {"id": row_id, "name": row_id}
        for field, text in values.items():
            if text != "" or before is not None:
                content[field] = self.value(field, text)
        if content.get("name") == "":
            content["name"] = row_id
        kept = {key: value for key, value in content.items() if value is not None or before is not None}
        try:
            return ROWS[self.shelf].model_validate(kept)
        except ValidationError as error:
            first = error.errors(include_url=False, include_context=False)[0]
            field = str(first["loc"][0]) if first["loc"] else ""
            typed = values.get(field, "")
            raise CellError(field, f"'{typed}': {first['msg'].removeprefix('Value error, ')}") from error

    def value(self, field: str, text: str) -> Any:
        """A cell as its field is stored; text that is no number is left to the record, which says why not."""
        if field in _FLAGS:
            if text.lower() not in _TRUE | _FALSE:
                raise CellError(field, f"'{text}' is neither yes nor no")
            return text.lower() in _TRUE
        if field in _LISTS:
            return tuple(part.strip() for part in text.split(";") if part.strip())
        if field in _NUMBER_LISTS or (field == "strands" and self.shelf == "taps"):
            return tuple(_number(field, part.strip()) for part in text.replace(",", ";").split(";") if part.strip())
        if text == "":
            default = ROWS[self.shelf].model_fields[field]
            return None if default.is_required() else default.get_default(call_default_factory=True)
        if field in _LENGTHS:
            try:
                if text.startswith("-"):
                    return -parse_length(text[1:], self.unit)
                return parse_length(text, self.unit)
            except UnitError as error:
                raise CellError(field, str(error)) from error
        annotation = str(ROWS[self.shelf].model_fields[field].annotation)
        return _number(field, text) if "float" in annotation or "int" in annotation else text

    def blame(self, error: PlantError) -> BadLine:
        """The line whose row the plant refuses; line 1 where it is about a row that is not in the table."""
        shelf, _, rest = error.field.partition("[")
        row_id, _, field = rest.partition("]")
        line = self.line_of.get(row_id, 1) if shelf == self.shelf else 1
        return BadLine(line=line, column=self.mapping.get(field.lstrip("."), ""), message=str(error))


class _Strands:
    """Rows of strands: which are dead, and whether the links that the table names are the ones that ride there."""

    def __init__(self, plant: Plant, links: list[Link], table: Table, mapping: Mapping[str, str]) -> None:
        self.plant, self.table, self.mapping = plant, table, mapping
        self.uses = cable_uses(plant, links)

    def read(self, catalog: Catalog) -> PlantTable:
        del catalog
        dead = {cable.id: set(cable.dead) for cable in self.plant.cables}
        problems: list[BadLine] = []
        seen: Counter[tuple[str, int]] = Counter()
        for number, cells in self.table.lines:
            try:
                cable, strand, use = self.line(values_of(cells, self.table.columns, self.mapping))
                seen[cable, strand] += 1
                if seen[cable, strand] > 1:
                    raise CellError("strand", f"strand {strand} of '{cable}' stands in the table twice")
                (dead[cable].add if use == "dead" else dead[cable].discard)(strand)
            except CellError as error:
                column = self.mapping.get(error.field, "")
                problems.append(BadLine(line=number, column=column, message=str(error)))
        if problems:
            return _answer(self.table, self.mapping, problems)
        rows = tuple(
            cable.model_copy(update={"dead": tuple(sorted(dead[cable.id]))}) for cable in self.plant.cables
        )
        changed = tuple(new.id for new, old in zip(rows, self.plant.cables, strict=True) if new != old)
        after = self.plant.changed(cables=rows)
        return _answer(self.table, self.mapping, [], (), changed, after)

    def line(self, values: dict[str, str]) -> tuple[str, int, str]:
        cable = self.plant.cable_of.get(values["cable"])
        if cable is None:
            raise CellError("cable", f"there is no cable '{values['cable']}'")
        if (
            not (values["strand"].isascii() and values["strand"].isdecimal())
            or not 1 <= int(values["strand"]) <= cable.strands
        ):
            raise CellError("strand", f"'{values['strand']}': {cable.name} has strands 1 to {cable.strands}")
        strand, use = int(values["strand"]), values["use"]
        rides = self.uses[cable.id].taken.get(strand, "")
        if use == "dead" and rides:
            raise CellError("use", f"strand {strand} of {cable.name} carries {rides}: take that link off it first")
        if use not in ("dead", "free", "", rides):
            raise CellError(
                "use", f"'{use}' does not ride on this strand: lay its run on the cable, on the link's page"
            )
        return cable.id, strand, use


def _number(field: str, text: str) -> Any:
    """The number, or the text itself where it is none: the record says so."""
    try:
        value = parse_number(text)
    except DoubtfulNumberError as error:
        raise CellError(field, str(error)) from error
    except UnitError:
        return text
    return int(value) if value.is_integer() and abs(value) < 1e15 else value


def _answer(
    table: Table,
    mapping: Mapping[str, str],
    problems: list[BadLine],
    added: tuple[str, ...] = (),
    changed: tuple[str, ...] = (),
    plant: Plant | None = None,
) -> PlantTable:
    return PlantTable(
        columns=table.columns,
        mapping=dict(mapping),
        added=added,
        changed=changed,
        problems=tuple(problems),
        plant=plant,
    )

"""A table of requirements in, the best answer of each out: a bad line is named and the others work."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import TypeVar

from pydantic import ValidationError

from passerelle.core.catalog.copper_figures import CATEGORIES
from passerelle.core.catalog.records import SPACES
from passerelle.core.catalog.shelves import Catalog
from passerelle.core.errors import CatalogError, DoubtfulNumberError, UnitError
from passerelle.core.house import HouseRules
from passerelle.core.link.build import NEW_GRADES
from passerelle.core.plant.site import Plant
from passerelle.core.selection.identify import grades_called
from passerelle.core.selection.placed import placed
from passerelle.core.selection.question import Option, answer, closest
from passerelle.core.selection.wish import PortWish, Question, RankBy
from passerelle.core.sources import Frozen
from passerelle.core.units import format_db, parse_length, parse_number, parse_rate
from passerelle.exchange.table_in import BadLine, CellError, Table, matched, unmatched, values_of
from passerelle.exchange.table_out import Cell, neutral

Value = TypeVar("Value")
NO_PLANT = Plant()
EXAMPLE = "from,to,length,speed"
FIELDS = (
    "from",
    "to",
    "length",
    "tolerance",
    "speed",
    "later",
    "glass",
    "new glass",
    "strands",
    "near",
    "far",
    "near ports",
    "far ports",
    "way",
    "twisted pair",
)
NEEDED = ("from", "to", "length", "speed")
HEAD = (
    "line",
    "from",
    "to",
    "best",
    "glass",
    "verdict",
    "margin dB",
    "cost",
    "later",
    "runner-up",
    "runner-up glass",
    "reason",
)
_ALIASES = {
    "from": ("from", "near place", "a end", "building a", "place a", "site a", "start"),
    "to": ("to", "far place", "b end", "building b", "place b", "site b", "end"),
    "length": ("length", "distance", "how far", "length m", "length (m)", "route length", "route length (m)"),
    "tolerance": ("tolerance", "tolerance %", "±", "estimated %"),
    "speed": ("speed", "rate", "how fast", "needed", "wanted", "wanted speed"),
    "later": ("later", "later speed", "in 5 years"),
    "glass": ("glass", "glass there", "fiber there", "fibre there", "existing fiber", "existing fibre"),
    "new glass": ("new glass", "glass wanted", "new fiber", "new fibre", "wanted fiber", "wanted fibre"),
    "strands": ("strands",),
    "near": ("near", "port here", "near cage"),
    "far": ("far", "port there", "far cage"),
    "near ports": ("near ports", "ports free here"),
    "far ports": ("far ports", "ports free there"),
    "way": ("way", "passes", "the way passes"),
    "twisted pair": ("twisted pair", "category"),
}


class Answered(Frozen):
    """One requirement with its best answer and the runner-up, or with why there is none."""

    line: int
    from_place: str
    to_place: str
    best: Option | None
    runner_up: Option | None
    reason: str


class AnsweredTable(Frozen):
    """What some lines of a table got: matched columns, the answers, every bad line, how many lines there are.

    ``unknown`` are the columns that no field was matched to: nothing of them is used.
    """

    columns: tuple[str, ...]
    mapping: dict[str, str]
    unknown: tuple[str, ...]
    fields: tuple[str, ...] = FIELDS
    lines: int
    answered: tuple[Answered, ...]
    problems: tuple[BadLine, ...]


def answer_lines(
    table: Table,
    first: int,
    count: int,
    catalog: Catalog,
    house: HouseRules,
    mapping: dict[str, str] | None = None,
    unit: str = "m",
    rank_by: RankBy = "school",
    plant: Plant = NO_PLANT,
) -> AnsweredTable:
    """Answer ``count`` lines of a table from the ``first`` on (0 is the first below the head).

    Ends that are places of the ``plant`` have its temperatures.
    Nothing is raised for bad content: a bad line is named in ``problems`` and the others are answered.
    """
    found = mapping if mapping is not None else matched(table.columns, _ALIASES)
    problems = [
        BadLine(line=1, column=found.get(field, ""), message=f"no column is matched to '{field}'")
        for field in NEEDED
        if found.get(field) not in table.columns
    ]
    answered: list[Answered] = []
    for number, cells in () if problems else table.lines[first : first + count]:
        try:
            question = placed(_question(values_of(cells, table.columns, found), catalog, unit, rank_by), plant)
            answered.append(_answered(number, question, catalog, house))
        except CellError as error:
            problems.append(BadLine(line=number, column=found.get(error.field, ""), message=str(error)))
    return AnsweredTable(
        columns=table.columns,
        mapping=found,
        unknown=unmatched(table.columns, found),
        lines=len(table.lines),
        answered=tuple(answered),
        problems=tuple(problems),
    )


def _answered(line: int, question: Question, catalog: Catalog, house: HouseRules) -> Answered:
    found = answer(question, catalog, house)
    best = found.options[0] if found.options else None
    none = "No application has this speed."
    if not best and found.ruled_out:
        out = closest(found.ruled_out, question, catalog, house)
        none = f"Nothing answers: {out.key}: {out.reason}"
    if not best and found.helps:
        none = f"{none} What would: {'; '.join(f'{one.words}: {one.answers}' for one in found.helps[:3])}."
    return Answered(
        line=line,
        from_place=question.from_place,
        to_place=question.to_place,
        best=best,
        runner_up=found.options[1] if len(found.options) > 1 else None,
        reason=found.why if best else none,
    )


def _question(values: dict[str, str], catalog: Catalog, unit: str, rank_by: RankBy) -> Question:
    for field in NEEDED:
        if not values.get(field):
            raise CellError(field, f"'{field}' is empty")
    glass, new = values.get("glass", ""), values.get("new glass", "")
    later = values.get("later", "")
    try:
        return Question(
            from_place=values["from"],
            to_place=values["to"],
            length_m=_read("length", values["length"], lambda text: parse_length(text, unit)),
            rate_mbps=_read("speed", values["speed"], parse_rate),
            later_mbps=_read("later", later, parse_rate) if later else None,
            tolerance_percent=_read("tolerance", values.get("tolerance", "").rstrip("% ") or "0", _percent),
            fiber=_read("glass", glass, lambda text: grades_called(text, catalog)) if glass else (),
            grade=_read("new glass", new, lambda text: _newest(grades_called(text, catalog))) if new else "",
            strands=1 if values.get("strands") == "1" else 2,
            near=PortWish(cage=_cage("near", values, catalog), free=_ports("near ports", values)),
            far=PortWish(cage=_cage("far", values, catalog), free=_ports("far ports", values)),
            spaces=tuple(_one_of("way", part, SPACES) for part in _parts(values.get("way", ""))),
            category=_one_of("twisted pair", pair, CATEGORIES)
            if (pair := values.get("twisted pair", ""))
            else None,
            rank_by=rank_by,
        )
    except ValidationError as error:
        first = error.errors(include_url=False, include_context=False)[0]
        names = {"from_place": "from", "to_place": "to", "length_m": "length", "tolerance_percent": "tolerance"}
        field = str(first["loc"][0])
        raise CellError(names.get(field, field), str(first["msg"]).removeprefix("Value error, ")) from error


def _newest(grades: tuple[str, ...]) -> str:
    """Of the grades that are meant the one that is pulled today, else the best."""
    return next((grade for grade in NEW_GRADES if grade in grades), grades[-1])


def _cage(field: str, values: dict[str, str], catalog: Catalog) -> str:
    text = values.get(field, "")
    return _read(field, text, lambda name: catalog.cage(name).name) if text else ""


def _ports(field: str, values: dict[str, str]) -> int | None:
    text = values.get(field, "")
    if text and not text.isdigit():
        raise CellError(field, f"'{text}' is no count of free ports: write for example 4")
    return int(text) if text else None


def _parts(text: str) -> list[str]:
    return [part.strip() for part in text.split(";") if part.strip()]


def _one_of(field: str, text: str, known: tuple[Value, ...]) -> Value:
    found = next((one for one in known if str(one).lower() in (text.lower(), f"category {text.lower()}")), None)
    if found is None:
        raise CellError(field, f"'{text}' is not one of {', '.join(map(str, known))}")
    return found


def _percent(text: str) -> float:
    try:
        return parse_number(text.strip().lstrip("±+ ").removesuffix("%"))
    except DoubtfulNumberError:
        raise
    except UnitError as error:
        raise UnitError(f"'{text}' is no tolerance in %: write for example 10") from error


def _read(field: str, text: str, reader: Callable[[str], Value]) -> Value:
    try:
        return reader(text)
    except (CatalogError, UnitError) as error:
        raise CellError(field, str(error)) from error


def answer_rows(answered: Sequence[Answered]) -> list[tuple[Cell, ...]]:
    """One row an answer, under the columns of ``HEAD``."""
    rows: list[tuple[Cell, ...]] = []
    for one in answered:
        best, second = one.best, one.runner_up
        margin = format_db(best.margin_db).removesuffix(" dB") if best and best.margin_db is not None else None
        rows.append(
            (
                one.line,
                neutral(one.from_place),
                neutral(one.to_place),
                best.key if best else "",
                " or ".join(best.fiber) if best else "",
                best.verdict_text if best else "none",
                margin,
                round(best.cost.total, 2) if best else None,
                best.later if best else "",
                second.key if second else "",
                " or ".join(second.fiber) if second else "",
                one.reason,
            )
        )
    return rows

"""Many requirements at once, and what pieces and work cost in a project."""

from __future__ import annotations

from collections.abc import Collection
from typing import Literal

from fastapi import Request
from fastapi.responses import Response

from passerelle.api.errands import ReadyLinks, answered, ready_answers
from passerelle.api.exchange import add_ready, table_response
from passerelle.api.materials import bill_in
from passerelle.api.routing import api_router
from passerelle.api.schemas.common import RowId
from passerelle.api.schemas.exchange import ImportOut
from passerelle.api.schemas.selection import PriceCsv, PricesOut, RequirementsRequest, TakeRequirements
from passerelle.api.state import database_of, writing
from passerelle.api.views import own_applications
from passerelle.api.workroom import SMALL, key_of, workroom_of
from passerelle.core.catalog.prices import OwnPrice, came_with, price_list, prices_source
from passerelle.core.errors import DoubtfulNumberError
from passerelle.core.units import parse_number
from passerelle.exchange.requirements import HEAD, AnsweredTable, answer_rows
from passerelle.exchange.table_in import CellError, TableError, matched, read_table, values_of
from passerelle.exchange.table_out import Cell, neutral
from passerelle.store import projects as stored

FEW = 20
"""Lines that are answered here; more of them in a process of their own."""

router = api_router("selection")


@router.post("/projects/{project_id}/requirements")
def answer_requirements(request: Request, project_id: RowId, wish: RequirementsRequest) -> AnsweredTable:
    """The best answers of some lines of a table of requirements. Nothing is stored."""
    with database_of(request).read() as session:
        house, plant = stored.project(session, project_id).house, stored.plant(session, project_id)
    given = wish.text, wish.first, wish.count, house, wish.mapping, wish.unit, wish.rank_by, plant
    alone = wish.count > FEW or len(wish.text) > SMALL
    return workroom_of(request).run(key_of(request), answered, *given, alone=alone, way="out")


@router.post("/projects/{project_id}/requirements.{kind}", response_class=Response)
def download_answers(
    request: Request, project_id: RowId, kind: Literal["csv", "xlsx"], wish: RequirementsRequest
) -> Response:
    """The answers of some lines as a table."""
    found = answer_requirements(request, project_id, wish)
    rows: list[tuple[Cell, ...]] = [
        *answer_rows(found.answered),
        *((p.line, "", "", "", "", "bad line", None, None, "", "", "", neutral(p.message)) for p in found.problems),
    ]
    return table_response("answers", project_id, kind, HEAD, rows)


@router.post("/projects/{project_id}/requirements/take")
def take_answers(request: Request, project_id: RowId, wish: TakeRequirements) -> ImportOut:
    """Add the best answers of the named lines to the project, as one entry of the history."""

    def make() -> tuple[str, ReadyLinks]:
        given = database_of(request).path, project_id, wish.text, wish.lines, wish.mapping, wish.unit, wish.rank_by
        alone = len(wish.lines) > FEW
        ready = workroom_of(request).run(key_of(request), ready_answers, *given, alone=alone)
        return f"add {len(ready.rows)} links from requirements", ready

    return add_ready(request, project_id, make)


@router.get("/projects/{project_id}/prices")
def get_prices(request: Request, project_id: RowId) -> PricesOut:
    """The price list of a project."""
    with database_of(request).read() as session:
        house = stored.project(session, project_id).house
    lines = tuple(price_list(house.own_prices, own_applications(house)))
    return PricesOut(currency=house.currency, lines=lines, source=prices_source())


@router.get("/projects/{project_id}/prices.csv", response_class=Response)
def download_prices(request: Request, project_id: RowId) -> Response:
    """The price list as a table."""
    with database_of(request).read() as session:
        house = stored.project(session, project_id).house
    listed = price_list(house.own_prices, own_applications(house))
    names = {line.item for line in listed}
    quoted = [line for line in house.own_prices if line.item not in names]
    rows = [(neutral(line.item), line.price) for line in listed]
    rows += [(neutral(line.item), line.price) for line in quoted]
    return table_response("prices", project_id, "csv", ("item", "price"), rows)


@router.put("/projects/{project_id}/prices")
def put_prices(request: Request, project_id: RowId, wish: PriceCsv) -> PricesOut:
    """Lay a table of prices over the list, as one entry of the history; nothing when a line is bad (422).

    An item is one of the list, or a line of the bill in its own words, as a supplier quoted it.
    """
    table = read_table(wish.text, "item,price")
    mapping = matched(table.columns, {"item": ("item", "line", "part"), "price": ("price", "price each", "each")})
    if len(mapping) < 2:
        raise TableError("the first line must name the columns item and price")
    with writing(request) as session:
        house = stored.project(session, project_id).house
        own = {line.item: line for line in house.own_prices}
        known = came_with(own_applications(house))
        lines = {line.words for line in bill_in(session, project_id)[0].lines} - set(known)
        for number, cells in table.lines:
            try:
                values = values_of(cells, table.columns, mapping)
            except CellError as error:
                raise TableError(f"line {number}: {error}; a decimal comma stands in quotes") from error
            own[values["item"]] = _price(number, values["item"], values["price"], {*known, *lines, *own})
        kept = tuple(line for line in own.values() if line.price != known.get(line.item))
        after = house.model_copy(update={"own_prices": kept, "currency": wish.currency or house.currency})
        stored.set_house_rules(session, project_id, after, f"prices from a table of {len(table.lines)}")
    return get_prices(request, project_id)


def _price(number: int, item: str, text: str, known: Collection[str]) -> OwnPrice:
    if item not in known:
        raise TableError(
            f"line {number}: there is no item '{item}': take the names of the list, or of the bill, as they go out"
        )
    try:
        return OwnPrice(item=item, price=parse_number(text))
    except DoubtfulNumberError as error:
        raise TableError(f"line {number}: {error}") from error
    except ValueError as error:
        raise TableError(f"line {number}: '{text}' is no price of {item}") from error

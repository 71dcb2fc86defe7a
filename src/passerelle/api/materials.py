"""The bill of a project, its orders and deliveries, and what has become of its pieces."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from functools import partial
from typing import Literal

from fastapi import Request
from fastapi.responses import Response
from sqlalchemy.orm import Session

from passerelle.api.exchange import XLSX, stamp_of, table_response
from passerelle.api.routing import api_router
from passerelle.api.schemas.common import RowId
from passerelle.api.schemas.materials import (
    BillOut,
    DeliveryOut,
    DeliveryRequest,
    LineRequest,
    LooseLine,
    OrderLineOut,
    OrderRequest,
    PaperOut,
    StateRequest,
    WaitingOut,
)
from passerelle.api.state import database_of, writing
from passerelle.api.views import catalog_of
from passerelle.core.catalog.prices import OwnPrice
from passerelle.core.errors import MaterialError
from passerelle.core.events import Delivered, OrderedLine, OrderPlaced, withdrawals
from passerelle.core.house import HouseRules
from passerelle.core.link.chain import Link
from passerelle.core.materials.arrival import (
    Arrival,
    NoteRead,
    Orders,
    arrived,
    arrived_cable,
    as_ordered_arrivals,
    delivery_lines,
    matched,
    orders_of,
)
from passerelle.core.materials.asked import Scope, scope_of
from passerelle.core.materials.bill import Bill, BillLine, bill_of
from passerelle.core.parts.piece import State
from passerelle.core.parts.registry import Element
from passerelle.core.plant.records import Cable, Frame, OrderLine, Row, SharedPart, Stock
from passerelle.core.plant.site import Plant, free_id
from passerelle.exchange.delivery_in import FIELDS, DeliveryRead, read_delivery
from passerelle.exchange.materials_out import BILL_HEAD, bill_pdf, bill_rows, bill_workbook
from passerelle.exchange.table_in import TableError
from passerelle.store import events
from passerelle.store import links as stored_links
from passerelle.store import projects as stored
from passerelle.store.materials import OnRow, Restate, restate

router = api_router("materials")


def scope_in(session: Session, project_id: int) -> tuple[Scope, Orders]:
    """A project as its bill sees it, with what its orders and deliveries come to."""
    house = stored.project(session, project_id).house
    orders = orders_of(events.of_project(session, project_id))
    links = [(item.id, item.link) for item in stored_links.links(session, project_id)]
    plant = stored.plant(session, project_id)
    return scope_of(links, plant, house, catalog_of(house), orders.keys, orders.came), orders


def bill_in(session: Session, project_id: int) -> tuple[Bill, Scope, Orders]:
    """The bill of a project."""
    scope, orders = scope_in(session, project_id)
    return bill_of(scope, orders.ordered), scope, orders


@router.get("/projects/{project_id}/bill")
def get_bill(request: Request, project_id: RowId) -> BillOut:
    """What to buy: grouped lines with who asks for each, spares, stock, orders, totals, and what is missing."""
    with database_of(request).read() as session:
        return _bill_out(session, project_id)


def _bill_out(session: Session, project_id: int) -> BillOut:
    bill, scope, orders = bill_in(session, project_id)
    return BillOut(
        bill=bill,
        waiting=tuple(
            WaitingOut(words=words, ordered=ordered, came=orders.arrived.get(words, 0.0), open=orders.open(words))
            for words, ordered in orders.ordered.items()
        ),
        currency=scope.house.currency,
        plan_revision=stored.plant_revision(session, project_id),
        papers=tuple(_papers(session, project_id)),
    )


def _papers(session: Session, project_id: int) -> list[PaperOut]:
    happened = events.of_project(session, project_id)
    gone = withdrawals(happened)
    return [
        PaperOut(
            key=event.key,
            kind=event.kind,
            number=event.number if isinstance(event, OrderPlaced) else 0,
            note=event.note,
            at=event.at,
            who=event.who,
            withdrawn=gone[event.key].why if event.key in gone else "",
            lines=tuple(
                OrderLineOut(
                    words=line.words,
                    quantity=line.quantity,
                    unit=getattr(line, "unit", ""),
                    pieces=len(line.keys),
                    differs=getattr(line, "differs", ""),
                )
                for line in event.lines
            ),
        )
        for event in reversed(happened)
        if isinstance(event, OrderPlaced | Delivered)
    ]


@router.get("/projects/{project_id}/bill.{kind}", response_class=Response)
def download_bill(request: Request, project_id: RowId, kind: Literal["csv", "xlsx", "pdf", "json"]) -> Response:
    """The bill as a table, as a workbook with live sums, as a sheet, or as JSON."""
    with database_of(request).read() as session:
        name = stored.project(session, project_id).name
        bill, scope, _ = bill_in(session, project_id)
        stamp = stamp_of(session, project_id)
    if kind == "csv":
        return table_response("bill", project_id, kind, BILL_HEAD, bill_rows(bill))
    if kind == "xlsx":
        return as_file(bill_workbook(bill, scope.house.currency), XLSX, f"bill-{project_id}.xlsx")
    if kind == "json":
        return as_file(bill.model_dump_json(indent=1), "application/json", f"bill-{project_id}.json")
    return as_file(bill_pdf(bill, name, scope.house.currency, stamp), "application/pdf", f"bill-{project_id}.pdf")


def as_file(content: bytes | str, media_type: str, name: str) -> Response:
    """A file to keep."""
    headers = {"Content-Disposition": f'attachment; filename="{name}"'}
    return Response(content, media_type=media_type, headers=headers)


@router.put("/projects/{project_id}/bill/line")
def set_line(request: Request, project_id: RowId, wish: LineRequest) -> BillOut:
    """Set the quantity of a line with a reason, its quoted price, or what is at hand of it: one entry."""
    with writing(request) as session:
        if wish.what != "price" and wish.value is not None and wish.value % 1:
            line = next((one for one in bill_in(session, project_id)[0].lines if one.words == wish.words), None)
            if line is None or line.unit == "piece":
                raise MaterialError("value", f"pieces come whole: {wish.value:g} is no number of pieces")
        if wish.what == "price":
            _set_price(session, project_id, wish)
        else:
            _set_row(session, project_id, wish)
        return _bill_out(session, project_id)


def _set_price(session: Session, project_id: int, wish: LineRequest) -> None:
    house = stored.project(session, project_id).house
    kept = tuple(line for line in house.own_prices if line.item != wish.words)
    new = () if wish.value is None else (OwnPrice(item=wish.words, price=wish.value),)
    label = f"price of {wish.words[:120]}"
    changed = HouseRules.model_validate({**house.model_dump(), "own_prices": (*kept, *new)})
    stored.set_house_rules(session, project_id, changed, label)


def _set_row(session: Session, project_id: int, wish: LineRequest) -> None:
    """A quantity by hand, or stock, as a row of the plan: undone and kept like every other."""
    plant, revision = stored.plant(session, project_id), stored.plant_revision(session, project_id)
    if wish.what == "quantity":
        if wish.value is not None and not wish.why.strip():
            raise MaterialError("why", "say why this quantity is another one than what follows from the links")
        kept = tuple(row for row in plant.orders if row.line != wish.words)
        new = _row_of(OrderLine, "override", plant.orders, wish)
        changed = plant.changed(orders=(*kept, *new))
    else:
        others = tuple(row for row in plant.stock if row.line != wish.words)
        changed = plant.changed(stock=(*others, *_row_of(Stock, "stock", plant.stock, wish)))
    stored.set_plant(session, project_id, revision, changed, f"{wish.what} of {wish.words[:120]}")


def _row_of(kind: type[Row], word: str, rows: Sequence[Row], wish: LineRequest) -> tuple[Row, ...]:
    if wish.value is None:
        return ()
    own = free_id(word, {row.id for row in rows})
    values = {"id": own, "name": wish.words[:120], "count": wish.value, "line": wish.words}
    return (kind.model_validate({**values, "why": wish.why} if kind is OrderLine else values),)


@router.post("/projects/{project_id}/orders")
def place_order(request: Request, project_id: RowId, wish: OrderRequest) -> BillOut:
    """Place an order of what is still to be ordered: the difference since the orders before. Undo withdraws it.

    It is reckoned while nobody is kept from writing, and anew where the project changed meanwhile; after three such
    times among the writers, so that it ends.
    """
    for _ in range(3):
        with database_of(request).read() as session:
            revision = stored.project(session, project_id).revision
            lines, numbers = _to_order(session, project_id, wish)
        with writing(request) as session:
            if stored.project(session, project_id).revision == revision:
                _order(session, project_id, wish, lines, numbers)
                break
    else:
        with writing(request) as session:
            _order(session, project_id, wish, *_to_order(session, project_id, wish))
    with database_of(request).read() as session:
        return _bill_out(session, project_id)


def _to_order(session: Session, project_id: int, wish: OrderRequest) -> tuple[list[BillLine], int]:
    """The lines that an order takes, and how many orders there are; raises MaterialError without a line."""
    bill, _, orders = bill_in(session, project_id)
    wanted = None if wish.lines is None else set(wish.lines)
    lines = [line for line in bill.lines if line.to_order and (wanted is None or line.words in wanted)]
    if not lines:
        raise MaterialError("lines", "nothing is to be ordered: what is planned is ordered already")
    return lines, orders.numbers


def _order(session: Session, project_id: int, wish: OrderRequest, lines: Sequence[BillLine], numbers: int) -> None:
    now = events.stamp(session)
    order = OrderPlaced(
        key=now.key(),
        at=now.at,
        who=now.who,
        number=numbers + 1,
        note=wish.note,
        lines=tuple(
            OrderedLine(
                words=line.words,
                quantity=line.to_order,
                unit=line.unit,
                keys=tuple(dict.fromkeys(one.key for one in line.asked if one.key)),
            )
            for line in lines
        ),
    )
    keys = {key for line in order.lines for key in line.keys}
    _become(session, project_id, keys, "ordered", ("planned",), [order], f"order {order.number}")


def _become(
    session: Session,
    project_id: int,
    keys: set[str],
    state: State,
    only: Sequence[State],
    happened: Sequence[OrderPlaced | Delivered],
    label: str,
) -> None:
    """Pieces and rows take a state, those that are in one of some states now."""
    piece: Restate = partial(_piece_in, state=state, only=only)
    row: OnRow = partial(_row_in, state=state, only=only)
    restate(session, project_id, dict.fromkeys(keys, piece), dict.fromkeys(keys, row), happened, label)


def _piece_in(piece: Element, state: State, only: Sequence[State]) -> Element:
    return piece.model_copy(update={"state": state}) if not only or piece.state in only else piece


def _row_in(row: Row, state: State, only: Sequence[State]) -> Row:
    """A row with a state: of a shared part that of what it holds, of a frame also that of its adapters."""
    if isinstance(row, SharedPart):
        return row.model_copy(update={"holds": _piece_in(row.holds, state, only)})
    if isinstance(row, Frame):
        held = tuple(
            hole.model_copy(update={"adapter": _piece_in(hole.adapter, state, only)}) if hole.adapter else hole
            for hole in row.held
        )
        row = row.model_copy(update={"held": held})
    now = getattr(row, "state", None)
    return row.model_copy(update={"state": state}) if now is not None and (not only or now in only) else row


@router.post("/projects/{project_id}/states")
def set_states(request: Request, project_id: RowId, wish: StateRequest) -> BillOut:
    """Say what has become of pieces and rows, or of all pieces of some links: there already, installed, dead."""
    with writing(request) as session:
        keys = set(wish.keys)
        if wish.links:
            plant = stored.plant(session, project_id)
            for item in stored_links.links(session, project_id, wish.links):
                keys |= _keys_of(item.link, plant)
        if not keys:
            raise MaterialError("keys", "say which pieces or which links: none of these is in the project")
        _become(session, project_id, keys, wish.state, (), [], f"{len(keys)} pieces are {wish.state}")
        return _bill_out(session, project_id)


def _keys_of(link: Link, plant: Plant) -> set[str]:
    """The keys of the pieces of a link, of shared ones those of their rows."""
    rows = {**plant.cable_of, **plant.shared_of, **plant.frame_of}
    return {rows[e.part].key if e.part in rows else e.key for e in link.elements}


@router.post("/projects/{project_id}/deliveries/preview")
def preview_delivery(request: Request, project_id: RowId, wish: DeliveryRequest) -> DeliveryOut:
    """What a delivery note matches of the orders, and what it does not. Nothing is stored."""
    read = _read(request, project_id, wish)
    with database_of(request).read() as session:
        bill, _, orders = bill_in(session, project_id)
    return _delivery_out(matched(_came(wish, read, bill, orders), bill, orders), read)


@router.post("/projects/{project_id}/deliveries")
def take_delivery(request: Request, project_id: RowId, wish: DeliveryRequest) -> DeliveryOut:
    """Take what came: matched lines become delivered, as they arrived; the others are listed and left out."""
    read = _delivery(request, project_id, wish)
    with writing(request) as session:
        bill, scope, orders = bill_in(session, project_id)
        found = matched(_came(wish, read, bill, orders), bill, orders)
        if not found.matched:
            why = found.unmatched[0][1] if found.unmatched else "it has no line"
            raise MaterialError("lines", f"nothing of this delivery was ordered: {why}")
        now = events.stamp(session)
        came = Delivered(key=now.key(), at=now.at, who=now.who, note=wish.note, lines=delivery_lines(found))
        pieces, rows = _arrivals(found, scope)
        label = f"delivery {wish.note}".strip()
        restate(session, project_id, pieces, rows, [came], label)
    return _delivery_out(found, read)


def _came(wish: DeliveryRequest, read: DeliveryRead, bill: Bill, orders: Orders) -> tuple[Arrival, ...]:
    if not wish.all_as_ordered:
        return read.arrivals
    waiting = as_ordered_arrivals(bill, orders)
    if not waiting:
        raise MaterialError("all_as_ordered", "nothing is waited for: all that was ordered has come")
    return waiting


def _arrivals(found: NoteRead, scope: Scope) -> tuple[dict[str, Restate], dict[str, OnRow]]:
    """What each piece and each row becomes by what came for it."""
    pieces: dict[str, Restate] = {}
    rows: dict[str, OnRow] = {}
    for one in found.matched:
        for key in one.keys:
            pieces[key] = _arrives(one.arrival, scope)
            rows[key] = _row_arrives(one.arrival, scope)
    return pieces, rows


def _arrives(arrival: Arrival, scope: Scope) -> Callable[[Element], Element]:
    return lambda piece: arrived(piece, arrival, scope.catalog)


def _row_arrives(arrival: Arrival, scope: Scope) -> Callable[[Row], Row]:
    def row_of(row: Row) -> Row:
        if isinstance(row, Cable):
            return arrived_cable(row, arrival, scope.catalog)
        if isinstance(row, SharedPart):
            return row.model_copy(update={"holds": arrived(row.holds, arrival, scope.catalog)})
        return _row_in(row, "delivered", ("planned", "ordered"))

    return row_of


def _delivery(request: Request, project_id: int, wish: DeliveryRequest) -> DeliveryRead:
    """The lines of a delivery note, all of them good; one that is bad refuses it whole."""
    read = _read(request, project_id, wish)
    if read.problems:
        first = read.problems[0]
        more = f"; {len(read.problems)} bad lines, nothing taken" if len(read.problems) > 1 else ", nothing taken"
        raise TableError(f"line {first.line}, {first.column}: {first.message}{more}")
    return read


def _read(request: Request, project_id: int, wish: DeliveryRequest) -> DeliveryRead:
    """The lines of a delivery note, from a table or as they were typed."""
    if wish.all_as_ordered:
        return DeliveryRead(columns=(), mapping={}, arrivals=(), problems=())
    if not wish.text and not wish.workbook:
        if not wish.lines:
            raise MaterialError("lines", "say what came: a line of the bill and how much of it")
        return DeliveryRead(columns=(), mapping={}, arrivals=wish.lines, problems=())
    with database_of(request).read() as session:
        unit = stored.project(session, project_id).house.unit
    return read_delivery(wish.text, wish.workbook, wish.mapping, unit)


def _delivery_out(found: NoteRead, read: DeliveryRead) -> DeliveryOut:
    loose = tuple(LooseLine(line=a.line, quantity=a.quantity, why=why) for a, why in found.unmatched)
    return DeliveryOut(
        matched=found.matched,
        unmatched=loose,
        fields=FIELDS,
        columns=read.columns,
        mapping=read.mapping,
        problems=read.problems,
    )

"""The boxes of a project: rows, secrets, reading them, and writing to a port when somebody asks for it."""

from __future__ import annotations

from typing import Annotated, Literal

from fastapi import Header, Path, Request
from pydantic import ValidationError
from sqlalchemy.orm import Session

from passerelle.api.live import live_of, secrets_of
from passerelle.api.routing import api_router
from passerelle.api.schemas.common import RowId
from passerelle.api.schemas.turnup import (
    BoxesOut,
    BoxOut,
    BoxWish,
    SecretWish,
    WriteOut,
    WriteWish,
)
from passerelle.api.state import database_of, writing
from passerelle.core.errors import TurnUpError
from passerelle.core.plant.records import Box
from passerelle.core.plant.site import Plant, free_id
from passerelle.core.turned_up import Logged
from passerelle.equipment.boxes import Wanted, to_write
from passerelle.equipment.credentials import Credentials, CredentialsError
from passerelle.equipment.objects import mau_applications, oid
from passerelle.store import events
from passerelle.store import projects as stored
from passerelle.store.accepted import is_reached, put_records, reach

router = api_router("boxes", asks_devices=True)
Row = Annotated[str, Path(max_length=60)]


@router.get("/projects/{project_id}/boxes")
def get_boxes(request: Request, project_id: RowId) -> BoxesOut:
    """The boxes of a project, whether they may be contacted, and whether a secret is kept for them."""
    with database_of(request).read() as session:
        return _out(request, session, project_id)


def _out(request: Request, session: Session, project_id: int) -> BoxesOut:
    try:
        known, trouble = secrets_of(request).known(), ""
    except CredentialsError as error:
        known, trouble = {}, str(error)
    live = live_of(request)
    return BoxesOut(
        plan_revision=stored.plant_revision(session, project_id),
        boxes=tuple(
            BoxOut(
                row=row,
                reached=bool(row.address) and is_reached(session, project_id, row.address),
                secret=known.get(row.address, ""),
                **live.told(row.address),
            )
            for row in stored.plant(session, project_id).boxes
        ),
        rates=mau_applications(),
        secrets_trouble=trouble,
    )


@router.put("/projects/{project_id}/boxes")
def put_box(request: Request, project_id: RowId, wish: BoxWish) -> BoxesOut:
    """Add, change or take out a box; an address that is typed here may be contacted."""
    with writing(request) as session:
        plant = stored.plant(session, project_id)
        known = next((row for row in plant.boxes if row.id == wish.row), None)
        if wish.row and known is None:
            raise TurnUpError("row", f"there is no box '{wish.row}': reload the page")
        if any(row.name == wish.name and row is not known for row in plant.boxes):
            raise TurnUpError("name", f"another box is called '{wish.name}': boxes are told apart by their names")
        rows = tuple(row for row in plant.boxes if row is not known)
        if not wish.remove:
            made = _box(wish, known, plant)
            rows = tuple(made if row is known else row for row in plant.boxes) if known else (*rows, made)
        revision = stored.plant_revision(session, project_id)
        stored.set_plant(session, project_id, revision, plant.changed(boxes=rows), f"box {wish.name}")
        if wish.remove and known is not None and known.address:
            secrets_of(request).put(known.address, None)
        if wish.address and not wish.remove:
            reach(session, project_id, wish.address)
        return _out(request, session, project_id)


def _box(wish: BoxWish, known: Box | None, plant: Plant) -> Box:
    values = wish.model_dump(exclude={"row", "remove"})
    if wish.place and wish.place not in plant.place_of:
        raise TurnUpError("place", f"there is no place '{wish.place}': choose one of the plan, or none")
    try:
        if known is not None:
            return Box.model_validate({**known.model_dump(), **values})
        return Box(id=free_id(wish.name, {row.id for row in plant.boxes}), **values)
    except ValidationError as error:
        field = str(error.errors()[0]["loc"][0])
        words = {
            "address": "an address reads host:port, such as 192.0.2.10:161",
            "bridge_address": "a bridge address reads 02:00:00:00:00:01",
        }
        raise TurnUpError(field, words.get(field, str(error.errors()[0]["msg"]))) from error


@router.post("/projects/{project_id}/boxes/{row}/confirm")
def confirm(request: Request, project_id: RowId, row: Row) -> BoxesOut:
    """Confirm an address that came with a file, so that it may be contacted."""
    with writing(request) as session:
        reach(session, project_id, box_row(session, project_id, row).address)
        return _out(request, session, project_id)


@router.put("/projects/{project_id}/boxes/{row}/secret")
def put_secret(request: Request, project_id: RowId, row: Row, wish: SecretWish) -> BoxesOut:
    """Keep how a box is asked, bound to its address; it is never shown again."""
    with database_of(request).read() as session:
        address = reached_address(session, project_id, box_row(session, project_id, row))
    if wish.forget:
        made = None
    elif wish.version == "v2c":
        if not wish.community:
            raise TurnUpError("community", "the community of v2c is missing")
        made = Credentials(version="v2c", community=wish.community)
    else:
        made = _user(wish)
    secrets_of(request).put(address, made)
    with database_of(request).read() as session:
        return _out(request, session, project_id)


def _user(wish: SecretWish) -> Credentials:
    if not wish.user:
        raise TurnUpError("user", "the user of v3 is missing")
    if wish.auth != "none" and len(wish.auth_secret) < 8:
        raise TurnUpError("auth_secret", "an authentication secret has eight letters at least")
    if wish.privacy != "none" and (wish.auth == "none" or len(wish.privacy_secret) < 8):
        raise TurnUpError("privacy_secret", "privacy needs authentication, and a secret of eight letters at least")
    return Credentials(
        version="v3",
        user=wish.user,
        auth=wish.auth,
        auth_secret=wish.auth_secret if wish.auth != "none" else "",
        privacy=wish.privacy,
        privacy_secret=wish.privacy_secret if wish.privacy != "none" else "",
    )


def box_row(session: Session, project_id: int, row: str) -> Box:
    """A box by its row.

    Raises:
        TurnUpError: there is none.
    """
    for known in stored.plant(session, project_id).boxes:
        if known.id == row:
            return known
    raise TurnUpError("row", f"there is no box '{row}': reload the page")


def reached_address(session: Session, project_id: int, box: Box) -> str:
    """The address of a box that may be contacted.

    Raises:
        TurnUpError: it has none, or it came with a file and nobody confirmed it.
    """
    if why := why_not_reached(session, project_id, box):
        raise TurnUpError("address", why)
    return box.address


def why_not_reached(session: Session, project_id: int, box: Box) -> str:
    """Why a box may not be contacted; empty where it may."""
    if not box.address:
        return f"{box.name} has no address: its values are typed"
    if not is_reached(session, project_id, box.address):
        return f"the address {box.address} came with a file: confirm it on the page of boxes first"
    return ""


@router.post("/projects/{project_id}/boxes/read")
def read_boxes(request: Request, project_id: RowId) -> BoxesOut:
    """Read the planned ports of all boxes at once; one that is silent says so in its own place."""
    with database_of(request).read() as session:
        rows = stored.plant(session, project_id).boxes
        wanted = wanted_of(request, session, project_id, rows)
    live_of(request).read(wanted)
    with database_of(request).read() as session:
        return _out(request, session, project_id)


def wanted_of(request: Request, session: Session, project_id: int, rows: tuple[Box, ...]) -> list[Wanted]:
    """The boxes that can be read: with an address that may be contacted, and a secret for it."""
    found = []
    for row in rows:
        if why_not_reached(session, project_id, row):
            continue
        secret = secrets_of(request).of(row.address)
        if secret is not None:
            found.append(Wanted(row.address, secret, tuple(port.name for port in row.ports)))
    return found


@router.get("/projects/{project_id}/boxes/{row}/ports")
def get_ports(
    request: Request,
    project_id: RowId,
    row: Row,
    _intent: Annotated[Literal["ask"], Header(alias="X-Intent", description="What no link or picture can send.")],
) -> list[str]:
    """The names of the ports that a box has, as it says them. The box is asked: say ``X-Intent: ask``."""
    with database_of(request).read() as session:
        box = box_row(session, project_id, row)
        address = reached_address(session, project_id, box)
    return live_of(request).poller.names(address, _secret(request, box))


def _secret(request: Request, box: Box) -> Credentials:
    secret = secrets_of(request).of(box.address)
    if secret is None:
        raise TurnUpError("secret", f"nobody typed how {box.name} is asked: do it on the page of boxes")
    return secret


@router.post("/projects/{project_id}/boxes/{row}/write")
def write_port(request: Request, project_id: RowId, row: Row, wish: WriteWish) -> WriteOut:
    """Set a port up or shut, or its rate by MAU type: shown first, sent only when asked, and logged.

    A write to the port through which the box is reached carries a timed way back in the box itself; where the box
    has none it is refused.
    """
    with database_of(request).read() as session:
        box = box_row(session, project_id, row)
        address = reached_address(session, project_id, box)
    secret = _secret(request, box)
    if not wish.admin and not wish.application:
        raise TurnUpError("admin", "nothing is asked: say up or down, or an application for the rate")
    poller = live_of(request).poller
    index = poller.index_of(address, secret, wish.port)
    try:
        values = to_write(index, admin=wish.admin, application=wish.application)
    except ValueError as error:
        raise TurnUpError("application", str(error)) from error
    told = tuple((_name(at), ".".join(map(str, at)), _said(value)) for at, value in values.items())
    own = _own_way_in(box, wish)
    way_back = _way_back(box, wish) if own else ""
    if not wish.send:
        words = f"This is what would be sent to {box.name} at {address}."
        return WriteOut(sent=False, objects=told, way_back=way_back, words=words)
    live = live_of(request)
    if own:
        live.with_way_back(address, secret, index, wish.way_back_s, values)
    else:
        poller.write(address, secret, values)
    words = f"{box.name} {wish.port}: {', '.join(f'{name} {value}' for name, _, value in told)}"
    with writing(request) as session:
        stamp = events.stamp(session)
        entry = Logged(
            key=stamp.key(),
            at=stamp.at,
            who=stamp.who,
            about="note",
            words=f"sent: {words}",
            operator=wish.operator,
            taken_on=wish.taken_on,
            at_time=wish.at_time,
            place=wish.place,
        )
        put_records(session, project_id, [entry], f"sent to {words}"[:300])
    live.read([Wanted(address, secret, tuple(port.name for port in box.ports))])
    return WriteOut(
        sent=True,
        objects=told,
        way_back=way_back,
        words=f"Sent. It stands until the box restarts: save it to the start-up configuration. {way_back}".strip(),
    )


def _own_way_in(box: Box, wish: WriteWish) -> bool:
    """Whether a write may cut the box off from here.

    Raises:
        TurnUpError: nobody said through which port it is reached, or its rate cannot be put back by itself.
    """
    cuts = wish.admin == "down" or bool(wish.application)
    if cuts and not box.reached_through:
        words = f"nobody said through which port {box.name} is reached: change the box and say it, or 'management'"
        raise TurnUpError("reached_through", words)
    own = wish.port == box.reached_through
    if own and wish.application:
        words = "this is the box's own way in, and a rate does not go back by itself: set it at the box"
        raise TurnUpError("application", words)
    return own


def _way_back(box: Box, wish: WriteWish) -> str:
    return (
        f"{box.name} is reached through this port: it goes back by itself after {wish.way_back_s} s unless it "
        "answers again."
    )


_NAMES = {oid("interface", "admin"): "port", oid("mau", "default_type"): "MAU type"}


def _name(at: tuple[int, ...]) -> str:
    return next((name for prefix, name in _NAMES.items() if at[: len(prefix)] == prefix), "object")


def _said(value: int | tuple[int, ...]) -> str:
    if isinstance(value, tuple):
        return ".".join(map(str, value))
    return {1: "up (1)", 2: "down (2)"}.get(value, str(value))

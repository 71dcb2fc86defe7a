"""Signed hand-overs: of a link, a place or the whole project; made, listed, fetched and checked."""

from __future__ import annotations

import io
import zipfile
from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Annotated

from fastapi import Body, Path, Query, Request, status
from fastapi.responses import Response
from sqlalchemy.orm import Session

from passerelle.api.materials import as_file
from passerelle.api.results import acceptance_sheet
from passerelle.api.routing import api_router
from passerelle.api.schemas.common import RowId
from passerelle.api.schemas.turnup import HandoverOut, HandoverWish
from passerelle.api.state import database_of, writing
from passerelle.api.turning import neighbors
from passerelle.api.views import catalog_of
from passerelle.core.errors import TurnUpError
from passerelle.core.events import Event, withdrawals
from passerelle.core.link.chain import Link, place_at
from passerelle.core.plant.site import Plant
from passerelle.core.turned_up import HandedOver
from passerelle.core.turnup.handover import LinkHandover, handover_of
from passerelle.core.turnup.logbook import log_of
from passerelle.core.turnup.plan_network import at_boxes
from passerelle.exchange.handover import Head, Verified, files_of, handover_pdf, signed_package, verified
from passerelle.exchange.plan_file import write_plan
from passerelle.exchange.signing import SigningKey
from passerelle.store import events
from passerelle.store import links as stored_links
from passerelle.store import projects as stored
from passerelle.store.accepted import attachment, keep_attachment, known_attachments, put_records
from passerelle.store.prepared import MovedOnError
from passerelle.store.stored import NotFoundError, StoredLink, StoredProject

router = api_router("hand-over")
Hash = Annotated[str, Path(max_length=64, pattern="^[0-9a-f]+$")]
ZIP, PDF = "application/zip", "application/pdf"


@router.get("/projects/{project_id}/handovers")
def get_handovers(request: Request, project_id: RowId) -> list[HandoverOut]:
    """The hand-overs that were signed, newest first."""
    with database_of(request).read() as session:
        return _listed(session, project_id)


def _listed(session: Session, project_id: int) -> list[HandoverOut]:
    happened = events.of_project(session, project_id)
    gone, revision = withdrawals(happened), stored.project(session, project_id).revision
    signed = [event for event in happened if isinstance(event, HandedOver)]
    found = []
    for later, event in enumerate(reversed(signed)):  # each signature is a revision of the project, and no change
        changed = revision > event.at_revision + later
        found.append(_out(event, stands=event.key not in gone, changed=changed))
    return found


def _out(event: HandedOver, *, stands: bool, changed: bool) -> HandoverOut:
    return HandoverOut(
        key=event.key,
        scope=event.scope,
        name=event.name,
        revision=event.revision,
        digest=event.digest,
        signer=event.signer,
        public_key=event.public_key,
        on=str(event.taken_on or (event.at.date() if event.at else "")),
        stands=stands,
        changed_since=changed,
    )


@dataclass(frozen=True)
class _Taken:
    """What a hand-over is made of, as it was read at one moment; ``held`` are the files that its records name."""

    owner: StoredProject
    items: list[StoredLink]
    plant: Plant
    happened: list[Event]
    held: dict[str, tuple[bytes, str]]
    acceptance: bytes = b""

    def own(self, scope: str) -> list[Event]:
        """The events that are handed over."""
        keys = {item.link.key for item in self.items}
        return [one for one in self.happened if scope == "project" or getattr(one, "link", "") in keys]


@router.post("/projects/{project_id}/handovers", status_code=status.HTTP_201_CREATED)
def sign(request: Request, project_id: RowId, wish: HandoverWish) -> HandoverOut:
    """Sign a hand-over: its package is made and kept as it is now; later changes make a new revision.

    The package is made while nobody is kept from writing; where somebody did write meanwhile nothing is signed.
    """
    key = SigningKey.beside(database_of(request).path)
    with database_of(request).read() as session:
        taken = _taken(session, project_id, wish)
        taken = replace(taken, acceptance=acceptance_sheet(request, session, project_id, taken.items))
    link = taken.items[0].link if wish.scope == "link" else None
    name = wish.place_name if wish.scope == "place" else link.name if link else ""
    head = Head(
        scope=wish.scope,
        name=name,
        project=taken.owner.name,
        revision=_revision(taken.happened, wish.scope, name),
        signer=wish.signer,
        on=str(wish.taken_on or database_of(request).clock().date()),
        address=taken.owner.house.base_address,
    )
    body, digest, told = _signed(taken, head, key)
    with writing(request) as session:
        if stored.project(session, project_id).revision != taken.owner.revision:
            raise MovedOnError
        stamp = events.stamp(session)
        record = HandedOver(
            key=stamp.key(),
            at=stamp.at,
            who=stamp.who,
            link=link.key if link else "",
            link_name=link.name if link else "",
            operator=wish.signer,
            taken_on=wish.taken_on,
            at_time=wish.at_time,
            place=wish.place,
            scope=wish.scope,
            name=name,
            revision=head.revision,
            digest=digest,
            package=keep_attachment(session, body, ZIP),
            at_revision=taken.owner.revision + 1,
            signer=wish.signer,
            public_key=key.public,
        )
        put_records(
            session, project_id, [record], f"hand-over {name or head.project}, revision {head.revision}"[:300]
        )
    open_points = sum(len(one.open_points) for one in told)
    out = _out(record, stands=True, changed=False)
    return out.model_copy(update={"links": len(told), "open_points": open_points})


def _taken(session: Session, project_id: int, wish: HandoverWish) -> _Taken:
    owner = stored.project(session, project_id)
    items = _wanted(stored_links.links(session, project_id), wish)
    happened = events.of_project(session, project_id)
    found = _Taken(owner, items, stored.plant(session, project_id), happened, {})
    own = found.own(wish.scope)
    named = {name for e in own for name in (getattr(e, "file", ""), getattr(e, "picture", "")) if name}
    held = {name: attachment(session, name) for name in sorted(known_attachments(session, sorted(named)))}
    return replace(found, held=held)


def _signed(taken: _Taken, head: Head, key: SigningKey) -> tuple[bytes, str, list[LinkHandover]]:
    """The package of some links, its digest, and what it says of each."""
    house = taken.owner.house
    told = [
        handover_of(
            item.link,
            _events_of(item.link, taken.happened),
            catalog_of(house),
            house,
            neighbors(at_boxes(item.link, taken.plant.boxes)),
        )
        for item in taken.items
    ]
    links = [item.link for item in taken.items]
    plan = _plan(taken.owner, links, taken.plant, taken.happened, whole=head.scope == "project")
    log = log_of(taken.own(head.scope))

    def sheet(digest: str, public: str) -> bytes:
        return handover_pdf(head, told, log, digest, public)

    sheets = {"sheets/acceptance.pdf": taken.acceptance} if taken.acceptance else {}
    body, digest = signed_package(files_of(plan, told, log, taken.held, sheets), head, sheet, key)
    return body, digest, told


def _wanted(items: Sequence[StoredLink], wish: HandoverWish) -> list[StoredLink]:
    whole = [item for item in items if item.link.elements]
    match wish.scope:
        case "link":
            found = [item for item in whole if item.id == wish.link_id]
        case "place":
            found = [item for item in whole if wish.place_name in _places(item.link)]
        case _:
            found = whole
    if not found:
        field = {"link": "link_id", "place": "place_name"}.get(wish.scope, "scope")
        raise TurnUpError(field, "there is no link with pieces to hand over: choose another, or draw it first")
    return found


def _places(link: Link) -> set[str]:
    return {place_at(link, link.elements[0]), place_at(link, link.elements[-1])}


def _events_of(link: Link, happened: Sequence[Event]) -> list[Event]:
    """What concerns a link, the references of its project, and what withdraws any of them."""
    return [one for one in happened if getattr(one, "link", "") in ("", link.key)]


def _revision(happened: Sequence[Event], scope: str, name: str) -> int:
    same = [one for one in happened if isinstance(one, HandedOver) and (one.scope, one.name) == (scope, name)]
    return len(same) + 1


def _plan(owner: StoredProject, links: list[Link], plant: Plant, happened: Sequence[Event], *, whole: bool) -> str:
    """The plan file of what is handed over: of a part only its own links and what happened to them."""
    if whole:
        own = list(happened)
    else:
        keys = {link.key for link in links}
        kept = {one.key for one in happened if getattr(one, "link", "") in keys or not getattr(one, "link", "")}
        own = [one for one in happened if one.key in kept and getattr(one, "of", one.key) in kept | {one.key}]
    return write_plan(owner.name, owner.house, links, None, plant, own, owner.key)


@router.get("/handovers/{key}.zip", response_class=Response)
def fetch_package(request: Request, key: Hash) -> Response:
    """The package of a hand-over as it was signed."""
    return as_file(_package(request, key), ZIP, f"handover-{key[:8]}.zip")


@router.get("/handovers/{key}.pdf", response_class=Response)
def fetch_sheet(request: Request, key: Hash) -> Response:
    """The printed sheet of a hand-over as it was signed."""
    with zipfile.ZipFile(io.BytesIO(_package(request, key))) as archive:
        body = archive.read("handover.pdf")
    return as_file(body, PDF, f"handover-{key[:8]}.pdf")


def _package(request: Request, key: str) -> bytes:
    with database_of(request).read() as session:
        found = events.by_key(session, key)
        if not isinstance(found, HandedOver):
            raise NotFoundError(f"there is no hand-over '{key}' here")
        return attachment(session, found.package)[0]


@router.post("/handovers/verify")
def verify(
    request: Request,
    body: Annotated[bytes, Body(media_type="application/octet-stream")],
    digest: Annotated[str, Query(max_length=200)] = "",
    key: Annotated[str, Query(max_length=64)] = "",
    own: bool = False,
) -> Verified:
    """Check a package that came back; ``own``: it should be signed with this installation's key."""
    known = SigningKey.beside(database_of(request).path).public if own else key
    return verified(body, digest=digest, key=known)

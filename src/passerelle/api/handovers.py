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
from passerelle.exchange.handover import (
    Head,
    Verified,
    files_of,
    handover_pdf,
    receipt_text,
    signed_package,
    verified,
)
from passerelle.exchange.plan_file import write_plan
from passerelle.exchange.signing import SigningKey, fingerprint
from passerelle.store import events
from passerelle.store import links as stored_links
from passerelle.store import projects as stored
from passerelle.store.accepted import attachment, keep_attachment, known_attachments, put_records
from passerelle.store.prepared import MovedOnError
from passerelle.store.stored import NotFoundError, StoredLink, StoredProject

router = api_router("hand-over")
Hash = Annotated[str, Path(max_length=64, pattern="^[0-9a-f]+$")]
LONG_AGO = 0
"""Instead of the revision of the signature, where what was signed had changed by then."""
ZIP, PDF = "application/zip", "application/pdf"


@router.get("/projects/{project_id}/handovers")
def get_handovers(request: Request, project_id: RowId) -> list[HandoverOut]:
    """The hand-overs that were signed, newest first."""
    with database_of(request).read() as session:
        return _listed(session, project_id)


def _listed(session: Session, project_id: int) -> list[HandoverOut]:
    happened = events.of_project(session, project_id)
    gone, owner = withdrawals(happened), stored.project(session, project_id)
    revised = {item.link.key: item.revision for item in stored_links.links(session, project_id)}
    frame = max(owner.house_revision, stored.plant_revision(session, project_id))
    found: list[HandoverOut] = []
    for at, event in reversed(list(enumerate(happened))):
        if not isinstance(event, HandedOver):
            continue
        if event.scope == "link":
            later = any(_is_of(one, event.link) for one in happened[at + 1 :])
            newest = max(frame, revised.get(event.link, owner.revision + 1))  # a link that is gone changed
            changed = later or newest > event.at_revision
        else:  # whatever was written since may be of it, a link that was removed too; a later signature is not
            changed = owner.revision > event.at_revision + len(found)
        shown = _out(event, stands=event.key not in gone, changed=changed)
        found.append(shown.model_copy(update={"new_key": _has_new_key(event, happened[:at])}))
    return found


def _has_new_key(event: HandedOver, before: Sequence[Event]) -> bool:
    """Whether a hand-over was signed with another key than the one before it."""
    signed = [one.public_key for one in before if isinstance(one, HandedOver)]
    return bool(signed) and signed[-1] != event.public_key


def _is_of(one: Event, link: str) -> bool:
    """Whether something that happened is of a link; a signature changes nothing."""
    return not isinstance(one, HandedOver) and getattr(one, "link", "") == link


def _out(event: HandedOver, *, stands: bool, changed: bool) -> HandoverOut:
    return HandoverOut(
        key=event.key,
        scope=event.scope,
        name=event.name,
        revision=event.revision,
        digest=event.digest,
        archive_sha256=event.package,
        signer=event.signer,
        public_key=event.public_key,
        fingerprint=fingerprint(event.public_key),
        on=_day(event),
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
    plant_revision: int
    acceptance: bytes = b""

    def own(self, scope: str) -> list[Event]:
        """The events that are handed over."""
        keys = {item.link.key for item in self.items}
        return [one for one in self.happened if scope == "project" or getattr(one, "link", "") in keys]


@router.post("/projects/{project_id}/handovers", status_code=status.HTTP_201_CREATED)
def sign(request: Request, project_id: RowId, wish: HandoverWish) -> HandoverOut:
    """Sign a hand-over: its package is made and kept as it is now; later changes make a new revision.

    The package is of the state of one moment and is made while nobody is kept from writing. Where what is handed
    over changed meanwhile it is made anew, twice at most; what others do elsewhere does not count. A third time the
    moment is signed as it was, and listed as changed since.
    """
    for chance in range(3):
        package = _packed(request, project_id, wish)
        with writing(request) as session:
            still = _is_still(session, project_id, wish, package.taken)
            if still or chance == 2:
                at = stored.project(session, project_id).revision + 1 if still else LONG_AGO
                return _written(session, project_id, wish, package, at)
    raise MovedOnError


@dataclass(frozen=True)
class _Package:
    """A package that is ready to be kept, and what it was made of."""

    taken: _Taken
    head: Head
    key: str
    body: bytes
    digest: str
    told: list[LinkHandover]


def _packed(request: Request, project_id: int, wish: HandoverWish) -> _Package:
    """The package of this moment, signed."""
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
    return _Package(taken, head, key.public, body, digest, told)


def _is_still(session: Session, project_id: int, wish: HandoverWish, taken: _Taken) -> bool:
    """Whether what is handed over is what it was: its links, what happened to them, the rules and the plan."""
    owner = stored.project(session, project_id)
    if owner.revision == taken.owner.revision:
        return True
    try:
        now = replace(
            taken,
            items=_wanted(stored_links.links(session, project_id), wish),
            happened=events.of_project(session, project_id),
        )
    except TurnUpError:
        return False
    same_links = [(one.id, one.revision) for one in now.items] == [(one.id, one.revision) for one in taken.items]
    same_events = [one.key for one in now.own(wish.scope)] == [one.key for one in taken.own(wish.scope)]
    same_frame = owner.house_revision == taken.owner.house_revision
    same_plan = stored.plant_revision(session, project_id) == taken.plant_revision
    return same_links and same_events and same_frame and same_plan


def _written(
    session: Session, project_id: int, wish: HandoverWish, package: _Package, at_revision: int
) -> HandoverOut:
    """Keep a package, and write that it was handed over; its entry makes ``at_revision`` of the project."""
    taken, head, stamp = package.taken, package.head, events.stamp(session)
    link = taken.items[0].link if wish.scope == "link" else None
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
        name=head.name,
        revision=head.revision,
        digest=package.digest,
        package=keep_attachment(session, package.body, ZIP, project_id),
        at_revision=at_revision,
        signer=wish.signer,
        public_key=package.key,
    )
    label = f"hand-over {head.name or head.project}, revision {head.revision}"
    put_records(session, project_id, [record], label[:300])
    out = _out(record, stands=True, changed=at_revision == LONG_AGO)
    open_points = sum(len(one.open_points) for one in package.told)
    return out.model_copy(update={"links": len(package.told), "open_points": open_points})


def _taken(session: Session, project_id: int, wish: HandoverWish) -> _Taken:
    owner = stored.project(session, project_id)
    items = _wanted(stored_links.links(session, project_id), wish)
    happened = events.of_project(session, project_id)
    revision = stored.plant_revision(session, project_id)
    found = _Taken(owner, items, stored.plant(session, project_id), happened, {}, revision)
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

    def sheet(key_fingerprint: str) -> bytes:
        return handover_pdf(head, told, log, key_fingerprint)

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


@router.get("/handovers/{key}.txt", response_class=Response)
def fetch_receipt(request: Request, key: Hash) -> Response:
    """The receipt of a hand-over: the sum of its archive and the fingerprint of the key, to be kept outside it."""
    with database_of(request).read() as session:
        found = _handed_over(session, key)
    head = Head(found.scope, found.name, "the whole project", found.revision, found.signer, _day(found))
    text = receipt_text(head, found.package, found.public_key)
    return as_file(text.encode("utf-8"), "text/plain; charset=utf-8", f"handover-{key[:8]}.txt")


def _day(event: HandedOver) -> str:
    return str(event.taken_on or (event.at.date() if event.at else ""))


def _handed_over(session: Session, key: str) -> HandedOver:
    found = events.by_key(session, key)
    if not isinstance(found, HandedOver):
        raise NotFoundError(f"there is no hand-over '{key}' here")
    return found


def _package(request: Request, key: str) -> bytes:
    with database_of(request).read() as session:
        return attachment(session, _handed_over(session, key).package)[0]


@router.post("/handovers/verify")
def verify(
    request: Request,
    body: Annotated[bytes, Body(media_type="application/octet-stream")],
    digest: Annotated[str, Query(max_length=200)] = "",
    key: Annotated[str, Query(max_length=200)] = "",
    receipt: Annotated[str, Query(max_length=2000)] = "",
    own: bool = False,
) -> Verified:
    """Check a package that came back: by the signer's key or its fingerprint, by the receipt (its text, or the sum
    of the archive), or with ``own`` by this installation's key. ``digest`` is what older sheets print, which
    proves neither sheet nor signer.
    """
    known = SigningKey.beside(database_of(request).path).public if own else key
    return verified(body, digest=digest, key=known, receipt=receipt)

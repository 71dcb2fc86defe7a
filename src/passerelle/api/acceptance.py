"""The proof of links: what to test, references, readings, inspections; each record is added and never changed."""

from __future__ import annotations

from collections.abc import Sequence

from fastapi import Request, status
from sqlalchemy.orm import Session

from passerelle.api.hands import at_face, fitter_of
from passerelle.api.routing import api_router
from passerelle.api.schemas.acceptance import (
    CertifiedWish,
    GradeOut,
    GradeWish,
    InspectionWish,
    ProofOut,
    ReadingWish,
    RecordOut,
    ReferenceWish,
    StrandsWish,
    TestedLink,
    TestedOut,
    VoidWish,
    WithdrawWish,
)
from passerelle.api.schemas.common import RowId
from passerelle.api.state import database_of, writing
from passerelle.api.views import catalog_of
from passerelle.core.acceptance.admission import check_day, check_reading, cleaned_since
from passerelle.core.acceptance.arrays import ArrayWay, array_ways
from passerelle.core.acceptance.inspection import graded
from passerelle.core.acceptance.methods import Setup, check_joined, refuse_one_cord, uncertainty_db
from passerelle.core.acceptance.proof import (
    Proof,
    ProofFace,
    check_stretch,
    proof_of,
    school_catalog,
    signature_between,
)
from passerelle.core.acceptance.references import (
    ReadingSetup,
    ReferenceSeen,
    lost_before,
    lost_by,
    read_after,
    references,
    why_not_with,
)
from passerelle.core.acceptance.stretch import Stretch, permanent_link, stretch_between
from passerelle.core.acceptance.told import RECORDS, record_words
from passerelle.core.acceptance.twisted import class_of
from passerelle.core.accepted import Certified, Inspected, ReferenceTaken, ReferenceVoid, StrandsTraced
from passerelle.core.catalog.testing_figures import testing_figures
from passerelle.core.errors import AcceptanceError
from passerelle.core.events import Event, OfLink, ReadingTaken, Withdrawal, not_withdrawn, withdrawals
from passerelle.core.house import HouseRules
from passerelle.core.link.candidates import variants
from passerelle.core.link.chain import Link, place_at
from passerelle.core.link.compose import compose
from passerelle.core.link.edits import Measure, Withdraw, apply_edits
from passerelle.core.link.readings import Reading, signature
from passerelle.store import events
from passerelle.store import links as stored_links
from passerelle.store import projects as stored
from passerelle.store.accepted import put_records
from passerelle.store.stored import ConflictError, StoredLink

router = api_router("acceptance")
JOINTS = {"one cord": (True, True), "two cords": (True, False), "three cords": (False, False)}


@router.get("/links/{link_id}/proof")
def get_proof(request: Request, link_id: RowId) -> ProofOut:
    """What is tested of a link, what each reading must be, what was read, what comes next."""
    with database_of(request).read() as session:
        return proof_out(session, stored_links.link(session, link_id))


def proof_out(session: Session, item: StoredLink) -> ProofOut:
    """The proof of a stored link."""
    house = stored.project(session, item.project_id).house
    happened = events.of_links(session, item.project_id, [item.link.key, events.OF_PROJECT])
    proof = proof_of(item.link, happened, catalog_of(house), house)
    kinds = {face.kind for face in proof.faces}
    return ProofOut(
        revision=item.revision,
        proof=proof,
        to_read=proof.to_read,
        failing=proof.failing,
        references=references(happened, house, events.now(session)),
        arrays=_arrays(item.link, proof, house),
        zones={kind: testing_figures().zones_of(kind) for kind in sorted(kinds)},
        editions=testing_figures().inspection.editions,
    )


def _arrays(link: Link, proof: Proof, house: HouseRules) -> tuple[ArrayWay, ...]:
    """Ways to test the arrays of a link, none where it has no array."""
    if len({row.strand for row in proof.rows}) < 4:
        return ()
    catalog = catalog_of(house)
    stretch = permanent_link(compose((variants(link) or [link])[0], catalog))
    return array_ways(stretch, 1, proof.rows[0].wavelength_nm, catalog) if stretch else ()


@router.get("/projects/{project_id}/tests")
def get_tests(request: Request, project_id: RowId) -> TestedOut:
    """How far each link is tested and what is still missing where, so that a crew leaves with nothing open."""
    with database_of(request).read() as session:
        house = stored.project(session, project_id).house
        happened = events.of_project(session, project_id)
        links = stored_links.links(session, project_id)
    catalog = catalog_of(house)
    by_link: dict[str, list[Event]] = {}
    for event in not_withdrawn(happened):
        if isinstance(event, OfLink):
            by_link.setdefault(event.link, []).append(event)
    told = [_tested(item, proof_of(item.link, by_link.get(item.link.key, []), catalog, house)) for item in links]
    return TestedOut(links=tuple(told), references=references(happened, house, events.now(session)))


def _tested(item: StoredLink, proof: Proof) -> TestedLink:
    elements = item.link.elements
    ends = (elements[0], elements[-1]) if elements else ()
    faces = [face for face in proof.faces if face.next.step != "leave the module"]
    return TestedLink(
        id=item.id,
        name=item.link.name,
        places=tuple(dict.fromkeys(place for end in ends if (place := place_at(item.link, end)))),
        rows=len(proof.rows),
        missing=proof.to_read,
        failing=proof.failing,
        faces=len(faces),
        faces_done=sum(1 for face in faces if face.next.done),
        strands=len(proof.strands),
        strands_seen=sum(1 for one in proof.strands if one.seen is not None),
        why_not=proof.why_not,
        state=proof.state,
        minutes=proof.minutes,
    )


@router.post("/projects/{project_id}/references", status_code=status.HTTP_201_CREATED)
def take_reference(request: Request, project_id: RowId, wish: ReferenceWish) -> tuple[ReferenceSeen, ...]:
    """Write a reference down; cords that read too much or less than nothing when they are joined are refused."""
    if wish.joined_db is not None:
        check_joined(wish.joined_db, wish.family, reference_grade=wish.reference_grade)
    with writing(request) as session:
        stamp = events.stamp(session)
        values = wish.model_dump(exclude={"key", "at", "who"})
        taken = ReferenceTaken(**{**values, "key": stamp.key(), "at": stamp.at, "who": stamp.who})
        put_records(session, project_id, [taken], f"reference with {wish.method}, {wish.wavelength_nm} nm")
        house = stored.project(session, project_id).house
        return references(events.of_project(session, project_id), house, events.now(session))


@router.post("/projects/{project_id}/references/{key}/void")
def void_reference(request: Request, project_id: RowId, key: str, wish: VoidWish) -> tuple[ReferenceSeen, ...]:
    """Say that a reference no longer holds, why and since when; what was read with it after that is withdrawn."""
    with writing(request) as session:
        happened = events.of_project(session, project_id)
        of = next((one for one in happened if isinstance(one, ReferenceTaken) and one.key == key), None)
        if of is None:
            raise AcceptanceError("key", f"there is no reference '{key}' in this project: reload the page")
        stamp = events.stamp(session)
        check_day(wish.lost_on, events.now(session).date())
        void = ReferenceVoid(key=stamp.key(), at=stamp.at, who=stamp.who, of=key, **wish.model_dump())
        if lost_before(void, of):
            words = f"this reference was set at {of.at_time or of.taken_on}, after that: enter when it was lost"
            raise AcceptanceError("lost_at", words)
        lost = _read_after_loss(session, project_id, void, happened)
        more = f"; {len(lost)} links are to be read again" if lost else ""
        stored_links.change_links(session, project_id, lost, f"reference void: {wish.why}{more}", (void,))
        house = stored.project(session, project_id).house
        return references(events.of_project(session, project_id), house, events.now(session))


LOST = "its reference was lost before"


def _read_after_loss(
    session: Session, project_id: int, void: ReferenceVoid, happened: Sequence[Event]
) -> list[tuple[StoredLink, Link]]:
    """The links of which something was read after a reference was lost, with those readings withdrawn."""
    standing = list(not_withdrawn(happened))
    zeros = {one.key for one in lost_by(void, [e for e in standing if isinstance(e, ReferenceTaken)])}
    gone: dict[str, list[str]] = {}
    for event in standing:
        if not isinstance(event, ReadingTaken) or event.reading.zero not in zeros:
            continue
        if read_after(void, event.reading.taken_on, event.reading.at_time):
            gone.setdefault(event.link, []).append(event.reading.id)
    if not gone:
        return []
    items = [item for item in stored_links.links(session, project_id) if item.link.key in gone]
    return [
        (item, apply_edits(item.link, tuple(Withdraw(reading=one, why=f"{LOST}: {void.why}") for one in ids)))
        for item in items
        if (ids := gone[item.link.key])
    ]


@router.post("/links/{link_id}/readings", status_code=status.HTTP_201_CREATED)
def take_reading(request: Request, link_id: RowId, wish: ReadingWish) -> ProofOut:
    """Write a loss reading down. One taken with a reference that is void, or of another wavelength, is refused."""
    return take_readings(request, link_id, wish.revision, [wish])


def take_readings(request: Request, link_id: int, revision: int, wishes: Sequence[ReadingWish]) -> ProofOut:
    """Write readings of a link down as one entry; raises as ``take_reading``."""
    with writing(request) as session:
        item = stored_links.link(session, link_id)
        if item.revision != revision:
            raise ConflictError(item)
        house = stored.project(session, item.project_id).house
        edits = tuple(Measure(reading=_reading(session, item, wish, house)) for wish in wishes)
        after = apply_edits(item.link, edits)
        first = wishes[0]
        told = f"{first.value_db:g} dB, strand {first.strand}" if len(wishes) == 1 else f"{len(wishes)} readings"
        label = f"{after.name}: {told}, {first.wavelength_nm} nm"
        made = stored_links.change_link(session, link_id, revision, after, label)
        return proof_out(session, made)


def _reading(session: Session, item: StoredLink, wish: ReadingWish, house: HouseRules) -> Reading:
    check_stretch(item.link, wish.start, wish.end)
    catalog = catalog_of(house)
    chain = compose((variants(item.link) or [item.link])[0], catalog)
    stretch = stretch_between(chain, wish.start, wish.end)
    taken = _reference(session, item, wish, house, stretch)
    reference = wish.reference or (taken.method if taken else house.test_reference)
    grade = wish.reference_grade
    if grade is None:
        grade = taken.reference_grade if taken else house.test_cords == "reference grade"
    near, far = JOINTS.get(reference, (True, True))
    values = wish.model_dump(exclude=_NOT_OF_READING)
    off = wish.uncertainty_db
    if off is None:
        family = stretch.family(catalog)
        off = uncertainty_db(wish.method, reference, family, reference_grade=grade)[0] if family else None
    reading = Reading(
        **values,
        far_strand=wish.far_strand or None,
        reference=reference,
        reference_grade=grade,
        uncertainty_db=off,
        near_joint=near,
        far_joint=far,
        joined_db=taken.joined_db if taken else None,
    )
    if not reading.cleaned:
        happened = events.of_links(session, item.project_id, [item.link.key])
        reading = reading.model_copy(update={"cleaned": cleaned_since(reading, happened)})
    today = events.now(session).date()
    limits = school_catalog(catalog, house, chain)
    check_reading(stretch, reading, limits, today, length_checked=wish.length_checked)
    return reading


_NOT_OF_READING = {"revision", "reference", "reference_grade", "uncertainty_db", "far_strand", "length_checked"}


def _plug(link: Link, wish: ReadingWish) -> str:
    """The shape of the link's own plug at the end where the meter is; empty where it is not known."""
    end = link.element(wish.start if wish.direction == "left" else wish.end)
    plug = getattr(end, "left" if wish.direction == "left" else "right", None)
    return str(getattr(plug, "shape", ""))


def _reference(
    session: Session, item: StoredLink, wish: ReadingWish, house: HouseRules, stretch: Stretch
) -> ReferenceTaken | None:
    """The reference that a reading names; raises AcceptanceError where it cannot be taken with it."""
    if not wish.zero:
        return None
    happened = events.of_links(session, item.project_id, [events.OF_PROJECT])
    seen = references(happened, house, events.now(session))
    found = next((one for one in seen if one.taken.key == wish.zero), None)
    if found is None:
        raise AcceptanceError("zero", f"there is no reference '{wish.zero}': take one, or leave it out")
    catalog = catalog_of(house)
    cores = [catalog.fiber(g).core_um for part in stretch.chain.glass for g in part.traits.grades]
    setup_of = ReadingSetup(
        method=wish.method,
        reference=wish.reference,
        wavelength_nm=wish.wavelength_nm,
        instrument=wish.instrument,
        taken_on=wish.taken_on,
        at_time=wish.at_time,
        family=stretch.family(catalog),
        core_um=cores[0] if cores else None,
    )
    if why := why_not_with(found, setup_of, house):
        raise AcceptanceError("zero", why)
    if found.taken.method == "one cord" and found.taken.meter_port:
        plug = _plug(item.link, wish)
        setup = Setup(found.taken.family, found.taken.source, meter_port=found.taken.meter_port, link_plug=plug)
        if why := refuse_one_cord(setup):
            raise AcceptanceError("reference", why)
    return found.taken


@router.post("/links/{link_id}/inspections", status_code=status.HTTP_201_CREATED)
def inspect(request: Request, link_id: RowId, wish: InspectionWish) -> ProofOut:
    """Write a step at a face down: a look with what was seen, a cleaning, an exchange."""
    _clean(request, link_id, wish)
    with writing(request) as session:
        item = stored_links.link(session, link_id)
        proof = proof_out(session, item).proof
        face = _face_of(proof, wish)
        looked = wish.step == "inspect"
        passes = graded(face.kind, wish.defects).passes if looked and (wish.clean or wish.defects) else None
        if looked and passes is None:
            raise AcceptanceError("defects", "say what was seen: mark the defects, or say that it is clean")
        stamp = events.stamp(session)
        values = wish.model_dump(exclude={"clean"})
        record = Inspected(
            **values,
            key=stamp.key(),
            at=stamp.at,
            who=stamp.who,
            link=item.link.key,
            link_name=item.link.name,
            element=face.element,
            passes=passes,
        )
        label = f"{item.link.name}: {wish.step} {face.words} at {face.element}"
        put_records(session, item.project_id, [record], label, item.id)
        return proof_out(session, item)


def _clean(request: Request, link_id: int, wish: InspectionWish) -> None:
    """Where the project has hands of its own, they clean the face as well."""
    if not wish.step.startswith("clean"):
        return
    with database_of(request).read() as session:
        item = stored_links.link(session, link_id)
        hands = fitter_of(session, item.project_id)
    if hands:
        element = next((e.id for e in item.link.elements if e.key == wish.piece), "")
        at_face(hands, "CLEAN", item.link.name, element, wish.face)


def _face_of(proof: Proof, wish: InspectionWish) -> ProofFace:
    for face in proof.faces:
        if face.piece == wish.piece and face.face == wish.face:
            return face
    raise AcceptanceError("piece", "this face is not in the link any more: reload the page")


@router.post("/inspections/grade")
def grade(wish: GradeWish) -> GradeOut:
    """What marks on a face come to, by the zones of its kind. Nothing is stored."""
    return GradeOut(graded=graded(wish.face, wish.defects))


@router.post("/links/{link_id}/strands-seen", status_code=status.HTTP_201_CREATED)
def trace_strands(request: Request, link_id: RowId, wish: StrandsWish) -> ProofOut:
    """Write down where strands came out."""
    with writing(request) as session:
        item = stored_links.link(session, link_id)
        check_stretch(item.link, wish.start, wish.end)
        near = [one for one, _ in wish.pairs]
        if len(set(near)) != len(near):
            raise AcceptanceError("pairs", "a near strand stands twice: each comes out at one place")
        house = stored.project(session, item.project_id).house
        chain = compose((variants(item.link) or [item.link])[0], catalog_of(house))
        stamp = events.stamp(session)
        record = StrandsTraced(
            **wish.model_dump(),
            key=stamp.key(),
            at=stamp.at,
            who=stamp.who,
            link=item.link.key,
            link_name=item.link.name,
            turned=item.link.turned,
            signature=signature_between(stretch_between(chain, wish.start, wish.end)),
        )
        label = f"{item.link.name}: where {len(near)} strands come out"
        put_records(session, item.project_id, [record], label, item.id)
        return proof_out(session, item)


@router.post("/links/{link_id}/certifications", status_code=status.HTTP_201_CREATED)
def certify(request: Request, link_id: RowId, wish: CertifiedWish) -> ProofOut:
    """Write down what a tester said of a link of twisted pair."""
    class_of(wish.category)
    with writing(request) as session:
        item = stored_links.link(session, link_id)
        stamp = events.stamp(session)
        pieces = [piece.model_dump(mode="json") for piece in item.link.elements]
        record = Certified(
            **wish.model_dump(),
            key=stamp.key(),
            at=stamp.at,
            who=stamp.who,
            link=item.link.key,
            link_name=item.link.name,
            signature=signature(pieces),
        )
        put_records(session, item.project_id, [record], f"{item.link.name}: certified as {wish.category}", item.id)
        return proof_out(session, item)


@router.get("/projects/{project_id}/records")
def get_records(request: Request, project_id: RowId) -> list[RecordOut]:
    """The records of acceptance beside readings, newest first; also of links that were removed since."""
    with database_of(request).read() as session:
        numbers = stored_links.numbers(session, project_id)
        happened = events.of_project(session, project_id)
    gone = withdrawals(happened)
    found = []
    for event in reversed(happened):
        if isinstance(event, RECORDS):
            number, name = numbers.get(getattr(event, "link", ""), (None, getattr(event, "link_name", "")))
            why = gone[event.key].why if event.key in gone else ""
            said = {field: getattr(event, field, "") for field in ("operator", "instrument", "note")}
            day = getattr(event, "taken_on", None)
            told = {"link": name, "link_id": number, "withdrawn": why, "taken_on": day, **said}
            found.append(RecordOut(key=event.key, kind=event.kind, words=record_words(event), **told))
    return found


def _undid_readings(session: Session, project_id: int) -> bool:
    """Whether readings of a project were withdrawn because their reference was lost."""
    gone = withdrawals(events.of_project(session, project_id))
    return any(one.why.startswith(LOST) for one in gone.values())


@router.post("/projects/{project_id}/events/{key}/withdraw")
def withdraw(request: Request, project_id: RowId, key: str, wish: WithdrawWish) -> TestedOut:
    """Say that a record no longer counts, and why; it stays written and the withdrawal stands beside it."""
    with writing(request) as session:
        happened = {event.key: event for event in not_withdrawn(events.of_project(session, project_id))}
        if key not in happened:
            raise AcceptanceError("key", f"there is no record '{key}' that stands: reload the page")
        if isinstance(happened[key], ReferenceVoid) and _undid_readings(session, project_id):
            why = "readings were withdrawn with this loss: set the reference again and read them again"
            raise AcceptanceError("key", why)
        stamp = events.stamp(session)
        gone = Withdrawal(key=stamp.key(), at=stamp.at, who=stamp.who, of=key, why=wish.why)
        put_records(session, project_id, [gone], f"withdraw {happened[key].kind}: {wish.why}")
    return get_tests(request, project_id)

"""Results in and out: tables of readings, certificates, and the package with traces and pictures."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import date
from typing import Annotated, Literal

from fastapi import Body, Request, status
from fastapi.responses import Response
from sqlalchemy.orm import Session

from passerelle import __version__
from passerelle.api.acceptance import JOINTS
from passerelle.api.exchange import XLSX, open_plan, stamp_of
from passerelle.api.gate import who_of
from passerelle.api.materials import as_file
from passerelle.api.routing import api_router
from passerelle.api.schemas.acceptance import LooseReading, ReadingsOut, ReadingsRequest
from passerelle.api.schemas.common import ProjectOut, RowId
from passerelle.api.schemas.exchange import PlanRequest
from passerelle.api.state import database_of, writing
from passerelle.api.traces import trace_view
from passerelle.api.views import catalog_of
from passerelle.core.acceptance.admission import check_reading
from passerelle.core.acceptance.fault_location import dig_words
from passerelle.core.acceptance.loss_rows import ProofRow
from passerelle.core.acceptance.methods import uncertainty_db
from passerelle.core.acceptance.proof import proof_of, school_catalog
from passerelle.core.acceptance.stretch import Stretch, permanent_link
from passerelle.core.accepted import TraceTaken
from passerelle.core.catalog.shelves import Catalog
from passerelle.core.errors import AcceptanceError
from passerelle.core.events import Event, OfLink, not_withdrawn
from passerelle.core.house import HouseRules
from passerelle.core.link.candidates import variants
from passerelle.core.link.compose import compose
from passerelle.core.link.edits import Measure, apply_edits
from passerelle.core.link.readings import WAVELENGTH_WINDOW_NM, Reading
from passerelle.exchange.long_text import LongText
from passerelle.exchange.package_in import read_package
from passerelle.exchange.plan_file import write_plan
from passerelle.exchange.readings_in import FIELDS, TableReading, read_readings
from passerelle.exchange.results_out import (
    RESULT_HEAD,
    Tested,
    Trace,
    certificate_pdf,
    package,
    result_rows,
    results_json,
)
from passerelle.exchange.table_in import unmatched
from passerelle.exchange.table_out import write_csv, write_xlsx
from passerelle.store import events
from passerelle.store import links as stored_links
from passerelle.store import projects as stored
from passerelle.store.accepted import attachment, keep_attachment, known_attachments
from passerelle.store.stored import StoredLink

router = api_router("results")
PROGRAM = f"Passerelle {__version__}"
PDF = "application/pdf"


def _tested(session: Session, project_id: int, items: Sequence[StoredLink], *, traces: bool) -> list[Tested]:
    house = stored.project(session, project_id).house
    by_link: dict[str, list[Event]] = {}
    for event in not_withdrawn(events.of_project(session, project_id)):
        if isinstance(event, OfLink):
            by_link.setdefault(event.link, []).append(event)
    catalog = catalog_of(house)
    return [
        Tested(
            item.link,
            proof_of(item.link, by_link.get(item.link.key, []), catalog, house),
            _traces(session, item, by_link.get(item.link.key, []), house) if traces else (),
        )
        for item in items
    ]


def acceptance_sheet(request: Request, session: Session, project_id: int, items: Sequence[StoredLink]) -> bytes:
    """The certificates of some links, for a hand-over; empty where nothing was read of any."""
    owner = stored.project(session, project_id)
    tested = [one for one in _tested(session, project_id, items, traces=True) if _any_proof(one)]
    if not tested:
        return b""
    stamp = stamp_of(session, project_id)
    return certificate_pdf(
        tested,
        owner.name,
        owner.house,
        PROGRAM,
        _signed(request),
        whole=True,
        stamp=stamp,
    )


def _any_proof(one: Tested) -> bool:
    return bool(one.proof.copper or one.traces or any(row.reading for row in one.proof.rows))


def _traces(session: Session, item: StoredLink, happened: Sequence[Event], house: HouseRules) -> tuple[Trace, ...]:
    found = []
    taken = [event for event in happened if isinstance(event, TraceTaken)]
    here = known_attachments(session, [event.file for event in taken])
    for event in taken:
        if event.file not in here:
            continue
        view = trace_view(session, item, house, event, happened)
        way = "left to right" if event.direction == "right" else "right to left"
        words = f"Trace of strand {event.strand}, {event.wavelength_nm} nm, {way}, {event.pulse_ns:g} ns, "
        words += f"{event.instrument}, {event.operator}, {event.taken_on or ''}"
        judged = view.judged
        dig = dig_words(view.dig) if view.dig else ()
        told = tuple(
            f"{joint.element or 'no piece'}: {joint.verdict}. {joint.words}"
            for joint in (judged.joints if judged else ())
            if joint.verdict != "good"
        )
        sums = (f"From cord to cord {judged.loss_db:.2f} dB.",) if judged and judged.loss_db is not None else ()
        found.append(Trace(words, view.measured, (*sums, *told, *dig)))
    return tuple(found)


def _signed(request: Request) -> str:
    who, moment = who_of(request), database_of(request).clock()
    return f"Made {moment:%Y-%m-%d %H:%M} UTC" + (f" by {who}." if who else ".")


@router.get("/projects/{project_id}/results.{kind}", response_class=Response)
def download_results(request: Request, project_id: RowId, kind: Literal["csv", "xlsx", "json", "pdf"]) -> Response:
    """The results of all links as a table, as JSON, or as the certificate of the project."""
    with database_of(request).read() as session:
        owner = stored.project(session, project_id)
        items = stored_links.links(session, project_id)
        tested = _tested(session, project_id, items, traces=kind == "pdf")
        stamp = stamp_of(session, project_id)
    if kind == "pdf":
        made = _signed(request)
        body = certificate_pdf(tested, owner.name, owner.house, PROGRAM, made, whole=True, stamp=stamp)
        return as_file(body, PDF, f"acceptance-{project_id}.pdf")
    if kind == "json":
        return as_file(results_json(tested), "application/json", f"results-{project_id}.json")
    rows = result_rows(tested)
    if kind == "csv":
        return as_file(write_csv(RESULT_HEAD, rows), "text/csv; charset=utf-8", f"results-{project_id}.csv")
    return as_file(write_xlsx("Results", RESULT_HEAD, rows), XLSX, f"results-{project_id}.xlsx")


@router.get("/links/{link_id}/certificate.pdf", response_class=Response)
def download_certificate(request: Request, link_id: RowId) -> Response:
    """The certificate of one link, with its traces."""
    with database_of(request).read() as session:
        item = stored_links.link(session, link_id)
        owner = stored.project(session, item.project_id)
        tested = _tested(session, item.project_id, [item], traces=True)
        stamp = stamp_of(session, item.project_id)
    made = _signed(request)
    body = certificate_pdf(tested, owner.name, owner.house, PROGRAM, made, whole=False, stamp=stamp)
    return as_file(body, PDF, f"certificate-{link_id}.pdf")


@router.get("/projects/{project_id}/package.zip", response_class=Response)
def download_package(request: Request, project_id: RowId) -> Response:
    """The plan file with all traces and pictures that its records name."""
    with database_of(request).read() as session:
        owner = stored.project(session, project_id)
        links = [item.link for item in stored_links.links(session, project_id)]
        happened = events.of_project(session, project_id)
        plan = write_plan(
            owner.name, owner.house, links, None, stored.plant(session, project_id), happened, owner.key
        )
        named = {name for e in happened for name in (getattr(e, "file", ""), getattr(e, "picture", "")) if name}
        held = {name: attachment(session, name) for name in sorted(known_attachments(session, sorted(named)))}
    return as_file(package(plan, held), "application/zip", f"project-{project_id}.zip")


@router.post("/packages", status_code=status.HTTP_201_CREATED)
def open_package(
    request: Request, body: Annotated[bytes, Body(media_type="application/octet-stream")]
) -> ProjectOut:
    """Open a package as a project of its own, its traces and pictures with it."""
    text, found = read_package(body)
    made = open_plan(request, PlanRequest(text=LongText.of(text)))
    with writing(request) as session:
        for content, kind in found:
            keep_attachment(session, content, kind, made.id)
    return made


@router.post("/projects/{project_id}/readings/preview")
def preview_readings(request: Request, project_id: RowId, wish: ReadingsRequest) -> ReadingsOut:
    """What a table of readings would write down. Nothing is stored."""
    with database_of(request).read() as session:
        return _understood(session, project_id, wish)[0]


@router.post("/projects/{project_id}/readings", status_code=status.HTTP_201_CREATED)
def import_readings(request: Request, project_id: RowId, wish: ReadingsRequest) -> ReadingsOut:
    """Write a table of readings down, as one entry: all of it, or nothing while a line is bad or fits nothing."""
    with writing(request) as session:
        out, made = _understood(session, project_id, wish)
        if out.problems or not made:
            return out
        changed = [(item, apply_edits(item.link, tuple(edits))) for item, edits in made.values()]
        stored_links.change_links(session, project_id, changed, f"{out.count} readings from a table")
        return out.model_copy(update={"taken": out.count})


Made = dict[int, tuple[StoredLink, list[Measure]]]


def _understood(session: Session, project_id: int, wish: ReadingsRequest) -> tuple[ReadingsOut, Made]:
    read = read_readings(wish.text, wish.workbook, wish.mapping)
    house = stored.project(session, project_id).house
    today = events.now(session).date()
    by_name: dict[str, list[StoredLink]] = {}
    for item in stored_links.links(session, project_id):
        by_name.setdefault(item.link.name.strip().lower(), []).append(item)
    problems = [LooseReading(line=bad.line, message=f"{bad.column}: {bad.message}") for bad in read.problems]
    made: Made = {}
    for one in read.readings:
        found = by_name.get(one.link.lower(), [])
        if len(found) != 1:
            why = "there is no link of this name" if not found else f"{len(found)} links have this name"
            problems.append(LooseReading(line=one.line, message=f"'{one.link}': {why}"))
            continue
        try:
            edit = _edit(found[0], one, wish, house, today)
        except AcceptanceError as error:
            problems.append(LooseReading(line=one.line, message=f"'{one.link}': {error}"))
        else:
            made.setdefault(found[0].id, (found[0], []))[1].append(edit)
    edits = [edit for _, some in made.values() for edit in some]
    out = ReadingsOut(
        columns=read.columns,
        fields=FIELDS,
        mapping=read.mapping,
        unknown=unmatched(read.columns, read.mapping),
        count=len(edits),
        problems=tuple(problems),
        without_zero=sum(1 for edit in edits if edit.reading.lacks),
        after_fail=sum(_after_fail(item, some, catalog_of(house), house) for item, some in made.values()),
    )
    return out, made


def _after_fail(item: StoredLink, edits: Sequence[Measure], catalog: Catalog, house: HouseRules) -> int:
    """How many readings of a table follow a failing one of the same row."""
    failing = {(row.strand, row.wavelength_nm, row.direction) for row in _rows_of(item, catalog, house) if row.bad}
    read = [(one.reading.strand, one.reading.wavelength_nm, one.reading.direction) for one in edits]
    return sum(
        1
        for strand, nm, way in read
        if any(
            (at, abs((nm or 0) - row_nm) <= WAVELENGTH_WINDOW_NM, way in (towards, "both")) == (strand, True, True)
            for at, row_nm, towards in failing
        )
    )


def _rows_of(item: StoredLink, catalog: Catalog, house: HouseRules) -> tuple[ProofRow, ...]:
    return proof_of(item.link, (), catalog, house).rows if item.link.readings else ()


def _edit(item: StoredLink, one: TableReading, wish: ReadingsRequest, house: HouseRules, today: date) -> Measure:
    """A line as a reading of its link; raises AcceptanceError where it fits none."""
    catalog = catalog_of(house)
    chain = compose((variants(item.link) or [item.link])[0], catalog)
    stretch: Stretch | None = permanent_link(chain)
    family = stretch.family(catalog) if stretch else None
    if stretch is None or family is None:
        why = "it has no fixed cable of a known grade between two panels: no reading fits"
        raise AcceptanceError("link", why)
    far = dict(stretch.strands)
    reference = one.reference or wish.reference or house.test_reference
    near_joint, far_joint = JOINTS.get(reference, (True, True))
    grade = wish.reference_grade
    if grade is None:
        grade = house.test_cords == "reference grade"
    off, _ = uncertainty_db("light source and power meter", reference, family, reference_grade=grade)
    reading = Reading(
        value_db=one.value_db,
        start=stretch.start.id,
        end=stretch.end.id,
        near_joint=near_joint,
        far_joint=far_joint,
        strand=one.strand,
        far_strand=far.get(one.strand) or None,
        wavelength_nm=one.wavelength_nm,
        direction=one.direction,
        method="light source and power meter",
        reference=reference,
        reference_grade=grade,
        uncertainty_db=off,
        taken_on=one.taken_on,
        at_time=one.at_time,
        instrument=one.instrument,
        calibrated_on=one.calibrated_on,
        operator=one.operator,
        place=one.place,
        note=one.note,
        moment="after termination",
        tester_zero=one.zero or wish.tester_zero,
        joined_db=wish.joined_db,
        cleaned=wish.cleaned,
        length_m=one.length_m,
        tester_result=one.result,
    )
    limits = school_catalog(catalog, house, chain)
    check_reading(stretch, reading, limits, today, length_checked=wish.length_checked)
    return Measure(reading=reading)

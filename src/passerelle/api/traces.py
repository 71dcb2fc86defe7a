"""Traces: the expected one of a stretch, and measured ones beside it."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Annotated, Literal

import numpy as np
from fastapi import Query, Request, status
from sqlalchemy.orm import Session

from passerelle.api.acceptance import proof_out
from passerelle.api.routing import api_router
from passerelle.api.schemas.acceptance import PieceSpan, ProofOut, TraceView, TraceWish
from passerelle.api.schemas.common import RowId
from passerelle.api.state import database_of, writing
from passerelle.api.views import catalog_of
from passerelle.core.acceptance.backscatter import (
    Way,
    expected_db,
    pulses,
    thinned,
    told_apart,
)
from passerelle.core.acceptance.fault_location import dig_range
from passerelle.core.acceptance.lengths import sheath_from_light
from passerelle.core.acceptance.matched import TraceJudged, averaged, traced
from passerelle.core.acceptance.proof import check_stretch, signature_between
from passerelle.core.acceptance.stretch import stretch_between
from passerelle.core.acceptance.trace_lines import Measured
from passerelle.core.acceptance.tracing import AVERAGING_S, Tracing, lift_db, tracing
from passerelle.core.accepted import TraceTaken
from passerelle.core.errors import AcceptanceError
from passerelle.core.events import Event, not_withdrawn
from passerelle.core.house import HouseRules
from passerelle.core.link.candidates import variants
from passerelle.core.link.chain import Link
from passerelle.core.link.compose import compose
from passerelle.exchange.trace_record import TraceRecord
from passerelle.exchange.trace_record_in import read_record
from passerelle.store import events
from passerelle.store import links as stored_links
from passerelle.store import projects as stored
from passerelle.store.accepted import attachment, known_attachments, put_records
from passerelle.store.stored import NotFoundError, StoredLink

PLAUSIBLE_DB = (-85.0, -65.0)
"""What a record may say of the backscatter of 1 ns, in dB; beyond that it was not set."""
router = api_router("traces")
Metres = Annotated[float | None, Query(ge=0, le=1e5)]


@router.get("/links/{link_id}/trace-plan")
def get_trace_plan(
    request: Request,
    link_id: RowId,
    wavelength_nm: Annotated[int, Query(ge=600, le=1700)],
    direction: Literal["right", "left"] = "right",
    pulse_ns: Annotated[int | None, Query(gt=0, le=100_000)] = None,
    launch_m: Metres = None,
    receive_m: Metres = None,
    element: str = "",
    length_m: Metres = None,
) -> TraceView:
    """What a trace should look like; ``element`` with ``length_m`` tries another length of one piece."""
    with database_of(request).read() as session:
        item = stored_links.link(session, link_id)
        house = stored.project(session, item.project_id).house
    lengths = {element: length_m} if element and length_m is not None else None
    planned = tracing(
        item.link,
        catalog_of(house),
        house,
        wavelength_nm,
        direction,
        pulse_ns=pulse_ns,
        launch_m=launch_m,
        receive_m=receive_m,
        lengths_m=lengths,
    )
    return _view(planned, wavelength_nm, direction)


def _view(planned: Tracing, wavelength_nm: int, direction: Literal["right", "left"]) -> TraceView:
    way, pulse = planned.way, planned.pulse
    shown_m = way.length_m * 1.05 + 10
    grid = np.linspace(0.0, shown_m, 4000)
    return TraceView(
        wavelength_nm=wavelength_nm,
        direction=direction,
        strand=1,
        pulse=pulse,
        pulses=pulses(way, AVERAGING_S),
        launch_m=way.launch_m,
        receive_m=way.receive_m,
        cords_m=planned.cords_m,
        index=way.index,
        pieces=_pieces(way),
        expected=thinned(grid, expected_db(way, pulse.pulse_ns, grid, AVERAGING_S)),
        seen=told_apart(way, pulse),
    )


def _pieces(way: Way) -> tuple[PieceSpan, ...]:
    at, found = 0.0, []
    for section in way.sections:
        found.append(PieceSpan(element=section.element, from_m=round(at, 3), to_m=round(at + section.length_m, 3)))
        at += section.length_m
    return tuple(found)


@router.post("/links/{link_id}/traces", status_code=status.HTTP_201_CREATED)
def put_trace(request: Request, link_id: RowId, wish: TraceWish) -> ProofOut:
    """Write a trace down; its record was sent before."""
    with writing(request) as session:
        item = stored_links.link(session, link_id)
        return record_trace(session, item, wish)


def record_trace(session: Session, item: StoredLink, wish: TraceWish) -> ProofOut:
    """Write a trace of a link down, with what its record says of itself."""
    check_stretch(item.link, wish.start, wish.end)
    record = _record(session, item.project_id, wish.file)
    house = stored.project(session, item.project_id).house
    chain = compose((variants(item.link) or [item.link])[0], catalog_of(house))
    stretch = stretch_between(chain, wish.start, wish.end)
    if wish.strand not in {near for near, _ in stretch.strands}:
        raise AcceptanceError("strand", f"the stretch has no strand {wish.strand}")
    stamp = events.stamp(session)
    taken = TraceTaken(
        **wish.model_dump(),
        key=stamp.key(),
        at=stamp.at,
        who=stamp.who,
        link=item.link.key,
        link_name=item.link.name,
        turned=item.link.turned,
        wavelength_nm=round(record.wavelength_nm),
        pulse_ns=record.pulse_ns,
        signature=signature_between(stretch),
    )
    label = f"{item.link.name}: trace of strand {wish.strand} at {record.wavelength_nm:.0f} nm"
    put_records(session, item.project_id, [taken], label, item.id)
    return proof_out(session, item)


def _record(session: Session, project_id: int, name: str) -> TraceRecord:
    body, kind = attachment(session, name, project_id)
    if kind != "application/x-sor":
        raise AcceptanceError("file", "this is a picture, not a trace record: send the .sor file")
    return read_record(body)


@router.get("/links/{link_id}/traces/{key}")
def get_trace(request: Request, link_id: RowId, key: str) -> TraceView:
    """A measured trace beside its plan, its events tied to their pieces; both directions averaged where both
    are.
    """
    with database_of(request).read() as session:
        item = stored_links.link(session, link_id)
        house = stored.project(session, item.project_id).house
        found = list(not_withdrawn(events.of_links(session, item.project_id, [item.link.key])))
        taken = next((e for e in found if isinstance(e, TraceTaken) and e.key == key), None)
        if taken is None:
            raise NotFoundError("this trace is not in the link, or was withdrawn")
        return trace_view(session, item, house, taken, found)


def trace_view(
    session: Session, item: StoredLink, house: HouseRules, taken: TraceTaken, happened: Sequence[Event]
) -> TraceView:
    """A measured trace of a link beside its plan, from the link's own events."""
    link = item.link
    record = _record(session, item.project_id, taken.file)
    other = _counterpart(happened, taken)
    view, judged = _measured(link, house, taken, record)
    if judged.ends_m is not None:
        stretch = _planned(link, house, taken).stretch
        plant = stored.plant(session, item.project_id)
        view = view.model_copy(update={"dig": dig_range(link, stretch, judged.ends_m, taken.direction, plant)})
    if other is None or not known_attachments(session, [other.file]):
        return view
    _, turned = _measured(link, house, other, _record(session, item.project_id, other.file))
    both = averaged(judged, turned) if taken.direction == "right" else averaged(turned, judged)
    return view.model_copy(update={"both": both})


def _counterpart(found: Sequence[Event], taken: TraceTaken) -> TraceTaken | None:
    """The newest trace of the same strand and wavelength from the other end."""
    same = [
        e
        for e in found
        if isinstance(e, TraceTaken)
        and (e.start, e.end, e.strand, e.wavelength_nm)
        == (taken.start, taken.end, taken.strand, taken.wavelength_nm)
        and e.direction != taken.direction
    ]
    return same[-1] if same else None


def _planned(link: Link, house: HouseRules, taken: TraceTaken) -> Tracing:
    """The plan of a trace that was taken."""
    return tracing(
        link,
        catalog_of(house),
        house,
        taken.wavelength_nm,
        taken.direction,
        pulse_ns=taken.pulse_ns,
        launch_m=taken.launch_m or 0.0,
        receive_m=taken.receive_m or 0.0,
        start=taken.start,
        end=taken.end,
    )


def _measured(
    link: Link, house: HouseRules, taken: TraceTaken, record: TraceRecord
) -> tuple[TraceView, TraceJudged]:
    planned = _planned(link, house, taken)
    way = planned.way
    own_db = -record.fixed.backscatter / 10
    plausible = PLAUSIBLE_DB[0] <= own_db <= PLAUSIBLE_DB[1]
    scatter_db = own_db if plausible else way.sections[0].at_1ns_db
    trace = Measured(record.levels_db, record.spacing_m, record.pulse_ns, record.group_index, scatter_db)
    judged = traced(way, planned.pulse, trace)
    view = _view(planned, taken.wavelength_nm, taken.direction)
    shown = max(view.expected[-1][0], (judged.length_m or 0.0) + way.launch_m + way.receive_m + 20)
    cut = min(len(record.raw), max(2, round(shown / record.spacing_m)))
    distances, levels = record.distances_m[:cut], record.levels_db[:cut]
    lifted = levels + lift_db(planned, distances, levels)
    stale = taken.signature and taken.signature != signature_between(planned.stretch)
    warnings = [
        *(
            []
            if plausible
            else [
                f"The record says a backscatter of {own_db:g} dB, which no fiber has: reflectances are by the "
                f"catalog's {scatter_db:g} dB."
            ]
        ),
        *(["A piece of this stretch was changed since the trace was taken: it informs only."] if stale else []),
        *(
            ["The checksum fits none of the usual ways: the file may be damaged."]
            if record.checksum == "wrong"
            else []
        ),
    ]
    return (
        view.model_copy(
            update={
                "event": taken.key,
                "strand": taken.strand,
                "measured": thinned(distances, lifted),
                "judged": judged,
                "sheath": sheath_from_light(judged.length_m) if judged.length_m else None,
                "checksum": record.checksum,
                "warnings": tuple(warnings),
            }
        ),
        judged,
    )

"""The instruments of a project, and readings, references, traces and pictures taken with them.

Nothing is locked while an instrument is asked: what it answers is written down afterwards, or nothing is.
"""

from __future__ import annotations

from typing import Annotated

from fastapi import Path, Request, status
from pydantic import ValidationError
from sqlalchemy.orm import Session

from passerelle.api.acceptance import (
    JOINTS,
    proof_out,
    take_reading,
    take_readings,
    take_reference,
    trace_strands,
)
from passerelle.api.hands import at_face, fitter_of
from passerelle.api.routing import api_router
from passerelle.api.schemas.acceptance import (
    AttachmentOut,
    IdentityOut,
    InstrumentOut,
    InstrumentsOut,
    InstrumentWish,
    LookWish,
    MeasureArray,
    MeasureReference,
    MeasureTrace,
    ProofOut,
    ReadingWish,
    ReferenceWish,
    StrandsWish,
    TraceWish,
)
from passerelle.api.schemas.common import RowId
from passerelle.api.state import database_of, writing
from passerelle.api.traces import record_trace
from passerelle.api.views import catalog_of
from passerelle.core.acceptance.references import ReferenceSeen, references
from passerelle.core.acceptance.tracing import AVERAGING_S, tracing
from passerelle.core.errors import AcceptanceError
from passerelle.core.plant.records import Instrument, InstrumentKind
from passerelle.core.plant.site import Plant, free_id
from passerelle.equipment import instruments as scpi
from passerelle.exchange.attachment import media_type_of
from passerelle.store import events
from passerelle.store import links as stored_links
from passerelle.store import projects as stored
from passerelle.store.accepted import is_reached, keep_attachment, reach
from passerelle.store.stored import ConflictError

router = api_router("equipment", asks_devices=True)
FLOOR_DBM = -60.0
"""Below, a meter shows its own noise: no light."""
METER_NOISE_DB = 0.02
"""By so much two readings of the same light may differ (estimate)."""
Row = Annotated[str, Path(max_length=60)]
_BY_WHOM = frozenset({"operator", "taken_on", "at_time", "place", "note"})
_OF_TRACE = _BY_WHOM | {"start", "end", "strand", "direction", "moment"}


@router.get("/projects/{project_id}/instruments")
def get_instruments(request: Request, project_id: RowId) -> InstrumentsOut:
    """The instruments of a project, and whether their addresses may be contacted."""
    with database_of(request).read() as session:
        return _out(session, project_id)


def _out(session: Session, project_id: int) -> InstrumentsOut:
    plant = stored.plant(session, project_id)
    return InstrumentsOut(
        plan_revision=stored.plant_revision(session, project_id),
        instruments=tuple(
            InstrumentOut(row=row, reached=is_reached(session, project_id, row.address))
            for row in plant.instruments
        ),
    )


@router.put("/projects/{project_id}/instruments")
def put_instrument(request: Request, project_id: RowId, wish: InstrumentWish) -> InstrumentsOut:
    """Add, change or take out an instrument; an address that is typed here may be contacted."""
    with writing(request) as session:
        plant = stored.plant(session, project_id)
        known = next((row for row in plant.instruments if row.id == wish.row), None)
        if wish.row and known is None:
            raise AcceptanceError("row", f"there is no instrument '{wish.row}': reload the page")
        made = () if wish.remove else (_instrument(wish, known, plant),)
        others = tuple(row for row in plant.instruments if row is not known)
        rows = (
            tuple(made[0] if row is known else row for row in plant.instruments)
            if known and made
            else others + made
        )
        revision = stored.plant_revision(session, project_id)
        stored.set_plant(session, project_id, revision, plant.changed(instruments=rows), f"instrument {wish.name}")
        if wish.address and not wish.remove:
            reach(session, project_id, wish.address)
        return _out(session, project_id)


def _instrument(wish: InstrumentWish, known: Instrument | None, plant: Plant) -> Instrument:
    values = wish.model_dump(exclude={"row", "remove"})
    taken = {row.id for row in plant.instruments}
    try:
        if known is not None:
            return Instrument.model_validate({**known.model_dump(), **values})
        return Instrument(id=free_id(wish.name, taken), **values)
    except ValidationError as error:
        raise AcceptanceError("address", "an address reads host:port, such as 127.0.0.1:5102") from error


@router.post("/projects/{project_id}/instruments/{row}/confirm")
def confirm(request: Request, project_id: RowId, row: Row) -> InstrumentsOut:
    """Confirm an address that came with a file, so that it may be contacted."""
    with writing(request) as session:
        reach(session, project_id, _row(session, project_id, row).address)
        return _out(session, project_id)


@router.post("/projects/{project_id}/instruments/{row}/identify")
def identify(request: Request, project_id: RowId, row: Row) -> IdentityOut:
    """Ask an instrument who it is."""
    with database_of(request).read() as session:
        found = _row(session, project_id, row)
        address = _reached(session, project_id, found)
    return IdentityOut(**vars(scpi.identify(address)))


def _row(session: Session, project_id: int, row: str) -> Instrument:
    for known in stored.plant(session, project_id).instruments:
        if known.id == row:
            return known
    raise AcceptanceError("row", f"there is no instrument '{row}': reload the page")


def _reached(session: Session, project_id: int, row: Instrument) -> str:
    if not row.address:
        raise AcceptanceError("address", f"{row.name} has no address: it is read by eye")
    if not is_reached(session, project_id, row.address):
        raise AcceptanceError(
            "address", f"the address {row.address} came with a file: confirm it on the page of instruments first"
        )
    return row.address


def _by_kind(session: Session, project_id: int, kind: InstrumentKind) -> Instrument:
    rows = [row for row in stored.plant(session, project_id).instruments if row.kind == kind and row.address]
    if not rows:
        raise AcceptanceError("instruments", f"there is no {kind} with an address: add one, or type the reading")
    return rows[0]


class Kit:
    """The source, the meter and, where there are some, the hands of a project, ready to be asked."""

    def __init__(self, session: Session, project_id: int) -> None:
        meter = _by_kind(session, project_id, "power meter")
        self.source = _reached(session, project_id, _by_kind(session, project_id, "light source"))
        self.meter, self.serial, self.calibrated_on = (
            _reached(session, project_id, meter),
            meter.serial,
            meter.calibrated_on,
        )
        self.fitter = fitter_of(session, project_id)

    def power_dbm(self, wavelength_nm: int) -> float:
        """What arrives at a wavelength in nm, in dBm."""
        scpi.light(self.source, wavelength_nm, on=True)
        return scpi.power_dbm(self.meter, wavelength_nm)

    def fit(self, command: str) -> None:
        """Have the hands plug something, where there are some."""
        if self.fitter:
            scpi.fit(self.fitter, command)


@router.post("/projects/{project_id}/references/measure", status_code=status.HTTP_201_CREATED)
def measure_reference(request: Request, project_id: RowId, wish: MeasureReference) -> tuple[ReferenceSeen, ...]:
    """Take a reference with source and meter, then join the cords and read them."""
    with database_of(request).read() as session:
        kit = Kit(session, project_id)
    cords = {"one cord": 1, "two cords": 2, "three cords": 3}[wish.method]
    kit.fit(f"ROUT:CONN:REF {cords}")
    power = kit.power_dbm(wish.wavelength_nm)
    if power < FLOOR_DBM:
        raise AcceptanceError(
            "power_dbm", f"{power:.1f} dBm: no light arrives. Is the launch cord on both, and clean?"
        )
    joined = None
    if cords == 1:  # with more, the reference holds the joined pair already: nothing is left to compare it with
        kit.fit("ROUT:CONN:JOIN")
        joined = round(power - kit.power_dbm(wish.wavelength_nm), 3)
        joined = 0.0 if -METER_NOISE_DB < joined < 0 else joined
    values = wish.model_dump(exclude={"instrument", "calibrated_on"})
    told = ReferenceWish(
        **values,
        instrument=wish.instrument or kit.serial,
        calibrated_on=wish.calibrated_on or kit.calibrated_on,
        power_dbm=round(power, 3),
        joined_db=joined,
    )
    return take_reference(request, project_id, told)


@router.post("/links/{link_id}/readings/measure", status_code=status.HTTP_201_CREATED)
def measure_reading(request: Request, link_id: RowId, wish: ReadingWish) -> ProofOut:
    """Take a loss reading with source and meter: what the reference was, less what arrives. Its value is
    replaced.
    """
    with database_of(request).read() as session:
        item = stored_links.link(session, link_id)
        kit = Kit(session, item.project_id)
        zero = _zero(session, item.project_id, wish)
    if zero.taken.power_dbm is None:
        raise AcceptanceError("zero", "the reference has no power: take one with the meter, or type the reading")
    near, far = wish.strand, wish.far_strand
    method = list(JOINTS).index(zero.taken.method) + 1 if zero.taken.method in JOINTS else 1
    name = scpi.quoted(item.link.name)
    kit.fit(f"ROUT:CONN:LINK {name},{wish.start},{wish.end},{near},{far},{wish.direction},{method}")
    power = kit.power_dbm(wish.wavelength_nm)
    value = round(min(99.0, zero.taken.power_dbm - power), 3)
    note = wish.note or ("no light: the floor of the meter" if power < FLOOR_DBM else "")
    told = wish.model_copy(
        update={
            "value_db": value,
            "note": note,
            "zero": zero.taken.key,
            "instrument": wish.instrument or kit.serial,
            "calibrated_on": wish.calibrated_on or kit.calibrated_on,
        }
    )
    return take_reading(request, link_id, told)


def _zero(session: Session, project_id: int, wish: ReadingWish) -> ReferenceSeen:
    """The reference that a reading is taken with: the one that it names, else the newest that holds."""
    return zero_at(session, project_id, wish.wavelength_nm, wish.zero)


def zero_at(session: Session, project_id: int, wavelength_nm: int, key: str = "") -> ReferenceSeen:
    """The reference of this key, else the newest at a wavelength (nm) that holds.

    Raises:
        AcceptanceError: there is none.
    """
    house = stored.project(session, project_id).house
    seen = references(events.of_links(session, project_id, [events.OF_PROJECT]), house, events.now(session))
    for one in seen:
        fits = one.taken.wavelength_nm == wavelength_nm and not one.why_void
        if one.taken.key == key or (not key and fits):
            return one
    words = f"there is no reference at {wavelength_nm} nm that holds: take one before you read"
    raise AcceptanceError("zero", words)


@router.post("/links/{link_id}/readings/measure-array", status_code=status.HTTP_201_CREATED)
def measure_array(request: Request, link_id: RowId, wish: MeasureArray) -> ProofOut:
    """Light each strand of an array in turn through the switch, and read where it comes out and with how much.

    The readings and where the strands come out are written down together, as one entry each; a strand that comes
    out nowhere is dark.
    """
    with database_of(request).read() as session:
        item = stored_links.link(session, link_id)
        if item.revision != wish.revision:
            raise ConflictError(item)
        kit = Kit(session, item.project_id)
        row = _by_kind(session, item.project_id, "array meter")
        meter = _reached(session, item.project_id, row)
        switch = _reached(session, item.project_id, _by_kind(session, item.project_id, "position switch"))
        found = proof_out(session, item).proof
        zero = zero_at(session, item.project_id, wish.wavelength_nm)
    if zero.taken.power_dbm is None:
        raise AcceptanceError("zero", "the reference has no power: take one with the meter")
    near = found.strands[0]
    plugged = f"{scpi.quoted(item.link.name)},{found.start},{found.end},{near.near},{near.planned},right,1"
    kit.fit(f"ROUT:CONN:LINK {plugged}")
    scpi.light(kit.source, wish.wavelength_nm, on=True)
    pairs, edits = [], []
    for strand in found.strands:
        scpi.switch_to(switch, strand.near)
        powers = scpi.array_power_dbm(meter, wish.wavelength_nm)
        far = max(range(len(powers)), key=lambda at: powers[at]) + 1
        out = far if powers[far - 1] > FLOOR_DBM else 0
        arrives = powers[strand.planned - 1] if strand.planned else FLOOR_DBM
        pairs.append((strand.near, out))
        edits.append((strand, round(min(99.0, zero.taken.power_dbm - arrives), 3)))
    by = wish.model_dump(include=set(_BY_WHOM))
    by |= {"instrument": row.serial or wish.instrument, "calibrated_on": row.calibrated_on or wish.calibrated_on}
    seen = StrandsWish(start=found.start, end=found.end, pairs=tuple(pairs), **by)
    trace_strands(request, link_id, seen)
    wishes = [
        ReadingWish(
            revision=wish.revision,
            start=found.start,
            end=found.end,
            strand=strand.near,
            far_strand=strand.planned,
            wavelength_nm=wish.wavelength_nm,
            direction="right",
            value_db=value,
            reference=zero.taken.method,
            tester_zero=f"{zero.taken.method}, by the power meter {zero.taken.instrument}".strip(),
            reference_grade=zero.taken.reference_grade,
            **by,
        )
        for strand, value in edits
    ]
    return take_readings(request, link_id, wish.revision, wishes)


@router.post("/links/{link_id}/traces/measure", status_code=status.HTTP_201_CREATED)
def measure_trace(request: Request, link_id: RowId, wish: MeasureTrace) -> ProofOut:
    """Take a trace with the instrument of the project and write it down."""
    with database_of(request).read() as session:
        item = stored_links.link(session, link_id)
        house = stored.project(session, item.project_id).house
        instrument = _by_kind(session, item.project_id, "trace instrument")
        address = _reached(session, item.project_id, instrument)
        fitter = fitter_of(session, item.project_id)
    planned = tracing(
        item.link,
        catalog_of(house),
        house,
        wish.wavelength_nm,
        wish.direction,
        pulse_ns=wish.pulse_ns,
        launch_m=wish.launch_m,
        receive_m=wish.receive_m,
        start=wish.start,
        end=wish.end,
    )
    way = planned.way
    if fitter:
        far = dict(planned.stretch.strands).get(wish.strand, 0)
        plugged = f"{scpi.quoted(item.link.name)},{wish.start},{wish.end},{wish.strand},{far},{wish.direction}"
        scpi.fit(fitter, f"ROUT:CONN:LINK {plugged},1,{way.launch_m},{way.receive_m}")
    settings = scpi.TraceSettings(
        wavelength_nm=wish.wavelength_nm,
        pulse_ns=planned.pulse.pulse_ns,
        averaging_s=wish.averaging_s or AVERAGING_S,
        group_index=way.index,
        range_m=way.length_m * 1.3 + 100,
    )
    body = scpi.take_trace(address, settings)
    kind = media_type_of(body)
    with writing(request) as session:
        item = stored_links.link(session, link_id)
        told = TraceWish(
            **wish.model_dump(
                include={
                    "start",
                    "end",
                    "strand",
                    "direction",
                    "moment",
                    "operator",
                    "taken_on",
                    "at_time",
                    "place",
                    "note",
                }
            ),
            instrument=instrument.serial or wish.instrument,
            calibrated_on=instrument.calibrated_on or wish.calibrated_on,
            launch_m=way.launch_m,
            receive_m=way.receive_m,
            file=keep_attachment(session, body, kind, item.project_id),
        )
        return record_trace(session, item, told)


@router.post("/links/{link_id}/inspections/picture", status_code=status.HTTP_201_CREATED)
def take_picture(request: Request, link_id: RowId, wish: LookWish) -> AttachmentOut:
    """Have the scope take a picture of a face; it is kept by its hash."""
    with database_of(request).read() as session:
        item = stored_links.link(session, link_id)
        address = _reached(session, item.project_id, _by_kind(session, item.project_id, "scope"))
        fitter = fitter_of(session, item.project_id)
    if fitter:
        at_face(fitter, "LOOK", item.link.name, _element(item.link.elements, wish.piece), wish.face)
    body = scpi.take_picture(address)
    kind = media_type_of(body)
    with writing(request) as session:
        return AttachmentOut(
            hash=keep_attachment(session, body, kind, item.project_id), media_type=kind, size=len(body)
        )


def _element(elements: tuple[object, ...], key: str) -> str:
    return next((str(e.id) for e in elements if getattr(e, "key", "") == key), "")  # type: ignore[attr-defined]

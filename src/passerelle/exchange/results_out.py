"""Results of tests as tables, and the certificate of a link and of a project."""

from __future__ import annotations

import io
import json
import zipfile
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from passerelle.core.acceptance.loss_rows import ProofRow
from passerelle.core.acceptance.proof import Proof
from passerelle.core.house import HouseRules
from passerelle.core.link.chain import Link
from passerelle.core.link.readings import Reading
from passerelle.core.parts.registry import spec_of
from passerelle.core.units import format_length
from passerelle.exchange.sheet import Sheet, Stamp
from passerelle.exchange.table_out import Cell, neutral

RESULT_HEAD = (
    "link",
    "stretch",
    "strand",
    "comes out at",
    "wavelength_nm",
    "direction",
    "loss_db",
    "uncertainty_db",
    "limit_db",
    "application_limit_db",
    "expected_db",
    "least_db",
    "pairs_counted",
    "judgement",
    "informs_only_because",
    "cause",
    "reference",
    "reference_grade",
    "instrument",
    "calibrated_on",
    "operator",
    "taken_on",
    "at_time",
    "place",
    "note",
    "marks",
    "earlier",
)


@dataclass(frozen=True)
class Trace:
    """A trace for a certificate: its words, and its points as (m, dB)."""

    words: str
    points: tuple[tuple[float, float], ...]
    told: tuple[str, ...]


@dataclass(frozen=True)
class Tested:
    """A link with its proof and its traces."""

    link: Link
    proof: Proof
    traces: tuple[Trace, ...] = ()


def result_rows(tested: Sequence[Tested]) -> list[list[Cell]]:
    """A row for each reading that is planned, taken or not."""
    rows = [_cells(one.link, row) for one in tested for row in one.proof.rows]
    return [[neutral(cell) if isinstance(cell, str) else cell for cell in row] for row in rows]


def _cells(link: Link, row: ProofRow) -> list[Cell]:
    read, should = row.reading, row.should
    return [
        link.name,
        f"{row.start} to {row.end}",
        row.strand,
        row.far,
        row.wavelength_nm,
        "left to right" if row.direction == "right" else "right to left",
        read.value_db if read else None,
        (read.uncertainty_db if read else None),
        round(should.limit_db, 3),
        None if should.application_db is None else round(should.application_db, 3),
        round(should.expected_db, 3),
        round(should.least_db, 3),
        should.pairs_counted,
        row.judgement or "not read",
        row.informs,
        row.cause.code if row.cause else "",
        (read.reference or "") if read else "",
        ("yes" if read.reference_grade else "no") if read else "",
        read.instrument if read else "",
        str(read.calibrated_on or "") if read else "",
        read.operator if read else "",
        str(read.taken_on or "") if read else "",
        str(read.at_time or "") if read else "",
        read.place if read else "",
        read.note if read else "",
        "; ".join(row.marks),
        "; ".join(_earlier(row)),
    ]


def _earlier(row: ProofRow) -> list[str]:
    """The readings of a row that no longer stand, in words."""
    return [
        f"{one.reading.value_db:.2f} dB, {one.judgement}, {_who(one.reading)}: {one.why}" for one in row.earlier
    ]


def results_json(tested: Sequence[Tested]) -> str:
    """The results whole: plan, readings, faces, strands, for each link."""
    told = [{"link": one.link.name, "proof": one.proof.model_dump(mode="json")} for one in tested]
    return json.dumps({"format": "passerelle-results", "version": 1, "links": told}, ensure_ascii=False, indent=1)


def certificate_pdf(
    tested: Sequence[Tested],
    project: str,
    house: HouseRules,
    program: str,
    signed: str,
    *,
    whole: bool,
    stamp: Stamp | None = None,
) -> bytes:
    """The certificate of a link, or of a project: chain, method, reference, limits, readings, traces, rules.

    Args:
        program: name and version of the program.
        signed: who made it and when, in words.
        whole: of the whole project, with a summary first.
        stamp: what stands at the foot of each page.
    """
    title = f"Acceptance: {project}" if whole else f"Acceptance: {tested[0].link.name}, {project}"
    out = Sheet(title, stamp=stamp)
    out.heading(title)
    out.line(f"{program}. {signed}")
    out.line(
        f"House rules: limits {house.limit_school}, reference {house.test_reference}, test cords "
        f"{house.test_cords}, "
        f"allowance profile {house.profile}, a reference holds {house.reference_hours:g} h, "
        f"a calibration {house.calibration_days:g} days."
    )
    if whole:
        _summary(out, tested)
    for one in tested:
        if not whole or any(row.reading for row in one.proof.rows) or one.proof.copper:
            _link(out, one)
    out.line(
        "A reading that informs only is no proof. Laser light is invisible: never look into a fiber or a port."
    )
    return out.bytes()


def _summary(out: Sheet, tested: Sequence[Tested]) -> None:
    rows = [
        (
            one.link.name,
            str(len(one.proof.rows)),
            str(len(one.proof.rows) - one.proof.to_read),
            str(one.proof.failing),
            one.proof.state,
        )
        for one in tested
    ]
    out.table(("link", "readings", "taken", "not good", ""), rows, (4, 1, 1, 1, 4))


def _link(out: Sheet, one: Tested) -> None:
    proof = one.proof
    out.heading(one.link.name, 12)
    out.line(" - ".join(_piece(element) for element in one.link.elements))
    out.line(f"{proof.span} from {proof.start} to {proof.end}, {proof.family}: {proof.state}.", bold=True)
    if proof.why_not:
        out.line(proof.why_not)
    rows = [_reading(row) for row in proof.rows]
    if rows:
        head = ("strand", "nm", "way", "dB", "limit", "expected", "", "reference", "instrument, who, when")
        out.table(head, rows, (1.1, 0.9, 0.7, 1.3, 1.6, 1.2, 1.3, 1.5, 4))
    for row in proof.rows:
        at = f"Strand {row.strand}, {row.wavelength_nm} nm, {'->' if row.direction == 'right' else '<-'}"
        if row.cause:
            out.line(f"{at}: {row.cause.code}. {row.cause.what}")
        if row.marks:
            out.line(f"{at}: {'; '.join(row.marks)}.")
        for words in _earlier(row):
            out.line(f"{at}, earlier: {words}.")
    seen = [f"{s.near} to {s.seen if s.seen is not None else 'not seen'}" for s in proof.strands]
    if seen:
        out.line("Strands come out: " + ", ".join(seen) + ".")
    graded = [face for face in proof.faces if face.next.step != "leave the module"]
    if graded:
        done = sum(1 for face in graded if face.next.done)
        editions = sorted({step.edition for face in graded for step in face.steps if step.edition})
        out.line(f"Faces inspected: {done} of {len(graded)}{', by ' + ', '.join(editions) if editions else ''}.")
    for judged in proof.copper:
        value = judged.value
        limit = "" if judged.limit is None else f", limit {judged.limit:g}"
        passes = {True: "pass", False: "fail", None: "not judged"}[judged.passes]
        at = "" if value.at_mhz is None else f" at {value.at_mhz:g} MHz"
        differs = f" ({judged.differs})" if judged.differs else ""
        out.line(f"{proof.category}, {value.parameter}: {value.value} {judged.unit}{at}{limit}: {passes}{differs}")
    for trace in one.traces:
        _trace(out, trace)


def _piece(element: object) -> str:
    piece = element
    word = spec_of(piece).word  # type: ignore[arg-type]
    length = getattr(piece, "length_m", None)
    label = getattr(piece, "label", "")
    return " ".join(filter(None, (word, label, format_length(length) if length is not None else "")))


def _reading(row: ProofRow) -> tuple[str, ...]:
    read = row.reading
    far = f" to {row.far}" if row.far and row.far != row.strand else ""
    value = f"{read.value_db:.2f} ± {read.uncertainty_db or 0:.2f}" if read else "not read"
    judgement = f"{row.judgement}" + (", informs only" if row.informs else "") if row.judgement else ""
    who = (
        " ".join(
            filter(None, (read.instrument, read.operator, str(read.taken_on or ""), str(read.at_time or "")[:5]))
        )
        if read
        else ""
    )
    reference = f"{read.reference or ''}{', reference grade' if read.reference_grade else ''}" if read else ""
    return (
        f"{row.strand}{far}",
        str(row.wavelength_nm),
        "->" if row.direction == "right" else "<-",
        value,
        f"{row.should.decides_db:.2f}, {row.should.pairs_counted} pairs",
        f"{row.should.expected_db:.2f}",
        judgement,
        reference,
        who,
    )


def _who(read: Reading) -> str:
    told = (read.instrument, read.operator, str(read.taken_on or ""), str(read.at_time or "")[:5])
    return " ".join(filter(None, told))


def _trace(out: Sheet, trace: Trace) -> None:
    """A trace drawn over the width of the page, with its words."""
    out.line(trace.words, bold=True)
    pdf = out.pdf
    height, width = 90.0, pdf.w - 80
    if pdf.get_y() + height > pdf.h - 50:
        pdf.add_page()
    top = pdf.get_y()
    far = max((m for m, _ in trace.points), default=1.0) or 1.0
    levels = [db for _, db in trace.points] or [0.0]
    high, low = max(levels), max(min(levels), max(levels) - 45)
    pdf.set_line_width(0.5)
    pdf.rect(40, top, width, height)
    spots = [
        (40 + m / far * width, top + 4 + (high - max(db, low)) / max(1e-6, high - low) * (height - 8))
        for m, db in trace.points
    ]
    if len(spots) > 1:
        pdf.polyline(spots)
    pdf.set_y(top + height + 4)
    out.line(f"0 to {format_length(far)}, {high - low:.0f} dB from top to bottom.")
    for words in trace.told:
        out.line(words)


def package(plan: str, attachments: Mapping[str, tuple[bytes, str]]) -> bytes:
    """The plan file with its traces and pictures beside it, as a ZIP: each by its hash."""
    kept = io.BytesIO()
    with zipfile.ZipFile(kept, "w", zipfile.ZIP_DEFLATED) as archive:
        archive.writestr("plan.json", plan)
        for name, (body, kind) in sorted(attachments.items()):
            ending = {"image/png": "png", "image/jpeg": "jpg"}.get(kind, "sor")
            archive.writestr(f"attachments/{name}.{ending}", body)
    return kept.getvalue()

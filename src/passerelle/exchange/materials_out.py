"""Bill, reels and labels out: tables, a workbook with live sums, sheets as PDF."""

from __future__ import annotations

import io
from collections.abc import Iterator, Sequence
from itertools import groupby
from typing import TYPE_CHECKING, Annotated

from pydantic import BeforeValidator

from passerelle.core.materials.bill import Bill, BillLine
from passerelle.core.materials.cuts import ReelPlan
from passerelle.core.materials.day import DayPlan
from passerelle.core.materials.labels import Labelled
from passerelle.core.materials.panels import PanelFront
from passerelle.core.sources import Frozen
from passerelle.core.units import format_length, typed_number
from passerelle.exchange.holdable import held
from passerelle.exchange.sheet import WORDS, Sheet, Stamp
from passerelle.exchange.sheets_pdf import Unit, force
from passerelle.exchange.table_out import Cell, neutral

if TYPE_CHECKING:
    from fpdf import FPDF

BILL_HEAD = (
    "where", "line", "unit", "needed", "spares", "at hand", "quantity", "ordered", "to order",
    "price each", "total", "price by", "reason", "caution", "for",
)  # fmt: skip
REEL_HEAD = ("cable", "reel", "length m", "source", "cut for", "cut m", "left m")
LABEL_HEAD = ("label", "end", "what", "near", "far", "link", "address", "key")
MOST_NAMED = 12


def bill_rows(bill: Bill) -> list[list[Cell]]:
    """The bill as a table; texts that a spreadsheet program would take for a formula are made harmless."""
    return [
        [
            line.where,
            neutral(line.words),
            line.unit,
            line.needed,
            line.spares,
            line.at_hand,
            line.quantity,
            line.ordered,
            line.to_order,
            line.each,
            line.total,
            line.price_by,
            neutral(line.why),
            "; ".join(word for word in (line.bought_as and f"reels {line.bought_as}", line.caution) if word),
            neutral(asked_words(line)),
        ]
        for line in bill.lines
    ]


def asked_words(line: BillLine) -> str:
    """Who asks for a line, the first of them by name."""
    names = list(dict.fromkeys(one.link_name or one.words for one in line.asked))
    more = f" and {len(names) - MOST_NAMED} more" if len(names) > MOST_NAMED else ""
    return "; ".join(names[:MOST_NAMED]) + more


def bill_workbook(bill: Bill, currency: str) -> bytes:
    """The bill as a workbook whose totals follow what is typed into it: each line, each group, all of it."""
    from openpyxl import Workbook
    from openpyxl.styles import Font

    book = Workbook()
    sheet = book.active
    assert sheet is not None
    sheet.title = "Bill"
    sheet.append([*BILL_HEAD[:10], f"total ({currency})", *BILL_HEAD[11:]])
    sums: list[str] = []
    for where, rows in groupby(zip(bill.lines, bill_rows(bill), strict=True), key=lambda pair: pair[0].where):
        first = sheet.max_row + 1
        for _, cells in rows:
            at = sheet.max_row + 1
            cells = [held(cell) if isinstance(cell, str) else cell for cell in cells]
            cells[8], cells[10] = f"=G{at}-H{at}", f"=MAX(0,I{at})*J{at}"
            sheet.append(cells)
        last = sheet.max_row
        sheet.append([where, "sum", *[None] * 8, f"=SUM(K{first}:K{last})"])
        sums.append(f"K{sheet.max_row}")
        for cell in sheet[sheet.max_row]:
            cell.font = Font(bold=True)
    sheet.append(["all", "sum", *[None] * 8, "=" + ("+".join(sums) or "0")])
    for row in (1, sheet.max_row):
        for cell in sheet[row]:
            cell.font = Font(bold=True)
    sheet.freeze_panes = "C2"
    for column, width in (("A", 22), ("B", 60), ("K", 14), ("N", 40), ("O", 60)):
        sheet.column_dimensions[column].width = width
    out = io.BytesIO()
    book.save(out)
    return out.getvalue()


def bill_pdf(bill: Bill, project: str, currency: str, stamp: Stamp | None = None) -> bytes:
    """The bill as a sheet: what is still to be ordered, by where it is bought."""
    out = Sheet(f"Bill: {project}", stamp=stamp)
    out.heading(f"Bill: {project}")
    out.line(
        f"To order: {bill.total:,.2f} {currency}, of which {bill.quoted:,.2f} quoted and the rest by estimate."
    )
    wanted = [line for line in bill.lines if line.to_order]
    if not wanted:
        out.line("Nothing is to be ordered: every piece is there, or ordered.")
    for where, lines in groupby(wanted, key=lambda line: line.where):
        out.heading(where, 12)
        rows = [
            (_quantity(line), _part(line), f"{line.each:,.2f}", f"{line.total:,.2f}", line.price_by)
            for line in lines
        ]
        out.table(("to order", "part", "each", "total", "price"), rows, (1.2, 6, 1.1, 1.3, 1.1))
    cautions = [f"{line.words}: {line.caution}" for line in wanted if line.caution]
    for text in cautions:
        out.line(text, bold=True)
    if bill.missing:
        out.heading("Missing before it can be ordered", 12)
        for one in bill.missing:
            out.line(f"The {one.what} of the {one.asker.words}, {one.asker.link_name or one.asker.place}.")
    return out.bytes()


def _part(line: BillLine) -> str:
    return f"{line.words} (reels: {line.bought_as})" if line.bought_as else line.words


def _quantity(line: BillLine) -> str:
    return f"{line.to_order:g} m" if line.unit == "m" else f"{line.to_order:g}"


def reel_rows(plans: Sequence[ReelPlan]) -> list[list[Cell]]:
    """The cuts as a table, one line a cut."""
    return [
        [
            neutral(plan.line),
            neutral(reel.name),
            reel.holds_m,
            "on hand" if reel.on_hand else "bought",
            neutral(run.words),
            run.length_m,
            reel.left_m,
        ]
        for plan in plans
        for reel in plan.reels
        for run in reel.cuts
    ]


def reels_pdf(plans: Sequence[ReelPlan], unit: Unit, stamp: Stamp | None = None) -> bytes:
    """The cuts as a sheet for the yard."""
    out = Sheet("Reels and their cuts", stamp=stamp)
    out.heading("Reels and their cuts")
    if not any(plan.reels for plan in plans):
        out.line("No cable is cut from a reel: nothing that is bought by the metre is planned.")
    for plan in plans:
        out.heading(plan.line, 12)
        for trouble in plan.troubles:
            out.line(f"{trouble.what} {trouble.remedy}", bold=True)
        rows = [
            (
                reel.name,
                format_length(reel.holds_m, unit),
                "; ".join(f"{run.words} {format_length(run.length_m, unit)}" for run in reel.cuts) or "nothing",
                format_length(reel.left_m, unit),
            )
            for reel in plan.reels
        ]
        out.table(("reel", "holds", "cuts, in this order", "left"), rows, (1.6, 1, 5, 1))
    return out.bytes()


Millimeters = Annotated[float, BeforeValidator(typed_number)]


class LabelGrid(Frozen):
    """A sheet of labels: columns and rows, the size of the sheet and its margins, the gaps, all in mm."""

    columns: int = 3
    rows: int = 8
    width_mm: Millimeters = 210
    height_mm: Millimeters = 297
    margin_x_mm: Millimeters = 8
    margin_y_mm: Millimeters = 12
    gap_x_mm: Millimeters = 3
    gap_y_mm: Millimeters = 0
    skip: int = 0
    place: str = ""

    @property
    def cell_mm(self) -> tuple[float, float]:
        """Width and height of one label."""
        width = self.width_mm - 2 * self.margin_x_mm - (self.columns - 1) * self.gap_x_mm
        height = self.height_mm - 2 * self.margin_y_mm - (self.rows - 1) * self.gap_y_mm
        return width / self.columns, height / self.rows


class LabelText(Frozen):
    """One label: its identifier, its end, and what its code opens."""

    label: str
    end: str
    what: str
    near: str
    far: str
    link: str
    address: str
    key: str


def label_texts(labels: Sequence[Labelled], base_address: str) -> Iterator[LabelText]:
    """The labels of both ends of everything, in the order of places."""
    for one in labels:
        for number, end in enumerate(one.ends):
            side = "" if len(one.ends) == 1 else "near" if number == 0 else "far"
            yield LabelText(
                label=one.label or "not given yet",
                end=side,
                what=one.what,
                near=end.near,
                far=end.far,
                link=one.link_name,
                address=f"{base_address}/k/{one.key}",
                key=one.key,
            )


def label_rows(labels: Sequence[Labelled], base_address: str) -> list[list[Cell]]:
    """The labels as a table for a printer's own program."""
    return [
        [neutral(cell) for cell in (t.label, t.end, t.what, t.near, t.far, t.link, t.address, t.key)]
        for t in label_texts(labels, base_address)
    ]


MM = 72 / 25.4


def labels_pdf(labels: Sequence[Labelled], base_address: str, grid: LabelGrid) -> bytes:
    """Sheets of labels, each with its code, text that is read without one, and room to be cut."""
    out = Sheet("Labels", (grid.width_mm * MM, grid.height_mm * MM))
    pdf = out.pdf
    width, height = (side * MM for side in grid.cell_mm)
    per_page = grid.columns * grid.rows
    for number, text in enumerate(label_texts(labels, base_address), start=grid.skip):
        place = number % per_page
        if place == 0 and number > grid.skip:
            pdf.add_page()
        x = grid.margin_x_mm * MM + (place % grid.columns) * (width + grid.gap_x_mm * MM)
        y = grid.margin_y_mm * MM + (place // grid.columns) * (height + grid.gap_y_mm * MM)
        _label(pdf, text, x, y, width, height)
    return out.bytes()


def _label(pdf: FPDF, text: LabelText, x: float, y: float, width: float, height: float) -> None:
    side = min(height - 4, width * 0.38, 62)
    _code(pdf, text.address, x + 2, y + 2, side)
    left, room = x + side + 6, width - side - 8
    lines = [(text.label, 11.0, "B"), (text.what, 6.5, "")]
    lines += [(f"{text.end or 'here'}: {text.near}", 6.5, "")]
    if text.far:
        lines.append((f"leads to: {text.far}", 6.5, ""))
    down = y + 2
    for words, size, style in lines:
        pdf.set_font(WORDS, style, size)
        while pdf.get_string_width(words) > room and len(words) > 4:
            words = words[:-2].rstrip("…") + "…"
        down += size * 1.25
        if down < y + height:
            pdf.text(left, down, words)


def _code(pdf: FPDF, content: str, x: float, y: float, side: float) -> None:
    """A scannable code (ISO/IEC 18004) with its quiet zone."""
    import segno

    cells = list(segno.make(content, error="m", micro=False).matrix_iter(border=2))
    step = side / len(cells)
    pdf.set_fill_color(0, 0, 0)
    for row, line in enumerate(cells):
        for dark, run in groupby(enumerate(line), key=lambda pair: pair[1]):
            columns = [column for column, _ in run]
            if dark:
                pdf.rect(x + columns[0] * step, y + row * step, len(columns) * step, step, style="F")


def day_pdf(plan: DayPlan, unit: Unit, stamp: Stamp | None = None) -> bytes:
    """The plan of a day of pulling."""
    out = Sheet("Day of pulling", stamp=stamp)
    out.heading("Day of pulling")
    if not plan.pulls:
        out.line("No cable is still to be pulled: set the state of a cable to planned, or choose cables.")
        return out.bytes()
    out.line(f"The reel stands at {plan.reel_at}, where most pulls start.", bold=True)
    out.line(f"People: {', '.join(plan.people) or 'as each pull asks'}. Things: {', '.join(plan.things)}.")
    for pull in plan.pulls:
        out.heading(f"{pull.number}. {', '.join(pull.names)}", 12)
        if pull.problem:
            out.line(pull.problem)
            continue
        tension = f"{force(pull.tension_n, unit)} {pull.bound}, rated {force(pull.rated_n, unit)}"
        out.line(f"From {pull.start} to {pull.end}, {format_length(pull.length_m, unit)}; {tension}.", bold=True)
        rows = [
            (
                point.name,
                point.does,
                force(point.at_most_n, unit),
                f"{point.radius_mm:g} mm" if point.radius_mm else "not known",
                "",
            )
            for point in pull.points
        ]
        out.table(
            ("point", "who does what", "at most", "radius under load", "sheath mark"), rows, (3, 3, 1.2, 1.5, 1.5)
        )
        for warning in pull.warnings:
            source = f" ({warning.source.text})" if warning.source else ""
            out.line(f"{warning.what}{source}", bold=warning.breaks)
    for title, lines in (("Steps", plan.steps), ("Mind", plan.cautions)):
        out.heading(title, 12)
        for line in lines:
            out.line(f"– {line}")
    return out.bytes()


def panels_pdf(fronts: Sequence[PanelFront], stamp: Stamp | None = None) -> bytes:
    """The fronts of panels, a table each."""
    out = Sheet("Panels", stamp=stamp)
    out.heading("Panels")
    if not fronts:
        out.line("No panel stands here.")
    for front in fronts:
        out.heading(f"{front.label or front.name}, {front.place}", 12)
        rows = [
            (
                str(port.hole or number),
                port.label or "no label yet",
                port.adapter,
                "; ".join(
                    f"{b.cable}: {b.number} {b.color}{f' in tube {b.tube} {b.tube_color}' if b.tube else ''}"
                    for b in port.behind
                )
                or "free",
                f"{port.link_name}: {port.leads_to}" if port.link_name else "free",
            )
            for number, port in enumerate(front.ports, start=1)
        ]
        out.table(("port", "label", "adapter", "strands behind", "leads to"), rows, (0.6, 1.4, 2.2, 3.2, 2.8))
    return out.bytes()

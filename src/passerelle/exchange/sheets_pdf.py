"""The sheets of the plant as PDF: pull sheet, closure sheet, scope for a contractor."""

from __future__ import annotations

from typing import Literal

from passerelle.core.plant.closures import ClosureSheet
from passerelle.core.plant.pull_sheet import PullSheet
from passerelle.core.plant.scope_sheet import ScopeCable, ScopeSheet
from passerelle.core.units import format_length
from passerelle.exchange.sheet import Sheet, Stamp

Unit = Literal["m", "ft"]
NEWTON_PER_POUND = 4.4482216152605  # exactly: 0.45359237 kg at 9.80665 m/s²


def force(newton: float | None, unit: Unit) -> str:
    """A force as people of this unit read it."""
    if newton is None:
        return "not known"
    return f"{newton / NEWTON_PER_POUND:.0f} lbf" if unit == "ft" else f"{newton:.0f} N"


def pull_pdf(sheet: PullSheet, unit: Unit, stamp: Stamp | None = None) -> bytes:
    """The pull sheet for the day."""
    out = Sheet(f"Pull sheet: {sheet.name}", stamp=stamp)
    out.heading(f"Pull sheet: {sheet.name}")
    length = format_length(sheet.length_m, unit)
    out.line(f"{', '.join(sheet.places)}. {length}, {sheet.bends_deg:g}° of bends, friction {sheet.friction:g}.")
    if sheet.pulls:
        rated = f", rated {force(sheet.rated_tension_n, unit)}" if sheet.rated_tension_n is not None else ""
        out.line(f"Feed at {sheet.start_at}: {force(sheet.most_n[0], unit)} {sheet.bound}{rated}.", bold=True)
    for warning in sheet.warnings:
        source = f" ({warning.source.text})" if warning.source else ""
        out.line(f"{warning.what}{source}", bold=warning.breaks)
    if sheet.stages:
        out.heading("In several pulls", 12)
        rows = [
            (
                f"{s.start} to {s.end}",
                format_length(s.length_m, unit),
                f"{s.bends_deg:g}°",
                force(s.tension_n, unit),
                "keeps the limits" if s.kept else "still over a limit",
            )
            for s in sheet.stages
        ]
        out.table(("from, to", "length", "bends", "tension", ""), rows, (5, 1.4, 1, 1.4, 2))
    for pull in sheet.pulls:
        out.heading(f"Fed at {sheet.places[0] if pull.direction == 'forwards' else sheet.places[-1]}", 12)
        steps = [
            (
                str(step.section + 1),
                force(step.after_straight_n, unit),
                force(step.after_bend_n, unit),
                f"{step.sidewall_n_per_m:.0f} N/m" if step.sidewall_n_per_m else "",
            )
            for step in pull.steps
        ]
        out.table(("stretch", "at the straight", "at the bend", "on the side"), steps, (1, 2, 2, 2))
    out.heading("Mind", 12)
    for words in sheet.cautions:
        out.line(words)
    out.line("; ".join(source.text for source in sheet.sources))
    return out.bytes()


def closure_pdf(sheet: ClosureSheet, stamp: Stamp | None = None) -> bytes:
    """The strands at one place, for the lid of the closure."""
    out = Sheet(f"Strands at {sheet.name}", stamp=stamp)
    out.heading(f"Strands at {sheet.name}")
    for cable in sheet.cables:
        rows = [row for row in sheet.rows if row.cable == cable]
        out.heading(rows[0].cable_name, 12)
        out.table(
            ("strand", rows[0].grouped_in[:-1], f"in the {rows[0].grouped_in[:-1]}", "carries", "here"),
            [
                (
                    str(row.number),
                    f"{row.tube} {row.tube_color}".strip(),
                    f"{row.position} {row.color}".strip(),
                    row.carries or "free",
                    row.does,
                )
                for row in rows
            ],
            (0.8, 1.4, 1.4, 2.5, 4),
        )
    return out.bytes()


def scope_pdf(sheet: ScopeSheet, title: str, unit: Unit, stamp: Stamp | None = None) -> bytes:
    """The scope for a hired contractor."""
    out = Sheet(title, stamp=stamp)
    out.heading(title)
    if not sheet.cables:
        out.line("No cable is planned: set the state of a cable to planned, or choose cables.")
    for cable in sheet.cables:
        out.heading(cable.name, 12)
        for line in scope_lines(cable, unit):
            out.line(line)
    for name, lines in (("Handle it so", sheet.care), ("Hand over", sheet.hand_over), ("Mind", sheet.cautions)):
        out.heading(name, 12)
        for line in lines:
            out.line(f"– {line}")
    return out.bytes()


def scope_lines(cable: ScopeCable, unit: Unit) -> list[str]:
    """One cable of the scope in sentences."""

    def radius(mm: float | None) -> str:
        return "not known" if mm is None else f"{mm:.0f} mm"

    lines = [
        f"From {cable.start} to {cable.end}, by {', '.join(cable.ways)}: {format_length(cable.length_m, unit)}.",
        f"{cable.strands} strands of {cable.grade or 'a grade to be said'}, "
        f"{cable.construction or 'construction open'}, jacket {cable.jacket}; "
        f"ends: {cable.ends[0]}, {cable.ends[1]}.",
        f"At most {force(cable.rated_tension_n, unit)}; bend radius {radius(cable.radius_loaded_mm)} under load, "
        f"{radius(cable.radius_rest_mm)} at rest.",
    ]
    if cable.missing:
        lines.append(f"To be said before the order: {', '.join(cable.missing)}.")
    return lines

"""The strip plan as a drawing: rectangles, lines and words, written as SVG or PDF."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Literal
from xml.sax.saxutils import escape, quoteattr

from passerelle.core.plant.pulling import duct_fill
from passerelle.core.plant.records import Cable, Way
from passerelle.core.plant.site import Plant
from passerelle.core.plant.strips import Strip, strip_plan
from passerelle.core.units import format_length
from passerelle.exchange.holdable import held
from passerelle.exchange.sheet import Sheet

ROW, LEFT, RIGHT, BAR, TOP = 52.0, 140.0, 190.0, 16.0, 46.0
INK, PAPER, MUTED = "#1b1b1a", "#ffffff", "#55534d"
JACKETS = {
    "orange": "#e07b2a",
    "aqua": "#2bb3b8",
    "violet": "#8b5fb0",
    "lime": "#93c021",
    "yellow": "#e3bd1b",
    "black": "#4a4946",
}
UNDECIDED = "#8f8d86"


@dataclass(frozen=True)
class Box:
    """A rectangle; ``fill`` is a color or empty, ``dashed`` for what is only planned."""

    x: float
    y: float
    width: float
    height: float
    fill: str = ""
    stroke: str = ""
    dashed: bool = False


@dataclass(frozen=True)
class Line:
    """A straight line."""

    x1: float
    y1: float
    x2: float
    y2: float


@dataclass(frozen=True)
class Words:
    """A text at a baseline."""

    x: float
    y: float
    text: str
    size: float = 11.0
    bold: bool = False
    anchor: Literal["start", "end"] = "start"


@dataclass
class Drawing:
    """Shapes on a sheet of a size, in drawing units of one point."""

    title: str
    width: float
    height: float
    shapes: list[Box | Line | Words] = field(default_factory=list)


def draw_plan(
    plant: Plant, title: str, colors: dict[str, tuple[str, ...]], unit: Literal["m", "ft"] = "m"
) -> Drawing:
    """The strip plan of a plant.

    Args:
        plant: places, ways and cables.
        title: what stands above it.
        colors: usual jacket colors by fiber grade.
        unit: unit of the lengths.
    """
    plan = strip_plan(plant)
    drawing = Drawing(title, LEFT + plan.width + RIGHT, TOP + plan.rows * ROW + 40)
    add = drawing.shapes.append
    add(Words(12, 24, title, 15, bold=True))
    for root in plan.roots:
        add(Words(LEFT - 8, _y(root.row) + 12, plant.place_of[root.place].name, 12, bold=True, anchor="end"))
    for strip in plan.strips:  # first, so that no line crosses a strip
        if strip.branches_from is not None:
            add(Line(LEFT + strip.x, _y(strip.branches_from) + BAR, LEFT + strip.x, _y(strip.row)))
    for strip in plan.strips:
        _draw_strip(drawing, plant, strip, colors, unit)
    foot = "Widths grow with the logarithm of the length; stripes are cables by their share; dashed is planned."
    add(Words(12, drawing.height - 10, foot, 9.5))
    return drawing


def _y(row: int) -> float:
    return TOP + 14 + row * ROW


def _draw_strip(
    drawing: Drawing, plant: Plant, strip: Strip, colors: dict[str, tuple[str, ...]], unit: Literal["m", "ft"]
) -> None:
    way, add = plant.way_of[strip.way], drawing.shapes.append
    x, y = LEFT + strip.x, _y(strip.row)
    add(Box(x, y, strip.width, BAR, PAPER))
    inside = plant.cables_in[way.id]
    at = y
    for cable in inside:
        height = _height(cable, way, len(inside))
        add(Box(x, at, strip.width, max(1.0, height - 0.6), jacket(cable, colors)))
        at += height
    add(Box(x, y, strip.width, BAR, "", INK, dashed=way.state == "planned"))
    measured = [c.diameter_mm for c in inside if c.diameter_mm]
    fill = duct_fill(measured, way.bore_mm) if way.bore_mm and measured else None
    over = fill is not None and not fill.kept
    state = "" if way.state == "existing" else f", {way.state}"
    told = format_length(way.length_m, unit) + state + (f", {fill.share:.0%}" if fill and over else "")
    add(Words(x + 2, y - 4, told, 10.5, bold=over))
    add(Words(x + 2, y + BAR + 11, _short(way.name, strip.width), 10))
    end = plant.place_of[strip.end].name
    if strip.last:
        add(Words(x + strip.width + 8, y + 12, f"meets {end}" if strip.meets else end, 12, bold=not strip.meets))
    else:
        add(Words(x + strip.width - 3, y + BAR - 4, _short(end, strip.width), 9.5, bold=True, anchor="end"))


def _height(cable: Cable, way: Way, count: int) -> float:
    if way.bore_mm and cable.diameter_mm:
        return max(2.5, (cable.diameter_mm / way.bore_mm) ** 2 * BAR)
    return min(3.0, BAR / count)


def _short(text: str, width: float) -> str:
    room = int(width / 5.6)
    return text if len(text) <= room else f"{text[: max(3, room - 1)]}…"


def jacket(cable: Cable, colors: dict[str, tuple[str, ...]]) -> str:
    """The usual jacket color of a cable's glass; a neutral one while its candidates do not agree."""
    names = {colors.get(grade, ("",))[0].split(" ")[0] for grade in cable.fiber}
    return JACKETS.get(names.pop(), UNDECIDED) if len(names) == 1 else UNDECIDED


def as_svg(drawing: Drawing) -> str:
    """The drawing as an SVG document."""
    size = f'width="{drawing.width:.0f}" height="{drawing.height:.0f}"'
    lines = [
        f'<svg xmlns="http://www.w3.org/2000/svg" {size} viewBox="0 0 {drawing.width:.0f} {drawing.height:.0f}" '
        f'font-family="Atkinson Hyperlegible Next, sans-serif" fill="{INK}">',
        f"<title>{escape(held(drawing.title))}</title>",
        f'<rect width="100%" height="100%" fill="{PAPER}"/>',
    ]
    return "\n".join([*lines, *map(_svg, drawing.shapes), "</svg>", ""])


def _svg(shape: Box | Line | Words) -> str:
    if isinstance(shape, Box):
        dashes = ' stroke-dasharray="4 3"' if shape.dashed else ""
        look = f'fill="{shape.fill or "none"}" stroke="{shape.stroke or "none"}"{dashes}'
        size = f'width="{shape.width:.1f}" height="{shape.height:.1f}"'
        return f'<rect x="{shape.x:.1f}" y="{shape.y:.1f}" {size} {look}/>'
    if isinstance(shape, Line):
        return f'<path d="M{shape.x1:.1f} {shape.y1:.1f}L{shape.x2:.1f} {shape.y2:.1f}" stroke="{INK}"/>'
    weight = ' font-weight="600"' if shape.bold else ""
    anchor = f" text-anchor={quoteattr(shape.anchor)}" if shape.anchor != "start" else ""
    place = f'x="{shape.x:.1f}" y="{shape.y:.1f}" font-size="{shape.size:g}"'
    return f"<text {place}{weight}{anchor}>{escape(held(shape.text))}</text>"


def as_pdf(drawing: Drawing) -> bytes:
    """The drawing as a PDF of one page of its own size."""
    sheet = Sheet(drawing.title, (drawing.width, drawing.height))
    pdf = sheet.pdf
    pdf.set_line_width(0.8)
    for shape in drawing.shapes:
        if isinstance(shape, Box):
            pdf.set_dash_pattern(dash=4, gap=3) if shape.dashed else pdf.set_dash_pattern()
            pdf.set_fill_color(shape.fill or PAPER)
            pdf.set_draw_color(shape.stroke or INK)
            style = {(True, False): "F", (False, True): "D", (True, True): "DF"}[
                bool(shape.fill), bool(shape.stroke)
            ]
            pdf.rect(shape.x, shape.y, shape.width, shape.height, style=style)
        elif isinstance(shape, Line):
            pdf.set_dash_pattern()
            pdf.line(shape.x1, shape.y1, shape.x2, shape.y2)
        else:
            sheet.words(shape.x, shape.y, shape.text, shape.size, bold=shape.bold, ends=shape.anchor == "end")
    return sheet.bytes()

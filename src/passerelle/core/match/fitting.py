"""A piece that fits where it is put: shape, polish and glass taken from its neighbors."""

from __future__ import annotations

from typing import Literal

from passerelle.core.catalog.copper import copper_figures
from passerelle.core.catalog.records import Polish
from passerelle.core.catalog.shelves import Catalog
from passerelle.core.link.chain import Link, glass, modules, ports
from passerelle.core.link.edits import EditError
from passerelle.core.link.elements import (
    Assembly,
    Attenuator,
    Cord,
    Element,
    Jack,
    Module,
    Outlet,
    Panel,
    Pigtail,
    Plug,
    Run,
    Shape,
    Splice,
    Strands,
    Twisted,
)
from passerelle.core.match.joints import Bare, Face, Nothing, Receptacle, Side, face

Insertable = Literal[
    "module",
    "cord",
    "panel",
    "run",
    "splice",
    "pigtail",
    "attenuator",
    "twisted",
    "outlet",
    "jack",
    "assembly",
]
USUAL_CORD_M = 2.0
USUAL_PIGTAIL_M = 1.5
USUAL_PAD_DB = 5.0


def fitting_piece(link: Link, after: str, kind: Insertable, catalog: Catalog) -> Element:
    """A piece of one kind, made to fit behind the piece ``after``.

    Raises:
        EditError: the link has no piece ``after``.
    """
    try:
        position = link.index(after)
    except KeyError:
        raise EditError("after", f"the link has no piece '{after}': reload the link") from None
    left = _facing(link, position, "right", catalog)
    right = _facing(link, position + 1, "left", catalog)
    grade = _grade_near(link, position)
    strands: Strands = 1 if any(piece.strands == 1 for piece in glass(link)) else 2
    polish = _polish_near(link, position, grade, catalog)
    shapes = (_shape_towards(link, position, left), _shape_towards(link, position + 1, right))
    left_plug, right_plug = (Plug(shape=shape, polish=polish) for shape in shapes)
    match kind:
        case "module":
            known = modules(link)
            name = known[0].application if known else next(iter(catalog.applications))
            return Module(application=name)
        case "cord":
            return Cord(
                length_m=USUAL_CORD_M,
                fiber=grade,
                left=left_plug,
                right=right_plug,
                strands=strands,
                crossed=strands == 2,
            )
        case "panel":
            return Panel(shape=shapes[0])
        case "splice":
            return Splice()
        case "run":
            ends = {"left": _end(left, left_plug), "right": _end(right, right_plug)}
            return Run(fiber=grade, strands=strands, **ends)
        case "pigtail":
            bare_left = isinstance(left, Bare) or _is_splice(link, position)
            plugs = {"left": None, "right": right_plug} if bare_left else {"left": left_plug, "right": None}
            return Pigtail(length_m=USUAL_PIGTAIL_M, fiber=grade, strands=strands, **plugs)
        case "attenuator":
            towards_right = isinstance(right, Receptacle) or _is_panel(link, position + 1)
            side: Side = "right" if towards_right and not isinstance(left, Receptacle) else "left"
            shape = shapes[1] if side == "right" else shapes[0]
            return Attenuator(value_db=USUAL_PAD_DB, shape=shape, polish=polish, plug_side=side)
        case "twisted":
            return Twisted(length_m=USUAL_CORD_M)
        case "outlet":
            return Outlet()
        case "jack":
            return Jack(form="SFP" if _fastest(link, catalog) <= 1000 else "SFP+")
        case "assembly":
            return _fitting_assembly(link, catalog)


def _fastest(link: Link, catalog: Catalog) -> int:
    """The fastest speed in Mb/s that both ports can run, or their cages could."""
    ends = ports(link)
    common = set.intersection(*(set(port.rates_mbps) for port in ends)) if ends else set()
    return max(common, default=min((catalog.cage(port.cage).max_rate_mbps for port in ends), default=10_000))


def _fitting_assembly(link: Link, catalog: Catalog) -> Assembly:
    """The fastest direct-attach assembly of one leg that both cages take, a metre long."""
    ends = ports(link)
    takes = [set(catalog.cage(port.cage).accepts) for port in ends]
    rows = [
        row
        for row in copper_figures().assembly
        if row.legs == 1 and row.rate_mbps <= _fastest(link, catalog) and all(row.form in some for some in takes)
    ]
    row = max(rows, key=lambda one: one.rate_mbps, default=None)
    if row is None:
        return Assembly(length_m=1.0)
    return Assembly(length_m=1.0, made=row.made, left_form=row.form, right_form=row.form, rate_mbps=row.rate_mbps)


def _facing(link: Link, position: int, side: Side, catalog: Catalog) -> Face:
    if not 0 <= position < len(link.elements):
        return Nothing()
    return face(link, position, side, catalog)


def _shape_towards(link: Link, position: int, facing: Face) -> Shape:
    element = link.elements[position] if position < len(link.elements) else None
    if isinstance(element, Panel):
        return element.shape
    if isinstance(facing, Plug):
        return facing.shape
    return "LC"


def _end(facing: Face, plug: Plug) -> Plug | None:
    """A run is spliced to bare fiber and plugged into anything else."""
    return None if isinstance(facing, Bare) else plug


def _is_splice(link: Link, position: int) -> bool:
    return position < len(link.elements) and isinstance(link.elements[position], Splice)


def _is_panel(link: Link, position: int) -> bool:
    return position < len(link.elements) and isinstance(link.elements[position], Panel)


def _grade_near(link: Link, position: int) -> tuple[str, ...]:
    pieces = sorted(glass(link), key=lambda piece: abs(link.index(piece.id) - position))
    return pieces[0].fiber if pieces else ()


def _polish_near(link: Link, position: int, grade: tuple[str, ...], catalog: Catalog) -> Polish:
    pieces = sorted(glass(link), key=lambda piece: abs(link.index(piece.id) - position))
    for piece in pieces:
        for plug in (piece.left, piece.right):
            if plug is not None and plug.polish != "APC":
                return plug.polish
    multimode = any(catalog.fiber(name).family == "multimode" for name in grade)
    return "PC" if multimode else "UPC"

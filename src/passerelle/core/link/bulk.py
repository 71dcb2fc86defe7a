"""One change for many links, as data: the edits follow for each link by itself."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from passerelle.core.catalog.records import Polish
from passerelle.core.catalog.shelves import Catalog
from passerelle.core.errors import EditError
from passerelle.core.link.chain import Link, glass, lines, modules
from passerelle.core.link.edits import Describe, Edit, SetFields
from passerelle.core.parts.piece import Glass, LossClass, Plug
from passerelle.core.sources import Frozen


class SetApplication(Frozen):
    """Give both modules this application; of a two-wavelength pair the far end gets the other side."""

    change: Literal["application"] = "application"
    application: str


class SetGrade(Frozen):
    """Make all glass of this grade, with the polish that goes with it where it is not angled."""

    change: Literal["grade"] = "grade"
    grade: str


class SetLossClass(Frozen):
    """Give all panels this loss class."""

    change: Literal["loss class"] = "loss class"
    loss_class: LossClass


class SetWantedRate(Frozen):
    """Want this rate (Mb/s), or none in particular."""

    change: Literal["wanted rate"] = "wanted rate"
    wanted_rate_mbps: Annotated[int, Field(gt=0, le=1_000_000)] | None


BulkChange = Annotated[SetApplication | SetGrade | SetLossClass | SetWantedRate, Field(discriminator="change")]


def edits_for(link: Link, change: BulkChange, catalog: Catalog) -> tuple[Edit, ...]:
    """The edits that make the change in one link; none where nothing in it is concerned.

    Raises:
        CatalogError: the catalog has no such application or grade.
    """
    match change:
        case SetApplication():
            application = catalog.application(change.application)
            names = (application.name, application.partner or application.name)
            return tuple(
                SetFields(element=module.id, values={"application": name, "form": ""})
                for module, name in zip(modules(link), names, strict=False)
            )
        case SetGrade():
            return all_glass(link, change.grade, catalog)
        case SetLossClass():
            classed = [e for e in link.elements if "loss_class" in type(e).model_fields]
            return tuple(SetFields(element=e.id, values={"loss_class": change.loss_class}) for e in classed)
        case SetWantedRate():
            return (Describe(values={"wanted_rate_mbps": change.wanted_rate_mbps}),)


def describe_change(change: BulkChange) -> str:
    """The change in words for the log."""
    match change:
        case SetApplication():
            return f"application {change.application}"
        case SetGrade():
            return f"all glass {change.grade}"
        case SetLossClass():
            return f"panels {change.loss_class}"
        case SetWantedRate():
            return f"wanted rate {change.wanted_rate_mbps or 'none'}"


def set_length(link: Link, length_m: float) -> Edit:
    """The edit that brings all glass or copper of a link to this length in m, by its longest fixed piece.

    Raises:
        EditError: there is no cable, or the other pieces alone are longer.
    """
    pieces = sorted(lines(link), key=lambda piece: (piece.pulled, piece.length_m or 0.0))
    if not pieces:
        raise EditError("length_m", "there is no cable in this link: insert a cord or a run first")
    longest = pieces[-1]
    others_m = sum(piece.length_m or 0.0 for piece in pieces[:-1])
    if length_m < others_m:
        raise EditError("length_m", f"the other pieces are {others_m:g} m already: give at least that much")
    return SetFields(element=longest.id, values={"length_m": round(length_m - others_m, 6)})


def all_glass(link: Link, grade: str, catalog: Catalog) -> tuple[Edit, ...]:
    """Edits that make every piece of glass in the link of one grade."""
    return tuple(of_grade(piece, grade, catalog) for piece in glass(link))


def of_grade(piece: Glass, grade: str, catalog: Catalog) -> Edit:
    """Same piece in another grade, with the polish that goes with its family; angled plugs stay angled."""
    polish: Polish = "UPC" if catalog.fiber(grade).family == "single-mode" else "PC"
    values: dict[str, object] = {"fiber": (grade,)}
    for side in ("left", "right"):
        plug = piece.__dict__.get(side)
        if isinstance(plug, Plug) and plug.polish != "APC":
            values[side] = {"shape": plug.shape, "polish": polish}
    return SetFields(element=piece.id, values=values)

"""A direct-attach assembly."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from passerelle.core.catalog.copper_figures import Made, copper_figures
from passerelle.core.catalog.material_figures import sold_cord_m
from passerelle.core.catalog.prices import assembly_item
from passerelle.core.catalog.shelves import Catalog
from passerelle.core.parts.face import Face
from passerelle.core.parts.kinds.cord import ends_words, length_words
from passerelle.core.parts.need import Need, joined
from passerelle.core.parts.part import Electrics, Part, Path, Spot, TemperatureClass, Traits
from passerelle.core.parts.piece import Label, LengthM, Line, Spaces
from passerelle.core.parts.spec import Gap, KindSpec, Names
from passerelle.core.units import format_rate

USUAL_M = 1.0


class Assembly(Line):
    """A direct-attach assembly: a cable with a module's plug fixed to each end, bought at its length.

    ``rate_mbps`` is the rate of one leg. Of an assembly with several ``legs`` the link is one leg of it; the plug
    of a quad form is in the fast port. ``reach_m`` is its datasheet's; None counts the usual longest of its make.
    """

    kind: Literal["assembly"] = "assembly"
    length_m: LengthM | None = None
    made: Made = "passive copper"
    left_form: Label = "SFP+"
    right_form: Label = "SFP+"
    rate_mbps: Annotated[int, Field(gt=0, le=1_000_000)] = 10_000
    legs: Literal[1, 2, 4, 8] = 1
    reach_m: LengthM | None = None
    left_coding: Label = ""
    right_coding: Label = ""
    temperature_class: TemperatureClass = "unknown"
    spaces: Spaces = ()


def _part(line: Assembly, _catalog: Catalog) -> Part:
    return Part(
        faces={"left": Face("edge", line.left_form), "right": Face("edge", line.right_form)},
        paths=tuple(Path(Spot("left", n), Spot("right", n)) for n in (1, 2)),
        traits=Traits(
            realm="copper",
            line=True,
            length_m=line.length_m,
            conductors=line.made != "active optical",
            spaces=line.spaces,
            jacket="general",
            temperature_class=line.temperature_class,
            codings={"left": line.left_coding, "right": line.right_coding},
            electrics=Electrics("", (line.rate_mbps,), line.reach_m, made=line.made, legs=line.legs),
        ),
    )


def _turned(line: Assembly) -> Assembly:
    forms = {"left_form": line.right_form, "right_form": line.left_form}
    return line.model_copy(update={**forms, "left_coding": line.right_coding, "right_coding": line.left_coding})


def _fitted(gap: Gap) -> Assembly:
    """The fastest of one leg that both cages take, a metre long."""
    rows = [
        row
        for row in copper_figures().assembly
        if row.legs == 1 and row.rate_mbps <= gap.fastest_mbps and row.form in gap.forms
    ]
    row = max(rows, key=lambda one: one.rate_mbps, default=None)
    if row is None:
        return Assembly(length_m=USUAL_M)
    return Assembly(
        length_m=USUAL_M, made=row.made, left_form=row.form, right_form=row.form, rate_mbps=row.rate_mbps
    )


def _names(line: Assembly, catalog: Catalog) -> Names:
    yield "left_form", lambda: catalog.form(line.left_form)
    yield "right_form", lambda: catalog.form(line.right_form)


def _needs(line: Assembly, _catalog: Catalog) -> tuple[Need, ...]:
    ends = (
        joined(form, f"coded {coding}" if coding else "coding to be said")
        for form, coding in ((line.left_form, line.left_coding), (line.right_form, line.right_coding))
    )
    words = joined(
        f"direct-attach assembly, {line.made}",
        format_rate(line.rate_mbps),
        f"{line.legs} legs" if line.legs > 1 else "",
        ends_words(*ends),
        length_words(line.length_m, sold_cord_m),
    )
    price = (assembly_item(line.rate_mbps * line.legs, line.made), 1)
    return (Need(words, 1, "optics and boxes", "plug", "modules", (price,)),)


SPEC = KindSpec(
    record=Assembly,
    order=120,
    word="assembly",
    title="direct-attach assembly",
    part=_part,
    words={
        "label": "Label",
        "length_m": "Length",
        "made": "Made",
        "left_form": "Left plug",
        "right_form": "Right plug",
        "rate_mbps": "Rate of a leg",
        "legs": "Legs",
        "reach_m": "Reach of its datasheet",
        "left_coding": "Coding of the left plug",
        "right_coding": "Coding of the right plug",
        "temperature_class": "Temperature class",
        "spaces": "Passes through",
    },
    needs=_needs,
    joins=False,
    drawing="cable",
    fitted=_fitted,
    turned=_turned,
    names=_names,
    units={"length_m": "m", "reach_m": "m", "rate_mbps": "Mb/s"},
    shelves={"left_form": "forms", "right_form": "forms"},
    active=lambda line: ("assembly", line.made, ""),
)

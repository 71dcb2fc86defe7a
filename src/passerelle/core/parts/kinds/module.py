"""A module, what lights a port."""

from __future__ import annotations

from collections.abc import Iterator
from functools import partial
from typing import Annotated, Literal

from pydantic import Field

from passerelle.core.catalog.records import leg_name
from passerelle.core.catalog.shelves import Catalog
from passerelle.core.errors import EditError
from passerelle.core.parts.arrays import array_face
from passerelle.core.parts.face import Face
from passerelle.core.parts.need import Need, joined
from passerelle.core.parts.part import Optics, Part, TemperatureClass, Traits
from passerelle.core.parts.piece import Label, Piece
from passerelle.core.parts.spec import Alternative, Gap, KindSpec, Names


class Module(Piece):
    """The module in a cage. Its receptacle's connector and polish are those of its clause.

    Its port may be split into ``legs`` slower ones, each a link of its own: this one takes ``leg``, or whichever
    its cord brings where that is 0. ``also`` names other
    applications that the same module lists, at other speeds: most list only one.
    ``sold_for`` is the application that its legs are sold to face, ``lane_max_dbm`` the most that a lane of it
    sends in dBm by its datasheet: a clause lets the lanes of a fast port be brighter than a slow receiver takes.
    """

    kind: Literal["module"] = "module"
    application: str
    legs: Literal[1, 2, 4, 8, 10] = 1
    leg: Annotated[int, Field(ge=0, le=10)] = 0
    also: Annotated[tuple[Label, ...], Field(max_length=4)] = ()
    sold_for: Label = ""
    lane_max_dbm: Annotated[float, Field(ge=-30, le=20, allow_inf_nan=False)] | None = None
    form: str = ""
    coding: Label = ""
    temperature_class: TemperatureClass = "unknown"


def _part(module: Module, catalog: Catalog) -> Part:
    application = catalog.application(module.application)
    form = module.form or application.forms[0]
    array = application.array
    if array:
        opening = array_face("opening", array.plug, "APC" if application.polish == "APC" else "PC", "pins", "up")
    else:
        columns = application.fibers
        opening = Face("opening", catalog.form(form).connector, columns=columns, polish=application.polish)
    duplex = application.fibers == 2
    return Part(
        faces={"edge": Face("edge", form), "optics": opening},
        traits=Traits(
            realm="light",
            exchange="module",
            temperature_class=module.temperature_class,
            codings={"edge": module.coding},
            optics=Optics(
                application=module.application if module.legs == 1 else leg_name(module.application, module.legs),
                form=module.form,
                sends=array.sends if array else (1,),
                hears=array.hears if array else (2,) if duplex else (1,),  # of a pair 2 and 1 would do as well
                leg_of=module.legs,
                leg=module.leg,
                reorders=array.reorders if array else True,
                lane_max_dbm=module.lane_max_dbm,
                sold_for=module.sold_for,
            ),
        ),
        enter="optics",
        leave="edge",
        outward="edge",
    )


def _names(module: Module, catalog: Catalog) -> Names:
    for name in module.also:
        yield "also", partial(catalog.application, name)
    if module.sold_for:
        yield "sold_for", lambda: catalog.application(module.sold_for)
    yield "application", lambda: catalog.application(module.application)
    yield "form", lambda: _form(module, catalog)
    yield "legs", lambda: _legs(module, catalog)


def _form(module: Module, catalog: Catalog) -> None:
    forms = catalog.application(module.application).forms
    if module.form and module.form not in forms:
        made = " or ".join(forms)
        raise EditError("form", f"{module.application} is made as {made}, not as '{module.form}'")


def _legs(module: Module, catalog: Catalog) -> None:
    able = [split.legs for split in catalog.application(module.application).splits]
    if module.legs != 1 and module.legs not in able:
        can = f"can be split into {' or '.join(map(str, able))}" if able else "cannot be split"
        raise EditError(
            "legs", f"{module.application} {can}, not into {module.legs}" if able else f"{module.application} {can}"
        )
    if module.leg > module.legs or (module.leg and module.legs == 1):
        raise EditError("leg", f"there is no leg {module.leg} of {module.legs}: 0 is whichever leg the cord brings")


def _alternatives(module: Module) -> Iterator[Alternative]:
    if module.legs == 1:
        return
    for leg in range(module.legs + 1):
        if leg != module.leg:
            words = f"Count it as leg {leg} at {{name}}" if leg else "Take whichever leg the cord brings at {name}"
            yield Alternative(words=words, by="setting", values={"leg": leg})


def _fitted(gap: Gap) -> Module:
    return Module(application=gap.application)


def _needs(module: Module, catalog: Catalog) -> tuple[Need, ...]:
    words = joined(
        f"module, {module.application}",
        module.form or catalog.application(module.application).forms[0],
        f"coded {module.coding}" if module.coding else "coding to be said",
        "" if module.temperature_class == "unknown" else f"{module.temperature_class} temperatures",
        f"lists {' and '.join(module.also)} too" if module.also else "",
        f"sold for {module.legs} x {module.sold_for}" if module.sold_for and module.legs > 1 else "",
        f"a lane sends at most {module.lane_max_dbm:g} dBm" if module.lane_max_dbm is not None else "",
    )
    return (Need(words, 1, "optics and boxes", "plug", "modules", ((f"module {module.application}", 1),)),)


SPEC = KindSpec(
    record=Module,
    order=80,
    word="module",
    title="module",
    part=_part,
    words={
        "label": "Label",
        "application": "Application",
        "legs": "Split into",
        "leg": "Leg",
        "sold_for": "Legs sold for",
        "lane_max_dbm": "Lane maximum",
        "also": "Lists too",
        "form": "Form",
        "coding": "Coding",
        "temperature_class": "Temperature class",
    },
    needs=_needs,
    joins=False,
    drawing="box",
    fitted=_fitted,
    turned=None,
    names=_names,
    shelves={"application": "applications", "also": "applications", "sold_for": "applications", "form": "forms"},
    units={"lane_max_dbm": "dBm"},
    alternatives=lambda module: (
        Alternative(
            words=f"Call it leg {leg or 'whichever the cord brings'} at {{name}}", by="setting", values={"leg": leg}
        )
        for leg in range(module.legs + 1 if module.legs > 1 and not module.positions else 0)
        if leg != module.leg
    ),
    active=lambda module: ("module", module.application, module.coding),
)

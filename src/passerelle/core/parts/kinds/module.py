"""A transceiver."""

from __future__ import annotations

from functools import partial
from typing import Annotated, Literal

from pydantic import Field

from passerelle.core.catalog.shelves import Catalog
from passerelle.core.errors import EditError
from passerelle.core.parts.face import Face
from passerelle.core.parts.part import Optics, Part, TemperatureClass, Traits
from passerelle.core.parts.piece import Label, Piece
from passerelle.core.parts.spec import Gap, KindSpec, Names


class Module(Piece):
    """The transceiver in a cage. Its receptacle's connector and polish are those of its clause.

    ``also`` names other applications that the same module lists, at other speeds: most list only one.
    """

    kind: Literal["module"] = "module"
    application: str
    also: Annotated[tuple[Label, ...], Field(max_length=4)] = ()
    form: str = ""
    coding: Label = ""
    temperature_class: TemperatureClass = "unknown"


def _part(module: Module, catalog: Catalog) -> Part:
    application = catalog.application(module.application)
    form = module.form or application.forms[0]
    opening = Face("opening", catalog.form(form).connector, columns=application.fibers, polish=application.polish)
    duplex = application.fibers == 2
    return Part(
        faces={"edge": Face("edge", form), "optics": opening},
        traits=Traits(
            realm="light",
            exchange="module",
            temperature_class=module.temperature_class,
            codings={"edge": module.coding},
            optics=Optics(
                application=module.application,
                form=module.form,
                sends=(1,),
                hears=(2,) if duplex else (1,),  # by symmetry the other choice gives the same answer
            ),
        ),
        enter="optics",
        leave="edge",
        outward="edge",
    )


def _names(module: Module, catalog: Catalog) -> Names:
    for name in module.also:
        yield "also", partial(catalog.application, name)
    yield "application", lambda: catalog.application(module.application)
    yield "form", lambda: _form(module, catalog)


def _form(module: Module, catalog: Catalog) -> None:
    forms = catalog.application(module.application).forms
    if module.form and module.form not in forms:
        made = " or ".join(forms)
        raise EditError("form", f"{module.application} is made as {made}, not as '{module.form}'")


def _fitted(gap: Gap) -> Module:
    return Module(application=gap.application)


SPEC = KindSpec(
    record=Module,
    order=80,
    word="module",
    title="module",
    part=_part,
    words={
        "label": "Label",
        "application": "Application",
        "also": "Lists too",
        "form": "Form",
        "coding": "Coding",
        "temperature_class": "Temperature class",
    },
    buys=lambda module, _catalog: {f"module {module.application}": 1},
    joins=False,
    drawing="box",
    fitted=_fitted,
    turned=None,
    names=_names,
    shelves={"application": "applications", "also": "applications", "form": "forms"},
    active=lambda module: ("module", module.application, module.coding),
)

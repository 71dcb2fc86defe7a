"""A plug-in twisted-pair module."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from passerelle.core.catalog.shelves import Catalog
from passerelle.core.parts.face import Face
from passerelle.core.parts.need import Need, joined
from passerelle.core.parts.part import Electrics, Part, TemperatureClass, Traits
from passerelle.core.parts.piece import Label, LengthM, Piece, RatesMbps
from passerelle.core.parts.spec import Gap, KindSpec
from passerelle.core.units import format_rate


class Jack(Piece):
    """A plug-in twisted-pair module: it sits in a cage and offers an 8-way jack.

    ``rates_mbps`` are the rates that it lists, some only one. ``reach_m`` and ``power_w`` are its datasheet's;
    None counts the usual figures of its form.
    """

    kind: Literal["jack"] = "jack"
    form: Literal["SFP", "SFP+"] = "SFP+"
    rates_mbps: RatesMbps = ()
    reach_m: LengthM | None = None
    power_w: Annotated[float, Field(ge=0, le=20, allow_inf_nan=False)] | None = None
    coding: Label = ""
    temperature_class: TemperatureClass = "unknown"


def _part(jack: Jack, _catalog: Catalog) -> Part:
    return Part(
        faces={"edge": Face("edge", jack.form), "jack": Face("contacts", "jack", columns=8)},
        traits=Traits(
            realm="copper",
            exchange="module",
            temperature_class=jack.temperature_class,
            codings={"edge": jack.coding},
            electrics=Electrics(jack.form, jack.rates_mbps, jack.reach_m, jack.power_w),
        ),
        enter="jack",
        leave="edge",
        outward="edge",
    )


def _fitted(gap: Gap) -> Jack:
    return Jack(form="SFP" if gap.fastest_mbps <= 1000 else "SFP+")


def _needs(jack: Jack, _catalog: Catalog) -> tuple[Need, ...]:
    words = joined(
        f"twisted-pair module, {jack.form}",
        " or ".join(format_rate(rate) for rate in jack.rates_mbps),
        f"coded {jack.coding}" if jack.coding else "coding to be said",
        "" if jack.temperature_class == "unknown" else f"{jack.temperature_class} temperatures",
    )
    price = (f"plug-in twisted-pair module, {jack.form}", 1)
    return (Need(words, 1, "optics and boxes", "plug", "modules", (price,)),)


SPEC = KindSpec(
    record=Jack,
    order=110,
    word="jack",
    title="twisted-pair module",
    part=_part,
    words={
        "label": "Label",
        "form": "Form",
        "rates_mbps": "Rates that it lists",
        "reach_m": "Reach of its datasheet",
        "power_w": "Power of its datasheet",
        "coding": "Coding",
        "temperature_class": "Temperature class",
    },
    needs=_needs,
    joins=False,
    drawing="box",
    fitted=_fitted,
    turned=None,
    units={"rates_mbps": "Mb/s", "reach_m": "m", "power_w": "W"},
    active=lambda jack: ("jack", jack.form, jack.coding),
)

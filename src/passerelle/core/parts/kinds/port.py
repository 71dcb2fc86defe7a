"""A port: a cage at one end of the link, or a native twisted-pair port."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from passerelle.core.catalog.shelves import Catalog
from passerelle.core.parts.face import Face
from passerelle.core.parts.need import Need, joined
from passerelle.core.parts.part import Part, Socket, Traits
from passerelle.core.parts.piece import CodingPolicy, Ingress, Label, Piece, Temperature, Water
from passerelle.core.parts.spec import KindSpec, Names
from passerelle.core.units import format_rate

SUPPLY = (("power supply", 1.0),)
BOXES = ("media converter", "small switch")
"""Boxes that are bought with an answer, by the label of their port."""


class Port(Piece):
    """A cage at one end of the link, with the speeds that it can be set to (Mb/s).

    ``splits`` is into how many slower ports it can be split; empty where nobody knows.
    ``water`` and ``dusty`` say what its box meets, ``ingress`` what the box, or the cabinet around it, stands.
    """

    kind: Literal["port"] = "port"
    place: Label = ""
    cage: str
    rates_mbps: tuple[int, ...] = ()
    splits: Annotated[tuple[Literal[2, 4, 8, 10], ...], Field(max_length=4)] = ()
    coding_policy: CodingPolicy = "any"
    own_above_mbps: Annotated[int, Field(ge=0, le=1_000_000)] = 0
    make: Label = ""
    coldest_c: Temperature | None = None
    hottest_c: Temperature | None = None
    water: Water = "dry"
    dusty: bool = False
    ingress: Ingress = "unknown"

    @property
    def fixed_rate(self) -> bool:
        """A plain converter has one speed and cannot be set."""
        return len(self.rates_mbps) == 1


def _part(port: Port, _catalog: Catalog) -> Part:
    socket = Socket(
        cage=port.cage,
        rates_mbps=port.rates_mbps,
        policy=port.coding_policy,
        own_above_mbps=port.own_above_mbps,
        make=port.make,
        place=port.place,
        label=port.label,
        coldest_c=port.coldest_c,
        hottest_c=port.hottest_c,
        water=port.water,
        dusty=port.dusty,
        ingress=port.ingress,
        splits=port.splits,
    )
    return Part(
        faces={"cage": Face("cage", port.cage)}, traits=Traits(socket=socket), enter="cage", leave="", outward=""
    )


def _needs(port: Port, _catalog: Catalog) -> tuple[Need, ...]:
    """A box that is bought with the link, and its supply; a cabinet where it gets wet."""
    found: list[Need] = []
    if port.label in BOXES:
        words = joined(port.label, f"cage {port.cage}", " or ".join(format_rate(rate) for rate in port.rates_mbps))
        found.append(Need(words, 1, "optics and boxes", "plug", "boxes", ((port.label, 1),)))
        found.append(Need(f"power supply for a {port.label}", 1, "optics and boxes", "plug", "boxes", SUPPLY))
    if port.water != "dry":
        words = f"cabinet against water, {port.ingress if port.ingress != 'unknown' else 'class to be said'}"
        price = (("cabinet against water", 1),)
        found.append(Need(words, 1, "optics and boxes", "pull", "boxes", price))
    return tuple(found)


def _names(port: Port, catalog: Catalog) -> Names:
    yield "cage", lambda: catalog.cage(port.cage)


SPEC = KindSpec(
    record=Port,
    order=10,
    word="port",
    title="port",
    part=_part,
    words={
        "label": "Label",
        "place": "Place",
        "cage": "Cage",
        "rates_mbps": "Speeds",
        "splits": "Can be split into",
        "coding_policy": "Module coding",
        "own_above_mbps": "Own make above",
        "make": "Make of the port",
        "coldest_c": "Coldest air",
        "hottest_c": "Hottest air",
        "water": "Water at the box",
        "dusty": "Dust at the box",
        "ingress": "Box or cabinet",
    },
    needs=_needs,
    joins=False,
    drawing="box",
    fitted=None,
    turned=None,
    names=_names,
    units={"rates_mbps": "Mb/s", "own_above_mbps": "Mb/s", "coldest_c": "°C", "hottest_c": "°C"},
    shelves={"cage": "cages"},
    active=lambda port: ("box", port.label, "") if port.label in BOXES else None,
)

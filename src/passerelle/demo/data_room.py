"""The data room of Port-Aubier: array trunks between two rows, and one link of each kind of error on them."""

from __future__ import annotations

from collections.abc import Callable

from passerelle.core.catalog.shelves import Catalog
from passerelle.core.link.build_arrays import Backbone, duplex_link, leg_link, parallel_link, usual_backbone
from passerelle.core.link.chain import Link, with_ids
from passerelle.core.link.edits import Edit, SetFields, apply_edits
from passerelle.core.parts.kinds.port import Port

ROW_A, ROW_B = "Data room row A", "Data room row B"
LENGTH_M = 65.0
LOW_LOSS = "mated pair, low-loss"
OM4, OS2 = ("OM4",), ("OS2",)
STRAIGHT = Backbone(wiring="straight", keys="opposed", near_cord="straight", far_cord="reversed")
REVERSED = usual_backbone(angled=False)


def data_room_links(catalog: Catalog) -> list[Link]:
    """Links between the rows in the order of a walk: what lights, what is dark and why, a port that is split."""
    return [make(catalog) for make in (*_PARALLEL, *_PAIRS, *_HOSTS)]


def _ports(cage: str, rate_mbps: int, number: int) -> tuple[Port, Port]:
    near, far = (
        Port(place=place, label=f"{row} 2/{number}", cage=cage, rates_mbps=(rate_mbps,))
        for place, row in ((ROW_A, "row A"), (ROW_B, "row B"))
    )
    return near, far


def _noted(link: Link, notes: str, *edits: Edit) -> Link:
    classed = [e.id for e in link.elements if "loss_class" in type(e).model_fields]
    low = [SetFields(element=i, values={"loss_class": LOW_LOSS}) for i in classed]
    under_floor = [_set(e.id, spaces=("indoors",), jacket="general") for e in link.elements if e.kind == "trunk"]
    return with_ids(apply_edits(link, (*low, *under_floor, *edits)).model_copy(update={"notes": notes}))


def _over(
    name: str, application: str, cage: str, number: int, notes: str, *edits: Edit, backbone: Backbone | None = None
) -> Callable[[Catalog], Link]:
    """A link of parallel lanes over one of the trunks."""

    def make(catalog: Catalog) -> Link:
        optic = catalog.application(application)
        fiber = OS2 if optic.family == "single-mode" else OM4
        ports = _ports(cage, optic.rate_mbps, number)
        link = parallel_link(name, ports, optic, fiber, LENGTH_M, backbone=backbone)
        return _noted(link.model_copy(update={"wanted_rate_mbps": optic.rate_mbps}), notes, *edits)

    return make


def _pair(name: str, number: int, notes: str, *edits: Edit, backbone: Backbone) -> Callable[[Catalog], Link]:
    """A pair of 10 Gb/s through cassettes over one of the trunks."""

    def make(_catalog: Catalog) -> Link:
        ports = _ports("SFP+", 10_000, number)
        link = duplex_link(name, ports, "10GBASE-SR", OM4, LENGTH_M, backbone)
        return _noted(link.model_copy(update={"wanted_rate_mbps": 10_000}), notes, *edits)

    return make


def _host(number: int, notes: str, *edits: Edit) -> Callable[[Catalog], Link]:
    """A host of 10 Gb/s on one leg of the 40 Gb/s port."""

    def make(catalog: Catalog) -> Link:
        fast = Port(place=ROW_A, label="row A 3/1", cage="QSFP+", rates_mbps=(40_000,), splits=(4,))
        host = Port(place=ROW_A, label=f"host {number}", cage="SFP+", rates_mbps=(10_000,))
        optics = catalog.application("40G-parallel-300m"), catalog.application("10GBASE-SR")
        link = leg_link(f"Row A, host {number}", (fast, host), *optics, OM4, 5.0, legs=4, leg=number)
        return _noted(link.model_copy(update={"wanted_rate_mbps": 10_000}), notes, *edits)

    return make


def _set(element: str, **values: object) -> Edit:
    return SetFields(element=element, values=values)


_PARALLEL = (
    _over("Rows 40G", "40GBASE-SR4", "QSFP+", 1, "Trunk 1, reversed, pinned; cords without pins."),
    _over("Rows 100G", "100GBASE-SR4", "QSFP28", 2, "The next speed on a trunk like trunk 1."),
    _over("Rows 40G, spare cord", "40GBASE-SR4", "QSFP+", 3, "A cord with pins was at hand.",
          _set("array-cord-1", right_pins="pins")),
    _over("Rows 40G, cassette trunk", "40GBASE-SR4", "QSFP+", 4, "The trunk was bought for cassettes.",
          _set("trunk-1", left_pins="holes", right_pins="holes")),
    _over("Rows 40G, straight trunk", "40GBASE-SR4", "QSFP+", 5, "The label says straight, the cords are reversed.",
          _set("trunk-1", wiring="straight")),
    _over("Rows 100G, other adapter", "100GBASE-SR4", "QSFP28", 6, "An adapter of the other kind was left over.",
          _set("panel-2", keys="opposed")),
    _over("Rows 100G, pairs flipped", "100GBASE-SR4", "QSFP28", 7, "A pair-flipped trunk; no cord undoes it.",
          _set("trunk-1", wiring="pair-flipped, reversed")),
    _over("Rows 100G, 24 fibers", "100GBASE-SR4", "QSFP28", 8, "A cord of 24 fibers goes into the same adapter.",
          _set("array-cord-2", array="24")),
    _over("Rows 400G", "400GBASE-DR4", "QSFP-DD", 9, "Single-mode trunk, angled."),
    _over("Rows 400G, keys aligned", "400GBASE-DR4", "QSFP-DD", 10, "The adapter is one of the multimode panels.",
          _set("panel-1", keys="aligned")),
    _over("Rows 400G, flat cord", "400GBASE-DR4", "QSFP-DD", 11, "The cord is flat, from the multimode drawer.",
          _set("array-cord-1", polish="PC")),
    _over("Rows 400G, eight lanes", "400GBASE-SR8", "QSFP-DD", 12, "Sixteen fibers wanted, twelve are there.",
          _set("trunk-1", array="12")),
)  # fmt: skip
_PAIRS = (
    _pair("Rows 10G, front 1", 13, "Through cassettes of a reversed set.", backbone=REVERSED),
    _pair("Rows 10G, crossed twice", 14, "A straight trunk, crossed cords at both ends.", backbone=STRAIGHT),
    _pair("Rows 10G, straight cassettes", 15, "A reversed trunk between cassettes of a straight set.",
          _set("cassette-2", inner="in order"), backbone=REVERSED),
    _pair("Rows 10G, fixed clips", 16, "As the crossed ones, with clips that do not open.",
          _set("cord-1", clip="fixed"), _set("cord-2", clip="fixed"), backbone=STRAIGHT),
)  # fmt: skip
_HOSTS = (
    _host(1, "One 40 Gb/s port over three hosts; the fourth leg is spare."),
    _host(2, "The second leg."),
    _host(3, "Plugged to the fourth leg by its label.", _set("breakout-1", leg=4)),
)

"""An adapter in a panel or outlet, for a pair or an array."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Literal

from passerelle.core.catalog.shelves import Catalog
from passerelle.core.parts.arrays import SHAPES, name_of
from passerelle.core.parts.need import Need, joined
from passerelle.core.parts.part import Mating, OfAllowance
from passerelle.core.parts.piece import LOSS_CLASS_WORDS, AdapterShape, LossClass, Piece
from passerelle.core.parts.spec import Alternative, Gap, KindSpec, alike


class Panel(Piece):
    """A duplex or array adapter in a panel or outlet. It mates what is plugged in on its two sides.

    The loss class ``mated pair`` counts what the house's allowance profile says; the others count their own.
    ``asks_angled``: a provider or a video service asks for angled faces here.
    """

    kind: Literal["panel"] = "panel"
    shape: AdapterShape
    keys: Literal["aligned", "opposed"] = "aligned"
    loss_class: LossClass = "mated pair"
    asks_angled: bool = False


def _part(panel: Panel, _catalog: Catalog) -> Mating:
    return Mating(
        takes="plug",
        realm="light",
        word="adapter",
        shape=panel.shape,
        keys=panel.keys,
        term=OfAllowance(panel.loss_class, "mated pair"),
        asks="APC" if panel.asks_angled else None,
    )


def _alternatives(panel: Panel) -> Iterator[Alternative]:
    other = "opposed" if panel.keys == "aligned" else "aligned"
    words = f"Put an adapter with keys {other} into {{name}}"
    yield Alternative(words=words, by="adapter", values={"keys": other})


def _fitted(gap: Gap) -> Panel:
    beside = next((face for face in (gap.left, gap.right) if name_of(face)), None)
    if beside is None:
        return Panel(shape=gap.left_shape)
    shape: AdapterShape = "MPO-16" if beside.shape == "MPO-16" else "MPO"
    return Panel(shape=shape, keys="opposed" if beside.polish == "APC" else "aligned")


def _needs(panel: Panel, _catalog: Catalog) -> tuple[Need, ...]:
    array = panel.shape in SHAPES
    words = joined(
        f"adapter, {panel.shape}" if array else f"adapter, {panel.shape}, duplex",
        f"keys {panel.keys}" if array else "",
        "angled faces" if panel.asks_angled else "",
        "" if panel.loss_class == "mated pair" else LOSS_CLASS_WORDS[panel.loss_class],
    )
    return (Need(words, 1, "cords and panels", "terminate", "joints", (("panel", 1),)),)


SPEC = KindSpec(
    record=Panel,
    order=30,
    word="panel",
    title="panel",
    part=_part,
    words={
        "label": "Label",
        "shape": "Adapter",
        "keys": "Keys",
        "loss_class": "Loss class",
        "asks_angled": "Angled faces are asked for",
    },
    needs=_needs,
    joins=True,
    in_frames=True,
    drawing="joint",
    fitted=_fitted,
    turned=alike,
    alternatives=_alternatives,
    skill=lambda _panel: 1,
)

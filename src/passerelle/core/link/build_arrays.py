"""Complete chains over arrays: parallel lanes over a trunk, one leg of a split port, a pair over a backbone."""

from __future__ import annotations

from typing import Literal

from passerelle.core.catalog.records import Application, Polish
from passerelle.core.link.chain import Link, with_ids
from passerelle.core.parts.array_cable import Wiring
from passerelle.core.parts.arrays import ARRAYS, ArrayName, ArrayPolish, Inner
from passerelle.core.parts.kinds.array_cord import ArrayCord
from passerelle.core.parts.kinds.breakout import Breakout
from passerelle.core.parts.kinds.cassette import Cassette
from passerelle.core.parts.kinds.cord import Cord
from passerelle.core.parts.kinds.module import Module
from passerelle.core.parts.kinds.panel import Panel
from passerelle.core.parts.kinds.port import Port
from passerelle.core.parts.kinds.trunk import Trunk
from passerelle.core.parts.piece import Plug, Shape
from passerelle.core.parts.registry import Element
from passerelle.core.sources import Frozen

CORD_M = 2.0
FRONT_SHAPE: Shape = "LC"
Keys = Literal["aligned", "opposed"]


class Backbone(Frozen):
    """One consistent set of parts for a backbone of arrays.

    The trunk's ``wiring`` and the ``keys`` of everything that it enters; for parallel lanes the wiring of the array
    cord at each end; for a pair what the cassette at each end does inside, and whether the duplex cord there is
    crossed. Pins are in the trunk where array cords are plugged to it (``trunk_pinned``), in the cassettes else.
    """

    wiring: Wiring
    keys: Keys
    near_cord: Wiring
    far_cord: Wiring
    near_inner: Inner = "in order"
    far_inner: Inner = "in order"
    near_crossed: bool = True
    far_crossed: bool = True


def usual_backbone(angled: bool) -> Backbone:
    """The set with the same cords at both ends: a reversed trunk; angled arrays seat only with keys opposed."""
    return Backbone(
        wiring="reversed",
        keys="opposed" if angled else "aligned",
        near_cord="reversed",
        far_cord="reversed",
        near_inner="in order",
        far_inner="ports reversed",
    )


def array_polish(application: Application) -> ArrayPolish:
    """The polish of the arrays that its clause asks for."""
    return "APC" if application.polish == "APC" else "PC"


def trunk_array(application: Application) -> ArrayName:
    """The trunk that carries it: twelve positions where eight would do."""
    assert application.array is not None  # asked of parallel applications only
    name: ArrayName = next(one for one in ARRAYS.values() if one.name == application.array.plug).name
    return "12" if name == "8" else name


def parallel_link(
    name: str,
    ports: tuple[Port, Port],
    application: Application,
    fiber: tuple[str, ...],
    length_m: float | None,
    *,
    backbone: Backbone | None = None,
    cord_only: bool = False,
    cord_m: float = CORD_M,
    form: str = "",
) -> Link:
    """Port to port over a trunk between two adapters, or over one array cord."""
    set_ = backbone or usual_backbone(application.polish == "APC")
    polish, array = array_polish(application), trunk_array(application)
    module = Module(application=application.name, form=form)

    def cord(wiring: Wiring, metres: float | None) -> ArrayCord:
        return ArrayCord(length_m=metres, fiber=fiber, array=array, wiring=wiring, polish=polish)

    if cord_only:
        middle: list[Element] = [cord("reversed", length_m)]
    else:
        panel = Panel(shape=ARRAYS[array].shape, keys=set_.keys)
        trunk = Trunk(length_m=length_m, fiber=fiber, array=array, wiring=set_.wiring, polish=polish)
        middle = [cord(set_.near_cord, cord_m), panel, trunk, panel, cord(set_.far_cord, cord_m)]
    return with_ids(Link(name=name, elements=(ports[0], module, *middle, module, ports[1])))


def duplex_link(
    name: str,
    ports: tuple[Port, Port],
    application: str,
    fiber: tuple[str, ...],
    length_m: float | None,
    backbone: Backbone,
    *,
    array: ArrayName = "12",
    front: int = 1,
    polishes: tuple[Polish, ArrayPolish] = ("PC", "PC"),
    at_module: Shape = "LC",
) -> Link:
    """A pair over a backbone: duplex cord, cassette, trunk without pins, cassette, duplex cord.

    Args:
        polishes: of the duplex plugs and of the arrays.
        at_module: the shape of the plugs in the modules.
    """
    outside, inside = (Plug(shape=shape, polish=polishes[0]) for shape in (at_module, FRONT_SHAPE))

    def cord(crossed: bool, left: Plug, right: Plug) -> Cord:
        return Cord(length_m=CORD_M, fiber=fiber, left=left, right=right, crossed=crossed)

    def cassette(inner: Inner, rear: Literal["left", "right"]) -> Cassette:
        return Cassette(
            array=array,
            inner=inner,
            front=front,
            rear=rear,
            rear_keys=backbone.keys,
            rear_polish=polishes[1],
            front_polish=polishes[0],
        )

    trunk = Trunk(
        length_m=length_m,
        fiber=fiber,
        array=array,
        wiring=backbone.wiring,
        polish=polishes[1],
        left_pins="holes",
        right_pins="holes",
    )
    module = Module(application=application)
    middle: tuple[Element, ...] = (
        cord(backbone.near_crossed, outside, inside),
        cassette(backbone.near_inner, "right"),
        trunk,
        cassette(backbone.far_inner, "left"),
        cord(backbone.far_crossed, inside, outside),
    )
    return with_ids(Link(name=name, elements=(ports[0], module, *middle, module, ports[1])))


def leg_link(
    name: str,
    ports: tuple[Port, Port],
    fast: Application,
    slow: Application,
    fiber: tuple[str, ...],
    length_m: float | None,
    *,
    legs: int,
    leg: int,
    form: str = "",
    over_trunk: bool = False,
) -> Link:
    """One leg of a split port: the fast module, a breakout cord, the slower module at the end of its leg.

    Args:
        leg: the number of the leg, 0 for whichever; the cord's first is drawn then.
        over_trunk: the breakout cord is at the far end of a trunk, which has the length.
    """
    assert fast.array is not None  # asked of parallel applications only
    polish = array_polish(fast)
    flat: Polish = "UPC" if fast.family == "single-mode" else "PC"
    array: ArrayName = next(one for one in ARRAYS.values() if one.name == fast.array.plug).name
    cord = Breakout(
        length_m=CORD_M if over_trunk else length_m,
        fiber=fiber,
        array=array,
        leg=max(leg, 1),
        head_polish=polish,
        leg_polish=flat,
    )
    split = Module.model_validate({"application": fast.name, "legs": legs, "leg": leg, "form": form})
    middle: list[Element] = [cord]
    if over_trunk:
        whole = parallel_link("-", ports, fast, fiber, length_m)
        middle = [*whole.elements[2:6], cord]  # cord, adapter, trunk, adapter, and then the legs
    middle = [e.model_copy(update={"id": ""}) for e in middle]
    return with_ids(Link(name=name, elements=(ports[0], split, *middle, Module(application=slow.name), ports[1])))

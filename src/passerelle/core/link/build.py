"""Complete chains from a few answers, with light and polarity right from the start."""

from __future__ import annotations

from dataclasses import dataclass
from typing import cast

from passerelle.core.catalog.records import Application, Polish
from passerelle.core.catalog.shelves import Catalog
from passerelle.core.link.build_arrays import parallel_link
from passerelle.core.link.chain import Link, with_ids
from passerelle.core.parts.kinds.cord import Cord
from passerelle.core.parts.kinds.module import Module
from passerelle.core.parts.kinds.panel import Panel
from passerelle.core.parts.kinds.pigtail import Pigtail
from passerelle.core.parts.kinds.port import Port
from passerelle.core.parts.kinds.run import Run
from passerelle.core.parts.kinds.splice import Splice
from passerelle.core.parts.piece import Plug, Shape, Strands
from passerelle.core.parts.registry import Element

NEW_GRADES = ("OM4", "OS2")
"""The grades that are pulled today where nobody asks for another."""


@dataclass(frozen=True)
class LinkEnd:
    """One end of a link to build: the place, the port's label and cage, and its speeds in Mb/s."""

    place: str
    label: str
    cage: str
    rates_mbps: tuple[int, ...]


def cage_for(catalog: Catalog, application: str) -> str:
    """The plainest cage that takes this application's module in its usual form."""
    usual = catalog.application(application).forms[0]
    fitting = [cage for cage in catalog.cages.values() if usual in cage.accepts]
    return min(fitting, key=lambda cage: cage.max_rate_mbps).name


def form_for(application: Application, cage: str, catalog: Catalog) -> str:
    """The module form of the application that a cage takes (any, where it is not said); empty where none does."""
    takes = catalog.cage(cage).accepts if cage else application.forms
    return next((form for form in application.forms if form in takes), "")


def _at_module(application: Application, cage: str, polish: Polish, catalog: Catalog) -> Plug:
    """The plug that goes into the application's module in a cage: the connector of its form, else the clause's."""
    form = form_for(application, cage, catalog)
    shape = catalog.form(form).connector if form else application.connector
    return Plug(shape=cast(Shape, shape), polish=polish)


def build_link(
    name: str,
    near: LinkEnd,
    far: LinkEnd,
    application: str,
    grade: tuple[str, ...],
    length_m: float | None,
    catalog: Catalog,
    *,
    pairs: int = 2,
    splices: int = 0,
    pigtails: bool = False,
    cord_only: bool = False,
    cord_m: float = 2.0,
    shape: Shape = "LC",
    wanted_rate_mbps: int | None = None,
) -> Link:
    """A chain from port to port with ``pairs`` adapters and ``splices``, all length in the run.

    ``cord_only`` makes one cord of it. With ``pigtails`` the run is bare, with a pigtail spliced on at each end.
    Cords are crossed and so is the run: with adapters that mirror, the crossings come out odd for any number
    of pairs, and the link lights. An application over arrays has array cords and a trunk between two adapters.

    Raises:
        CatalogError: the application or a grade is not in the catalog.
    """
    optic = catalog.application(application)
    if optic.array:
        here, there = (
            Port(label=e.label, place=e.place, cage=e.cage, rates_mbps=e.rates_mbps) for e in (near, far)
        )
        form = form_for(optic, near.cage, catalog)
        link = parallel_link(
            name,
            (here, there),
            optic,
            grade,
            length_m,
            cord_only=cord_only or pairs == 0,
            cord_m=cord_m,
            form="" if form == optic.forms[0] else form,
        )
        return link.model_copy(update={"wanted_rate_mbps": wanted_rate_mbps})
    polish: Polish = "UPC" if grade and catalog.fiber(grade[0]).family == "single-mode" else "PC"
    inside = Plug(shape=shape, polish=polish)
    near_plug, far_plug = (_at_module(optic, end.cage, polish, catalog) for end in (near, far))

    strands: Strands = 1 if optic.fibers == 1 else 2

    def cord(left: Plug, right: Plug) -> Cord:
        return Cord(length_m=cord_m, fiber=grade, left=left, right=right, crossed=strands == 2, strands=strands)

    middle: list[Element] = []
    for number in range(1, 0 if cord_only else pairs):
        left = near_plug if number == 1 else inside
        middle += [cord(left, inside), Panel(shape=shape, label=f"P{number}")]
    ends = (near_plug if pairs < 2 else inside, inside if pairs else far_plug)
    crossed = strands == 2
    if cord_only:
        middle.append(cord(near_plug, far_plug).model_copy(update={"length_m": length_m}))
    else:
        run = Run(length_m=length_m, fiber=grade, left=ends[0], right=ends[1], crossed=crossed, strands=strands)
        middle += _spliced(run) if pigtails else _run(run, splices)
    if pairs and not cord_only:
        middle += [Panel(shape=shape, label=f"P{pairs}"), cord(inside, far_plug)]
    elements = (
        Port(label=near.label, place=near.place, cage=near.cage, rates_mbps=near.rates_mbps),
        Module(application=optic.name),
        *middle,
        Module(application=optic.partner or optic.name),
        Port(label=far.label, place=far.place, cage=far.cage, rates_mbps=far.rates_mbps),
    )
    return with_ids(Link(name=name, wanted_rate_mbps=wanted_rate_mbps, elements=elements))


def _spliced(whole: Run) -> list[Element]:
    """The run as bare fiber between two pigtails of one metre."""

    def pigtail(left: Plug | None, right: Plug | None) -> Pigtail:
        return Pigtail(length_m=1.0, fiber=whole.fiber, left=left, right=right, strands=whole.strands)

    bare = whole.model_copy(update={"left": None, "right": None})
    return [pigtail(whole.left, None), Splice(), bare, Splice(), pigtail(None, whole.right)]


def like(link: Link, name: str, near_place: str, far_place: str) -> Link:
    """The same chain between two other places: what names a single port or panel is left out."""
    last = len(link.elements) - 1
    elements: list[Element] = []
    for number, element in enumerate(link.elements):
        update: dict[str, str] = {"label": ""}
        if isinstance(element, Port):
            update["place"] = near_place if number == 0 else far_place if number == last else element.place
        elements.append(element.model_copy(update=update))
    return link.model_copy(update={"name": name, "notes": "", "elements": tuple(elements)})


def _run(whole: Run, splices: int) -> list[Element]:
    """The run in one piece, or cut by splices with all its length in the first piece."""
    if splices == 0:
        return [whole]
    pieces: list[Element] = [whole.model_copy(update={"right": None})]
    rest = whole.model_copy(update={"length_m": 0.0, "crossed": False, "left": None})
    for number in range(1, splices + 1):
        last = number == splices
        pieces += [Splice(), rest if last else rest.model_copy(update={"right": None})]
    return pieces

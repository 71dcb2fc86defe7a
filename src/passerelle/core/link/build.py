"""Complete chains from a few answers, with light and polarity right from the start."""

from __future__ import annotations

from dataclasses import dataclass

from passerelle.core.catalog.records import Polish
from passerelle.core.catalog.shelves import Catalog
from passerelle.core.link.chain import Link, with_ids
from passerelle.core.link.elements import Cord, Element, Module, Panel, Plug, Port, Run, Shape, Splice


@dataclass(frozen=True)
class LinkEnd:
    """One end of a link to build: the place, the port's label and cage, and its speeds in Mb/s."""

    place: str
    label: str
    cage: str
    rates_mbps: tuple[int, ...]


def cage_for(catalog: Catalog, application: str) -> str:
    """The plainest cage that takes this application's module."""
    forms = catalog.application(application).forms
    fitting = [cage for cage in catalog.cages.values() if set(forms) & set(cage.accepts)]
    return min(fitting, key=lambda cage: cage.max_rate_mbps).name


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
    cord_m: float = 2.0,
    shape: Shape = "LC",
    wanted_rate_mbps: int | None = None,
) -> Link:
    """A chain from port to port with ``pairs`` adapters and ``splices``, all length in the run.

    Cords are crossed and so is the run: with couplers that mirror, the crossings come out odd for any number
    of pairs, and the link lights.

    Raises:
        CatalogError: the application or a grade is not in the catalog.
    """
    optic = catalog.application(application)
    polish: Polish = "UPC" if grade and catalog.fiber(grade[0]).family == "single-mode" else "PC"
    inside = Plug(shape=shape, polish=polish)
    at_module = Plug(shape="LC", polish=polish)

    def cord(left: Plug, right: Plug) -> Cord:
        return Cord(length_m=cord_m, fiber=grade, left=left, right=right, crossed=True)

    middle: list[Element] = []
    for number in range(1, pairs):
        left = at_module if number == 1 else inside
        middle += [cord(left, inside), Panel(shape=shape, label=f"P{number}")]
    middle += _run(length_m, grade, at_module if pairs < 2 else inside, inside if pairs else at_module, splices)
    if pairs:
        middle += [Panel(shape=shape, label=f"P{pairs}"), cord(inside, at_module)]
    elements = (
        Port(label=near.label, place=near.place, cage=near.cage, rates_mbps=near.rates_mbps),
        Module(application=optic.name),
        *middle,
        Module(application=optic.name),
        Port(label=far.label, place=far.place, cage=far.cage, rates_mbps=far.rates_mbps),
    )
    return with_ids(Link(name=name, wanted_rate_mbps=wanted_rate_mbps, elements=elements))


def _run(length_m: float | None, grade: tuple[str, ...], left: Plug, right: Plug, splices: int) -> list[Element]:
    if splices == 0:
        return [Run(length_m=length_m, fiber=grade, left=left, right=right, crossed=True)]
    pieces: list[Element] = [Run(length_m=length_m, fiber=grade, left=left, right=None, crossed=True)]
    for number in range(1, splices + 1):
        last = number == splices
        pieces += [Splice(), Run(length_m=0, fiber=grade, left=None, right=right if last else None)]
    return pieces

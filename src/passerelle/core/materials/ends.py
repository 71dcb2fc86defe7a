"""What goes with a cable: its ends with their trays, adapters and frames, its splices, and what its way asks."""

from __future__ import annotations

import math
from collections.abc import Collection, Iterator

from passerelle.core.catalog.material_figures import material_figures
from passerelle.core.catalog.records import Space
from passerelle.core.catalog.shelves import Catalog
from passerelle.core.house import HouseRules
from passerelle.core.parts.kinds.panel import Panel
from passerelle.core.parts.kinds.pigtail import USUAL_M, Pigtail
from passerelle.core.parts.kinds.run import Run
from passerelle.core.parts.need import Need, SpareClass, When, Where
from passerelle.core.parts.piece import Plug
from passerelle.core.parts.registry import needs_of
from passerelle.core.plant.records import Cable, CableEnd

FRAME_HOLES = 24


def thing(
    words: str, item: str, where: Where, count: float = 1, when: When = "terminate", spares: SpareClass = "boxes"
) -> Need:
    """A line of one item of the price list."""
    return Need(words, count, where, when, spares, ((item, 1.0),))


def trays(splices: int) -> Need:
    """The trays for some splices."""
    each = material_figures().splicing.tray_splices
    words = f"splice tray, {each} splices"
    return thing(words, "splice tray", "splicing and closures", math.ceil(splices / each))


def protectors(splices: int) -> Need:
    """One protector for each fiber that is spliced."""
    return Need("splice protector", splices, "splicing and closures", "terminate", "joints", (("splice", 1.0),))


def end_needs(
    cable: Cable,
    end: CableEnd,
    strands: int,
    house: HouseRules,
    catalog: Catalog,
    *,
    with_plugs: bool,
    framed: bool,
) -> Iterator[Need]:
    """What one end of a cable asks for, beyond what links on its strands ask for themselves.

    A *panel* has a plug on each strand, adapters for pairs of them, and a frame; *pigtails* are spliced on and lie
    in trays; a *splice tray* holds strands that go on in other cable. Of an end that is coiled, or of which nobody
    said anything, nothing is asked.

    Args:
        cable: the cable, for its glass.
        end: how it ends there.
        strands: how many of its strands no link has drawn to its own end.
        house: how ends are made here.
        catalog: for the family of its glass.
        with_plugs: its plugs come with it from the factory.
        framed: a panel frame of the plan stands at that place.

    >>> from passerelle.core.catalog.shelves import load_catalog
    >>> bare = Cable(id="c", name="c", ways=("w",), fiber=("OS2",), strands=24)
    >>> needs = end_needs(bare, "panel", 24, HouseRules(), load_catalog(), with_plugs=False, framed=False)
    >>> [(need.words.split(",")[0], need.quantity) for need in needs]
    [('pigtail', 24), ('splice protector', 24), ('splice tray', 2), ('adapter', 12), ('panel frame', 1)]
    """
    if strands <= 0 or end not in ("panel", "pigtails", "splice tray"):
        return
    single = not cable.fiber or catalog.fiber(cable.fiber[0]).family == "single-mode"
    plug = Plug(shape="LC", polish="UPC" if single else "PC")
    if end == "splice tray":
        yield protectors(strands)
        yield trays(strands)
        return
    if not with_plugs:
        if house.joint_school == "mounted on site":
            run = Run(fiber=cable.fiber, strands=1, left=plug, mounted=True)
            yield from (n._replace(quantity=strands) for n in needs_of(run, catalog) if "connector" in n.words)
        else:
            pigtail = Pigtail(length_m=USUAL_M, fiber=cable.fiber, strands=1, left=plug)
            yield from (need._replace(quantity=strands) for need in needs_of(pigtail, catalog))
            yield protectors(strands)
            yield trays(strands)
    if end == "panel":
        adapters = math.ceil(strands / 2)
        panel = Panel(shape=plug.shape)
        yield from (need._replace(quantity=adapters) for need in needs_of(panel, catalog))
        if not framed:
            frames = math.ceil(adapters / FRAME_HOLES)
            words = f"panel frame, {FRAME_HOLES} holes"
            yield thing(words, "panel frame", "cords and panels", frames)


def splice_needs(splices: int, strands: int) -> Iterator[Need]:
    """The closures for some splices on the way of a cable, with trays and a protector for each strand of each."""
    if splices:
        yield thing("closure", "closure", "splicing and closures", splices)
        each = trays(strands)
        yield each._replace(quantity=each.quantity * splices)
        yield protectors(splices * strands)


def way_needs(spaces: Collection[Space], buried_m: float, entries: int = 2) -> Iterator[Need]:
    """What a way asks of each cable that goes there: seals where it enters buildings, tape over it, grips on poles.

    Args:
        spaces: what the way passes through.
        buried_m: how much of it lies in the ground without a duct, in m.
        entries: how many of its ends are inside a building.
    """
    if "between buildings" in spaces and "aerial" not in spaces and entries:
        yield thing("seal of a building entry", "entry seal", "pulling, labels and cleaning", entries, "pull")
    if "buried" in spaces and buried_m > 0:
        price = (("warning tape, a metre", 1.0),)
        yield Need("warning tape", buried_m, "pulling, labels and cleaning", "pull", "cable", price, unit="m")
    if "aerial" in spaces:
        yield thing("dead-end grip", "dead-end grip", "pulling, labels and cleaning", 2, "pull")


def pulling_eye() -> Need:
    """What a cable is drawn by."""
    words = "pulling eye with swivel"
    return thing(words, words, "pulling, labels and cleaning", 1, "pull")

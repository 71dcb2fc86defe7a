"""What a project asks for: every piece and part that is not there, each once, with the lines it is bought as."""

from __future__ import annotations

import math
from collections import Counter, defaultdict
from collections.abc import Collection, Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass, field
from typing import NamedTuple

from passerelle.core.catalog.material_figures import material_figures
from passerelle.core.catalog.shelves import Catalog
from passerelle.core.house import HouseRules
from passerelle.core.link.chain import Link, ports
from passerelle.core.materials.ends import (
    end_needs,
    protectors,
    pulling_eye,
    splice_needs,
    thing,
    trays,
    way_needs,
)
from passerelle.core.materials.lengths import OrderLength, cable_length, run_length
from passerelle.core.materials.split_ports import SplitPorts
from passerelle.core.parts.array_cable import ArrayCable
from passerelle.core.parts.kinds.run import Run, cable_words
from passerelle.core.parts.kinds.splice import Splice
from passerelle.core.parts.need import Need, When, joined
from passerelle.core.parts.piece import NEW_STATES, Glass, Line, Piece, State
from passerelle.core.parts.registry import Element, needs_of, spec_of
from passerelle.core.plant.lying import lies
from passerelle.core.plant.passes import spaces_of
from passerelle.core.plant.records import Cable
from passerelle.core.plant.site import Plant
from passerelle.core.rules.splices import splices_assumed

DRAWN_IN = ("duct", "conduit", "riser")
"""Ways through which a cable is drawn by an eye."""


class Asker(NamedTuple):
    """Who asks for a line: a piece of a link, a row of the plan, or the project; ``key`` is its own for good."""

    key: str
    words: str
    place: str
    link: int = 0
    link_name: str = ""
    element: str = ""
    shelf: str = ""
    row: str = ""


class Asked(NamedTuple):
    """A line of what somebody asks for, and how the length of what is cut or made is known.

    ``gone_back`` is how many times it came and was sent back, ``again`` whether it is on order since.
    """

    need: Need
    asker: Asker
    length: OrderLength | None = None
    gone_back: int = 0
    again: bool = False


class Lack(NamedTuple):
    """What is missing before a piece can be ordered."""

    asker: Asker
    what: str


@dataclass(frozen=True)
class Scope:
    """A project as its bill sees it. ``ordered`` are the keys of what stands in an order that was placed, ``came``
    is how many times each was delivered.
    """

    links: Sequence[tuple[int, Link]]
    plant: Plant
    house: HouseRules
    catalog: Catalog
    ordered: Collection[str] = ()
    came: Mapping[str, int] = field(default_factory=dict)
    lying: Mapping[str, Sequence[Glass]] = field(default_factory=dict)

    def gone_back(self, state: State, key: str) -> int:
        """How many times something came and went back: it is wanted again, or on order, and was here before."""
        return max(0, self.came.get(key, 0) - (state not in ("planned", "ordered")))

    def again(self, state: State, key: str) -> bool:
        """Whether something that came and went back is on order again."""
        return state == "ordered" and self.came.get(key, 0) > 0

    def counts(self, state: State, key: str) -> bool:
        """Whether something is bought: what is new, and what stands in an order whatever became of it since."""
        return state in NEW_STATES or (state in ("installed", "tested") and key in self.ordered)


def scope_of(
    links: Sequence[tuple[int, Link]],
    plant: Plant,
    house: HouseRules,
    catalog: Catalog,
    ordered: Collection[str] = (),
    came: Mapping[str, int] | None = None,
) -> Scope:
    """A project with what lies on each of its cables."""
    lying: dict[str, list[Glass]] = defaultdict(list)
    for _, link in links:
        for element in link.elements:
            if element.part and lies(element):
                lying[element.part].append(element)
    return Scope(links, plant, house, catalog, ordered, came or {}, lying)


def as_ordered(piece: Piece) -> Piece:
    """A piece as it was ordered, where it arrived otherwise."""
    if not piece.ordered:
        return piece
    return piece.model_copy(update={one.field: one.value for one in piece.ordered} | {"ordered": ()})


def cable_as_ordered(cable: Cable) -> Cable:
    """A cable of the plan as it was ordered, where it arrived otherwise."""
    if not cable.ordered:
        return cable
    return cable.model_copy(update={one.field: one.value for one in cable.ordered} | {"ordered": ()})


def asked_for(scope: Scope) -> Iterator[Asked]:
    """Every line that a project asks for: pieces of links, rows of the plan, and what goes with them."""
    splices: Counter[str] = Counter()
    split = SplitPorts()
    faces = 0
    for number, link in scope.links:
        places = _places(link)
        again = split.bought_before(link)
        for position, element in enumerate(link.elements):
            faces += 0 if position in again else _faces(element)
            if element.part or not scope.counts(element.state, element.key):
                continue
            place = places[position * 2 >= len(link.elements)]
            asker = Asker(element.key, _said(element), place, number, link.name, element.id)
            back = scope.gone_back(element.state, element.key)
            for asked in _of_piece(element, asker, scope):
                if back:
                    asked = asked._replace(gone_back=back, again=scope.again(element.state, element.key))
                if position in again:
                    yield asked._replace(need=asked.need._replace(quantity=0))
                    continue
                if isinstance(element, Splice) and asked.need.words == "splice protector":
                    splices[place] += int(asked.need.quantity)
                yield asked
    yield from _of_plan(scope)
    yield from _trays(splices)
    yield from _cleaners(faces)


def lacks(scope: Scope) -> Iterator[Lack]:
    """What is missing of pieces that are to be bought: a length, or a grade that is not one."""
    for number, link in scope.links:
        for position, element in enumerate(link.elements):
            found = () if element.part else _lacking(element)
            if found and scope.counts(element.state, element.key):
                place = _places(link)[position * 2 >= len(link.elements)]
                asker = Asker(element.key, _said(element), place, number, link.name, element.id)
                yield from (Lack(asker, what) for what in found)
    for cable in scope.plant.cables:
        if scope.counts(cable.state, cable.key) and len(cable.fiber) != 1:
            yield Lack(_of_row(cable, scope.plant), "grade")


def _lacking(element: Element) -> tuple[str, ...]:
    length = ("length",) if isinstance(element, Line) and element.length_m is None else ()
    grade = ("grade",) if isinstance(element, Glass) and len(element.fiber) != 1 else ()
    return (*length, *grade)


def _said(element: Element) -> str:
    return f"{spec_of(element).word} {element.label}".strip()


def _places(link: Link) -> tuple[str, str]:
    ends = ports(link)
    if not ends:
        return "", ""
    return ends[0].place or ends[0].label, ends[-1].place or ends[-1].label


def _faces(element: Element) -> int:
    """How many faces are cleaned before a piece is mated."""
    return 2 if isinstance(element, Glass) and spec_of(element).skill(element) == 1 else 0


def _of_piece(element: Element, asker: Asker, scope: Scope) -> Iterator[Asked]:
    bought = as_ordered(element)
    length = None
    if isinstance(bought, Line) and bought.pulled and bought.length_m is not None:
        length = run_length(bought.length_m, bought.known_by, scope.house)
        bought = bought.model_copy(update={"length_m": _cut_m(bought, length, scope.catalog)})
    for need in needs_of(bought, scope.catalog):
        yield Asked(need, asker, length if need.spares == "cable" else None)
    if isinstance(bought, Run):
        splices = bought.splices
        if splices is None:
            splices = splices_assumed(bought.length_m or 0.0, scope.house.reel_m)
        yield from (Asked(need, asker) for need in splice_needs(splices, bought.strands))
        yield from (Asked(need, asker) for need in way_needs(bought.spaces, bought.length_m or 0.0))
        if {"duct", "riser"} & set(bought.spaces):
            yield Asked(pulling_eye(), asker)


def _cut_m(line: Line, length: OrderLength, catalog: Catalog) -> float:
    """What is ordered of a run: whole metres where it is made with its plugs, else with the waste of its ends."""
    made = any(need.where == "made to length" for need in needs_of(line, catalog))
    return length.made_m if made else length.total_m


def _of_plan(scope: Scope) -> Iterator[Asked]:
    plant = scope.plant
    for cable in plant.cables:
        if scope.counts(cable.state, cable.key):
            back = scope.gone_back(cable.state, cable.key)
            again = scope.again(cable.state, cable.key)
            yield from (asked._replace(gone_back=back, again=again) for asked in _of_cable(cable, scope))
    for part in plant.parts:
        if scope.counts(part.holds.state, part.key):
            asker = Asker(part.key, part.name, _named(plant, part.place), shelf="parts", row=part.id)
            held = as_ordered(part.holds)
            yield from (Asked(need, asker) for need in spec_of(held).needs(held, scope.catalog))
    for frame in plant.frames:
        asker = Asker(frame.key, frame.name, _named(plant, frame.place), shelf="frames", row=frame.id)
        if scope.counts(frame.state, frame.key):
            yield Asked(thing(f"panel frame, {frame.holes} holes", "panel frame", "cords and panels"), asker)
        for hole in frame.held:
            if hole.adapter is not None and scope.counts(hole.adapter.state, frame.key):
                yield from (Asked(n, asker) for n in spec_of(hole.adapter).needs(hole.adapter, scope.catalog))
    for tap in plant.taps:
        if scope.counts(tap.state, tap.key):
            asker = Asker(tap.key, tap.name, _named(plant, tap.place), shelf="taps", row=tap.id)
            yield from _of_closure(asker, len(tap.strands))
    for device in plant.devices:
        if device.injector == "planned":
            words = f"power injector, {device.power_class or 'class to be said'}"
            asker = Asker(device.key, device.name, _named(plant, device.place), shelf="devices", row=device.id)
            yield Asked(thing(words, "power injector", "optics and boxes", device.count, "plug"), asker)
    for line in plant.orders:
        if not line.line:
            need = Need(line.name, line.count, "cords and panels", "plug", "cable")
            yield Asked(need, Asker(line.key, line.why or "typed by hand", "", shelf="orders", row=line.id))


def _of_closure(asker: Asker, strands: int) -> Iterator[Asked]:
    """A closure with the trays that it takes, and a protector for each strand that is spliced there."""
    yield Asked(thing("closure", "closure", "splicing and closures"), asker)
    if strands:
        yield Asked(trays(strands), asker)
        yield Asked(protectors(strands), asker)


def _of_cable(cable: Cable, scope: Scope) -> Iterator[Asked]:
    """A cable of the plan: as it is drawn in the links on it, once for all of them, and what is pulled with it."""
    asker, length = _of_row(cable, scope.plant), cable_length(cable, scope.plant, scope.house)
    yield from (Asked(need, asker, length) for need in cable_needs(cable, length, scope))
    when: When = "pull"
    caps = Need("end caps, a pair", 1, "pulling, labels and cleaning", when, "boxes", (("end caps, a pair", 1.0),))
    yield Asked(caps, asker)
    ways = [scope.plant.way_of[way] for way in cable.ways]
    if any(way.kind in DRAWN_IN for way in ways):
        yield Asked(pulling_eye(), asker)
    wet = [end for end in _ends(cable, scope.plant) if _is_wet(end, scope.plant)]
    buried_m = sum(way.length_m for way in ways if way.kind == "trench")
    yield from (Asked(need, asker) for need in way_needs(spaces_of(ways), buried_m, 2 - len(wet)))
    joints = sum(tap.joint for tap in scope.plant.taps_of.get(cable.id, ()))
    splices = max(0, splices_assumed(length.laid_m, scope.house.reel_m) - joints)
    if not cable.factory_made:
        yield from (Asked(need, asker) for need in splice_needs(splices, cable.strands))
    yield from _of_ends(cable, scope)
    if wet:
        words = f"gland, {cable.diameter_mm:g} mm" if cable.diameter_mm else "gland, diameter to be said"
        yield Asked(thing(words, "gland", "splicing and closures", len(wet)), asker)


def _of_ends(cable: Cable, scope: Scope) -> Iterator[Asked]:
    """What both ends ask for the strands that no link has drawn to its own end."""
    riding = scope.lying.get(cable.id, ())
    drawn = {number for piece in riding for number in piece.positions}
    plugs = any(_has_plugs(piece) for piece in riding)
    framed = {frame.place for frame in scope.plant.frames}
    for place, end in zip(_ends(cable, scope.plant), (cable.near_end, cable.far_end), strict=True):
        asker = Asker(cable.key, f"{cable.name}, {end}", _named(scope.plant, place), shelf="cables", row=cable.id)
        needs = end_needs(
            cable,
            end,
            cable.strands - len(drawn),
            scope.house,
            scope.catalog,
            with_plugs=cable.factory_made or plugs,
            framed=place in framed,
        )
        yield from (Asked(need, asker) for need in needs)


def _has_plugs(piece: Glass) -> bool:
    """Whether a piece comes with its plugs from the factory."""
    made = isinstance(piece, Run) and bool(piece.left or piece.right) and not piece.mounted
    return made or isinstance(piece, ArrayCable)


def _ends(cable: Cable, plant: Plant) -> tuple[str, str]:
    path = plant.path_of[cable.id]
    return path[0], path[-1]


def _is_wet(place: str, plant: Plant) -> bool:
    here = plant.place_of[place]
    return here.kind in ("pit", "pole", "cabinet") or here.surroundings in ("wet", "outdoors", "underground")


def cable_needs(cable: Cable, length: OrderLength, scope: Scope) -> tuple[Need, ...]:
    """What a cable of the plan is bought as: an array trunk as its links have it, else made with plugs, or bare."""
    cable, riding = cable_as_ordered(cable), scope.lying.get(cable.id, ())
    trunk = next((piece for piece in riding if isinstance(piece, ArrayCable)), None)
    if trunk is not None:
        made = as_ordered(trunk).model_copy(update={"length_m": length.made_m})
        return tuple(spec_of(made).needs(made, scope.catalog))
    runs = [piece for piece in riding if isinstance(piece, Run)]
    grades = " or ".join(cable.fiber) or "grade to be said"
    words = cable_words(grades, cable.strands, cable.construction, cable.jacket)
    family = scope.catalog.fiber(cable.fiber[0]).family if cable.fiber else "single-mode"
    per_m = ((f"cable {family}, a metre", 1.0), ("each strand of a cable, a metre", float(cable.strands)))
    plugs = [plug for run in runs for plug in (run.left, run.right) if plug and not run.mounted]
    if cable.factory_made or plugs:
        kinds = sorted({f"{plug.shape} {plug.polish}" for plug in plugs})
        made_words = joined(f"cable made to length, {words}", " and ".join(kinds) or "plugs to be said")
        prices = [(item, count * length.made_m) for item, count in per_m]
        prices.append(("factory end, a fiber", 2.0 * cable.strands))
        made_words = joined(made_words, f"{length.made_m:g} m")
        return (Need(made_words, 1, "made to length", "pull", "cable", tuple(prices), length_m=length.made_m),)
    return (Need(f"cable, {words}", length.total_m, "cable by the reel", "pull", "cable", per_m, unit="m"),)


def _of_row(cable: Cable, plant: Plant) -> Asker:
    start, end = _ends(cable, plant)
    between = f"{plant.place_of[start].name} to {plant.place_of[end].name}"
    return Asker(cable.key, cable.name, between, shelf="cables", row=cable.id)


def _named(plant: Plant, place: str) -> str:
    return plant.place_of[place].name if place in plant.place_of else place


def _trays(splices: Mapping[str, int]) -> Iterator[Asked]:
    """Trays for the splices that links have at a place, outside closures."""
    for place, count in splices.items():
        yield Asked(trays(count), Asker("", f"{count} splices", place))


def _cleaners(faces: int) -> Iterator[Asked]:
    """Each face is cleaned before and after it is looked at."""
    if faces:
        count = math.ceil(2 * faces / material_figures().cleaning.faces_each)
        need = Need(
            "cleaner for ferrules and adapters",
            count,
            "pulling, labels and cleaning",
            "plug",
            "boxes",
            (("cleaner", 1.0),),
        )
        yield Asked(need, Asker("", f"{faces} faces to clean", ""))


def by_words(asked: Iterable[Asked]) -> dict[str, list[Asked]]:
    """What is asked for, by the words of its line."""
    found: dict[str, list[Asked]] = defaultdict(list)
    for one in asked:
        found[one.need.words].append(one)
    return dict(found)

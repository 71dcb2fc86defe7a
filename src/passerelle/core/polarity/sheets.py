"""What is written on a trunk, and what a split port holds: sheets over all links of a project."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from typing import Literal

from passerelle.core.catalog.shelves import Catalog
from passerelle.core.link.chain import Link
from passerelle.core.link.compose import Chain, Standing, compose
from passerelle.core.link.hops import through
from passerelle.core.parts.array_cable import ArrayCable, Wiring
from passerelle.core.parts.kinds.trunk import Trunk
from passerelle.core.polarity.method import NAMES
from passerelle.core.polarity.table import colors_of
from passerelle.core.polarity.trace import trace
from passerelle.core.sources import Frozen

KeyWord = Literal["key up", "key down"]


class TrunkRow(Frozen):
    """A position of a trunk: where it comes out, its color at the near end, and the link that lights it."""

    near: int
    far: int
    color: str
    link: str = ""


class TrunkSheet(Frozen):
    """A trunk as it lies: its wiring with the standard's letter, key and pins at each end, and every position.

    The key at the far end follows from the wiring, the near one up: a reversed trunk has both keys up. ``disagree``
    says where links on one trunk are not of one mind about what it is.
    """

    name: str
    links: tuple[int, ...]
    wiring: Wiring
    letter: str
    array: str
    near_key: KeyWord
    far_key: KeyWord
    near_pins: str
    far_pins: str
    polish: str
    length_m: float | None
    rows: tuple[TrunkRow, ...]
    disagree: tuple[str, ...] = ()


class Leg(Frozen):
    """One leg of a split port: the link on it, where it ends, and the speed in Mb/s that its host gets."""

    number: int
    link: int | None = None
    name: str = ""
    place: str = ""
    label: str = ""
    rate_mbps: int | None = None
    verdict: str = ""


class SplitPort(Frozen):
    """A fast port over several slower ones: what splits it, each leg in its order, and the legs that are free.

    ``whole_mbps`` is the speed of the port as one, ``leg_mbps`` that of each leg. ``doubled`` names links that were
    given one leg. Where a link says no leg it stands behind those that do.
    """

    place: str
    label: str
    cage: str
    by: str
    whole_mbps: int
    leg_mbps: int
    legs: tuple[Leg, ...]
    doubled: tuple[str, ...] = ()


@dataclass(frozen=True)
class Known:
    """A link of the project with its number and the verdict in words."""

    number: int
    link: Link
    verdict: str


def trunk_sheets(links: Sequence[Known], catalog: Catalog) -> tuple[TrunkSheet, ...]:
    """A sheet for each trunk; links on one shared trunk are on one sheet."""
    sheets: dict[str, TrunkSheet] = {}
    for known in links:
        chain = compose(known.link, catalog)
        for part in chain.parts:
            if not isinstance(part.piece, Trunk):
                continue
            key = part.piece.part or f"{known.number} {part.id}"
            sheet = sheets.get(key) or _sheet(part.piece, part, known, catalog)
            lit = _lit(chain, part)
            rows = tuple(
                row.model_copy(update={"link": known.link.name}) if row.near in lit and not row.link else row
                for row in sheet.rows
            )
            update = {
                "rows": rows,
                "links": tuple(dict.fromkeys((*sheet.links, known.number))),
                "disagree": (*sheet.disagree, *_disagreement(sheet, part.piece, known.link.name)),
            }
            sheets[key] = sheet.model_copy(update=update)
    return tuple(sheets.values())


def _disagreement(sheet: TrunkSheet, trunk: Trunk, name: str) -> Iterator[str]:
    for word, here, there in (
        ("wiring", sheet.wiring, trunk.wiring),
        ("fibers", sheet.array, trunk.array),
        ("polish", sheet.polish, trunk.polish),
    ):
        if here != there:
            yield f"'{name}' has {word} {there}, the sheet {here}: one of them is wrong, look at the trunk"


def _sheet(trunk: ArrayCable, part: Standing, known: Known, catalog: Catalog) -> TrunkSheet:
    face = part.part.face("left")
    colors = colors_of(face, catalog)
    ends = through(part)
    return TrunkSheet(
        name=trunk.label or f"trunk of {known.link.name}",
        links=(known.number,),
        wiring=trunk.wiring,
        letter=NAMES.get(trunk.wiring, ""),
        array=trunk.array,
        near_key="key up",
        far_key="key up" if trunk.wiring.endswith("reversed") else "key down",
        near_pins=trunk.left_pins,
        far_pins=trunk.right_pins,
        polish=trunk.polish,
        length_m=trunk.length_m,
        rows=tuple(TrunkRow(near=i, far=ends[i], color=colors[i - 1]) for i in face.positions),
    )


def _lit(chain: Chain, part: Standing) -> set[int]:
    """The positions of the left face of a piece that lanes of the link pass."""
    found: set[int] = set()
    for lane in trace(chain):
        rightward = chain.link.index(lane.sender) < part.position
        for step in lane.steps:
            if step.element == part.id:
                found.add(step.enters if rightward else step.leaves)
    return found


def split_ports(links: Sequence[Known], catalog: Catalog) -> tuple[SplitPort, ...]:
    """Every port that is split, by optics or by an assembly with legs, with what hangs on each leg."""
    found: dict[tuple[str, str, str], list[tuple[Known, _Split]]] = {}
    for known in links:
        for split in _splits(known, catalog):
            found.setdefault((split.place, split.label, split.cage), []).append((known, split))
    return tuple(_port(key, here) for key, here in found.items())


@dataclass(frozen=True)
class _Split:
    """The end of a link that stands in a split port."""

    place: str
    label: str
    cage: str
    by: str
    legs: int
    leg: int
    leg_mbps: int
    far: tuple[str, str]


def _splits(known: Known, catalog: Catalog) -> Iterator[_Split]:
    chain = compose(known.link, catalog)
    sockets = chain.sockets
    for here in sockets:
        there = next((other for other in sockets if other is not here), None)
        side: Literal["left", "right"] = "right" if here is sockets[0] else "left"
        plug = chain.beside(here, side)
        socket = here.traits.socket
        if plug is None or socket is None:
            continue
        far = there.traits.socket if there else None
        ends = (far.place, far.label) if far else ("", "")
        told = _told(plug, here is sockets[0], catalog)
        if told:
            by, legs, leg, rate = told
            yield _Split(socket.place, socket.label, socket.cage, by, legs, leg, rate, ends)


def _told(plug: Standing, at_left: bool, catalog: Catalog) -> tuple[str, int, int, int] | None:
    """What splits a port, into how many, which leg this is, and the rate of a leg in Mb/s; None where none does."""
    optics, electrics = plug.traits.optics, plug.traits.electrics
    if optics and optics.leg_of > 1:
        application = catalog.application(optics.application)
        return application.leg_of, optics.leg_of, optics.leg, application.rate_mbps
    if electrics and electrics.legs > 1 and electrics.rates_mbps:
        edges = [plug.left.shape, plug.right.shape]
        fast = edges[0] if at_left else edges[1]
        slow = edges[1] if at_left else edges[0]
        if not _is_faster(fast, slow, catalog):
            return None
        leg = plug.piece.positions[0] if plug.piece.positions else 0
        return f"{electrics.made} assembly", electrics.legs, leg, electrics.rates_mbps[0]
    return None


def _is_faster(fast: str, slow: str, catalog: Catalog) -> bool:
    """Whether a plug of the first form belongs in a faster cage than one of the second."""

    def best(form: str) -> int:
        return min((c.max_rate_mbps for c in catalog.cages.values() if form in c.accepts), default=0)

    return fast == slow or best(fast) > best(slow)


def _port(key: tuple[str, str, str], here: Sequence[tuple[Known, _Split]]) -> SplitPort:
    first = here[0][1]
    by_leg: dict[int, Known] = {}
    ends: dict[int, _Split] = {}
    doubled: list[str] = []
    loose = [(known, split) for known, split in here if not split.leg]
    for known, split in here:
        if split.leg in by_leg:
            doubled.append(f"{by_leg[split.leg].link.name} and {known.link.name} are both on leg {split.leg}")
        elif split.leg:
            by_leg[split.leg], ends[split.leg] = known, split
    free = [number for number in range(1, first.legs + 1) if number not in by_leg]
    for number, (known, split) in zip(free, loose, strict=False):
        by_leg[number], ends[number] = known, split
    if len(loose) > len(free):
        doubled.append(f"{len(here)} links on {first.legs} legs")
    return SplitPort(
        place=key[0],
        label=key[1],
        cage=key[2],
        by=first.by,
        whole_mbps=first.leg_mbps * first.legs,
        leg_mbps=first.leg_mbps,
        legs=tuple(_leg(number, by_leg, ends) for number in range(1, first.legs + 1)),
        doubled=tuple(doubled),
    )


def _leg(number: int, by_leg: Mapping[int, Known], ends: Mapping[int, _Split]) -> Leg:
    known, split = by_leg.get(number), ends.get(number)
    if known is None or split is None:
        return Leg(number=number)
    return Leg(
        number=number,
        link=known.number,
        name=known.link.name,
        place=split.far[0],
        label=split.far[1],
        rate_mbps=split.leg_mbps,
        verdict=known.verdict,
    )

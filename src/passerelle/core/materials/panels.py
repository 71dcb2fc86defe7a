"""The front of a panel: each port with its label, the strand behind it by number and color, and where it leads."""

from __future__ import annotations

from collections.abc import Iterator, Mapping

from passerelle.core.errors import PlantError
from passerelle.core.link.chain import Link, ports
from passerelle.core.materials.asked import Scope
from passerelle.core.parts.kinds.port import Port
from passerelle.core.parts.piece import Glass, Line, State
from passerelle.core.parts.registry import Element, spec_of
from passerelle.core.plant.colors import spot_of
from passerelle.core.sources import Frozen


class Behind(Frozen):
    """A strand behind a port: the cable's name, the number, its tube and color; no color where no plan says it."""

    cable: str
    number: int
    tube: int = 0
    tube_color: str = ""
    color: str = ""


class PanelPort(Frozen):
    """A port of a panel: its hole (0 without a frame), label, adapter, link, strands behind, where it leads."""

    hole: int
    label: str
    adapter: str
    state: State
    link: int
    link_name: str
    element: str
    behind: tuple[Behind, ...]
    leads_to: str


class PanelFront(Frozen):
    """A panel: a frame with its holes in order, or the adapters of a place that are in none."""

    name: str
    frame: str
    place: str
    label: str
    holes: int
    ports: tuple[PanelPort, ...]


def panel_fronts(scope: Scope, place: str = "") -> tuple[PanelFront, ...]:
    """The panels of a project, or of one place by its name.

    Raises:
        PlantError: nothing stands at that place.
    """
    labels = {row.of: row.id for row in scope.plant.labels}
    in_frames: dict[str, list[PanelPort]] = {}
    loose: dict[str, list[PanelPort]] = {}
    for number, link in scope.links:
        for position, element in enumerate(link.elements):
            if not spec_of(element).in_frames:
                continue
            port = _port(number, link, position, element, scope, labels)
            framed = element.part in scope.plant.frame_of
            (in_frames if framed else loose).setdefault(
                element.part if framed else _place(link, position), []
            ).append(port)
    fronts = [*_framed(scope, in_frames, labels), *_unframed(loose)]
    found = tuple(front for front in fronts if not place or front.place == place)
    if place and not found:
        raise PlantError("place", f"no panel stands at '{place}': choose a place where a link has one")
    return found


def _framed(scope: Scope, used: Mapping[str, list[PanelPort]], labels: Mapping[str, str]) -> Iterator[PanelFront]:
    for frame in scope.plant.frames:
        taken = {port.hole: port for port in used.get(frame.id, ())}
        free = [
            PanelPort(
                hole=hole.number,
                label=f"{labels.get(frame.key, frame.name)} {hole.number:02d}",
                adapter=spec_of(hole.adapter).needs(hole.adapter, scope.catalog)[0].words
                if hole.adapter
                else hole.part,
                state=hole.adapter.state if hole.adapter else "planned",
                link=0,
                link_name="",
                element="",
                behind=(),
                leads_to="",
            )
            for hole in frame.held
            if hole.number not in taken
        ]
        yield PanelFront(
            name=frame.name,
            frame=frame.id,
            place=scope.plant.place_of[frame.place].name if frame.place else "",
            label=labels.get(frame.key, ""),
            holes=frame.holes,
            ports=tuple(sorted((*taken.values(), *free), key=lambda port: port.hole)),
        )


def _unframed(loose: Mapping[str, list[PanelPort]]) -> Iterator[PanelFront]:
    for place, found in loose.items():
        name = f"Adapters at {place}" if place else "Adapters of links without a place"
        yield PanelFront(name=name, frame="", place=place, label="", holes=len(found), ports=tuple(found))


def _port(
    number: int, link: Link, position: int, element: Element, scope: Scope, labels: Mapping[str, str]
) -> PanelPort:
    frame = scope.plant.frame_of.get(element.part)
    hole = element.positions[0] if frame and element.positions else 0
    own = (
        f"{labels.get(frame.key, frame.name)} {hole:02d}" if frame else labels.get(element.key, "") or element.label
    )
    return PanelPort(
        hole=hole,
        label=own,
        adapter=spec_of(element).needs(element, scope.catalog)[0].words,
        state=element.state,
        link=number,
        link_name=link.name,
        element=element.id,
        behind=tuple(_behind(link, position, scope, labels)),
        leads_to=_leads_to(link, position),
    )


def _place(link: Link, position: int) -> str:
    ends = ports(link)
    if not ends:
        return ""
    end: Port = ends[0] if position * 2 < len(link.elements) else ends[-1]
    return end.place or end.label


def _leads_to(link: Link, position: int) -> str:
    ends = ports(link)
    if not ends:
        return ""
    end: Port = ends[-1] if position * 2 < len(link.elements) else ends[0]
    return f"{end.place or end.label}: {end.label or 'port'}"


def _behind(link: Link, position: int, scope: Scope, labels: Mapping[str, str]) -> Iterator[Behind]:
    """The strands of the fixed cable behind a port: the nearest towards the middle of the link, else outwards."""
    inward = range(position + 1, len(link.elements)), range(position - 1, -1, -1)
    order = inward if position * 2 < len(link.elements) else inward[::-1]
    beside = (link.elements[at] for way in order for at in way)
    line = next((e for e in beside if isinstance(e, Line) and e.pulled), None)
    if line is None:
        return
    cable = scope.plant.cable_of.get(line.part)
    if cable is not None:
        for number in line.positions:
            spot = spot_of(cable, number, scope.catalog.marks.strands)
            name = labels.get(cable.key, cable.name)
            yield Behind(cable=name, number=number, tube=spot.tube, tube_color=spot.tube_color, color=spot.color)
    elif isinstance(line, Glass):
        code = scope.catalog.marks.strands.code("TIA-598")
        name = labels.get(line.key, "") or line.label or "its own cable"
        for number in range(1, line.width + 1):
            yield Behind(cable=name, number=number, color=code.color((number - 1) % 12 + 1))

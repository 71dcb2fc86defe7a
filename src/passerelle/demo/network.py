"""The boxes of Port-Aubier: switches and converters, and the ports that its links are."""

from __future__ import annotations

from collections.abc import Sequence
from typing import NamedTuple

from passerelle.core.link.chain import Link
from passerelle.core.link.keys import derived, keyed
from passerelle.core.plant.records import Box, BoxKind, BoxPort, TreeProtocol
from passerelle.core.plant.site import Plant
from passerelle.demo.plant import demo_plant
from passerelle.demo.port_aubier import demo_links

FIRST_PORT = 5111


class _Spec(NamedTuple):
    """A box: what it is, where, and its ports as (port, link, end). Without a number it has no management."""

    name: str
    kind: BoxKind
    place: str
    number: int | None
    protocol: TreeProtocol
    priority: int
    ports: tuple[tuple[str, str, str], ...]


_BOXES = (
    _Spec(
        "Core 1",
        "switch",
        "office",
        1,
        "RSTP",
        4096,
        (
            ("1/1", "Lock house, quay duct", "left"),
            ("1/2", "Crane 1", "left"),
            ("1/3", "Crane 2", "left"),
            ("1/4", "Crane 3", "left"),
            ("1/8", "Tide station", "left"),
            ("1/10", "Gate camera", "left"),
            ("1/49", "Ferry terminal", "left"),
            ("1/50", "Lock house, dike duct", "left"),
            ("1/52", "Survey boats", "left"),
            ("1/54", "Pump house", "left"),
        ),
    ),
    _Spec(
        "Lock 1",
        "switch",
        "lock",
        2,
        "RSTP",
        32_768,
        (("49", "Lock house, quay duct", "right"), ("50", "Lock house, dike duct", "right")),
    ),
    _Spec("Ferry 1", "switch", "ferry", 3, "RSTP", 32_768, (("25", "Ferry terminal", "right"),)),
    _Spec("Survey 1", "switch", "survey", 4, "RSTP", 32_768, (("49", "Survey boats", "right"),)),
    _Spec("Pump 1", "switch", "pump", 5, "RSTP", 32_768, (("25", "Pump house", "right"),)),
    _Spec("Gate converter", "converter", "gate", 6, "none", 32_768, (("1", "Gate camera", "right"),)),
    _Spec("Tide converter", "converter", "tide", None, "none", 32_768, (("1", "Tide station", "right"),)),
    _Spec("Crane 3 converter", "converter", "crane 3", None, "none", 32_768, (("1", "Crane 3", "right"),)),
    _Spec(
        "Row A",
        "switch",
        "row A",
        7,
        "RSTP",
        8192,
        (("2/1", "Rows 40G", "left"), ("2/2", "Rows 100G", "left"), ("2/13", "Rows 10G, front 1", "left")),
    ),
    _Spec(
        "Row B",
        "switch",
        "row B",
        8,
        "unknown",
        32_768,
        (("2/1", "Rows 40G", "right"), ("2/2", "Rows 100G", "right"), ("2/13", "Rows 10G, front 1", "right")),
    ),
)


def demo_project() -> tuple[list[Link], Plant]:
    """The links of the demo with keys, and its plant with the boxes that they end at."""
    links = [_keyed(link) for link in demo_links()]
    plant = demo_plant()
    return links, plant.changed(boxes=demo_boxes(links, plant))


def _keyed(link: Link) -> Link:
    counted = iter(range(10_000))
    return keyed(link, lambda: derived("port-aubier", link.name, next(counted)))


def demo_boxes(links: Sequence[Link], plant: Plant) -> tuple[Box, ...]:
    """The boxes, their ports tied to the ends of the links; simulated ones have a port of this machine."""
    by_name = {link.name: link for link in links}
    return tuple(_box(number, spec, by_name, plant) for number, spec in enumerate(_BOXES, 1))


def _box(number: int, spec: _Spec, by_name: dict[str, Link], plant: Plant) -> Box:
    ports = []
    for name, link, end in spec.ports:
        elements = by_name[link].elements
        ports.append(BoxPort(name=name, of=(elements[0] if end == "left" else elements[-1]).key))
    return Box(
        id=f"box-{number}",
        name=spec.name,
        kind=spec.kind,
        place=spec.place if spec.place in plant.place_of else "",
        address="" if spec.number is None else f"127.0.0.1:{FIRST_PORT + spec.number - 1}",
        serial=f"BX-{1000 + number}",
        protocol=spec.protocol,
        priority=spec.priority,
        bridge_address=f"02:00:5e:00:00:{number:02x}",
        reached_through="" if spec.number is None else "49" if spec.name == "Lock 1" else "management",
        ports=tuple(ports),
    )

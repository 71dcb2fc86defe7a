"""The plant of Port-Aubier: places, ways between them, cables in the ways, and who rides on which strand."""

from __future__ import annotations

from collections.abc import Iterator
from datetime import date
from typing import Any

from passerelle.core.catalog.shelves import load_catalog
from passerelle.core.link.chain import Link
from passerelle.core.parts.kinds.panel import Panel
from passerelle.core.parts.kinds.pigtail import Pigtail
from passerelle.core.parts.kinds.run import cable_words
from passerelle.core.parts.kinds.splice import Splice
from passerelle.core.parts.kinds.trunk import Trunk
from passerelle.core.parts.registry import Element
from passerelle.core.plant.lying import lies, own_strands
from passerelle.core.plant.records import Cable, Cut, Device, Instrument, Place, Reel, Tap, Way
from passerelle.core.plant.site import Plant
from passerelle.demo.data_room import data_room_links

DIELECTRIC = "loose tube, dielectric armor"
METAL = "loose tube, metal armor"
INDOOR = "tight-buffered, indoor"


def demo_plant() -> Plant:
    """Two runs to the lock that share a duct, a duct that is too full, and one strand left to the tide station."""
    return Plant(
        places=_placed(),
        ways=_ways(),
        cables=_cables(),
        taps=_taps(),
        devices=_devices(),
        reels=_reels(),
        instruments=_instruments(),
    )


def ride(links: list[Link]) -> list[Link]:
    """The demo's links on the strands of their cables."""
    return [_on_cable(link) for link in links]


def _on_cable(link: Link) -> Link:
    cable, strands = _RIDES.get(link.name, ("", ()))
    trunk = next((e for e in link.elements if isinstance(e, Trunk)), None)
    if trunk is not None:
        cable, strands = link.name.replace("Rows", "trunk").replace(",", ""), own_strands(link, trunk)
    elements = [
        e.model_copy(update={"part": cable, "positions": strands}) if lies(e) and cable else e
        for e in link.elements
    ]
    if cable and trunk is None and cable not in _NEW:
        elements = [_there(e) for e in elements]
    return link.model_copy(update={"elements": tuple(elements)})


_NEW = ("camera",)
"""Cables that are not there yet."""


def _there(element: Element) -> Element:
    """What ends a cable that is there is there too; cords and modules are new."""
    fixed = isinstance(element, Panel | Pigtail | Splice)
    return element.model_copy(update={"state": "existing"}) if fixed else element


_RIDES: dict[str, tuple[str, tuple[int, ...]]] = {
    "Ferry terminal": ("road pair", (1, 2)),
    "Lock house, quay duct": ("lock quay", (1, 2)),
    "Lock house, dike duct": ("lock dike", (1, 2)),
    "Crane 1": ("quay", (1, 2)),
    "Crane 2": ("quay", (3, 4)),
    "Crane 3": ("crane 3", (1, 2)),
    "Cold store": ("cold store", (1, 2)),
    "Weighbridge": ("weighbridge", (1, 2)),
    "Survey boats": ("survey", (1, 2)),
    "Radar mast": ("radar", (1, 2)),
    "Rows A to B": ("rows", (1, 2)),
    "Tide station": ("tide", (4,)),
    "Pump house": ("pump pair", (1, 2)),
    "Gate camera": ("camera", (1, 2)),
}


def _places() -> tuple[Place, ...]:
    return (
        Place(id="port", name="Port-Aubier", kind="site"),
        Place(id="office", name="Harbor office", within="port", power="mains", key_holder="harbor master's desk"),
        Place(id="row A", name="Data room row A", kind="room", within="office", power="mains"),
        Place(id="row B", name="Data room row B", kind="room", within="office", power="mains"),
        Place(id="radar", name="Radar mast", kind="pole", within="office", power="mains", notes="lightning"),
        Place(
            id="quay pit", name="Quay pit", kind="pit", surroundings="wet", within="port", power="none", notes="wet"
        ),
        Place(id="crane 1", name="North quay crane 1", kind="cabinet", within="port", power="mains"),
        Place(id="crane 2", name="North quay crane 2", kind="cabinet", within="port", power="mains"),
        Place(id="crane 3", name="North quay crane 3", kind="cabinet", within="port", power="mains"),
        Place(id="lock", name="Lock house", within="port", power="mains", key_holder="lock keeper"),
        Place(
            id="cold store",
            name="Cold store",
            surroundings="cold store",
            within="port",
            power="mains",
            coldest_c=-25,
            hottest_c=30,
        ),
        Place(id="weighbridge", name="Weighbridge", within="port", power="mains"),
        Place(id="survey", name="Survey-boat office", within="port", power="mains"),
        Place(id="gate", name="Gatehouse", within="port", power="mains"),
        Place(id="ferry", name="Ferry terminal", power="mains"),
        Place(id="tide", name="Tide station", kind="pole", power="none"),
        Place(id="pump", name="Pump house", power="mains"),
    )


def _ways() -> tuple[Way, ...]:
    quay_bends = (90.0, 45.0)
    return (
        Way(id="quay 0", name="Quay duct, first 60 m", start="office", end="quay pit", length_m=60, bore_mm=32, bends_deg=quay_bends, wet=True),
        Way(id="quay 1", name="Quay duct to crane 1", start="quay pit", end="crane 1", length_m=395, bore_mm=50, wet=True, hazard="welding, traffic"),
        Way(id="quay 2", name="Quay duct, crane 1 to 2", start="crane 1", end="crane 2", length_m=205, bore_mm=50, wet=True, hazard="welding, traffic"),
        Way(id="quay 3", name="Quay duct, crane 2 to 3", start="crane 2", end="crane 3", length_m=275, bore_mm=50, wet=True, hazard="welding, traffic"),
        Way(id="lock quay", name="Quay duct to the lock", start="quay pit", end="lock", length_m=560, bore_mm=50, bends_deg=(90.0,), wet=True),
        Way(id="dike", name="Dike duct", pull_points_m=(260, 520), start="quay pit", end="lock", length_m=780, bore_mm=50, bends_deg=(30.0, 30.0, 45.0)),
        Way(id="dike pole", name="Poles on the dike", start="lock", end="tide", kind="aerial", length_m=6560, hazard="height"),
        Way(id="road", name="Along the road", start="office", end="ferry", kind="rented", length_m=2900, owner="rented"),
        Way(id="upstream", name="Upstream", start="office", end="pump", kind="rented", length_m=34_000, owner="rented"),
        Way(id="tray cold", name="Tray to the cold store", start="office", end="cold store", kind="tray", length_m=185),
        Way(id="trench", name="Shallow trench", start="office", end="weighbridge", kind="trench", length_m=140, depth_m=0.5, inside="mains cable to the scale", power_conductors=True, hazard="mains"),
        Way(id="ceiling", name="Ceiling tray", start="office", end="survey", kind="tray", length_m=62),
        Way(id="mast riser", name="Riser to the mast", start="office", end="radar", kind="riser", length_m=48, power_conductors=True, hazard="mains, height"),
        Way(id="gate duct", name="Duct to the gate", start="office", end="gate", length_m=120, length_by="wheel", bore_mm=40, bends_deg=(90.0,)),
        Way(id="floor", name="Under the floor", start="row A", end="row B", kind="tray", length_m=65),
    )  # fmt: skip


def _cables() -> tuple[Cable, ...]:
    os2, om3, om4 = ("OS2",), ("OM3",), ("OM4",)
    orange = ("62.5/125-160", "OM1", "50/125-400", "OM2")
    tide = Cable(
        id="tide",
        name="Tide station, old cable",
        ways=("quay 0", "dike", "dike pole"),
        construction="aerial, self-supporting dielectric",
        fiber=os2,
        strands=4,
        dead=(1, 2, 3),
        dead_why="crushed at a pole, traced last spring",
        diameter_mm=8,
    )
    return (
        Cable(id="lock quay", name="Lock, by the quay", ways=("quay 0", "lock quay"), construction=DIELECTRIC, fiber=os2, reserved=4, diameter_mm=10.5, weight_kg_per_km=95, rated_tension_n=1800),
        Cable(id="lock dike", name="Lock, by the dike", ways=("quay 0", "dike"), construction=DIELECTRIC, fiber=os2, strands=24, reserved=4, diameter_mm=10.5, weight_kg_per_km=95, rated_tension_n=1800),
        Cable(id="quay", name="Quay cable, tapped", ways=("quay 0", "quay 1", "quay 2", "quay 3"), construction=DIELECTRIC, fiber=om3, diameter_mm=9, weight_kg_per_km=75, rated_tension_n=1500, near_end="panel", far_end="coiled, dark"),
        Cable(id="crane 3", name="Crane 3", ways=("quay 0", "quay 1", "quay 2", "quay 3"), construction=DIELECTRIC, fiber=os2, diameter_mm=10.5, state="installed", weight_kg_per_km=95, rated_tension_n=1800),
        tide,
        Cable(id="road pair", name="Rented pair, road", ways=("road",), fiber=os2, strands=2),
        Cable(id="pump pair", name="Rented pair, upstream", ways=("upstream",), fiber=os2, strands=2),
        Cable(id="cold store", name="Cold store, orange", ways=("tray cold",), construction=INDOOR, fiber=orange, strands=6, diameter_mm=6),
        Cable(id="weighbridge", name="Weighbridge, unknown", ways=("trench",), construction=DIELECTRIC, strands=4, diameter_mm=11),
        Cable(id="scale old", name="Weighbridge, old armored", ways=("trench",), construction=METAL, fiber=("OM1",), strands=2, dead=(1, 2), dead_why="cut at the scale", diameter_mm=12, metal=True),
        Cable(id="survey", name="Survey office", ways=("ceiling",), construction=INDOOR, fiber=om4, diameter_mm=6.5),
        Cable(id="radar", name="Radar mast", ways=("mast riser",), construction="loose tube, indoor and outdoor", fiber=os2, strands=4, diameter_mm=8),
        Cable(id="rows", name="Rows A to B", ways=("floor",), construction="trunk, pre-terminated", fiber=om4, diameter_mm=5),
        *_trunks(),
        Cable(id="grow crane", key="growcrane", name="Growth, crane 2", ways=("quay 1", "quay 2"), state="planned", **_GROWTH),
        Cable(id="grow lock", key="growlock", name="Growth, lock by the dike", ways=("dike",), state="planned", **_GROWTH),
        Cable(id="grow scale", key="growscale", name="Growth, weighbridge", ways=("trench",), state="planned", **_GROWTH),
        Cable(id="camera", name="Gate camera, with its plugs", ways=("gate duct",), construction=DIELECTRIC, fiber=os2, strands=2, diameter_mm=6, head_mm=44, head_length_mm=300, head_at="far", weight_kg_per_km=40, rated_tension_n=600, state="planned"),
    )  # fmt: skip


_GROWTH: dict[str, Any] = {
    "construction": DIELECTRIC,
    "fiber": ("OS2",),
    "diameter_mm": 8.5,
    "weight_kg_per_km": 70,
    "rated_tension_n": 1500,
    "bend_radius_loaded_mm": 170,
    "slack_m": 12,
}
"""The cable that is pulled for growth: all of one kind, so that it is cut from the same reels."""


def _reels() -> tuple[Reel, ...]:
    """A reel that is bought, and a remainder whose tag says more than is on it: 8 m too short for its cut."""
    line = cable_words("OS2", 12, DIELECTRIC, "unknown")
    lock, crane = Cut(of="growlock", length_m=797), Cut(of="growcrane", length_m=617)
    scale = Cut(of="growscale", length_m=157)
    return (
        Reel(
            id="reel",
            name="reel of 2 km",
            line=f"cable, {line}",
            length_m=2000,
            state="planned",
            cuts=(lock, scale),
        ),
        Reel(
            id="remainder",
            name="remainder in the yard",
            line=f"cable, {line}",
            length_m=640,
            delivered_m=609,
            report="tag says 640 m, measured by light",
            on_hand=True,
            state="delivered",
            cuts=(crane,),
        ),
    )


def _trunks() -> Iterator[Cable]:
    """The array trunks under the floor, one for each link of the data room that has one."""
    for link in data_room_links(load_catalog()):
        for piece in link.elements:
            if isinstance(piece, Trunk):
                own = link.name.replace("Rows", "trunk")
                name = own[0].upper() + own[1:]
                yield Cable(
                    id=own.replace(",", ""),
                    name=name,
                    ways=("floor",),
                    construction="trunk, pre-terminated",
                    fiber=piece.fiber,
                    strands=piece.width,
                    diameter_mm=4.5,
                    state="planned" if "400G" in link.name else "existing",
                )


_AT_M = {
    "office": (0, 0),
    "row A": (10, 5),
    "row B": (50, 30),
    "radar": (4, 8),
    "quay pit": (40, -42),
    "crane 1": (415, -110),
    "crane 2": (610, -140),
    "crane 3": (870, -175),
    "lock": (480, 255),
    "cold store": (150, 90),
    "weighbridge": (-110, 60),
    "survey": (45, 38),
    "gate": (-60, -70),
    "ferry": (-2500, 950),
    "tide": (5400, 4100),
    "pump": (-19500, 25500),
}


def _placed() -> tuple[Place, ...]:
    """The places with their positions, in metres from the harbor office."""
    return tuple(
        place.model_copy(update={"east_m": at[0], "north_m": at[1]}) if (at := _AT_M.get(place.id)) else place
        for place in _places()
    )


def _taps() -> tuple[Tap, ...]:
    return (
        Tap(id="tap 1", name="Closure at crane 1", cable="quay", place="crane 1", strands=(1, 2)),
        Tap(id="tap 2", name="Closure at crane 2", cable="quay", place="crane 2", strands=(3, 4)),
        Tap(id="tap 3", name="Closure at crane 3", cable="quay", place="crane 3", strands=(5, 6)),
    )


def _devices() -> tuple[Device, ...]:
    return (
        Device(id="crane 1", name="Crane control", place="crane 1", typical_w=18, peak_w=25),
        Device(id="crane 2", name="Crane control", place="crane 2", typical_w=18, peak_w=25),
        Device(id="crane 3", name="Crane control", place="crane 3", typical_w=18, peak_w=25),
        Device(id="lock", name="Lock control and cameras", place="lock", count=4, rate_mbps=1000, typical_w=9, peak_w=12, fed_from="lock"),
        Device(id="cold", name="Freezer access points", place="cold store", count=3, rate_mbps=1000, typical_w=14, peak_w=22, fed_from="cold store"),
        Device(id="scale", name="Scale and camera", place="weighbridge", typical_w=16, peak_w=38, fed_from="office"),
        Device(id="sonar", name="Sonar processing seat", place="survey", count=2, rate_mbps=25_000),
        Device(id="gauge", name="Tide gauge at the mast foot", place="tide", rate_mbps=100, typical_w=6, peak_w=15),
        Device(id="radar", name="Radar head", place="radar", rate_mbps=10_000, typical_w=40, peak_w=70, fed_from="office"),
    )  # fmt: skip


def _instruments() -> tuple[Instrument, ...]:
    """The instruments of the demo: simulated ones, at the ports of this machine where they are started."""
    calibrated = date(2026, 3, 2)
    return (
        Instrument(id="source", name="Light source", kind="light source", address="127.0.0.1:5101", serial="LS-0311", calibrated_on=calibrated),
        Instrument(id="meter", name="Power meter", kind="power meter", address="127.0.0.1:5102", serial="PM-0417", calibrated_on=calibrated),
        Instrument(id="array meter", name="Wide-area meter", kind="array meter", address="127.0.0.1:5103", serial="AM-0052", calibrated_on=calibrated),
        Instrument(id="switch", name="Switch of positions", kind="position switch", address="127.0.0.1:5104", serial="SW-0008"),
        Instrument(id="otdr", name="OTDR", kind="trace instrument", address="127.0.0.1:5105", serial="OT-0129", calibrated_on=calibrated),
        Instrument(id="scope", name="Inspection scope", kind="scope", address="127.0.0.1:5106", serial="SC-0733"),
        Instrument(id="hands", name="Hands of the simulation", kind="fitter", address="127.0.0.1:5107"),
    )  # fmt: skip

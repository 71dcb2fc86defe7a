"""The usual cautions at work on the plant. They defer to local codes and licensed people and permit nothing."""

from __future__ import annotations

from collections.abc import Callable, Iterable

from passerelle.core.plant.records import Place, Way

_DEFER = "local codes and licensed people decide"
_OF_WAYS: tuple[tuple[Callable[[Way], bool], str], ...] = (
    (
        lambda way: way.power_conductors,
        "Power conductors share this way: mains work is an electrician's, and only all-dielectric cable may lie "
        f"beside them where the local code says so; {_DEFER}.",
    ),
    (
        lambda way: way.kind == "trench" or way.depth_m is not None,
        f"Work in the ground: locate what is buried first, mind depth, shoring and warning tape; {_DEFER}.",
    ),
    (
        lambda way: way.kind == "aerial",
        f"Work at height, near overhead lines perhaps: fall protection and a second person; {_DEFER}.",
    ),
    (lambda way: way.kind == "riser", f"Open shafts: fall protection, and fire stops closed again; {_DEFER}."),
    (
        lambda way: way.kind == "wall",
        "Drilling and fixing: find hidden cables and pipes first; nothing is fixed into a hidden way.",
    ),
    (lambda way: way.wet, "Wet way: glands and drip loops at its ends, water blocking in the cable."),
    (lambda way: "traffic" in way.hazard, f"Traffic: closures, signs and vests; {_DEFER}."),
    (lambda way: "welding" in way.hazard, "Welding next door: keep cables out of sparks and shield open work."),
)
GROUND = _OF_WAYS[1][1]
GLASS = (
    "Cut fiber is glass: eye protection, a black mat, a closed bin for shards, no food. "
    "Laser light is invisible: never look into a fiber or a port."
)
BONDING = f"Metal in a cable is bonded where it enters a building; an electrician decides, {_DEFER}."


def cautions(ways: Iterable[Way], places: Iterable[Place] = (), *, metal: bool = False) -> tuple[str, ...]:
    """What to mind at work in these ways and places, each caution once; the one about glass always."""
    ways, places = list(ways), list(places)
    found = [words for applies, words in _OF_WAYS if any(applies(way) for way in ways)]
    if any(place.kind == "pit" for place in places):
        found.append(f"Pits: gas, water and lifting covers; never alone; {_DEFER}.")
    if any(place.kind == "pole" for place in places) and not any(way.kind == "aerial" for way in ways):
        found.append(f"Poles and masts: work at height, lightning; {_DEFER}.")
    if metal:
        found.append(BONDING)
    return (*found, GLASS)

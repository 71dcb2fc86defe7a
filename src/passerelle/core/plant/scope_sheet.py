"""The scope for a hired contractor: which cables go where, how they are handled, what is handed over."""

from __future__ import annotations

from collections.abc import Sequence

from passerelle.core.catalog.plant_figures import plant_figures
from passerelle.core.errors import PlantError
from passerelle.core.parts.piece import NEW_STATES
from passerelle.core.plant.bending import rest_radius_mm
from passerelle.core.plant.cautions import cautions
from passerelle.core.plant.records import Cable
from passerelle.core.plant.site import Plant, cable_length_m
from passerelle.core.sources import Frozen, Source

CARE = (
    "Pull by the strength members with a swivel and a pulling eye, never by the jacket; watch the tension.",
    "No kinks, no sharp edges, no overtightened ties; coil in figures of eight.",
    "Cap open ends; label both ends of every cable and every pull point before you leave.",
    "Nothing is fixed into hidden ways; fire stops are closed again with what the building's rating asks for.",
)
HAND_OVER = (
    "As-built lengths from the jacket's marks, at both ends and at every pull point.",
    "Loss at both wavelengths of the glass, in both directions where asked, with the reference method used.",
    "A trace of every strand with launch and receive fiber, as files in an open format.",
    "A photograph of every ferrule's end face after cleaning, and of every closure before its lid is on.",
    "The strand map as built, labels as in this sheet, reel certificates, and what was found on the way.",
)


class ScopeCable(Frozen):
    """One cable of the scope: ends, ways, length in m, glass, and its limits (N, mm); None where not known."""

    cable: str
    name: str
    start: str
    end: str
    ways: tuple[str, ...]
    length_m: float
    strands: int
    grade: str
    construction: str
    jacket: str
    ends: tuple[str, str]
    rated_tension_n: float | None
    radius_loaded_mm: float | None
    radius_rest_mm: float | None
    missing: tuple[str, ...]


class ScopeSheet(Frozen):
    """What a contractor gets: the cables, the care, what is handed over, and the cautions of the ways."""

    cables: tuple[ScopeCable, ...]
    care: tuple[str, ...]
    hand_over: tuple[str, ...]
    cautions: tuple[str, ...]
    sources: tuple[Source, ...]


def scope_sheet(plant: Plant, cable_ids: Sequence[str] = ()) -> ScopeSheet:
    """The scope of these cables; without any, of all that are planned.

    Raises:
        PlantError: there is no such cable.
    """
    unknown = next((i for i in cable_ids if i not in plant.cable_of), None)
    if unknown is not None:
        raise PlantError("cable", f"there is no cable '{unknown}'")
    chosen = [plant.cable_of[i] for i in cable_ids] or [c for c in plant.cables if c.state in NEW_STATES]
    ways = [plant.way_of[way] for cable in chosen for way in cable.ways]
    places = [plant.place_of[place] for cable in chosen for place in plant.path_of[cable.id]]
    return ScopeSheet(
        cables=tuple(_cable(cable, plant) for cable in chosen),
        care=CARE,
        hand_over=HAND_OVER,
        cautions=cautions(ways, places, metal=any(cable.metal for cable in chosen)),
        sources=(plant_figures().pull.radius_source,),
    )


def _cable(cable: Cable, plant: Plant) -> ScopeCable:
    path = plant.path_of[cable.id]
    loaded = cable.bend_radius_loaded_mm
    if loaded is None and cable.diameter_mm is not None:
        loaded = cable.diameter_mm * plant_figures().pull.loaded_radius_diameters
    wanted = {
        "grade of the glass": cable.fiber,
        "construction": cable.construction,
        "rated tension": cable.rated_tension_n,
        "diameter": cable.diameter_mm,
    }
    return ScopeCable(
        cable=cable.id,
        name=cable.name,
        start=plant.place_of[path[0]].name,
        end=plant.place_of[path[-1]].name,
        ways=tuple(plant.way_of[way].name for way in cable.ways),
        length_m=cable_length_m(cable, plant),
        strands=cable.strands,
        grade=" or ".join(cable.fiber),
        construction=cable.construction,
        jacket=cable.jacket,
        ends=(cable.near_end, cable.far_end),
        rated_tension_n=cable.rated_tension_n,
        radius_loaded_mm=loaded,
        radius_rest_mm=rest_radius_mm(cable),
        missing=tuple(name for name, value in wanted.items() if not value),
    )

"""What the plan knows of the two places of a question."""

from __future__ import annotations

from passerelle.core.plant.records import Place
from passerelle.core.plant.site import Plant
from passerelle.core.selection.wish import PortWish, Question


def placed(question: Question, plant: Plant) -> Question:
    """The question with what the plan knows of its places, where nobody said otherwise; places go by their names.

    Temperatures in °C: an answer without them could take a module that the place's air is too cold or too hot
    for. Two places in different buildings have the space *between buildings*: neither a bare cord nor copper.
    """
    spaces = question.spaces
    if between_buildings(question.from_place, question.to_place, plant) and "between buildings" not in spaces:
        spaces = (*spaces, "between buildings")
    return question.model_copy(
        update={
            "near": _in_the_air(question.near, question.from_place, plant),
            "far": _in_the_air(question.far, question.to_place, plant),
            "spaces": spaces,
        }
    )


def between_buildings(start: str, end: str, plant: Plant) -> bool:
    """Whether two places of the plan, by their names, stand in different buildings (or one of them in none)."""
    here, there = _called(start, plant), _called(end, plant)
    if here is None or there is None or here is there:
        return False
    return plant.building_of(here.id) != plant.building_of(there.id)


def _called(name: str, plant: Plant) -> Place | None:
    wanted = name.strip().lower()
    return next((place for called, place in plant.place_called.items() if called.lower() == wanted), None)


def _in_the_air(port: PortWish, name: str, plant: Plant) -> PortWish:
    here = _called(name, plant)
    if here is None:
        return port
    found = {
        field: getattr(here, field)
        for field in ("coldest_c", "hottest_c")
        if getattr(port, field) is None and getattr(here, field) is not None
    }
    return port.model_copy(update=found) if found else port

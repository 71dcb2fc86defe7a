"""What the plan knows of the two places of a question."""

from __future__ import annotations

from passerelle.core.plant.site import Plant
from passerelle.core.selection.wish import PortWish, Question


def placed(question: Question, plant: Plant) -> Question:
    """The question with the temperatures of its places, in °C, where nobody said others; places go by their names.

    An answer without them could take a module that the place's air is too cold or too hot for.
    """
    return question.model_copy(
        update={
            "near": _in_the_air(question.near, question.from_place, plant),
            "far": _in_the_air(question.far, question.to_place, plant),
        }
    )


def _in_the_air(port: PortWish, name: str, plant: Plant) -> PortWish:
    wanted = name.strip().lower()
    here = next((place for called, place in plant.place_called.items() if called.lower() == wanted), None)
    if here is None:
        return port
    found = {
        field: getattr(here, field)
        for field in ("coldest_c", "hottest_c")
        if getattr(port, field) is None and getattr(here, field) is not None
    }
    return port.model_copy(update=found) if found else port

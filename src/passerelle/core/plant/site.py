"""The plant of a project as one: its rows found by name, and what of a cable some of its strands use."""

from __future__ import annotations

import re
from collections.abc import Collection

from pydantic import ValidationError, model_validator

from passerelle.core.catalog.shelves import Catalog
from passerelle.core.errors import CatalogError, PlantError
from passerelle.core.plant.checks import check_whole
from passerelle.core.plant.lookup import PlantRows
from passerelle.core.plant.records import (
    Cable,
)
from passerelle.core.sources import Frozen


class Plant(PlantRows):
    """The plant of a project: every name in its rows exists, and no row contradicts another."""

    @model_validator(mode="after")
    def _whole(self) -> Plant:
        check_whole(self)
        return self

    def changed(self, **shelves: object) -> Plant:
        """The plant with some of its shelves replaced, checked as a whole again.

        Raises:
            PlantError: the new rows contradict each other or the rest.
        """
        kept = {name: getattr(self, name) for name in Plant.model_fields}
        try:
            return Plant.model_validate({**kept, **shelves})
        except ValidationError as error:
            causes = (item.get("ctx", {}).get("error") for item in error.errors(include_url=False))
            cause = next((c for c in causes if isinstance(c, PlantError)), None)
            raise cause or error from error


def free_id(wish: str, taken: Collection[str]) -> str:
    """An id of the plan that nobody has: the wish with what an id may hold, and a number where that is taken."""
    base = re.sub(r"[^A-Za-z0-9 ._-]", "", wish)[:34].strip().lstrip("._-") or "new"
    return next(own for n in range(1, 10_000) if (own := base if n == 1 else f"{base} {n}") not in taken)


class Stretch(Frozen):
    """The part of a cable that some of its strands use: its ways and places in order, and its length in m."""

    ways: tuple[str, ...]
    places: tuple[str, ...]
    length_m: float


def stretch(cable: Cable, strands: tuple[int, ...], plant: Plant) -> Stretch:
    """What of a cable a link on these strands uses: all of it, or up to the tap where they leave.

    The slack of the cable is counted whole: which end it lies at is not known.

    Raises:
        PlantError: some of the strands leave at a tap, others elsewhere.
    """
    path = plant.path_of[cable.id]
    taps = plant.taps_of.get(cable.id, ())
    places = {next((tap.place for tap in taps if number in tap.strands), path[-1]) for number in strands}
    if len(places) > 1:
        raise PlantError(
            f"cables[{cable.id}].strands",
            f"strands {', '.join(map(str, strands))} of {cable.name} leave it at different places: "
            f"{', '.join(sorted(plant.place_of[place].name for place in places))}",
        )
    stop = path.index(places.pop()) if places else len(path) - 1
    ways = cable.ways[:stop]
    climbs = (plant.way_of[i].length_m + abs(plant.way_of[i].rise_m) for i in ways)
    return Stretch(ways=ways, places=path[: stop + 1], length_m=round(sum(climbs) + cable.slack_m, 6))


def cable_length_m(cable: Cable, plant: Plant) -> float:
    """Length of a cable in m: its ways, their rises, and the slack at its ends."""
    ways = plant.way_of
    return round(sum(ways[i].length_m + abs(ways[i].rise_m) for i in cable.ways) + cable.slack_m, 6)


def check_plant_names(plant: Plant, catalog: Catalog) -> None:
    """Check that every grade and construction of a cable exists.

    Raises:
        PlantError: one does not; the message lists what the catalog has.
    """
    for cable in plant.cables:
        try:
            for grade in cable.fiber:
                catalog.fiber(grade)
            if cable.construction:
                catalog.construction(cable.construction)
            catalog.marks.strands.code(cable.color_code)
        except CatalogError as error:
            raise PlantError(f"cables[{cable.id}]", f"{cable.name}: {error}") from error

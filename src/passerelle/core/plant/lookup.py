"""The rows of a plant on their shelves, each found by its name."""

from __future__ import annotations

from functools import cached_property
from typing import Annotated, Any

from pydantic import Field

from passerelle.core.plant.records import (
    Box,
    Cable,
    Device,
    Frame,
    Instrument,
    LabelRow,
    OrderLine,
    Place,
    Reel,
    SharedPart,
    Stock,
    Tap,
    Way,
    cable_path,
)
from passerelle.core.sources import Frozen


class PlantRows(Frozen):
    """All rows of the plant of a project, shelf by shelf, and each found by its name.

    ``prices`` is read from older projects only: they stand in the one price list of the project.
    """

    places: Annotated[tuple[Place, ...], Field(max_length=5000)] = ()
    ways: Annotated[tuple[Way, ...], Field(max_length=20_000)] = ()
    cables: Annotated[tuple[Cable, ...], Field(max_length=20_000)] = ()
    taps: Annotated[tuple[Tap, ...], Field(max_length=20_000)] = ()
    devices: Annotated[tuple[Device, ...], Field(max_length=20_000)] = ()
    orders: Annotated[tuple[OrderLine, ...], Field(max_length=5000)] = ()
    parts: Annotated[tuple[SharedPart, ...], Field(max_length=20_000)] = ()
    frames: Annotated[tuple[Frame, ...], Field(max_length=20_000)] = ()
    stock: Annotated[tuple[Stock, ...], Field(max_length=5000)] = ()
    reels: Annotated[tuple[Reel, ...], Field(max_length=5000)] = ()
    labels: Annotated[tuple[LabelRow, ...], Field(max_length=200_000)] = ()
    instruments: Annotated[tuple[Instrument, ...], Field(max_length=200)] = ()
    boxes: Annotated[tuple[Box, ...], Field(max_length=2000)] = ()
    prices: dict[str, Annotated[float, Field(ge=0, le=1e7, allow_inf_nan=False)]] | None = None

    @cached_property
    def place_of(self) -> dict[str, Place]:
        """Places by id."""
        return {place.id: place for place in self.places}

    @cached_property
    def parts_on(self) -> dict[Any, Any]:
        """What links on some cables ride on, as ``outages`` found it: a plant never changes."""
        return {}

    @cached_property
    def place_called(self) -> dict[str, Place]:
        """Places by name, and by id where no place has that name."""
        return {**self.place_of, **{place.name: place for place in self.places}}

    def building_of(self, place_id: str) -> str:
        """The id of the building that a place stands in, or of the outermost place below the site where none is.

        What stands on its own in a site (a pole, a pit, a cabinet outdoors) is a building of its own.
        """
        at, outermost = place_id, place_id
        while at and self.place_of[at].kind != "site":
            outermost = at
            if self.place_of[at].kind == "building":
                return at
            at = self.place_of[at].within
        return outermost

    def indoors(self, way: Way) -> bool:
        """Whether a way stays in one building: a tray, riser, wall or conduit, or a duct between two of its rooms.

        Pull points indoors may be at most 180° apart (TIA-569).
        """
        if way.kind in ("tray", "riser", "wall", "conduit"):
            return True
        ends = (way.start, way.end)
        inside = all(self.place_of[end].kind in ("building", "floor", "room") for end in ends)
        return way.kind == "duct" and inside and self.building_of(way.start) == self.building_of(way.end)

    @cached_property
    def way_of(self) -> dict[str, Way]:
        """Ways by id."""
        return {way.id: way for way in self.ways}

    @cached_property
    def cable_of(self) -> dict[str, Cable]:
        """Cables by id."""
        return {cable.id: cable for cable in self.cables}

    @cached_property
    def shared_of(self) -> dict[str, SharedPart]:
        """Shared parts by id."""
        return {part.id: part for part in self.parts}

    @cached_property
    def frame_of(self) -> dict[str, Frame]:
        """Panel frames by id."""
        return {frame.id: frame for frame in self.frames}

    @cached_property
    def taps_of(self) -> dict[str, tuple[Tap, ...]]:
        """The taps of each cable that has some, by the cable's id."""
        found: dict[str, tuple[Tap, ...]] = {}
        for tap in self.taps:
            found[tap.cable] = (*found.get(tap.cable, ()), tap)
        return found

    @cached_property
    def cables_in(self) -> dict[str, tuple[Cable, ...]]:
        """The cables that lie in each way, by the way's id."""
        found: dict[str, list[Cable]] = {way.id: [] for way in self.ways}
        for cable in self.cables:
            for way in cable.ways:
                found[way].append(cable)
        return {way: tuple(cables) for way, cables in found.items()}

    @cached_property
    def path_of(self) -> dict[str, tuple[str, ...]]:
        """The places that each cable passes, by its id."""
        return {cable.id: cable_path(cable, self.way_of) or () for cable in self.cables}

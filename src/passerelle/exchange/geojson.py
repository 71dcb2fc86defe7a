"""Places and ways as GeoJSON (RFC 7946), both ways. Positions are WGS 84 degrees, longitude first.

Ways that come in without a length get the geodesic one of their line and a stated slack.
"""

from __future__ import annotations

import json
import math
import re
from collections.abc import Iterable, Iterator, Mapping
from itertools import pairwise, product
from typing import Any

from pydantic import ValidationError

from passerelle.core.errors import PlantError
from passerelle.core.plant.distances import geodesic_m
from passerelle.core.plant.records import Place, Way
from passerelle.core.plant.site import Plant
from passerelle.core.sources import Frozen
from passerelle.exchange.holdable import UnheldTextError, check_texts

DEFAULT_SLACK_PERCENT = 5.0
MAX_FEATURES = 25_000


class GeoError(ValueError):
    """A GeoJSON text that cannot be taken in; the message names the feature and the remedy."""


class GeoImport(Frozen):
    """What a GeoJSON text adds to a plant: ids of new places and ways, how lengths came about, and the plant."""

    places: tuple[str, ...]
    ways: tuple[str, ...]
    measured: tuple[str, ...]
    slack_percent: float
    plant: Plant


def write_geojson(plant: Plant) -> str:
    """Places with latitude and longitude as points, ways between them as lines; their fields as properties."""
    features: list[dict[str, Any]] = []
    for place in plant.places:
        if place.latitude is not None and place.longitude is not None:
            properties = place.model_dump(mode="json", exclude={"latitude", "longitude"}, exclude_defaults=True)
            features.append(_feature("Point", _position(place), {"shelf": "places", **properties}))
    for way in plant.ways:
        ends = [plant.place_of[way.start], plant.place_of[way.end]]
        if all(place.latitude is not None for place in ends):
            properties = way.model_dump(mode="json", exclude_defaults=True)
            features.append(_feature("LineString", [_position(p) for p in ends], {"shelf": "ways", **properties}))
    return json.dumps({"type": "FeatureCollection", "features": features}, indent=1, ensure_ascii=False) + "\n"


def _position(place: Place) -> list[float | None]:
    return [place.longitude, place.latitude]


def _feature(kind: str, coordinates: Any, properties: dict[str, Any]) -> dict[str, Any]:
    return {"type": "Feature", "geometry": {"type": kind, "coordinates": coordinates}, "properties": properties}


def read_geojson(text: str, plant: Plant, slack_percent: float = DEFAULT_SLACK_PERCENT) -> GeoImport:
    """Lay the points and lines of a GeoJSON text over a plant.

    Points become places, lines ways. A line's ends are the places that its ``start`` and ``end`` name, else those
    that stand within a metre of its ends. A way without ``length_m`` gets its geodesic length and the slack.

    Raises:
        GeoError: not JSON, not GeoJSON, a feature that is no point or line, or one that cannot be placed.
    """
    try:
        raw = json.loads(text)
        check_texts(raw)
    except UnheldTextError as error:
        raise GeoError(str(error)) from error
    except (ValueError, RecursionError) as error:
        raise GeoError(f"this is not JSON that can be read: {error}") from error
    features = raw.get("features") if isinstance(raw, dict) and raw.get("type") == "FeatureCollection" else None
    if not isinstance(features, list):
        raise GeoError("a GeoJSON FeatureCollection is expected: {'type': 'FeatureCollection', 'features': [...]}")
    if len(features) > MAX_FEATURES:
        raise GeoError(f"more than {MAX_FEATURES} features: split the file")
    reader = _Reader(plant, slack_percent)
    for kind in ("Point", "LineString"):
        for number, feature in enumerate(features):
            reader.take(kind, feature, f"features[{number}]")
    return reader.done()


class _Standing:
    """Where places stand, in cells of two metres, so that those near a point are found without asking all."""

    def __init__(self, places: Iterable[Place]) -> None:
        self._cells: dict[tuple[int, ...], dict[str, Place]] = {}
        self._cell_of: dict[str, tuple[int, ...]] = {}
        for place in places:
            self.add(place)

    def add(self, place: Place) -> None:
        """Put a place where it stands now, out of where it stood."""
        if place.id in self._cell_of:
            del self._cells[self._cell_of.pop(place.id)][place.id]
        if place.latitude is not None and place.longitude is not None:
            cell = self._cell_of[place.id] = _cell(place.latitude, place.longitude)
            self._cells.setdefault(cell, {})[place.id] = place

    def around(self, latitude: float, longitude: float) -> Iterator[Place]:
        """The places within two metres of a point, and some a little farther."""
        x, y, z = _cell(latitude, longitude)
        for near in product((x - 1, x, x + 1), (y - 1, y, y + 1), (z - 1, z, z + 1)):
            yield from self._cells.get(near, {}).values()


def _cell(latitude: float, longitude: float) -> tuple[int, ...]:
    """The cell of two metres on a sphere of the earth's size; a metre there is a metre to within one percent."""
    north, east = math.radians(latitude), math.radians(longitude)
    spot = math.cos(north) * math.cos(east), math.cos(north) * math.sin(east), math.sin(north)
    return tuple(math.floor(one * 6_371_000 / 2) for one in spot)


class _Reader:
    """Takes one feature after the other, points before lines."""

    def __init__(self, plant: Plant, slack_percent: float) -> None:
        self.plant, self.slack = plant, slack_percent
        self.places, self.ways = dict(plant.place_of), dict(plant.way_of)
        self.new_places: list[str] = []
        self.new_ways: list[str] = []
        self.measured: list[str] = []
        self.standing = _Standing(self.places.values())
        self.counted: dict[tuple[str, str], int] = {}

    def take(self, kind: str, feature: Any, where: str) -> None:
        geometry = feature.get("geometry") if isinstance(feature, dict) else None
        if not isinstance(geometry, dict) or geometry.get("type") not in ("Point", "LineString"):
            raise GeoError(f"{where}.geometry: a Point or a LineString is expected")
        if geometry["type"] != kind:
            return
        properties = feature.get("properties") or {}
        if not isinstance(properties, dict):
            raise GeoError(f"{where}.properties: an object is expected")
        values = {key: value for key, value in properties.items() if key != "shelf"}
        line = geometry.get("coordinates")
        points = _points([line] if kind == "Point" else line, f"{where}.geometry.coordinates")
        try:
            (self.place if kind == "Point" else self.way)(values, points, where)
        except ValidationError as error:
            first = error.errors(include_url=False, include_context=False)[0]
            field = ".".join(map(str, first["loc"]))
            raise GeoError(f"{where}.properties.{field}: {first['msg'].removeprefix('Value error, ')}") from error

    def place(self, values: dict[str, Any], points: list[tuple[float, float]], where: str) -> None:
        known = {key: value for key, value in values.items() if key in Place.model_fields}
        name = str(known.get("name") or known.get("id") or f"place {len(self.places) + 1}")
        own = str(known.get("id") or self.free_id(name, self.places))
        before = dict(self.places[own]) if own in self.places else {}
        longitude, latitude = points[0]
        position = {"latitude": latitude, "longitude": longitude}
        row = Place.model_validate({**before, "name": name, **known, "id": own, **position})
        if row.id not in self.places:
            self.new_places.append(row.id)
        self.places[row.id] = row
        self.standing.add(row)

    def way(self, values: dict[str, Any], points: list[tuple[float, float]], where: str) -> None:
        if len(points) < 2:
            raise GeoError(f"{where}.geometry.coordinates: a line has two points or more")
        known = {key: value for key, value in values.items() if key in Way.model_fields}
        name = str(known.get("name") or known.get("id") or f"way {len(self.ways) + 1}")
        own = str(known.get("id") or self.free_id(name, self.ways))
        before = dict(self.ways[own]) if own in self.ways else {}
        ends = {
            "start": known.get("start") or self.near(points[0], where, "first"),
            "end": known.get("end") or self.near(points[-1], where, "last"),
        }
        if "length_m" not in known:
            geodesic = sum(geodesic_m(a[1], a[0], b[1], b[0]) for a, b in pairwise(points))
            known["length_m"] = round(geodesic * (1 + self.slack / 100), 1)
            self.measured.append(own)
        row = Way.model_validate({**before, "name": name, **known, "id": own, **ends})
        if row.id not in self.ways:
            self.new_ways.append(row.id)
        self.ways[row.id] = row

    def near(self, point: tuple[float, float], where: str, which: str) -> str:
        """The place within a metre of a point."""
        for place in self.standing.around(point[1], point[0]):
            if geodesic_m(place.latitude or 0.0, place.longitude or 0.0, point[1], point[0]) <= 1.0:
                return place.id
        raise GeoError(
            f"{where}: no place stands at the {which} point of this line: add it, or name it as a property"
        )

    def free_id(self, name: str, known: Mapping[str, Any]) -> str:
        """An id that nothing on a shelf has; a name that comes again goes on where it was last counted to."""
        base = re.sub(r"[^A-Za-z0-9 ._-]", "", name).strip(" ._-")[:34] or "new"
        shelf = "places" if known is self.places else "ways"
        number = self.counted.get((shelf, base), 1)
        while (own := base if number == 1 else f"{base} {number}") in known:
            number += 1
        self.counted[shelf, base] = number
        return own

    def done(self) -> GeoImport:
        try:
            after = self.plant.changed(places=tuple(self.places.values()), ways=tuple(self.ways.values()))
        except PlantError as error:
            raise GeoError(f"{error.field}: {error}") from error
        return GeoImport(
            places=tuple(self.new_places),
            ways=tuple(self.new_ways),
            measured=tuple(self.measured),
            slack_percent=self.slack,
            plant=after,
        )


def _points(line: Any, where: str) -> list[tuple[float, float]]:
    found = []
    for point in line if isinstance(line, list) else [None]:
        numbers = [n for n in point[:2] if type(n) in (int, float)] if isinstance(point, list) else []
        if len(numbers) < 2:
            raise GeoError(f"{where}: longitude and latitude are expected, in degrees")
        if not (-180 <= numbers[0] <= 180 and -90 <= numbers[1] <= 90):
            said = ", ".join(str(n)[:12] for n in numbers)
            raise GeoError(f"{where}: {said} is no longitude and latitude: longitude comes first")
        longitude, latitude = map(float, numbers)
        found.append((longitude, latitude))
    return found

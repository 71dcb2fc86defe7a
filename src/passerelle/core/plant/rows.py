"""The rows of a plant one by one: each has its shelf, its id and its place in the shelf."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from typing import NamedTuple

from passerelle.core.link.keys import Fresh
from passerelle.core.plant.records import SHELVES, Row, Shelf
from passerelle.core.plant.site import Plant


class RowChange(NamedTuple):
    """A row before and after, None where it does not exist; rows of a shelf stand in the order of their positions.

    ``was`` is the position before, ``position`` the one after.
    """

    shelf: Shelf
    row: str
    was: float
    position: float
    before: Row | None
    after: Row | None


class Shelves:
    """A plant while its rows are taken and put."""

    def __init__(self, rows: Iterable[tuple[Shelf, float, Row]]) -> None:
        self._rows: dict[Shelf, dict[str, tuple[float, Row]]] = {shelf: {} for shelf in SHELVES}
        for shelf, position, row in rows:
            self._rows[shelf][row.id] = position, row

    @staticmethod
    def of(plant: Plant) -> Shelves:
        """The rows of a plant at the places 0, 1, 2 ..."""
        return Shelves(
            (shelf, float(place), row) for shelf in SHELVES for place, row in enumerate(getattr(plant, shelf))
        )

    def put(self, shelf: Shelf, name: str, row: Row | None, position: float) -> None:
        """Put a row in its place, or take it out."""
        if row is None:
            self._rows[shelf].pop(name, None)
        else:
            self._rows[shelf][name] = position, row

    def plant(self) -> Plant:
        """The plant of these rows.

        Raises:
            PlantError: they contradict each other.
        """
        return Plant().changed(
            **{shelf: [row for _, row in sorted(rows.values(), key=_place)] for shelf, rows in self._rows.items()}
        )

    def changes_to(self, plant: Plant) -> Iterator[RowChange]:
        """What turns these rows into those of a plant. Rows that stay in their order keep their position."""
        for shelf in SHELVES:
            known, new = self._rows[shelf], {row.id: row for row in getattr(plant, shelf)}
            for name, (position, row) in known.items():
                if name not in new:
                    yield RowChange(shelf, name, position, position, row, None)
            for name, position in _positions(known, list(new)).items():
                before = known.get(name)
                if before is None or before != (position, new[name]):
                    was, old = before or (position, None)
                    yield RowChange(shelf, name, was, position, old, new[name])


def _place(kept: tuple[float, Row]) -> tuple[float, str]:
    return kept[0], kept[1].id


def _positions(known: dict[str, tuple[float, Row]], order: list[str]) -> dict[str, float]:
    """A position for each name, growing in this order; those that are known stay where the order allows it."""
    found: dict[str, float] = {}
    last, ahead = -1.0, 0
    following = [known[name][0] if name in known else None for name in order]
    for place, name in enumerate(order):
        here = following[place]
        if here is None or here <= last:
            ahead = max(ahead, place + 1)  # what was passed over lies before this one, or below the last: for good
            while ahead < len(order) and ((at := following[ahead]) is None or at <= last):
                ahead += 1
            beyond = following[ahead] if ahead < len(order) else None
            here = last + 1 if beyond is None else (last + beyond) / 2
        found[name] = last = here
    return found


def keyed_rows(plant: Plant, before: Plant, fresh: Fresh, *, as_given: bool = False) -> Plant:
    """The plant with the keys that its rows have for good: those of before by their id, new ones for new rows.

    What the plant says itself counts only where it comes with its keys (``as_given``).
    """
    shelves: dict[str, tuple[Row, ...]] = {}
    for shelf in SHELVES:
        keys = {row.id: row.key for row in getattr(before, shelf)}
        shelves[shelf] = tuple(
            _keyed(row, keys.get(row.id) or (row.key if as_given else "") or fresh())
            for row in getattr(plant, shelf)
        )
    return plant.model_copy(update=shelves)


def _keyed(row: Row, key: str) -> Row:
    return row if row.key == key else row.model_copy(update={"key": key})

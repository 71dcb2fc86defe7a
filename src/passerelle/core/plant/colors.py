"""Where a strand lies in its cable, and what color it has there: the code belongs to the cable."""

from __future__ import annotations

from typing import NamedTuple

from passerelle.core.catalog.shelves import StrandColors
from passerelle.core.plant.records import Cable


class Spot(NamedTuple):
    """A strand in its cable: its tube (ribbon, unit) and its position there, both from 1, each with its color."""

    tube: int
    tube_color: str
    position: int
    color: str

    @property
    def words(self) -> str:
        """The spot as one says it: ``tube 2 orange, 1 blue``."""
        return f"{self.tube} {self.tube_color}".strip() + ", " + f"{self.position} {self.color}".strip()


def spot_of(cable: Cable, number: int, colors: StrandColors) -> Spot:
    """Where strand ``number`` (from 1) of a cable lies, by the cable's own code and size of tube (TIA-598)."""
    code = colors.code(cable.color_code)
    tube, position = divmod(number - 1, cable.per_tube)
    return Spot(tube + 1, code.color(tube + 1), position + 1, code.color(position + 1))

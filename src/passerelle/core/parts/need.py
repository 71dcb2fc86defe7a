"""What a piece is bought as: lines for a buyer, each with its price items and where and when it is needed."""

from __future__ import annotations

from typing import Literal, NamedTuple, get_args

Unit = Literal["piece", "m"]
Where = Literal[
    "cable by the reel",
    "made to length",
    "cords and panels",
    "splicing and closures",
    "optics and boxes",
    "pulling, labels and cleaning",
]
"""Where a line is bought or made: one letter to a supplier each."""
WHERE: tuple[Where, ...] = get_args(Where)
When = Literal["pull", "terminate", "plug"]
"""The stage of building that needs it."""
WHEN: tuple[When, ...] = get_args(When)
SpareClass = Literal["cords", "modules", "joints", "boxes", "cable"]
SPARE_CLASSES: tuple[SpareClass, ...] = get_args(SpareClass)


class Need(NamedTuple):
    """One line of what a piece is bought as.

    Attributes:
        words: the part as a buyer reads it; two needs with the same words are the same part.
        quantity: how many pieces, or metres.
        prices: items of the price list with how many of each one unit costs.
        length_m: of a part that is made to a length, that length.
    """

    words: str
    quantity: float
    where: Where
    when: When
    spares: SpareClass
    prices: tuple[tuple[str, float], ...] = ()
    unit: Unit = "piece"
    length_m: float | None = None


def priced(needs: tuple[Need, ...]) -> dict[str, float]:
    """Items of the price list with their counts, of all these needs.

    >>> priced((Need("cord", 2, "cords and panels", "plug", "cords", (("cord single-mode", 1),)),))
    {'cord single-mode': 2}
    """
    found: dict[str, float] = {}
    for need in needs:
        for item, count in need.prices:
            found[item] = found.get(item, 0) + count * need.quantity
    return found


def joined(*words: str) -> str:
    """The words of a part, those that are empty left out."""
    return ", ".join(word for word in words if word)

"""What follows from an object that never changes, remembered for that very object."""

from __future__ import annotations

from collections.abc import Callable, Hashable
from functools import wraps
from typing import TypeVar

Of = TypeVar("Of")
Rest = TypeVar("Rest", bound=Hashable)
Value = TypeVar("Value")

MOST_KEPT = 8192


def by_identity(make: Callable[[Of, Rest], Value]) -> Callable[[Of, Rest], Value]:
    """A function of an object and something hashable, computed once for that object and not for its equals.

    Comparing a catalog or a grade costs more than what is computed from it. At most 8,192 answers are kept.
    """
    kept: dict[tuple[int, Rest], tuple[Of, Value]] = {}

    @wraps(make)
    def remembering(of: Of, rest: Rest) -> Value:
        found = kept.get((id(of), rest))
        if found is not None and found[0] is of:
            return found[1]
        value = make(of, rest)
        if len(kept) >= MOST_KEPT:
            kept.clear()
        kept[id(of), rest] = of, value
        return value

    return remembering

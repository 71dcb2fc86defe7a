"""What was computed once, kept within a bound of bytes; the least used goes first."""

from __future__ import annotations

import sys
import threading
from collections.abc import Callable, Hashable
from typing import Any, Generic, TypeVar

from cachetools import LRUCache

Value = TypeVar("Value")
MIB = 1024 * 1024
_ATOMS = (str, bytes, int, float, bool, type(None))


class Kept(Generic[Value]):
    """Values by key within ``mib`` MiB, for several threads. A value larger than that is made and not kept."""

    def __init__(self, mib: int) -> None:
        self._lock = threading.Lock()
        self._values: LRUCache[Hashable, Value] = LRUCache(mib * MIB, getsizeof=deep_bytes)

    def get(self, key: Hashable, make: Callable[[], Value]) -> Value:
        """The value of a key, made where it is not there. Two threads may make the same one; neither waits."""
        with self._lock:
            try:
                return self._values[key]
            except KeyError:
                pass
        value = make()
        with self._lock:
            try:
                self._values[key] = value
            except ValueError:  # larger than all that may be kept
                return value
        return value

    def clear(self) -> None:
        """Forget everything."""
        with self._lock:
            self._values.clear()

    @property
    def bytes_kept(self) -> int:
        """How many bytes the values take; what they share is counted once a value."""
        return int(self._values.currsize)


def deep_bytes(value: object) -> int:
    """Bytes of a value with all that it holds, each object once."""
    seen: set[int] = set()
    total, todo = 0, [value]
    while todo:
        one = todo.pop()
        if id(one) in seen:
            continue
        seen.add(id(one))
        total += sys.getsizeof(one)
        if not isinstance(one, _ATOMS):
            todo += _inside(one)
    return total


def _inside(one: Any) -> list[object]:
    if isinstance(one, dict):
        return [*one.keys(), *one.values()]
    if isinstance(one, tuple | list | set | frozenset):
        return list(one)
    return [vars(one)] if hasattr(one, "__dict__") and not isinstance(one, type) else []

"""Memory that a large request took goes back to the machine, where the C library knows how."""

from __future__ import annotations

import ctypes
import gc
from contextlib import suppress


def give_back() -> None:
    """Let go of what nothing holds any more: what is young alone, for all of it would hold the interpreter."""
    gc.collect(1)
    with suppress(OSError, AttributeError):  # another C library keeps what it has
        ctypes.CDLL(None).malloc_trim(0)

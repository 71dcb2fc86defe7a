"""Memory that a large request took goes back to the machine, where the C library knows how."""

from __future__ import annotations

import ctypes
import gc
from contextlib import suppress


def give_back() -> None:
    """Let go of what nothing holds any more; takes about a tenth of a second, so only after what was large."""
    gc.collect()
    with suppress(OSError, AttributeError):  # another C library keeps what it has
        ctypes.CDLL(None).malloc_trim(0)

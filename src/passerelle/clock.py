"""The present moment. The core has no clock: whoever needs a day is given one, so a test can say which it is."""

from __future__ import annotations

from collections.abc import Callable
from datetime import UTC, datetime

Clock = Callable[[], datetime]
"""Answers with the present moment in UTC, aware of its zone."""


def system_clock() -> datetime:
    """The present moment by the machine's clock, in UTC."""
    return datetime.now(UTC)

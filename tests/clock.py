"""The day of the tests: one moment, given to all that needs one. ``PASSERELLE_TEST_NOW`` says another."""

from __future__ import annotations

import os
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta

NOW = datetime.fromisoformat(os.environ.get("PASSERELLE_TEST_NOW", "2026-11-26T10:00:00+00:00")).astimezone(UTC)
"""When a test begins."""


def day(days: int = 0) -> str:
    """A date as ISO 8601 has it, so many days from the day of the tests.

    >>> day(1) > day() > day(-1)
    True
    """
    return f"{NOW + timedelta(days=days):%Y-%m-%d}"


def time_of_day(minutes: int = 0) -> str:
    """A time of day in UTC, so many minutes from when a test begins, never of another day."""
    moment = NOW + timedelta(minutes=minutes)
    return f"{moment if moment.date() == NOW.date() else NOW:%H:%M:%S}"


@dataclass
class SetClock:
    """A clock that stands still until a test moves it on."""

    moment: datetime = NOW

    def __call__(self) -> datetime:
        return self.moment

    def pass_by(self, **passed: float) -> None:
        """Move on, as ``timedelta`` has it: ``pass_by(hours=13)``."""
        self.moment += timedelta(**passed)

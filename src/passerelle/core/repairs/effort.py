"""How much work a cure is, for ordering cures; no unit but the order itself."""

from __future__ import annotations

from enum import IntEnum


class Effort(IntEnum):
    """Costs at the place where the work is done, from a clip turned over to a cable pulled again."""

    SETTING = 1
    CLIP = 2
    CORD = 10
    ATTENUATOR = 12
    ADAPTER = 15
    MODULE = 30
    RETERMINATE = 200
    PULL = 1000

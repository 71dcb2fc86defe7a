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
    CABINET = 60
    RETERMINATE = 200
    PULL = 1000


_CAUTIONS = {
    Effort.RETERMINATE: "Glass shards: eye protection, black mat, a closed bin, no food. Confirm darkness first.",
    Effort.PULL: "Work in ducts, at height or near mains: local codes and licensed people decide.",
}


def caution_for(effort: int) -> str:
    """The usual care at work of this size; empty where a cord or a setting is all."""
    return next((text for least, text in sorted(_CAUTIONS.items(), reverse=True) if effort >= least), "")

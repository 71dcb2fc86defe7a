"""How much work a cure is, for ordering cures; no unit but the order itself."""

from __future__ import annotations

from enum import IntEnum

from passerelle.core.parts.spec import By


class Effort(IntEnum):
    """Costs at the place where the work is done, from a clip turned over to a cable pulled again."""

    SETTING = 1
    CLIP = 2
    CORD = 10
    ATTENUATOR = 12
    KEY = 13
    PINS = 14
    ADAPTER = 15
    CASSETTE = 20
    MODULE = 30
    CABINET = 60
    RETERMINATE = 200
    PULL = 1000


OF_WORK: dict[By, int] = {
    "setting": Effort.SETTING,
    "clip": Effort.CLIP,
    "plugs": Effort.CORD * 2,
    "cord": Effort.CORD,
    "key": Effort.KEY,
    "pins": Effort.PINS,
    "adapter": Effort.ADAPTER,
    "cassette": Effort.CASSETTE,
    "terminated": Effort.RETERMINATE,
    "pulled": Effort.PULL,
}
"""What each work on a piece counts."""

_CAUTIONS = {
    Effort.RETERMINATE: "Glass shards: eye protection, black mat, a closed bin, no food. Confirm darkness first.",
    Effort.PULL: "Work in ducts, at height or near mains: local codes and licensed people decide.",
}


def caution_for(effort: int) -> str:
    """The usual care at work of this size; empty where a cord or a setting is all."""
    return next((text for least, text in sorted(_CAUTIONS.items(), reverse=True) if effort >= least), "")

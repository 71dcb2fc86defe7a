"""The stages of the job, and which one a link has come to."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Literal

Stage = Literal["survey", "layout", "match", "budget", "order", "test", "turn up"]
STAGES: tuple[Stage, ...] = ("survey", "layout", "match", "budget", "order", "test", "turn up")
_SURVEY = {
    "length.unknown",
    "fiber.unknown",
    "coding.unknown",
    "temperature.unknown",
    "ingress.unknown",
    "construction.unknown",
}
_LAYOUT = {"chain.no_glass", "chain.open"}
_BUDGET = ("reach.", "loss.", "light.", "launch.", "margin.", "copper.too_long")


def stage_of(blocking: Iterable[str], *, judged: bool) -> Stage:
    """The first stage that still has work, from the codes of the findings that keep a link from being built.

    ``judged`` is false where there was not enough to give a verdict: then the survey has work whatever the codes.

    >>> stage_of(["mating.angled_flat", "loss.over_limit"], judged=True)
    'match'
    """
    stages = [_stage(code) for code in blocking]
    if not stages:
        return "order" if judged else "survey"
    return min(stages, key=STAGES.index)


def _stage(code: str) -> Stage:
    if code in _SURVEY:
        return "survey"
    if code in _LAYOUT:
        return "layout"
    return "budget" if code.startswith(_BUDGET) else "match"

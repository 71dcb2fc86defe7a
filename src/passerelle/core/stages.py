"""The stages of the job, and which one a link has come to."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Literal

Stage = Literal["survey", "layout", "match", "budget", "order", "test", "turn up"]
STAGES: tuple[Stage, ...] = ("survey", "layout", "match", "budget", "order", "test", "turn up")
_LAYOUT = {"chain.no_glass", "chain.open"}
_NO_QUESTION = {"chain.modules", "panel.class_not_for_glass"}
_BUDGET = ("reach.", "loss.", "light.", "launch.", "margin.", "copper.too_long")
ESTIMATED_LENGTH = "length.estimated"


def stage_of(blocking: Iterable[tuple[str, bool]], *, judged: bool, estimated: bool = False) -> Stage:
    """The first stage that still has work.

    Args:
        blocking: code of each finding that keeps a link from being built, and whether an input is missing there.
        judged: false where there was not enough to give a verdict: then the survey has work whatever is found.
        estimated: a length is an estimate: it is measured before anything is ordered.

    >>> stage_of([("mating.angled_flat", False), ("speed.unknown", True)], judged=True)
    'survey'
    """
    stages = [_stage(code, missing) for code, missing in blocking]
    if not stages:
        return "order" if judged and not estimated else "survey"
    return min(stages, key=STAGES.index)


def _stage(code: str, missing: bool) -> Stage:
    if code in _LAYOUT:
        return "layout"
    if missing and code not in _NO_QUESTION:
        return "survey"
    return "budget" if code.startswith(_BUDGET) else "match"

"""The stages of the job, and which one a link has come to."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Literal

Stage = Literal["survey", "layout", "match", "budget", "order", "test", "turn up"]
STAGES: tuple[Stage, ...] = ("survey", "layout", "match", "budget", "order", "test", "turn up")


def stage_of(blocking: Iterable[Stage], *, judged: bool, estimated: bool = False, built: bool = False) -> Stage:
    """The first stage that still has work.

    Args:
        blocking: the stage of each finding that keeps a link from being built.
        judged: false where there was not enough to give a verdict: then the survey has work whatever is found.
        estimated: a length is an estimate: it is measured before anything is ordered.
        built: every piece is in its place, so that it is tested next.

    >>> stage_of(["match", "survey"], judged=True)
    'survey'
    """
    stages = list(blocking)
    if not stages:
        if judged and built:
            return "test"
        return "order" if judged and not estimated else "survey"
    return min(stages, key=STAGES.index)

"""What would help where nothing answers: the wish to drop, the nearest that exists, what would have to be said."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator
from itertools import islice
from typing import Any

from passerelle.core.selection.wish import MEDIA, PortWish, Question
from passerelle.core.sources import Frozen
from passerelle.core.units import format_length, format_rate

Nearest = Callable[[Question], "str | None"]
LOWER_RATES = (400_000, 200_000, 100_000, 50_000, 40_000, 25_000, 10_000, 5000, 2500, 1000, 100)
SHORTER_M = (80_000.0, 40_000.0, 10_000.0, 2000.0, 500.0, 100.0, 30.0)
_ANY_PORT = ("cage", "rates_mbps", "free")


class Help(Frozen):
    """One way on: what it is in words, what would then answer, and the fields of the question that it changes."""

    words: str
    answers: str
    change: dict[str, Any]


def helps(question: Question, reach_m: float, first_answer: Nearest) -> tuple[Help, ...]:
    """What would answer a question that nothing answers, the smallest change first; each was tried.

    Of shorter ways and of lower speeds only the nearest that answers is told.

    Args:
        question: what is asked, and has no answer.
        reach_m: how far the farthest of what was ruled out goes, in m; 0 where nothing was tried at all.
        first_answer: the key of the best answer to another question, None where that has none either.
    """
    dropped = _tried(_dropped(question), question, first_answer)
    nearest = islice(_tried(_nearer(question, reach_m), question, first_answer), 1)
    fastest = islice(_tried(_slower(question), question, first_answer), 1)
    single = (*dropped, *nearest, *fastest)
    return single or tuple(islice(_tried(_together(question), question, first_answer), 1))


def _tried(
    ways_on: Iterator[tuple[str, dict[str, Any]]], question: Question, first_answer: Nearest
) -> Iterator[Help]:
    """Those of some changes that have an answer."""
    for words, change in ways_on:
        key = first_answer(Question.model_validate({**question.model_dump(), **change}))
        if key is not None:
            yield Help(words=words, answers=key, change=change)


def _dropped(question: Question) -> Iterator[tuple[str, dict[str, Any]]]:
    """Single wishes that could be dropped."""
    if question.tolerance_percent:
        words = f"Measure the length: {format_length(question.length_m or 0.0)} as it stands, without ± "
        yield f"{words}{question.tolerance_percent:g} %", {"tolerance_percent": 0}
    if question.price_limit is not None:
        yield f"Without the price limit of {question.price_limit:g}", {"price_limit": None}
    if set(question.media) < set(MEDIA):
        yield "With every medium allowed", {"media": MEDIA}
    if question.application:
        yield f"Without asking for {question.application}", {"application": ""}
    if question.grade:
        yield f"With new cable of another grade than {question.grade}", {"grade": ""}
    if question.strands == 1:
        yield "With two strands", {"strands": 2}
    yield from _ports(question)
    if question.near.free is None or question.far.free is None:
        many = {
            side: getattr(question, side).model_copy(update={"free": 8}).model_dump() for side in ("near", "far")
        }
        yield "With free ports for slower links side by side: say how many there are at both ends", many


def _together(question: Question) -> Iterator[tuple[str, dict[str, Any]]]:
    """All wishes dropped at once, as far as it goes: for a question with more than one thing in its way."""
    ports = {side: PortWish().model_dump() for side in ("near", "far")}
    free = {"media": MEDIA, "application": "", "grade": "", "strands": 2, "price_limit": None, "fiber": ()}
    change = {**free, **ports, "category": None, "tolerance_percent": 0}
    yield "With any cable and any ports", change
    for metres in SHORTER_M:
        if metres < (question.longest_m or 0.0):
            yield f"With any cable and any ports, up to {format_length(metres)}", {**change, "length_m": metres}


def _ports(question: Question) -> Iterator[tuple[str, dict[str, Any]]]:
    """Other ports: at one end where that is enough, else at both; what their boxes meet stays."""

    def any_port(wish: PortWish) -> dict[str, Any]:
        return {**wish.model_dump(), "cage": "", "rates_mbps": (), "free": None}

    said = [side for side in ("near", "far") if any(getattr(getattr(question, side), f) for f in _ANY_PORT)]
    places = {"near": question.from_place, "far": question.to_place}
    for side in said:
        yield f"With another port at {places[side]}", {side: any_port(getattr(question, side))}
    if len(said) == 2:
        yield "With other ports at both ends", {side: any_port(getattr(question, side)) for side in said}


def _nearer(question: Question, reach_m: float) -> Iterator[tuple[str, dict[str, Any]]]:
    """The farthest that something of this speed goes, in whole steps below it."""
    if question.longest_m is None or not 0 < reach_m < question.longest_m:
        return
    for share in (1.0, 0.95, 0.9, 0.8, 0.65, 0.5):
        metres = reach_m * share
        step = 10.0 ** max(0, math.floor(math.log10(metres)) - 1)
        whole = math.floor(metres / step) * step
        yield f"Up to {format_length(whole)}", {"length_m": whole, "tolerance_percent": 0}


def _slower(question: Question) -> Iterator[tuple[str, dict[str, Any]]]:
    for rate in LOWER_RATES:
        if rate < question.rate_mbps:
            yield f"At {format_rate(rate)}", {"rate_mbps": rate, "later_mbps": None}

"""A hidden fault, what was seen, and the next look: belief by Bayes' rule, looks ranked by what they save.

What is left to do from a belief is to try its cures one after another, the likeliest for its minutes first: with
shares p and minutes k in that order the expected minutes are Σ p·(k_1 + ... + k_i). A look saves what that is now,
less what it is on average after its outcomes, less its own minutes.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from passerelle.core.errors import TurnUpError
from passerelle.core.sources import Frozen

Floats = NDArray[np.float64]
_OFF = 0.02
"""Likelihoods of a look that sum to one but for this are rounded ones."""


class Fault(Frozen):
    """A fault that may be hidden: its prior weight, and the minutes that its cure takes."""

    name: str
    prior: float
    cure_min: float = 30.0


class Look(Frozen):
    """A test: its minutes, and for each outcome how likely it is under each fault.

    A fault that stands in none of its outcomes is one that it says nothing about.
    """

    name: str
    minutes: float
    outcomes: dict[str, dict[str, float]]


class Answer(Frozen):
    """What was seen: a look and its outcome."""

    test: str
    outcome: str


class OutcomeMeaning(Frozen):
    """What an outcome would mean: how likely it is, and what one would believe then, the likeliest first."""

    outcome: str
    probability: float
    belief: tuple[tuple[str, float], ...]


class NextLook(Frozen):
    """A look with what it costs and saves, in minutes; ``tells`` is the fault that it says most about."""

    test: str
    tells: str = ""
    minutes: float
    saves_min: float
    outcomes: tuple[OutcomeMeaning, ...]


class Diagnosis(Frozen):
    """The belief over the faults, the looks that are left, best first, and the cure that is worth trying first.

    ``impossible`` are answers that no fault gives together with those before them: the belief leaves them out.
    ``left_min`` are the minutes that trying cures alone would take on average.
    """

    belief: dict[str, float]
    tests: tuple[NextLook, ...]
    cure: str
    left_min: float
    impossible: tuple[Answer, ...] = ()


@dataclass(frozen=True)
class Case:
    """Faults and looks as arrays: a look's likelihoods have the shape (outcomes, faults)."""

    faults: tuple[Fault, ...]
    looks: tuple[Look, ...]

    def __post_init__(self) -> None:
        _check_faults(self.faults)
        names = set[str]()
        for number, look in enumerate(self.looks):
            if look.name in names:
                raise TurnUpError(f"tests[{number}].name", f"'{look.name}' stands twice")
            names.add(look.name)
        _ = self.likelihoods

    @cached_property
    def cures(self) -> Floats:
        """Minutes of each cure, shape (faults,)."""
        return np.array([fault.cure_min for fault in self.faults], dtype=float)

    @cached_property
    def likelihoods(self) -> dict[str, tuple[tuple[str, ...], Floats]]:
        """For each look its outcomes, and likelihoods of shape (outcomes, faults)."""
        names = [fault.name for fault in self.faults]
        return {look.name: _likelihoods(number, look, names) for number, look in enumerate(self.looks)}


def _check_faults(faults: Sequence[Fault]) -> None:
    if not faults:
        raise TurnUpError("faults", "there is none: a diagnosis needs the faults that may be hidden")
    names = set[str]()
    for number, fault in enumerate(faults):
        if fault.name in names:
            raise TurnUpError(f"faults[{number}].name", f"'{fault.name}' stands twice")
        names.add(fault.name)
        if not (np.isfinite(fault.prior) and fault.prior >= 0):
            raise TurnUpError(f"faults[{number}].prior", f"{fault.prior:g}: a prior is zero or more")
        if not (np.isfinite(fault.cure_min) and fault.cure_min > 0):
            raise TurnUpError(f"faults[{number}].cure_min", f"{fault.cure_min:g}: minutes are more than zero")
    if sum(fault.prior for fault in faults) <= 0:
        raise TurnUpError("faults", "every prior is zero: one must be possible")


def _likelihoods(number: int, look: Look, names: list[str]) -> tuple[tuple[str, ...], Floats]:
    field = f"tests[{number}]"
    if not (np.isfinite(look.minutes) and look.minutes >= 0):
        raise TurnUpError(f"{field}.minutes", f"{look.minutes:g}: minutes are zero or more")
    if not look.outcomes:
        raise TurnUpError(f"{field}.outcomes", f"'{look.name}' has no outcome")
    known = set(names)
    for outcome, shares in look.outcomes.items():
        for name, share in shares.items():
            if name not in known:
                raise TurnUpError(f"{field}.outcomes.{outcome}", f"there is no fault '{name}'")
            if not 0 <= share <= 1:
                raise TurnUpError(f"{field}.outcomes.{outcome}.{name}", f"{share:g}: a likelihood is 0 to 1")
    found = np.array([[shares.get(name, 0.0) for name in names] for shares in look.outcomes.values()], dtype=float)
    said = np.array([any(name in shares for shares in look.outcomes.values()) for name in names])
    total = found.sum(axis=0)
    for at, name in enumerate(names):
        if said[at] and abs(total[at] - 1) > _OFF:
            words = f"for '{name}' the likelihoods sum to {total[at]:g}: they are shares of one"
            raise TurnUpError(f"{field}.outcomes", words)
    found[:, ~said] = 1 / len(look.outcomes)
    return tuple(look.outcomes), found / found.sum(axis=0)


def left_min(belief: Floats, cures: Floats) -> Floats:
    """Expected minutes of trying cures, the likeliest for its minutes first, shape (...,).

    Args:
        belief: shares of shape (..., faults), each row summing to one.
        cures: minutes of shape (faults,).
    """
    order = np.argsort(-belief / cures, axis=-1, kind="stable")
    sorted_cures = cures[order]
    return np.asarray((np.take_along_axis(belief, order, -1) * np.cumsum(sorted_cures, axis=-1)).sum(axis=-1))


def believed(case: Case, seen: Sequence[Answer]) -> tuple[Floats, tuple[Answer, ...]]:
    """The belief of shape (faults,) after what was seen, and the answers that are impossible with those before.

    Of a look that was answered twice the newer answer counts. Bayes' rule is reckoned in logarithms, so that the
    order of the answers does not matter however small priors and likelihoods are.

    Raises:
        TurnUpError: an answer to a look, or with an outcome, that the case does not have.
    """
    newest = {answer.test: answer for answer in seen}
    weights, impossible = _logarithms(np.array([fault.prior for fault in case.faults])), []
    for number, answer in enumerate(seen):
        if answer.test not in case.likelihoods:
            raise TurnUpError(f"seen[{number}].test", f"there is no test '{answer.test}'")
        outcomes, likely = case.likelihoods[answer.test]
        if answer.outcome not in outcomes:
            words = f"'{answer.test}' comes out as {', '.join(outcomes)}, not as '{answer.outcome}'"
            raise TurnUpError(f"seen[{number}].outcome", words)
        if newest[answer.test] is not answer:
            continue
        after = weights + _logarithms(likely[outcomes.index(answer.outcome)])
        if np.isneginf(after).all():
            impossible.append(answer)
        else:
            weights = after
    belief = np.exp(weights - weights.max())
    return belief / belief.sum(), tuple(impossible)


def _logarithms(shares: Floats) -> Floats:
    """Natural logarithms, minus infinity of zero: products of small shares are sums here, and lose nothing."""
    with np.errstate(divide="ignore"):
        return np.asarray(np.log(shares))


def diagnose(case: Case, seen: Sequence[Answer], *, meanings: int = 3) -> Diagnosis:
    """What to believe, and what to look at next.

    Args:
        case: faults and looks.
        seen: answers, oldest first; any of them can be left out again.
        meanings: of how many faults an outcome tells what one would believe.

    Raises:
        TurnUpError: an answer that the case does not have.

    Examples:
        >>> case = Case(
        ...     (Fault(name="crossed", prior=0.5), Fault(name="dirty", prior=0.5)),
        ...     (Look(name="light", minutes=1, outcomes={"none": {"crossed": 1.0}, "low": {"dirty": 1.0}}),),
        ... )
        >>> diagnose(case, [Answer(test="light", outcome="none")]).belief
        {'crossed': 1.0, 'dirty': 0.0}
    """
    belief, impossible = believed(case, seen)
    done = {answer.test for answer in seen}
    now = float(left_min(belief, case.cures))
    looks = [_next(case, look, belief, now, meanings) for look in case.looks if look.name not in done]
    looks.sort(key=lambda look: (-look.saves_min, look.minutes, look.test))
    names = [fault.name for fault in case.faults]
    return Diagnosis(
        belief=dict(zip(names, belief.tolist(), strict=True)),
        tests=tuple(looks),
        cure=names[int(np.argmax(belief / case.cures))],
        left_min=round(now, 3),
        impossible=impossible,
    )


def _next(case: Case, look: Look, belief: Floats, now: float, meanings: int) -> NextLook:
    outcomes, likely = case.likelihoods[look.name]
    joint = likely * belief
    chance = joint.sum(axis=1)
    after = np.divide(joint, chance[:, None], out=np.zeros_like(joint), where=chance[:, None] > 0)
    then = float((chance * left_min(after, case.cures)).sum())
    told = [
        OutcomeMeaning(outcome=outcome, probability=float(chance[n]), belief=_top(case.faults, after[n], meanings))
        for n, outcome in enumerate(outcomes)
    ]
    moved = (chance[:, None] * np.abs(after - belief)).sum(axis=0)
    return NextLook(
        test=look.name,
        tells=case.faults[int(np.argmax(moved))].name,
        minutes=look.minutes,
        saves_min=round(now - then - look.minutes, 6),
        outcomes=tuple(told),
    )


def _top(faults: Sequence[Fault], belief: Floats, count: int) -> tuple[tuple[str, float], ...]:
    order = np.argsort(-belief, kind="stable")[:count]
    return tuple((faults[n].name, float(belief[n])) for n in order if belief[n] > 0)


def without(belief: Mapping[str, float], name: str) -> dict[str, float]:
    """The belief once a cure was tried and did not help; unchanged where nothing else is left.

    >>> without({"a": 0.5, "b": 0.25, "c": 0.25}, "a")
    {'a': 0.0, 'b': 0.5, 'c': 0.5}
    """
    rest = sum(share for one, share in belief.items() if one != name)  # not what is missing to one: that is rounded
    if rest <= 0:
        return dict(belief)
    return {one: 0.0 if one == name else share / rest for one, share in belief.items()}

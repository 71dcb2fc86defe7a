"""What turn-up rests on: accuracy of a module's own readings, error correction, faults, signs and minutes."""

from __future__ import annotations

import tomllib
from functools import cache
from importlib import resources
from typing import Literal

from pydantic import Field, model_validator

from passerelle.core.errors import CatalogError
from passerelle.core.sources import Frozen, Source

SignSide = Literal["once", "each", "line", "joint"]
SignPlace = Literal["desk", "box", "end", "other end", "piece", "both ends"]
FaultPlace = Literal["link", "end", "joint", "line", "panel"]
Need = Literal["pair", "array", "two wavelengths", "multimode", "launch", "attenuator"]
Shares = dict[str, float]
SPARE_MODULE = "spare module"
"""The one tool that is told apart: whether spares are at hand is asked by itself."""
Outcomes = dict[str, str | Shares]


class Accuracy(Frozen):
    """How far a module's own readings may be off, and the confidence that counted errors are told with."""

    power_db: float
    power_source: Source
    confidence: float
    errors_source: Source


class Correction(Frozen):
    """The error correction that the clauses of some applications ask for; ``always``: it cannot be switched off."""

    applications: tuple[str, ...]
    kind: str
    always: bool = False
    source: Source


class Costs(Frozen):
    """Minutes to fetch what is not at hand, and to have a second person."""

    trip_min: float
    second_person_min: float
    source: Source


class SignKind(Frozen):
    """Something that can be seen of a link: what it asks, its outcomes, what is usual, minutes and tools."""

    code: str
    asks: str
    side: SignSide
    minutes: float
    where: SignPlace
    outcomes: dict[str, str]
    usual: Shares
    tools: tuple[str, ...] = ()
    people: int = 1
    needs: Need | Literal[""] = ""
    caution: Literal["", "laser", "visible"] = ""

    @model_validator(mode="after")
    def _whole(self) -> SignKind:
        if not set(self.usual) <= set(self.outcomes) or abs(sum(self.usual.values()) - 1) > 1e-9:
            raise ValueError(f"sign '{self.code}': the usual outcomes are shares of one")
        return self


class FaultKind(Frozen):
    """A fault: where it can sit, how likely it is beside others, what its cure takes, and which signs differ."""

    code: str
    words: str
    at: FaultPlace
    way: bool = False
    needs: Need | Literal[""] = ""
    prior: float
    cure_min: float
    where: SignPlace
    new: float = 1.0
    old: float = 1.0
    touched: Shares = Field(default_factory=dict)
    findings: tuple[str, ...] = ()
    own: Outcomes = Field(default_factory=dict)
    other: Outcomes = Field(default_factory=dict)
    once: Outcomes = Field(default_factory=dict)
    here: Outcomes = Field(default_factory=dict)


class Exposure(Frozen):
    """Where cable is hurt: ``cord_m`` is what handling adds to a cord, ``by_space`` what a meter counts there."""

    cord_m: float
    by_space: dict[str, float]
    source: Source


class VisibleReach(Frozen):
    """How far a visible source is seen in m: surely, and at most by the family of glass."""

    sure_m: float
    single_mode_m: float
    multimode_m: float
    source: Source

    def share(self, length_m: float, *, multimode: bool) -> float:
        """How surely it is seen at the end of a length in m, from 1 to 0."""
        most = self.multimode_m if multimode else self.single_mode_m
        return min(1.0, max(0.0, (most - length_m) / (most - self.sure_m)))


class TurnUpFigures(Frozen):
    """The house table of turn-up."""

    accuracy: Accuracy
    correction: tuple[Correction, ...]
    costs: Costs
    exposure: Exposure
    visible: VisibleReach
    sign: tuple[SignKind, ...]
    fault: tuple[FaultKind, ...]

    @model_validator(mode="after")
    def _known(self) -> TurnUpFigures:
        signs = {one.code: one for one in self.sign}
        for fault in self.fault:
            for code, said in (
                *fault.own.items(),
                *fault.other.items(),
                *fault.once.items(),
                *fault.here.items(),
            ):
                if code not in signs:
                    raise ValueError(f"fault '{fault.code}': there is no sign '{code}'")
                shares = {said: 1.0} if isinstance(said, str) else said
                if not set(shares) <= set(signs[code].outcomes) or abs(sum(shares.values()) - 1) > 1e-9:
                    raise ValueError(f"fault '{fault.code}': '{code}' takes shares of its outcomes that sum to one")
        return self

    def correction_of(self, application: str) -> Correction | None:
        """The error correction that an application's clause asks for; None where it is not in the table."""
        return next((one for one in self.correction if application in one.applications), None)


@cache
def turnup_figures() -> TurnUpFigures:
    """The shipped table.

    Raises:
        CatalogError: a data file that is not right.
    """
    path = resources.files("passerelle.core.catalog") / "data" / "turnup.toml"
    try:
        return TurnUpFigures.model_validate(tomllib.loads(path.read_text(encoding="utf-8")))
    except ValueError as error:
        raise CatalogError(f"turnup.toml: {error}") from error

"""What every rule returns: a finding with its figures, its source and its checked fixes."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import dataclass, field
from enum import StrEnum

from pydantic import Field, computed_field

from passerelle.core.link.edits import Edit
from passerelle.core.sources import Frozen, Source
from passerelle.core.stages import Stage


class Severity(StrEnum):
    """How much a finding weighs. Damage and fail decide the verdict; a caution may cap it."""

    DAMAGE = "damage"
    FAIL = "fail"
    CAUTION = "caution"
    NOTE = "note"


class Verdict(StrEnum):
    """What can be said of a link, worst first."""

    DAMAGE = "damage"
    FAIL = "fail"
    UNKNOWN = "unknown"
    MARGINAL = "marginal"
    PASS = "pass"

    @property
    def rank(self) -> int:
        """0 for the worst; the lower of two is the one that stands."""
        return list(Verdict).index(self)

    @property
    def broken(self) -> bool:
        """Whether the link must not be built as it stands."""
        return self in (Verdict.DAMAGE, Verdict.FAIL)


class Effect(Frozen):
    """What a fix would do: the verdict after it, the margin, what goes away and what stays."""

    verdict: Verdict
    on_estimate: bool
    margin_db: float | None
    cleared: tuple[str, ...]
    remaining: int


class Fix(Frozen):
    """A change to the link that cures a finding. ``effort`` orders fixes: the smallest work comes first.

    ``caution`` is the usual care at that work; it defers to local codes and never grants permission.
    """

    label: str
    effort: int
    edits: tuple[Edit, ...]
    caution: str = ""
    effect: Effect | None = None


class Finding(Frozen):
    """Something that a rule has to say about a link.

    ``stage`` is where in the job it is put right. ``at`` holds the ids of the pieces that it is about; ``best`` is
    the best verdict that the link can have while the finding stands, or None where it does not touch the verdict.
    ``on_estimate``: what it refuses rests on a figure that no clause or datasheet stands behind. ``facts`` are the
    figures that the sentence is made of, by name with their unit (``length_m``, ``margin_db``).
    """

    code: str
    severity: Severity
    stage: Stage
    at: tuple[str, ...]
    what: str
    why: str
    sources: tuple[Source, ...] = ()
    fixes: tuple[Fix, ...] = ()
    best: Verdict | None = None
    caution: str = ""
    on_estimate: bool = False
    facts: dict[str, float | str] = Field(default_factory=dict)

    @computed_field  # type: ignore[prop-decorator]
    @property
    def marked(self) -> tuple[str, ...]:
        """The pieces to mark in a drawing: of three in a row the joint in the middle, else all that it names."""
        return self.at[1:2] if len(self.at) == 3 else self.at

    def of(self, **facts: float | str | None) -> Finding:
        """The finding with the facts that its sentence is made of; those that are not known are left out."""
        known = {
            name: fact if isinstance(fact, str) else float(fact) for name, fact in facts.items() if fact is not None
        }
        return self.model_copy(update={"facts": known})

    @property
    def key(self) -> tuple[str, tuple[str, ...]]:
        """What makes two findings of two versions of a link the same one."""
        return self.code, self.at


At = tuple[str, ...]


@dataclass(frozen=True, eq=False)
class Rule:
    """A rule: its code, the stage of the job at which what it finds is put right, and the cures worth trying.

    ``asks``: where it is undecided an input is missing, which the survey brings. Rooms above add the ``cures``.
    Each code has one rule; all are in ``RULES``.
    """

    code: str
    stage: Stage
    asks: bool = True
    cures: list[Callable[..., Iterable[Fix]]] = field(default_factory=list)

    def __post_init__(self) -> None:
        assert self.code not in RULES, f"two rules are called '{self.code}'"
        RULES[self.code] = self

    def damage(self, at: At, what: str, why: str, *sources: Source) -> Finding:
        """A finding that something will be destroyed if the link is built."""
        return self._broken(Severity.DAMAGE, Verdict.DAMAGE, at, what, why, sources)

    def fail(self, at: At, what: str, why: str, *sources: Source) -> Finding:
        """A finding that the link will not work as the standards ask."""
        return self._broken(Severity.FAIL, Verdict.FAIL, at, what, why, sources)

    def undecided(self, at: At, what: str, why: str, *sources: Source) -> Finding:
        """A finding that a deciding input is missing."""
        found = self.caution(at, what, why, *sources, best=Verdict.UNKNOWN)
        asked = self.asks and self.stage != "layout"
        return found.model_copy(update={"stage": "survey"}) if asked else found

    def caution(self, at: At, what: str, why: str, *sources: Source, best: Verdict | None = None) -> Finding:
        """A finding that deserves attention and may cap the verdict."""
        return self.note(at, what, why, *sources).model_copy(update={"severity": Severity.CAUTION, "best": best})

    def note(self, at: At, what: str, why: str, *sources: Source) -> Finding:
        """A finding for information."""
        told = {"code": self.code, "stage": self.stage, "at": at, "what": what, "why": why, "sources": sources}
        return Finding(severity=Severity.NOTE, **told)

    def _broken(
        self, severity: Severity, best: Verdict, at: At, what: str, why: str, sources: tuple[Source, ...]
    ) -> Finding:
        guessed = any(source.estimate for source in sources)
        found = {"severity": severity, "best": best, "on_estimate": guessed}
        return self.note(at, what, why, *sources).model_copy(update=found)


RULES: dict[str, Rule] = {}
"""Every rule by its code."""


def firmly(finding: Finding) -> Finding:
    """A finding that stands whatever its estimated figures are: geometry or the rule itself decides."""
    return finding.model_copy(update={"on_estimate": False})


def rests_on_estimate(verdict: Verdict, findings: Iterable[Finding], *, figures_do: bool) -> bool:
    """Whether a verdict rests on an estimate.

    A broken one does when every finding that breaks the link does; another when its figures do (``figures_do``).
    """
    if not verdict.broken:
        return figures_do
    return all(finding.on_estimate for finding in findings if finding.best is verdict)


def with_acceptance(verdict_text: str, acceptance: str) -> str:
    """The verdict of the application beside how its readings stand; the verdict alone where nothing was read.

    >>> with_acceptance("pass as measured", "4 of 8 readings fail")
    'application pass as measured; acceptance: 4 of 8 readings fail'
    """
    return f"application {verdict_text}; acceptance: {acceptance}" if acceptance else verdict_text


def verdict_words(verdict: Verdict, *, on_estimate: bool, as_measured: bool = False) -> str:
    """The verdict as it is shown: ``pass``, ``pass as measured``, ``fail on estimate``.

    >>> verdict_words(Verdict.PASS, on_estimate=True, as_measured=True)
    'pass as measured, on estimate'
    """
    if verdict is Verdict.UNKNOWN:
        return verdict.value
    measured = " as measured" if as_measured else ""
    joint = "," if as_measured and on_estimate else ""
    return f"{verdict.value}{measured}{joint}{' on estimate' if on_estimate else ''}"

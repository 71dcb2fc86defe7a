"""From margins to findings: too dark, too bright, thin."""

from __future__ import annotations

from passerelle.core.budget.power import Figure, Limit
from passerelle.core.findings import Finding, Verdict, caution, damage, fail
from passerelle.core.house import HouseRules
from passerelle.core.units import format_db

INVISIBLE = "Laser light is invisible: never look into a fiber or a port."


def light_findings(all_limits: list[tuple[Limit, str]], house: HouseRules) -> list[Finding]:
    """One finding for each kind of trouble with light, at the receivers that have it.

    ``all_limits`` pairs each limit with the id of the receiving module.
    """
    found: list[Finding] = []
    dark = [(m, at) for m, at in all_limits if m.low_light and m.margin_db < 0]
    if dark:
        found.append(_guessed(_too_dark(*_tightest(dark)), dark))
    burnt = [(m, at) for m, at in all_limits if m.name == "damage" and m.margin_db < 0]
    bright = [(m, at) for m, at in all_limits if not m.low_light and m.name != "damage" and m.margin_db < 0]
    if burnt:
        found.append(_guessed(_burnt(*_tightest(burnt)), burnt))
    if bright:
        found.append(_guessed(_too_bright(*_tightest(bright)), bright))
    low = [(m, at) for m, at in all_limits if m.low_light]
    if low and not dark:
        limit, at = _tightest(low)
        if limit.margin_db < house.margin_db:
            found.append(_thin(limit, at, house))
    return found


def _guessed(finding: Finding, broken: list[tuple[Limit, str]]) -> Finding:
    """The finding rests on an estimate when every limit that it stands for does."""
    return finding.model_copy(update={"on_estimate": all(limit.on_estimate for limit, _ in broken)})


def _tightest(found: list[tuple[Limit, str]]) -> tuple[Limit, tuple[str, ...]]:
    limit = min((limit for limit, _ in found), key=lambda m: m.margin_db)
    return limit, tuple(dict.fromkeys(at for _, at in found))


def _sum(limit: Limit) -> str:
    return " ".join(_signed(figure) for figure in limit.figures) + f" = {format_db(limit.margin_db, 2)}"


def _signed(figure: Figure) -> str:
    sign = "−" if figure.value < 0 else "+"
    return f"{sign} {abs(figure.value):.2f} {figure.unit} ({figure.label})"


def _sources(limit: Limit) -> tuple[Figure, ...]:
    return tuple(f for f in limit.figures if not f.source.derived)


def _too_dark(limit: Limit, at: tuple[str, ...]) -> Finding:
    return fail(
        "loss.over_limit",
        at,
        f"Too much loss on paper: {format_db(limit.margin_db)} against the {limit.name}.",
        _sum(limit) + ". Worst values of every part; a measured loss may tell a better story.",
        *(f.source for f in _sources(limit)),
    )


def _too_bright(limit: Limit, at: tuple[str, ...]) -> Finding:
    return fail(
        "light.too_bright",
        at,
        f"Too much light for the receiver: {format_db(limit.margin_db)} against the {limit.name}.",
        _sum(limit) + ". A strong transmitter over a short link blinds the receiver.",
        *(f.source for f in _sources(limit)),
    ).model_copy(update={"caution": INVISIBLE})


def _burnt(limit: Limit, at: tuple[str, ...]) -> Finding:
    return damage(
        "light.damage",
        at,
        f"Light beyond the receiver's damage level: {format_db(limit.margin_db)}.",
        _sum(limit) + ". Do not plug it in without an attenuator.",
        *(f.source for f in _sources(limit)),
    ).model_copy(update={"caution": INVISIBLE})


def _thin(limit: Limit, at: tuple[str, ...], house: HouseRules) -> Finding:
    return caution(
        "margin.thin",
        at,
        f"The margin of {format_db(limit.margin_db)} is inside the house margin of {house.margin_db:g} dB.",
        _sum(limit) + ". It works by the clause; a repair splice or a dirty face may use it up.",
        *(f.source for f in _sources(limit)),
        best=Verdict.MARGINAL,
    )

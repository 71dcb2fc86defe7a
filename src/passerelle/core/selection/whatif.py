"""What if: another length, application or allowance profile on a link that stays as it is."""

from __future__ import annotations

from passerelle.core.batch import figures_of
from passerelle.core.catalog.shelves import Catalog
from passerelle.core.errors import EditError
from passerelle.core.findings import Verdict
from passerelle.core.house import HouseRules, Profile, house_catalog
from passerelle.core.judge import kind_of
from passerelle.core.link.bulk import SetApplication, edits_for, set_length
from passerelle.core.link.chain import Link, copper, modules
from passerelle.core.link.edits import Edit, apply_edits
from passerelle.core.link.names import check_names
from passerelle.core.parts.piece import Label, LengthM
from passerelle.core.review import Review, review
from passerelle.core.sources import Frozen

_STEPS = 200
_FARTHEST_M = 100_000.0


class WhatIf(Frozen):
    """What to try; None leaves the link as it is. ``length_m`` is the length from module to module."""

    length_m: LengthM | None = None
    application: Label | None = None
    profile: Profile | None = None


class Outcome(Frozen):
    """The link as it would be, the edits that make it so, its review, and how far the same chain would pass.

    ``passes_to_m`` is the longest length in m with a verdict of pass, None where no length passes.
    """

    edits: tuple[Edit, ...]
    link: Link
    review: Review
    passes_to_m: float | None


def try_out(link: Link, wish: WhatIf, catalog: Catalog, house: HouseRules) -> Outcome:
    """Review a link with other answers; nothing is changed.

    Raises:
        EditError: the link has no glass, or less length than its other pieces need.
        CatalogError: no such application.
    """
    shown = house_catalog(catalog, house)
    edits: list[Edit] = []
    if wish.application is not None:
        edits += edits_for(link, SetApplication(application=wish.application), shown)
    changed = apply_edits(link, tuple(edits))
    if wish.length_m is not None:
        stretch = set_length(changed, wish.length_m)
        edits.append(stretch)
        changed = apply_edits(changed, (stretch,))
    check_names(changed, shown)
    rules = house if wish.profile is None else house.model_copy(update={"profile": wish.profile})
    found = review(changed, catalog, rules, with_fixes=False)
    return Outcome(edits=tuple(edits), link=changed, review=found, passes_to_m=passes_to_m(changed, catalog, rules))


def passes_to_m(link: Link, catalog: Catalog, house: HouseRules) -> float | None:
    """The longest length in m, to within one part in 200 of 200, at which the same chain passes.

    Two passes over 200 lengths each: the whole range of the application's rows, then around the last that passed.
    """
    shown = house_catalog(catalog, house)
    reaches = [row.reach_m for m in modules(link) for row in shown.application(m.application).reaches]
    if copper(link):
        found = kind_of(link, shown, house).copper
        reaches = [found.reach.reach_m if found and found.reach else 0.0]
    farthest_m = min(max(reaches, default=0.0) * 1.01, _FARTHEST_M)
    low_m, step_m = 0.0, farthest_m / _STEPS
    best_m: float | None = None
    for _ in range(2):
        lengths = [low_m + step_m * number for number in range(1, _STEPS + 1)]
        tried = [(length, variant) for length in lengths if (variant := _stretched(link, length))]
        figures = figures_of([variant for _, variant in tried], catalog, house)
        passing = [length for (length, _), f in zip(tried, figures, strict=True) if f.verdict is Verdict.PASS]
        if passing:
            best_m = max(passing)
        low_m, step_m = best_m or 0.0, step_m / _STEPS
    return best_m


def _stretched(link: Link, length_m: float) -> Link | None:
    try:
        return apply_edits(link, (set_length(link, length_m),))
    except EditError:
        return None

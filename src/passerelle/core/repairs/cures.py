"""The cures of a rule: which are worth trying for a finding."""

from __future__ import annotations

from collections.abc import Callable, Iterator

from passerelle.core.catalog.shelves import Catalog
from passerelle.core.findings import RULES, Finding, Fix, Rule
from passerelle.core.link.chain import Link
from passerelle.core.repairs.effort import caution_for

Cure = Callable[[Link, Finding, Catalog], Iterator[Fix]]


def cures(*rules: Rule) -> Callable[[Cure], Cure]:
    """Make a function one of the cures of some rules."""

    def added(cure: Cure) -> Cure:
        for rule in rules:
            rule.cures.append(cure)
        return cure

    return added


def candidate_cures(link: Link, finding: Finding, catalog: Catalog) -> list[Fix]:
    """All cures worth trying for a finding, least effort first; not yet checked."""
    found = [fix for cure in RULES[finding.code].cures for fix in cure(link, finding, catalog)]
    careful = (fix.model_copy(update={"caution": caution_for(fix.effort)}) for fix in found)
    return sorted(careful, key=lambda fix: fix.effort)

"""The smallest changes that make transmit end on receive, and arrays that seat."""

from __future__ import annotations

from collections.abc import Iterator
from itertools import islice

from passerelle.core.catalog.shelves import Catalog
from passerelle.core.findings import RULES, Finding, Fix, Rule
from passerelle.core.link.chain import Link, called
from passerelle.core.link.edits import Edit, SetFields, apply_edits
from passerelle.core.parts.registry import spec_of
from passerelle.core.parts.spec import Alternative
from passerelle.core.polarity.findings import POLARITY_DARK, POLARITY_LEG, POLARITY_ORDER
from passerelle.core.polarity.search import Change, lighting
from passerelle.core.repairs.cures import cures
from passerelle.core.repairs.effort import OF_WORK
from passerelle.core.rules.arrays import (
    MATING_ANGLED_KEYS,
    MATING_ARRAY_ROWS,
    MATING_NO_PINS,
    MATING_PINS_UNKNOWN,
    MATING_TWO_PINNED,
)
from passerelle.core.rules.mating import MATING_ANGLED_FLAT, MATING_SHAPE

MOST_TRIED = 40
_ABOUT: dict[Rule, str] = {
    MATING_TWO_PINNED: "pins",
    MATING_NO_PINS: "pins",
    MATING_PINS_UNKNOWN: "pins",
    MATING_ANGLED_KEYS: "keys",
    MATING_ANGLED_FLAT: "polish",
    MATING_ARRAY_ROWS: "fibers",
    MATING_SHAPE: "fibers",
}
"""What a change must be of to cure what is wrong at a joint."""


@cures(POLARITY_DARK, POLARITY_LEG, POLARITY_ORDER)
def polarity_cures(link: Link, finding: Finding, catalog: Catalog) -> Iterator[Fix]:
    """The smallest sets of changes that light, least effort first."""
    found = list(islice(lighting(link, catalog, OF_WORK), MOST_TRIED))
    alone = bool(found) and all(change.by == "pulled" for change in found[0])
    for changes in found:
        fix = _fix(link, changes)
        yield fix.model_copy(update={"label": f"{fix.label}: nothing short of it lights"}) if alone else fix


def _fix(link: Link, changes: tuple[Change, ...], first: tuple[Fix, ...] = ()) -> Fix:
    words = [fix.label for fix in first]
    words += [change.words.format(name=called(link, link.element(change.edit.element))) for change in changes]
    label = "; ".join(word if n == 0 else word[0].lower() + word[1:] for n, word in enumerate(words))
    edits: tuple[Edit, ...] = tuple(edit for fix in first for edit in fix.edits)
    effort = sum(fix.effort for fix in first) + sum(change.effort for change in changes)
    return Fix(label=label, effort=effort, edits=(*edits, *(change.edit for change in changes)))


@cures(*_ABOUT)
def seating_cures(link: Link, finding: Finding, catalog: Catalog) -> Iterator[Fix]:
    """Another piece at the joint, alone or with what makes the link light again after it."""
    for element in [piece for piece in link.elements if piece.id in finding.at]:
        for other in spec_of(element).alternatives(element):
            if not _touches(other, finding):
                continue
            fix = Fix(
                label=other.words.format(name=called(link, element)),
                effort=OF_WORK[other.by],
                edits=(SetFields(element=element.id, values=other.values),),
            )
            yield fix
            if finding.code == MATING_ANGLED_KEYS.code:
                after = apply_edits(link, fix.edits)
                yield from (_fix(link, more, (fix,)) for more in islice(lighting(after, catalog, OF_WORK), 6))


def _touches(other: Alternative, finding: Finding) -> bool:
    about = _ABOUT[RULES[finding.code]]
    return any("keys" in name for name in other.values) if about == "keys" else other.of == about

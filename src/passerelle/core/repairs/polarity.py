"""The smallest change that makes transmit end on receive."""

from __future__ import annotations

from collections.abc import Iterator

from passerelle.core.catalog.shelves import Catalog
from passerelle.core.findings import Finding, Fix
from passerelle.core.link.chain import Link, called
from passerelle.core.link.compose import Joiner, Standing, compose
from passerelle.core.link.edits import SetFields
from passerelle.core.polarity.findings import POLARITY_DARK
from passerelle.core.repairs.cures import cures
from passerelle.core.repairs.effort import Effort


@cures(POLARITY_DARK)
def polarity_cures(link: Link, finding: Finding, catalog: Catalog) -> Iterator[Fix]:
    """One crossing more or one fewer, wherever a piece allows it. One is always enough in duplex."""
    for place in compose(link, catalog).places:
        name = called(link, place.piece)
        if isinstance(place, Joiner):
            yield from _joiner(place, name)
        elif place.traits.turns_by_hand:
            by_clip = place.traits.exchange == "cord"
            words = f"Flip one duplex clip on {name}" if by_clip else f"Swap the two plugs at one end of {name}"
            yield _toggled(place, words, Effort.CLIP if by_clip else Effort.CORD * 2)


def _joiner(place: Joiner, name: str) -> Iterator[Fix]:
    if place.mating.takes == "plug":
        other = "opposed" if place.mating.keys == "aligned" else "aligned"
        yield Fix(
            label=f"Put an adapter with keys {other} into {name}",
            effort=Effort.ADAPTER,
            edits=(SetFields(element=place.id, values={"keys": other}),),
        )
    elif place.mating.takes == "bare":
        yield _toggled(place, f"Cross the pair in {name}", Effort.RETERMINATE)


def _toggled(place: Standing | Joiner, label: str, effort: int) -> Fix:
    crossed = bool(place.piece.__dict__.get("crossed"))
    return Fix(label=label, effort=effort, edits=(SetFields(element=place.id, values={"crossed": not crossed}),))

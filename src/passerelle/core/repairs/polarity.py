"""The smallest change that makes transmit end on receive."""

from __future__ import annotations

from collections.abc import Iterator

from passerelle.core.catalog.shelves import Catalog
from passerelle.core.findings import Finding, Fix
from passerelle.core.link.chain import Link, called
from passerelle.core.link.edits import SetFields
from passerelle.core.link.elements import Cord, Panel, Run, Splice
from passerelle.core.repairs.effort import Effort


def polarity_cures(link: Link, finding: Finding, catalog: Catalog) -> Iterator[Fix]:
    """One crossing more or one fewer, wherever a piece allows it. One is always enough in duplex."""
    for element in link.elements:
        if isinstance(element, Cord):
            yield _toggled(element, f"Flip one duplex clip on {called(link, element)}", Effort.CLIP)
        elif isinstance(element, Panel):
            other = "opposed" if element.keys == "aligned" else "aligned"
            yield Fix(
                label=f"Put an adapter with keys {other} into {called(link, element)}",
                effort=Effort.ADAPTER,
                edits=(SetFields(element=element.id, values={"keys": other}),),
            )
        elif isinstance(element, Splice):
            yield _toggled(element, f"Cross the pair in {called(link, element)}", Effort.RETERMINATE)
        elif isinstance(element, Run) and (element.left or element.right):
            yield _toggled(element, f"Swap the two plugs at one end of {called(link, element)}", Effort.CORD * 2)


def _toggled(element: Cord | Run | Splice, label: str, effort: int) -> Fix:
    edits = (SetFields(element=element.id, values={"crossed": not element.crossed}),)
    return Fix(label=label, effort=effort, edits=edits)

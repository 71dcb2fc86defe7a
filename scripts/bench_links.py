"""Links to measure with; it loads no more than the core, so that a process with it measures the core alone."""

from __future__ import annotations

import itertools
import random
from collections.abc import Iterator
from typing import Any

from passerelle.core.catalog.shelves import load_catalog
from passerelle.core.link.build import LinkEnd, build_link, cage_for
from passerelle.core.link.chain import Link
from passerelle.core.parts.registry import Element

COUNT = 10_000
SEED = 7


def many_links(count: int) -> Iterator[Link]:
    """Links of about 12 pieces: all applications on all their grades, with joints and lengths that vary."""
    catalog = load_catalog()
    choices = [(a, row) for a in catalog.applications.values() for row in a.reaches]
    joints = itertools.cycle([(2, 1), (2, 2), (3, 1), (4, 0), (3, 0)])
    for number, (application, row) in zip(range(count), itertools.cycle(choices), strict=False):
        pairs, splices = next(joints)
        cage, rates = cage_for(catalog, application.name), (application.rate_mbps,)
        near, far = LinkEnd("core", str(number), cage, rates), LinkEnd(f"place {number}", "1", cage, rates)
        length_m = row.reach_m * (0.1 + (number * 37 % 100) / 90)
        yield build_link(
            f"link {number}",
            near,
            far,
            application.name,
            (row.fiber,),
            length_m,
            catalog,
            pairs=pairs,
            splices=splices,
        )


def diverse_links(count: int) -> Iterator[Link]:
    """Links as people draw them: open grades, labels, wrong plugs, foreign glass, lengths not known.

    About half of them are a kind of their own; no two have the same labels.
    """
    rng = random.Random(SEED)
    for number, link in enumerate(many_links(count)):
        elements = [_drawn(element, rng, number) for element in link.elements]
        yield link.model_copy(update={"elements": tuple(elements), "notes": f"row {number % 17}"})


def _drawn(element: Element, rng: random.Random, number: int) -> Element:
    """One piece as somebody else would have drawn it."""
    values: dict[str, Any] = {"label": f"{element.kind} {number}"} if rng.random() < 0.3 else {}
    kind = element.kind
    if kind == "run" and rng.random() < 0.03:
        values["fiber"] = rng.choice([("OM3", "OM4"), ("OS2", "OM3"), ("OM1", "OM2"), ()])
    if kind == "cord" and rng.random() < 0.025:
        values["fiber"] = rng.choice([("OM2",), ("OM4",), ("OS2",), ("OS1a", "OS2")])
    if kind in ("run", "cord") and rng.random() < 0.05:
        values["length_m"] = rng.choice([None, 0.5, 3.0, 7.5])
    if kind == "cord" and rng.random() < 0.02:
        side = rng.choice(["left", "right"])
        values[side] = getattr(element, side).model_copy(update={"polish": rng.choice(["UPC", "APC"])})
    if kind == "cord" and rng.random() < 0.04:
        values["crossed"] = rng.random() < 0.5
    return element.model_copy(update=values)

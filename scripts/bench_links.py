"""Links to measure with; it loads no more than the core, so that a process with it measures the core alone."""

from __future__ import annotations

import itertools
from collections.abc import Iterator

from passerelle.core.catalog.shelves import load_catalog
from passerelle.core.link.build import LinkEnd, build_link, cage_for
from passerelle.core.link.chain import Link

COUNT = 10_000


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

"""Plain links for tests."""

from __future__ import annotations

from passerelle.core.catalog.shelves import load_catalog
from passerelle.core.link.build import LinkEnd, build_link, cage_for
from passerelle.core.link.chain import Link

CATALOG = load_catalog()


def plain_link(
    application: str = "10GBASE-LR",
    grade: str | tuple[str, ...] = "OS2",
    length_m: float | None = 2900.0,
    **options: object,
) -> Link:
    """A link that is right in everything but what the arguments make of it."""
    cage = cage_for(CATALOG, application)
    rates = (CATALOG.application(application).rate_mbps,)
    near, far = LinkEnd("near", "1", cage, rates), LinkEnd("far", "1", cage, rates)
    grades = (grade,) if isinstance(grade, str) else grade
    return build_link("plain", near, far, application, grades, length_m, CATALOG, **options)  # type: ignore[arg-type]

"""What is bought for a backbone carries what is promised, or it is said how much of it."""

from __future__ import annotations

import pytest

from passerelle.core.catalog.prices import prices
from passerelle.core.polarity.method import MethodWish, methods, trunks_later, trunks_now
from tests.core.plain import CATALOG


@pytest.mark.parametrize(
    ("links", "duplex", "parallel", "now", "carried", "needed"),
    [
        (8, "now", "later", 2, 2, 8),  # two trunks of six pairs; an array needs a whole trunk
        (6, "now", "later", 1, 1, 6),
        (1, "now", "later", 1, 1, 1),
        (8, "later", "now", 8, 8, 2),
        (8, "now", "now", 10, None, None),
        (8, "never", "later", 8, None, None),
        (7, "later", "never", 2, None, None),
    ],
)
def test_how_many_trunks(
    links: int, duplex: str, parallel: str, now: int, carried: int | None, needed: int | None
) -> None:
    """Twelve fibers carry six pairs, or one link of parallel lanes."""
    wish = MethodWish.model_validate({"links": links, "duplex_when": duplex, "parallel_when": parallel})
    later = trunks_later(wish, 6)
    assert trunks_now(wish, 6) == now
    assert (later and later.links, later and later.trunks) == (carried, needed)


def test_every_set_says_what_its_trunks_carry_later() -> None:
    found = methods(MethodWish(links=8), [], CATALOG, prices((), ()))
    assert found.methods
    for method in found.methods:
        assert method.later is not None
        assert (method.trunks, method.later.links, method.later.trunks) == (2, 2, 8)
        assert method.later.application == "100GBASE-SR4"

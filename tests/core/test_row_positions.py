"""Positions of rows on a shelf: those that stay keep theirs, new ones stand between, moved ones move."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from passerelle.core.plant.rows import _positions


def kept(**positions: float) -> dict[str, tuple[float, object]]:
    return {name: (at, None) for name, at in positions.items()}


@pytest.mark.parametrize(
    ("known", "order", "expected"),
    [
        ({}, "abc", [0, 1, 2]),
        ({"a": 0, "b": 1}, "ab", [0, 1]),
        ({"a": 0, "b": 1}, "axb", [0, 0.5, 1]),
        ({"a": 0, "b": 1}, "axyb", [0, 0.5, 0.75, 1]),
        ({"a": 0, "b": 1}, "xab", [-0.5, 0, 1]),
        ({"a": 0, "b": 1}, "ba", [1, 2]),
        ({"a": 0, "b": 1, "c": 2}, "cab", [2, 3, 4]),
        ({"a": 0, "b": 5, "c": 9}, "bxac", [5, 7, 8, 9]),
    ],
)
def test_a_row_stands_where_the_order_allows_it(known: dict[str, float], order: str, expected: list[float]) -> None:
    assert list(_positions(kept(**known), list(order)).values()) == expected  # type: ignore[arg-type]


@given(
    known=st.lists(st.sampled_from("abcdefgh"), unique=True),
    order=st.lists(st.sampled_from("abcdefghxyz"), unique=True),
)
def test_positions_always_grow_in_the_order(known: list[str], order: list[str]) -> None:
    rows = kept(**{name: float(at) for at, name in enumerate(known)})
    found = list(_positions(rows, order).values())  # type: ignore[arg-type]
    assert found == sorted(set(found))

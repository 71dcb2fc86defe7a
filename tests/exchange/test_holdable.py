"""Most JSON is looked through once as text; whatever holds a text that cannot be kept must catch the eye there."""

from __future__ import annotations

import json
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from passerelle.exchange.holdable import UnheldTextError, check_texts, suspect

LETTERS = st.characters() | st.sampled_from("\x00\x07\x1f\x7f\ud800\udfff\ufffe\uffff\\u")
VALUES = st.recursive(
    st.none() | st.integers() | st.text(LETTERS, max_size=6),
    lambda inner: st.lists(inner, max_size=3) | st.dictionaries(st.text(LETTERS, max_size=4), inner, max_size=3),
    max_leaves=8,
)


@given(VALUES, st.booleans())
def test_what_cannot_be_held_is_suspect_however_it_is_escaped(value: Any, escaped: bool) -> None:
    text = json.dumps(value, ensure_ascii=escaped)
    try:
        check_texts(json.loads(text))
    except UnheldTextError:
        assert suspect(text)


@pytest.mark.parametrize("character", ["\b", "\f", "\0", "\x7f", "\ufffe", "\ud800"])
def test_a_short_escape_is_suspect_too(character: str) -> None:
    assert suspect(json.dumps({f"key{character}": None}))


def test_plain_text_is_not() -> None:
    assert not suspect(json.dumps({"name": "Quay, 20 m × 3 µm", "notes": "two\nlines\tand more"}))

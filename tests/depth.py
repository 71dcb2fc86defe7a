"""How deep the tests go: as before each commit, or as before a release (``make test-deep``)."""

from __future__ import annotations

import os

DEEP = os.environ.get("PASSERELLE_TEST_DEEP", "") == "1"


def examples(count: int) -> int:
    """How many examples a test tries that says so itself: half of it before a commit, ten times as many in deep.

    >>> examples(20) in (10, 200)
    True
    """
    return count * 10 if DEEP else (count + 1) // 2

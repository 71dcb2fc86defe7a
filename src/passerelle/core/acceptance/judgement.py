"""What a reading is worth: against its limit with its uncertainty, and against the least that its parts can
lose.
"""

from __future__ import annotations

from typing import Literal

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]
Ranks = NDArray[np.int64]
Judgement = Literal["fail", "suspect", "marginal", "pass"]
JUDGEMENTS: tuple[Judgement, ...] = ("fail", "suspect", "marginal", "pass")
FAIL, SUSPECT, MARGINAL, PASS = range(4)
_DIGITS = 6


def judged(values: Floats, limits: Floats, uncertainties: Floats, least: Floats) -> Ranks:
    """Judge n readings at once, each of shape (n,), in dB.

    Above the limit fails whatever the uncertainty; below zero, or below the least that the parts can lose, is
    suspect, never good; at the limit, or below it by less than the uncertainty, is marginal; the rest passes. A
    value that is no number (no light) fails.

    Returns:
        Ranks into ``JUDGEMENTS``, shape (n,).

    >>> judged(*map(np.array, ([1.9, 1.8, 1.7, 0.1, 1.0], [1.8] * 5, [0.15] * 5, [0.2] * 5))).tolist()
    [0, 2, 2, 1, 3]
    """
    margin = np.round(limits - values, _DIGITS)
    found = np.where((margin <= 0) | (margin < np.round(uncertainties, _DIGITS)), MARGINAL, PASS)
    found = np.where((np.round(values, _DIGITS) < 0) | (np.round(values - least, _DIGITS) < 0), SUSPECT, found)
    return np.where(~(margin >= 0), FAIL, found)


def judge_one(value_db: float, limit_db: float, uncertainty_db: float, least_db: float) -> Judgement:
    """Judge one reading, in dB: the same as ``judged`` with n = 1."""
    one = judged(*(np.array([figure]) for figure in (value_db, limit_db, uncertainty_db, least_db)))
    return JUDGEMENTS[int(one[0])]

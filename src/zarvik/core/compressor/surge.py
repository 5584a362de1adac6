"""Surge where it matters: at a low pressure ratio the flow may turn back without anybody noticing."""

from __future__ import annotations

import numpy as np

NOTICED = 1.4  # pressure ratio from which on surge is heard and does harm, 1.3 to 1.4; common practice, no source
EASED = 3.0  # margin that a pressure ratio of one less gives: at 1.3 a flow 30 % left of the line is nothing; common practice, no source


def judged_margin(margin: np.ndarray | float, ratio: np.ndarray | float) -> np.ndarray:
    """Margin to surge (a ratio) as it is judged: that on the map where the pressure `ratio` is `NOTICED` or more, and ever more room below.
    It hangs on what the compressor does, not on what boost is wanted."""
    return np.asarray(margin + EASED * np.maximum(NOTICED - np.asarray(ratio, float), 0.0))

"""No result moves unseen: everything that was found of some documents earlier (own results, which validate nothing: `own_results.py`)."""

from __future__ import annotations

import pytest

from own_results import LABELS, alike, differences, results, stored

OLD = stored()


def test_what_is_kept() -> None:
    """Of every document, and much of it."""
    assert tuple(OLD) == LABELS and sum(map(len, OLD.values())) > 60_000
    numbers = [v for found in OLD.values() for v in found.values() if isinstance(v, float)]
    assert len(numbers) > 40_000 and len({f"{v:.6g}" for v in numbers}) > 12_000


@pytest.mark.parametrize("label", LABELS)
def test_nothing_has_moved(label: str) -> None:
    """Within a part in a million. What is meant to move: `tests/own_results.py` keeps it anew."""
    found = differences(OLD[label], results(label))
    assert not found, "\n".join([f"{len(found)} results of “{label}”:", *found[:25]])


def test_a_difference_is_seen() -> None:
    """A number in the sixth place, a word, a sign, a figure in a sentence; the last place of a rounded figure may turn."""
    assert alike(1.0, 1.0 + 5e-7) and not alike(1.0, 1.000002) and not alike(1.0, -1.0) and not alike(1.0, "1.0")
    assert alike("327 hp at 1.10 bar", "327 hp at 1.11 bar") and not alike("327 hp", "328 hp") and not alike("327 hp", "327 kW")
    assert not alike("1.10 bar", "1.12 bar") and not alike("1.10 bar", "-1.10 bar") and alike(float("nan"), float("nan"))
    old, new = {"a": 1.0, "b": "x", "c": 2.0}, {"a": 1.1, "b": "x", "d": 3.0}
    assert differences(old, new) == ["+ d: 3.0", "- c: 2.0", "  a: 1.0 -> 1.1"]

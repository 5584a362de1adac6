"""The tracing of a printed map as JSON: axes, traces in pixels of the picture, and what was typed beside it."""

from __future__ import annotations

import json
import math
from dataclasses import dataclass, field
from typing import Any

import numpy as np

from zarvik.core.tracing.axes import Spot, Ticks
from zarvik.core.tracing.tracing import KINDS, MOST_TRACES, Trace
from zarvik.formats.atomic_writer import FileError
from zarvik.project.language.language import tr, tr_format

DOCUMENT = "zarvik-trace"
MOST_SPOTS = 200_000
AXES = ("across", "up")


@dataclass(eq=False)
class TraceWork:
    """What there is of a tracing beside its picture: the `words` in the fields by name, clicked `spots` of each axis (px), the axes that
    have their values, and the traces."""

    words: dict[str, str] = field(default_factory=dict)
    spots: dict[str, list[Spot]] = field(default_factory=lambda: {axis: [] for axis in AXES})
    ticks: dict[str, Ticks | None] = field(default_factory=lambda: dict.fromkeys(AXES))
    traces: list[Trace] = field(default_factory=list)


def dumps(work: TraceWork) -> str:
    """As text."""
    axes = {
        axis: {"spots": work.spots[axis], "values": [found.low, found.high] if (found := work.ticks[axis]) is not None else None}
        for axis in AXES
    }
    traces = [{"kind": t.kind, "value": t.value, "segments": [np.round(s, 3).tolist() for s in t.segments]} for t in work.traces]
    return json.dumps({"document": DOCUMENT, "version": 1, "words": work.words, "axes": axes, "traces": traces}, allow_nan=False)


def loads(text: str) -> TraceWork:
    """From text. Raises FileError for what is no tracing."""
    try:
        tree = json.loads(text)
        if tree["document"] != DOCUMENT or tree["version"] != 1:
            raise FileError(tr("not a map tracing, or one of a newer version of this program"))
        work = TraceWork({str(k): str(v)[:80] for k, v in tree["words"].items()})
        for axis in AXES:
            given = tree["axes"][axis]
            work.spots[axis] = [_spot(s) for s in given["spots"]][:2]
            if given["values"] is not None and len(work.spots[axis]) == 2:
                low, high = (_finite(v) for v in given["values"])
                one, two = work.spots[axis]
                work.ticks[axis] = Ticks(one, two, low, high)
        for given in tree["traces"][:MOST_TRACES]:
            if given["kind"] not in KINDS:
                raise ValueError(given["kind"])
            segments = [np.array([_spot(s) for s in segment], float).reshape(-1, 2) for segment in given["segments"]]
            work.traces.append(Trace(given["kind"], _finite(given["value"]), [s for s in segments if len(s)]))
        if sum(len(t.spots) for t in work.traces) > MOST_SPOTS:
            raise ValueError("too many points")
    except FileError:
        raise
    except (ValueError, KeyError, TypeError, AttributeError, RecursionError) as error:
        raise FileError(tr_format("not a map tracing ({0})", str(error)[:80])) from None
    return work


def _finite(value: Any) -> float:
    found = float(value)
    if isinstance(value, bool) or not math.isfinite(found):
        raise ValueError("a number is missing")
    return found


def _spot(given: Any) -> Spot:
    x, y = given
    return _finite(x), _finite(y)

"""No exception leaves a painter: one that did would leave the painter open on its widget, and the next
paint would end the process."""

from __future__ import annotations

import functools
import sys
import traceback
from collections.abc import Callable
from typing import Any, TypeVar

Method = TypeVar("Method", bound=Callable[..., Any])


def guarded(paint: Method) -> Method:
    """A paint method that reports what goes wrong in it, once its painter is closed, and returns."""

    @functools.wraps(paint)
    def safe(*arguments: Any, **named: Any) -> Any:
        try:
            return paint(*arguments, **named)
        except Exception:
            kind, error, trace = sys.exc_info()
            if trace is not None:
                # The frames hold the painter; cleared, it ends before Qt looks at the widget again.
                traceback.clear_frames(trace)
            sys.excepthook(kind or Exception, error or Exception(), trace)
            return None

    return safe  # type: ignore[return-value]

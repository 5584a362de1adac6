"""Every relation that the numbers rest on as a record: where it holds, where it comes from, how good it
is. Working sheets name their source from here; docs/methods.md is made from here; a point outside of a
relation's range is told by a check.
"""

from __future__ import annotations

from zarvik.core.common.method import Method
from zarvik.core.estimates import typical_values
from zarvik.core.relations import ducts, engine, gas, heat, intercooler, services, turbo

RELATIONS: tuple[Method, ...] = (
    *gas.RELATIONS,
    *ducts.RELATIONS,
    *engine.RELATIONS,
    *turbo.RELATIONS,
    *intercooler.RELATIONS,
    *heat.RELATIONS,
    *services.RELATIONS,
    *typical_values.METHODS,
)


def table() -> str:
    """All relations as a table in Markdown, for the documentation."""
    rows = ["| relation | formula | source | valid range (SI) | accuracy |", "|---|---|---|---|---|"]
    for method in RELATIONS:
        held = "; ".join(f"{name.strip('_').replace('_', ' ')} {low:.4g} to {high:.4g}" for name, (low, high) in method.limits.items())
        source = method.source.replace("|", "/")
        rows.append(f"| {method.title} | {method.written.replace('|', '/') or '–'} | {source} | {held or '–'} | {method.accuracy} |")
    return "\n".join(rows) + "\n"

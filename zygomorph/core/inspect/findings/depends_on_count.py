"""A result that changes with the number of points: draft and final would differ.

Derived: sin(i) over 50 points has 49/2π = 7.8 waves, over 150 points 23.7, on the same length.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from typing import Any

from zygomorph.core.inspect.findings.finding import Finding, Look
from zygomorph.core.values.definitions import Definition

REASON = (
    "It goes by the number of each point, i: with more points, as in final quality, there are more "
    "waves. q = i / n goes from 0 to 1 for any count."
)


def _has_resolution(look: Look, piece: str) -> bool:
    form = look.plan(piece).steps[0]
    return any(value.draft for value in form.definition.values.values())


def _counts(definition: Definition, discrete: Mapping[str, Any]) -> bool:
    """Whether formulas are worked out for points and go by their numbers, not by their share."""
    if definition.formulas is None:
        return False
    use = definition.formulas(discrete)
    names = frozenset[str]().union(*(formula.names for formula in use.formulas))
    return use.elements == "points" and "i" in names and "n" not in names


def find(look: Look) -> Iterator[Finding]:
    for piece in look.study.pieces:
        if not _has_resolution(look, piece["id"]):
            continue
        for step in look.planned(piece["id"]):
            if _counts(step.definition, step.values.still.discrete_values):
                title = "The formula depends on the number of points"
                yield Finding("depends_on_count", piece["id"], title, REASON, step.id)
            for layer in step.layers:
                on_points = layer.common.still.discrete("read") == "points"
                if on_points and _counts(layer.definition, layer.own.still.discrete_values):
                    title = "The mask depends on the number of points"
                    yield Finding("depends_on_count", piece["id"], title, REASON, step.id, layer.id)

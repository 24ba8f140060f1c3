"""A result that changes with the number of points: draft and final would differ.

Derived: sin(i) over 50 points has 49/2π = 7.8 waves, over 150 points 23.7, on the same length.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from typing import Any

from zygomorph.core.findings.finding import Finding, Look
from zygomorph.core.formula.parse import read_formula
from zygomorph.core.masks.formula import KNOWN
from zygomorph.core.steps.formula import EXTENDED, formulas_of

REASON = (
    "It goes by the number of each point, i: with more points, as in final quality, there are more "
    "waves. q = i / n goes from 0 to 1 for any count."
)


def _has_resolution(look: Look, piece: str) -> bool:
    form = look.plan(piece).steps[0]
    return any(value.draft for value in form.definition.values.values())


def _at_each(words: Mapping[str, Any]) -> str:
    return str(words["of" if words["writes"] in EXTENDED else "elements"])


def find(look: Look) -> Iterator[Finding]:
    for piece in look.study.pieces:
        if not _has_resolution(look, piece["id"]):
            continue
        for step, _ in look.planned(piece["id"]):
            words = step.values.still.words
            if step.definition.key == "formula" and _at_each(words) == "points":
                names = frozenset[str]().union(*(f.names for f in formulas_of(words)))
                if "i" in names and "n" not in names:
                    yield Finding(
                        "depends_on_count",
                        piece["id"],
                        "The formula depends on the number of points",
                        REASON,
                        step.id,
                    )
            for layer in step.layers:
                own = layer.own.still.words
                on_points = layer.common.still.word("read") == "points"
                if layer.definition.key == "formula" and on_points:
                    names = read_formula(own["weight"], KNOWN).names
                    if "i" in names and "n" not in names:
                        yield Finding(
                            "depends_on_count",
                            piece["id"],
                            "The mask depends on the number of points",
                            REASON,
                            step.id,
                            layer.id,
                        )

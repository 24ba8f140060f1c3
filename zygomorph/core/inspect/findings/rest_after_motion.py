"""A rest shape that is remembered after the points have begun to move.

Common practice: what patterns stick to must stand still itself.
"""

from __future__ import annotations

from collections.abc import Iterator

from zygomorph.core.inspect.findings.finding import Finding, Fix, Look
from zygomorph.core.values.definitions import StepDefinition


def find(look: Look) -> Iterator[Finding]:
    for piece in look.study.pieces:
        moved_by = None
        form = look.plan(piece["id"]).steps[0]
        for step in look.planned(piece["id"]):
            definition, discrete = step.definition, step.values.still.discrete_values
            writes_rest = isinstance(definition, StepDefinition) and definition.writes_rest(
                discrete
            )
            if writes_rest and moved_by is not None:
                path = f"/pieces/{piece['id']}/recipe/{step.id}"
                before = moved_by
                after = form.id if before == 1 else look.plan(piece["id"]).steps[before - 1].id
                yield Finding(
                    "rest_after_motion",
                    piece["id"],
                    "The rest shape is remembered after the motion",
                    "The points move before this step, so that the rest shape moves too, and "
                    "patterns that stick to it swim. Remember it before the first step that moves.",
                    step.id,
                    fix=Fix(
                        "Move it before the motion",
                        [{"do": "move", "path": path, "after": after}],
                    ),
                )
            if step.moves and moved_by is None:
                ids = [each.id for each in look.plan(piece["id"]).steps]
                moved_by = ids.index(step.id)

"""A step that does nothing: its amount is 0 all the time, or its mask lets nothing through."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from zygomorph.core.evaluation.planned import PlannedStep
from zygomorph.core.inspect.findings.finding import Finding, Fix, Look
from zygomorph.core.values.definitions import StepDefinition


def _idle_amount(look: Look, step: PlannedStep) -> bool:
    names = step.definition.amounts if isinstance(step.definition, StepDefinition) else ()
    spread = {each.name for each in step.values.per_element}
    if not names or spread & set(names):
        return False
    return all(np.abs(look.number(step, name)).max() < 1e-12 for name in names)


def find(look: Look) -> Iterator[Finding]:
    for piece in look.study.pieces:
        moved = False
        for step in look.planned(piece["id"]):
            # Under points that move, a mask that is empty now need not stay so.
            moved = moved or step.moves
            if step.store or getattr(step.definition, "prepares", False):
                continue
            title = f"{step.definition.title} does nothing"
            why = ""
            if _idle_amount(look, step):
                why = "Its amount is 0 all through the loop."
            elif step.layers and not moved:
                found = look.evaluator.before(look.study, piece["id"], step.id, 0.0, False)[2]
                if float(found.max(initial=0.0)) <= 0:
                    why = "Its mask lets nothing through anywhere."
            if not why:
                continue
            yield Finding(
                "step_without_effect",
                piece["id"],
                title,
                why + " It costs time and changes no point.",
                step.id,
                fix=Fix("Remove the step", [{"do": "remove", "path": step.part.address}])
                if step.part.given.get("group") is None
                else None,
            )

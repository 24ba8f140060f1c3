"""What a step made, and a later one undoes: facets that are rounded one by one, and a relief that
is rounded off.

Common practice: round the surface first, then give it its relief, and its facets last.
"""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from zygomorph.core.evaluation.planned import PlannedStep
from zygomorph.core.inspect.findings.finding import Finding, Fix, Look
from zygomorph.core.values.definitions import (
    DeformDefinition,
    StepDefinition,
    TopologyDefinition,
)

# A relief of which so much is gone was not meant to be rounded.
ROUNDED_OFF = 0.2
# Below this share of the size there is no relief to speak of.
FLAT = 1e-3


def _edges(step: PlannedStep) -> str:
    own = step.definition
    if not isinstance(own, StepDefinition):
        return ""
    return own.edges(step.values.still.discrete_values)


def _refines(step: PlannedStep) -> bool:
    """Whether it makes more faces: to round the surface may not be what it is for."""
    return isinstance(step.definition, TopologyDefinition)


def _fix(look: Look, piece: str, step: PlannedStep, before: PlannedStep) -> Fix | None:
    """Move the step before another; a step in a group stays with it."""
    if step.part.given.get("group") or before.part.given.get("group"):
        return None
    ids = [each.id for each in look.plan(piece).steps]
    after = ids[ids.index(before.id) - 1]
    path = f"/pieces/{piece}/recipe/{step.id}"
    return Fix(
        f"Move it before {before.definition.title}", [{"do": "move", "path": path, "after": after}]
    )


def _share_lost(look: Look, piece: str, step: PlannedStep, relief: PlannedStep) -> float:
    """How much of what one step pushed another takes back, at frame 0."""
    bare, pushed = look.before(piece, relief.id).mesh, look.result(piece, relief.id).mesh
    before, after = look.before(piece, step.id).mesh, look.result(piece, step.id).mesh
    count = len(pushed.points)
    # Old points stay the first ones.
    if not (len(bare.points) == len(before.points) == count <= len(after.points)):
        return 0.0
    way = (pushed.points - bare.points).astype(np.float64)
    height = np.linalg.norm(way, axis=1)
    size = float(np.ptp(bare.points, axis=0).max(initial=0.0))
    if count == 0 or height.std() < FLAT * max(size, 1e-12):
        return 0.0
    back = -np.einsum("ij,ij->i", after.points[:count] - before.points, way)
    # Of peaks and hollows against the mean, so that a surface that shrinks as a whole is none.
    tall = height - height.mean()
    taken = back / np.maximum(height, 1e-12)
    return float((taken * tall).sum() / max((tall * tall).sum(), 1e-30))


def find(look: Look) -> Iterator[Finding]:
    for piece in look.study.pieces:
        opened: PlannedStep | None = None
        relief: PlannedStep | None = None
        for step in look.planned(piece["id"]):
            kind = _edges(step)
            if kind == "opens":
                opened = step
            elif kind == "rounds" and opened is not None:
                yield Finding(
                    "undone_by_a_later_step",
                    piece["id"],
                    f"{step.definition.title} rounds each part by itself",
                    f"“{opened.definition.title}” before it gave the parts points of their own, so "
                    "that they come away from each other here. Round the surface before it is cut.",
                    step.id,
                    fix=_fix(look, piece["id"], step, opened),
                )
            elif kind == "rounds" and relief is not None and _refines(step):
                lost = _share_lost(look, piece["id"], step, relief)
                if lost > ROUNDED_OFF:
                    yield Finding(
                        "undone_by_a_later_step",
                        piece["id"],
                        f"{step.definition.title} rounds off {lost:.0%} of the relief",
                        f"“{relief.definition.title}” before it pushed peaks and hollows that are "
                        "as narrow as the faces. Before it, this step would carry them instead.",
                        step.id,
                        fix=_fix(look, piece["id"], step, relief),
                    )
            elif isinstance(step.definition, DeformDefinition) and step.definition.amounts:
                relief = step

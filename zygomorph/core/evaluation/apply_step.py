"""What a step makes of what there is: of a mesh, of copies as wholes, or of what is copied."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from typing import Any, Literal, NamedTuple

import numpy as np

from zygomorph.core.animation.context import Context
from zygomorph.core.animation.per_element import at_elements
from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.evaluation.planned import PlannedStep
from zygomorph.core.evaluation.rebuild import rebuilt
from zygomorph.core.geometry.geometry import Geometry
from zygomorph.core.geometry.mesh import MASK, Mesh
from zygomorph.core.geometry.placements import composed, faded
from zygomorph.core.geometry.rigid_copies import move_copies
from zygomorph.core.geometry.rigid_shards import move_shards, sample_frame
from zygomorph.core.masking.blending import ONE
from zygomorph.core.transforms.parent_space import in_parent_space
from zygomorph.core.values.definitions import (
    CopiesDefinition,
    DeformDefinition,
    SystemDefinition,
    TopologyDefinition,
)

# What a mask is of: points of a mesh, copies, or the points of bases one after the other.
Weighed = Literal["points", "copies", "bases"]
Masked = Callable[[Mesh], np.ndarray]


class Applied(NamedTuple):
    """weights : (n,) or (1,) float32, of what ``weighed`` says"""

    geometry: Geometry
    weights: np.ndarray
    weighed: Weighed = "points"


def acted_on(step: PlannedStep, geometry: Geometry) -> Literal["mesh", "copies", "bases"]:
    """What the step acts on: the whole as one mesh, each copy as a whole, or what is copied."""
    if geometry.copies is None or isinstance(step.definition, SystemDefinition):
        return "mesh"
    if isinstance(step.definition, DeformDefinition):
        if step.moved == "natural":
            return "copies" if step.definition.on_copies == "wholes" else "bases"
        if step.moved == "points":
            return "mesh"
        return "bases" if step.moved == "bases" else "copies"
    return "bases"


def mask_mesh(step: PlannedStep, geometry: Geometry, values: Resolved, context: Context) -> Mesh:
    """What the mask of a step is read on: what the step acts on, of several bases the first, or the
    copies that it makes."""
    if isinstance(step.definition, CopiesDefinition):
        made = composed(geometry, step.definition.apply(geometry, values, context)).copies
        assert made is not None
        return made.as_points()
    on = acted_on(step, geometry)
    if on == "mesh":
        return geometry.real
    if on == "copies":
        assert geometry.copies is not None
        return geometry.copies.as_points()
    return geometry.mesh


def applied(
    step: PlannedStep,
    before: Geometry | None,
    values: Resolved,
    mask: Masked,
    motion: np.ndarray | None,
    context: Context,
    state: Any = None,
) -> Applied:
    """before : None for a form; mask : the step's, read on a mesh; motion : of its parent
    state : of a system, at the whole frame before; None before its first
    """
    definition = step.definition
    if before is None:
        return Applied(_cut(Geometry.of(definition.apply(values, context))), ONE)
    if isinstance(definition, CopiesDefinition):
        return _copied(step, before, values, mask, context)
    if isinstance(definition, SystemDefinition):
        mesh = before.real
        weights = mask(mesh)
        made = mesh if state is None else definition.emit(state, mesh, values, weights, context)
        stored = _stored(made, step.store, weights) if step.store else made
        return Applied(_cut(Geometry((stored,))), weights)
    on = acted_on(step, before)
    if on == "copies":
        return _on_copies(step, before, values, mask, motion, context)
    if on == "mesh":
        mesh = before.real
        weights = mask(mesh)
        return Applied(
            _cut(Geometry((_on(step, mesh, values, weights, motion, context),))), weights
        )
    weights_of = [mask(mesh) for mesh in before.bases]
    made = tuple(
        _on(step, mesh, values, weights, motion, context)
        for mesh, weights in zip(before.bases, weights_of, strict=True)
    )
    return Applied(_cut(replace(before, bases=made)), _together(before, weights_of), "bases")


def _together(before: Geometry, weights_of: list[np.ndarray]) -> np.ndarray:
    """Weights of the bases' points, one base after the other."""
    if all(len(weights) == 1 for weights in weights_of) and len(weights_of) == 1:
        return weights_of[0]
    sizes = [len(mesh.points) for mesh in before.bases]
    return np.concatenate(
        [np.broadcast_to(w, n) for w, n in zip(weights_of, sizes, strict=True)]
    ).astype(np.float32)


def _cut(geometry: Geometry) -> Geometry:
    """With all polygons cut into triangles as they lie at rest."""
    bases = tuple(
        mesh
        if (cut := mesh.topology.triangulated(mesh.rest)) is mesh.topology
        else replace(mesh, topology=cut)
        for mesh in geometry.bases
    )
    return replace(geometry, bases=bases)


def _stored(mesh: Mesh, name: str, weights: np.ndarray) -> Mesh:
    full = np.broadcast_to(weights, len(mesh.points)).astype(np.float32)
    return mesh.with_attribute("point", MASK + name, full)


def _on(
    step: PlannedStep,
    before: Mesh,
    values: Resolved,
    weights: np.ndarray,
    motion: np.ndarray | None,
    context: Context,
) -> Mesh:
    """What a step makes of one mesh."""
    values = at_elements(values, before, context)
    if isinstance(step.definition, TopologyDefinition):
        # The stored mask goes along with everything else that is known of the old points.
        known = _stored(before, step.store, weights) if step.store else before
        return rebuilt(step.definition, known, values, weights, context)
    apply = in_parent_space(step.definition.apply, motion)
    if step.moved in ("shards", "tilted"):
        felt = replace(
            values,
            numbers={name: sample_frame(before, array) for name, array in values.numbers.items()},
        )
        made = move_shards(
            before,
            weights,
            step.moved == "tilted",
            lambda mesh, share: apply(mesh, felt, share, context),
        )
    else:
        made = apply(before, values, weights, context)
    return _stored(made, step.store, weights) if step.store else made


def _on_copies(
    step: PlannedStep,
    before: Geometry,
    values: Resolved,
    mask: Masked,
    motion: np.ndarray | None,
    context: Context,
) -> Applied:
    definition, table = step.definition, before.copies
    assert table is not None and isinstance(definition, DeformDefinition)
    points = table.as_points()
    weights = mask(points)
    values = at_elements(values, points, context)
    apply = in_parent_space(definition.apply, motion)
    moved = move_copies(
        table,
        points,
        weights,
        values.numbers,
        lambda mesh, numbers, share: apply(mesh, replace(values, numbers=numbers), share, context),
        tilt=step.moved == "tilted",
        resize=definition.resizes(values.discrete_values),
        reach=before.reach,
    )
    if step.store:
        full = np.broadcast_to(weights, len(table)).astype(np.float32)
        moved = moved.with_attribute(MASK + step.store, full)
    return Applied(replace(before, copies=moved), weights, "copies")


def _copied(
    step: PlannedStep, before: Geometry, values: Resolved, mask: Masked, context: Context
) -> Applied:
    placements = step.definition.apply(before, values, context)
    made = composed(before, placements)
    assert made.copies is not None
    weights = mask(made.copies.as_points())
    if len(weights) > 1 or weights[0] != 1:
        made = replace(made, copies=faded(made.copies, weights))
    if step.store:
        assert made.copies is not None
        full = np.broadcast_to(weights, len(made.copies)).astype(np.float32)
        made = replace(made, copies=made.copies.with_attribute(MASK + step.store, full))
    return Applied(made, weights, "copies")

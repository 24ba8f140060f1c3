"""What a step makes of what there is: of a mesh, of copies as wholes, or of what is copied."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import replace
from typing import Any, Literal, NamedTuple

import numpy as np

from zygomorph.core.animation.context import Context
from zygomorph.core.animation.per_element import at_elements
from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.evaluation.closing import Moment, mixed
from zygomorph.core.evaluation.planned import PlannedStep
from zygomorph.core.evaluation.rebuild import cut_apart_for, rebuilt
from zygomorph.core.geometry.elements import elements_of
from zygomorph.core.geometry.geometry import Geometry
from zygomorph.core.geometry.mesh import MASK, Mesh
from zygomorph.core.geometry.origins import Origin
from zygomorph.core.geometry.placements import composed, faded
from zygomorph.core.geometry.rigid_copies import move_copies
from zygomorph.core.geometry.rigid_shards import move_shards, sample_frame
from zygomorph.core.geometry.structure import Structure
from zygomorph.core.masking.blending import ONE
from zygomorph.core.shared.forces import Force
from zygomorph.core.transforms.parent_space import in_parent_space
from zygomorph.core.values.definitions import (
    CopiesDefinition,
    DeformDefinition,
    ForceDefinition,
    StepDefinition,
    SystemDefinition,
    TopologyDefinition,
)

# What a mask is of: points of a mesh, copies, or the points of bases one after the other.
Weighed = Literal["points", "copies", "bases"]
Masked = Callable[..., np.ndarray]
MOMENT = np.zeros(1)


class Applied(NamedTuple):
    """weights : (n,) or (1,) float32, of what ``weighed`` says, or of its units
    units : the elements of meshes that the step took as units
    origins : of a changed topology, for each mesh where its points come from, and how many there
        were
    """

    geometry: Geometry
    weights: np.ndarray
    weighed: Weighed = "points"
    units: str = "points"
    origins: tuple[tuple[Origin, int], ...] | None = None


def units_of(step: PlannedStep) -> str:
    """The elements that a step takes as units."""
    definition = step.definition
    if not isinstance(definition, StepDefinition):
        return "points"
    return definition.acts_per(step.values.still.discrete_values)


def acted_on(step: PlannedStep, geometry: Geometry) -> Literal["mesh", "copies", "bases"]:
    """What the step acts on: the whole as one mesh, each copy as a whole, or what is copied."""
    if geometry.copies is None or isinstance(step.definition, SystemDefinition):
        return "mesh"
    if isinstance(step.definition, StepDefinition) and step.definition.needs_real:
        return "mesh"
    if isinstance(step.definition, DeformDefinition):
        units = units_of(step)
        if units != "points":
            return "copies" if units == "copies" else "bases"
        if step.moved == "natural":
            return "bases" if step.definition.on_copies == "bases" else "copies"
        if step.moved == "points":
            return "mesh"
        return "bases" if step.moved == "bases" else "copies"
    return "bases"


def _with_copies_as_points(step: PlannedStep, geometry: Geometry) -> Geometry:
    """What a step takes: of one that takes copies as points, these."""
    definition = step.definition
    if geometry.copies is None or not isinstance(definition, TopologyDefinition):
        return geometry
    return Geometry((geometry.copies.as_points(),)) if definition.of_copies else geometry


def mask_mesh(step: PlannedStep, geometry: Geometry, values: Resolved, context: Context) -> Mesh:
    """What the mask of a step is read on: what the step acts on, of several bases the first, or the
    copies that it makes."""
    geometry = _with_copies_as_points(step, geometry)
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
    times: np.ndarray = MOMENT,
    states: Sequence[tuple[Moment, Any]] = (),
) -> Applied:
    """before : None for a form; motion : of its parent
    mask : the step's, read on a mesh, on its points or on elements of a kind that is named
    times : (1,) frames, the moment
    states : of a system, the moments of its own run that are seen together, with the states at the
        whole frames before; none before its first
    """
    definition = step.definition
    if before is None:
        return Applied(_cut(Geometry.of(definition.apply(values, context))), ONE)
    if isinstance(definition, ForceDefinition):
        layers = step.layers_at(times, context.place)
        force = Force(definition.act, definition.hold, values, layers, motion)
        return Applied(replace(before, forces=(*before.forces, force)), ONE)
    before = _with_copies_as_points(step, before)
    if isinstance(definition, CopiesDefinition):
        return _copied(step, before, values, mask, context)
    if isinstance(definition, SystemDefinition):
        mesh = before.real
        weights = mask(mesh)
        own = replace(context, forces=before.forces)
        given = _emitted(definition, mesh, values, weights, motion, own, states)
        stored = _stored(given, step.store, weights) if step.store else given
        shown = definition.shown(stored, values, own) if definition.shown else stored
        return Applied(_cut(Geometry.of(shown)), weights)
    on = acted_on(step, before)
    if on == "copies":
        return _on_copies(step, before, values, mask, motion, context)
    units = units_of(step)
    meshes = (before.real,) if on == "mesh" else before.bases
    weights_of = [mask(mesh, units) for mesh in meshes]
    made, origins = [], []
    for mesh, weights in zip(meshes, weights_of, strict=True):
        each, structure = _on(step, mesh, values, weights, motion, context)
        made.append(each)
        if structure is not None:
            origins.append((structure.origins["point"], len(mesh.points)))
    after = Geometry(tuple(made), before.copies if on == "bases" else None)
    return Applied(
        _cut(after),
        _together(meshes, units, weights_of),
        "bases" if on == "bases" and before.copies else "points",
        units,
        tuple(origins) or None,
    )


def _emitted(
    definition: SystemDefinition,
    mesh: Mesh,
    values: Resolved,
    weights: np.ndarray,
    motion: np.ndarray | None,
    context: Context,
    states: Sequence[tuple[Moment, Any]],
) -> Mesh:
    """What a system gives at the moments that are seen, mixed by their shares."""
    seen = [
        definition.emit(state, mesh, values, weights, own_run(context, moment.frame, motion))
        for moment, state in states
    ]
    return mixed(seen, [moment.share for moment, _ in states]) if seen else mesh


def own_run(context: Context, frame: float, motion: np.ndarray | None) -> Context:
    """The context of a system at a frame of its own run."""
    return replace(context, frame=frame, parent_motion=motion)


def _together(meshes: Sequence[Mesh], units: str, weights_of: list[np.ndarray]) -> np.ndarray:
    """Weights of the units of meshes, one mesh after the other."""
    if len(weights_of) == 1:
        return weights_of[0]
    parts = [
        np.broadcast_to(weights, len(elements_of(mesh, units)))
        for mesh, weights in zip(meshes, weights_of, strict=True)
    ]
    return np.concatenate(parts).astype(np.float32)


def _cut(geometry: Geometry) -> Geometry:
    """With all polygons cut into triangles as they lie at rest."""
    bases = tuple(
        mesh
        if (cut := mesh.topology.triangulated(mesh.rest)) is mesh.topology
        else replace(mesh, topology=cut)
        for mesh in geometry.bases
    )
    return replace(geometry, bases=bases)


def _stored(mesh: Mesh, name: str, weights: np.ndarray, units: str = "points") -> Mesh:
    """The mesh with weights of its units kept under a name, at its points and at what they are
    of."""
    if units == "points":
        full = np.broadcast_to(weights, len(mesh.points)).astype(np.float32)
        return mesh.with_attribute("point", MASK + name, full)
    elements = elements_of(mesh, units)
    own = np.broadcast_to(weights, len(elements)).astype(np.float32)
    known = mesh.with_attribute("point", MASK + name, elements.at_points(own))
    return known.with_attribute(elements.domain, MASK + name, own)


def _on(
    step: PlannedStep,
    before: Mesh,
    values: Resolved,
    weights: np.ndarray,
    motion: np.ndarray | None,
    context: Context,
) -> tuple[Mesh, Structure | None]:
    """What a step makes of one mesh, and how it changed its topology."""
    units = units_of(step)
    values = at_elements(values, before, context, units)
    if isinstance(step.definition, TopologyDefinition):
        # The stored mask goes along with everything else that is known of the old elements.
        known = _stored(before, step.store, weights, units) if step.store else before
        return rebuilt(step.definition, known, values, weights, context)
    structure = None
    if (
        isinstance(step.definition, DeformDefinition)
        and units == "faces"
        and step.definition.cuts_apart(values.discrete_values)
    ):
        before, structure = cut_apart_for(before, weights, context)
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
    return (_stored(made, step.store, weights, units) if step.store else made), structure


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
    tilted = step.moved == "natural" and definition.on_copies == "tilted"
    moved = move_copies(
        table,
        points,
        weights,
        values.numbers,
        lambda mesh, numbers, share: apply(mesh, replace(values, numbers=numbers), share, context),
        tilt=tilted or step.moved == "tilted",
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

"""Changes of topology: the structure found once, positions at every frame, and everything that is
known of the old elements carried to the new ones by their origin."""

from __future__ import annotations

from collections.abc import Hashable

import numpy as np

from zygomorph.core.animation.context import Context
from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.geometry.domains import between_domains
from zygomorph.core.geometry.mesh import REST, Mesh
from zygomorph.core.geometry.structure import Structure
from zygomorph.core.values.definitions import MASK_INPUT, TopologyDefinition

# A face is meant where its points have this weight in the mean.
MEANT = 0.5


def chosen_faces(mesh: Mesh, weights: np.ndarray) -> np.ndarray | None:
    """(F,) bool: the faces that a mask means; None where there is no mask."""
    if len(weights) == 1:
        return None if weights[0] >= MEANT else np.zeros(mesh.topology.face_count, bool)
    return between_domains(mesh, weights, "point", "face") >= MEANT


def _resolved(values: Resolved, name: str) -> Hashable:
    if name in values.numbers:
        return values.numbers[name].tobytes()
    return repr(values.discrete_values[name])


def structure_of(
    definition: TopologyDefinition,
    mesh: Mesh,
    values: Resolved,
    weights: np.ndarray,
    context: Context,
) -> Structure:
    """What the step makes of the mesh's topology, made once for all that it depends on."""
    with_mask = MASK_INPUT in definition.changes_with
    chosen = chosen_faces(mesh, weights) if with_mask else None
    key = (
        definition.key,
        definition.version,
        mesh.topology.digest,
        None if chosen is None else chosen.tobytes(),
        *(_resolved(values, name) for name in sorted(definition.changes_with - {MASK_INPUT})),
    )
    made: Structure = context.memo.once(
        key, lambda: definition.structure(mesh.topology, values, chosen)
    )
    return made


def rebuilt(
    definition: TopologyDefinition,
    mesh: Mesh,
    values: Resolved,
    weights: np.ndarray,
    context: Context,
) -> Mesh:
    """The mesh that a step makes of another by changing its topology."""
    structure = structure_of(definition, mesh, values, weights, context)
    points = definition.apply(mesh, structure, values, weights, context)
    if definition.places_rest:
        rest = points
        if mesh.rest is not mesh.points:
            rest = definition.apply(mesh.moved(mesh.rest), structure, values, weights, context)
        return structure.carried(mesh, points).with_attribute("point", REST, rest)
    return structure.carried(mesh, points)

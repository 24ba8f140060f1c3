"""Changes of topology: the structure found once, positions at every frame, and everything that is
known of the old elements carried to the new ones by their origin."""

from __future__ import annotations

import hashlib
from collections.abc import Hashable
from typing import NamedTuple

import numpy as np

from zygomorph.core.animation.context import Context
from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.geometry.elements import KINDS
from zygomorph.core.geometry.joining import joined
from zygomorph.core.geometry.mesh import REST, Mesh
from zygomorph.core.geometry.smoothing import without_groups
from zygomorph.core.geometry.splitting import cut_apart
from zygomorph.core.geometry.structure import Structure
from zygomorph.core.values.definitions import MASK_INPUT, TopologyDefinition

# A face is meant where it has this weight, or of steps that take any part, any.
MOST = 0.5


def meant_units(count: int, weights: np.ndarray, means: str) -> np.ndarray | None:
    """(count,) bool: the faces, or other units, that a mask means; None where all are.

    weights : (count,) or (1,) float32
    means : "most" or "any", see :class:`TopologyDefinition`
    """
    meant = weights >= MOST if means == "most" else weights > 0
    if len(weights) == 1:
        return None if meant[0] else np.zeros(count, bool)
    return None if meant.all() else meant


def _resolved(values: Resolved, name: str) -> Hashable:
    if name in values.numbers:
        return values.numbers[name].tobytes()
    return repr(values.discrete_values[name])


def _digest(array: np.ndarray) -> bytes:
    return hashlib.blake2b(np.ascontiguousarray(array).tobytes(), digest_size=16).digest()


def _known(mesh: Mesh, name: str, array: np.ndarray) -> bytes:
    """Digest of an array that may be the same at every frame, found once for that array."""
    # The array is kept beside what was found, so that its address is not another's.
    _, found = mesh.topology.derived(("digest", name, id(array)), lambda: (array, _digest(array)))
    return found


class Beside(NamedTuple):
    """Meshes of other pieces, and what is the same for the same ones."""

    meshes: tuple[Mesh, ...] = ()
    key: Hashable = None


def _whole(definition: TopologyDefinition, mesh: Mesh, beside: Beside) -> Mesh:
    """What a step is given: the mesh, and where it takes others in, these behind it."""
    return joined((mesh, *beside.meshes)) if definition.takes_in else mesh


def structure_of(
    definition: TopologyDefinition,
    mesh: Mesh,
    whole: Mesh,
    values: Resolved,
    weights: np.ndarray,
    context: Context,
    beside: Beside,
) -> Structure:
    """What the step makes of the mesh's topology, made once for all that it depends on.

    whole : the mesh, with what is taken in behind it
    weights : of the units that the step acts on
    """
    mask = None
    with_mask = MASK_INPUT in definition.changes_with
    if with_mask and definition.exact_mask(values.discrete_values):
        mask = weights
    elif with_mask:
        units = KINDS[definition.acts_per(values.discrete_values)]
        mask = meant_units(mesh.count(units), weights, definition.means)
    stands = definition.stands(values)

    def made_of(mesh: Mesh, whole: Mesh) -> Structure:
        parts = () if definition.beside is None else ((mesh, *beside.meshes),)
        made: Structure = definition.structure(whole, values, mask, *parts)
        return made

    if stands == "now":
        # A frame's own, kept with its result.
        return made_of(mesh, whole)
    at_rest = mesh.moved(mesh.rest)
    key = [
        definition.key,
        definition.version,
        mesh.topology.digest,
        None if mask is None else _digest(mask),
        beside.key,
        *(_resolved(values, name) for name in sorted(definition.changes_with - {MASK_INPUT})),
    ]
    if stands == "at rest":
        key.append(_known(mesh, REST, mesh.rest))
    for domain, name in definition.reads:
        array = mesh.get(domain, name)
        key.append(None if array is None else _known(mesh, f"{domain}/{name}", array))
    made: Structure = context.memo.once(
        tuple(key), lambda: made_of(at_rest, _whole(definition, at_rest, beside))
    )
    return made


def cut_apart_for(mesh: Mesh, weights: np.ndarray, context: Context) -> tuple[Mesh, Structure]:
    """The mesh with points of their own for all faces of which a mask takes any part, and how.

    weights : (F,) or (1,) float32
    """
    topology = mesh.topology
    meant = meant_units(topology.face_count, weights, "any")

    def made() -> Structure:
        mine = np.ones(len(topology.corners), bool)
        if meant is not None:
            mine = meant[topology.corner_face]
        cut = np.zeros(len(topology.edges), bool)
        cut[topology.side_edges[mine]] = True
        return cut_apart(topology, cut)

    key = ("apart", topology.digest, None if meant is None else _digest(meant))
    structure: Structure = context.memo.once(key, made)
    points = structure.origins["point"].carry(mesh.points)
    return structure.carried(mesh, points), structure


def rebuilt(
    definition: TopologyDefinition,
    mesh: Mesh,
    values: Resolved,
    weights: np.ndarray,
    context: Context,
) -> tuple[Mesh, Structure]:
    """The mesh that a step makes of another by changing its topology, and how: of this mesh and,
    where it takes others too, of these behind it."""
    beside = Beside()
    if definition.beside is not None:
        beside = Beside(*definition.beside(values, context))
    whole = _whole(definition, mesh, beside)
    structure = structure_of(definition, mesh, whole, values, weights, context, beside)

    def placed(mesh: Mesh) -> np.ndarray:
        points: np.ndarray = definition.apply(mesh, structure, values, weights, context)
        return points

    points = placed(whole)
    made = structure.carried(whole, points)
    rounds = definition.edges(values.discrete_values) == "rounds"
    if rounds or definition.forgets_smoothing:
        made = without_groups(made)
    if definition.places_rest:
        rest = points
        if mesh.rest is not mesh.points:
            rest = structure.placed_at_rest(
                [whole.rest, weights, *values.numbers.values()],
                lambda: placed(whole.moved(whole.rest)),
            )
        made = made.with_attribute("point", REST, rest)
    return made, structure

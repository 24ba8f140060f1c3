"""Push every point out along its normal."""

from __future__ import annotations

import numpy as np

from zygomorph.core.animation.context import Context
from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.geometry.extent import extent_of
from zygomorph.core.geometry.mesh import Mesh
from zygomorph.core.geometry.normals import point_normals
from zygomorph.core.kernels.along_directions import push
from zygomorph.core.values.definitions import DeformDefinition
from zygomorph.core.values.groups import PUSH
from zygomorph.core.values.specimen import Specimen, sine
from zygomorph.core.values.value import number


def apply(mesh: Mesh, values: Resolved, weights: np.ndarray, context: Context) -> Mesh:
    height = np.ones(len(mesh.points), np.float32)
    normals = point_normals(mesh)
    return mesh.moved(push(mesh.points, normals, height, values.array("amount"), weights))


def suggest(mesh: Mesh) -> dict[str, float]:
    found = extent_of(mesh)
    return {"amount": found.share(0.08)} if found else {}


DEFINITION = DeformDefinition(
    key="inflate",
    title="Inflate",
    group=PUSH,
    help="Swells the surface along its normals, or shrinks it.",
    also=("fatten", "swell", "push", "offset", "puff"),
    values={
        "amount": number(0.1, "Amount", "How far out; below 0, inwards.", "m", (-0.5, 0.5)),
    },
    sentence="Inflate by {amount}",
    apply=apply,
    per_element=frozenset({"amount"}),
    suggest=suggest,
    amounts=("amount",),
    specimen=Specimen(("torus", {}), {"amount": sine(-0.1, 0.16)}),
    order=20,
)

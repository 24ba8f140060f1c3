"""Push points by noise: along the normals, along an axis, or every way at once."""

from __future__ import annotations

import numpy as np

from zygomorph.core.animation.context import Context
from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.geometry.affine import unit
from zygomorph.core.geometry.extent import extent_of
from zygomorph.core.geometry.mesh import Mesh
from zygomorph.core.geometry.normals import point_normals
from zygomorph.core.kernels.along_directions import carry, push
from zygomorph.core.shared.pattern_values import (
    PATTERN_VALUES,
    sample_pattern,
    sample_vectors,
    with_curl,
)
from zygomorph.core.values.definitions import DeformDefinition
from zygomorph.core.values.grips import X, reach, spot
from zygomorph.core.values.groups import PUSH
from zygomorph.core.values.specimen import Specimen, saw
from zygomorph.core.values.value import choice, direction, number


def apply(mesh: Mesh, values: Resolved, weights: np.ndarray, context: Context) -> Mesh:
    amount, brightness = values.array("amount"), values.array("brightness")
    shared = [amount, weights, brightness, values.array("contrast")]
    if values.discrete("along") == "vector":
        return mesh.moved(carry(mesh.points, sample_vectors(mesh, values, context), *shared))
    if values.discrete("along") == "normal":
        along = point_normals(mesh)
    else:
        along = unit(values.vector("direction"))[None, :].astype(np.float32)
    if values.discrete("noise") == "curl":
        pattern = np.einsum("ij,ij->i", sample_vectors(mesh, values, context), along)
    else:
        pattern = sample_pattern(mesh, values, context)
    return mesh.moved(push(mesh.points, along, pattern, *shared))


def suggest(mesh: Mesh) -> dict[str, float]:
    """A push and a pattern that suit the size of the mesh."""
    found = extent_of(mesh)
    return {"amount": found.share(0.12), "size": found.share(0.4)} if found else {}


DEFINITION = DeformDefinition(
    key="displace",
    title="Displace",
    group=PUSH,
    help="Pushes the surface in and out by a noise pattern.",
    also=(
        "noise",
        "rock",
        "boil",
        "bump",
        "bumps",
        "fire",
        "flame",
        "turbulence",
        "fractal",
        "terrain",
    ),
    values={
        "amount": number(
            0.15, "Amount", "How far the pattern's full height pushes.", "m", (-1.0, 1.0)
        ),
        "along": choice(
            "normal",
            "Along",
            "The way each point is pushed.",
            {"normal": "the normals", "axis": "a direction", "vector": "every way"},
        ),
        "direction": direction(
            (0.0, 1.0, 0.0),
            "Direction",
            "The way all points are pushed.",
            shown_when=("along", ("axis",)),
        ),
        **PATTERN_VALUES,
        "noise": with_curl(PATTERN_VALUES["noise"]),
    },
    sentence="Push {amount} along {along} by[ {fold}] {noise}, {octaves} octaves",
    apply=apply,
    per_element=frozenset(
        {
            "amount",
            "size",
            "octaves",
            "travel",
            "evolve",
            "gain",
            "lacunarity",
            "period",
            "brightness",
            "contrast",
        }
    ),
    pointwise=True,
    version=4,
    # The pattern may be sampled in space, through the piece's place.
    suggest=suggest,
    handle="arrows",
    grips=(spot("offset"), reach("size", X, "offset")),
    amounts=("amount",),
    specimen=Specimen(values={"amount": 0.3, "size": 0.5, "octaves": 3.0, "evolve": saw(0, 1)}),
    order=10,
)

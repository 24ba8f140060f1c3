"""Push points by the brightness of a picture."""

from __future__ import annotations

import numpy as np

from zygomorph.core.animation.context import Context
from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.geometry.affine import unit
from zygomorph.core.geometry.extent import extent_of
from zygomorph.core.geometry.mesh import Mesh
from zygomorph.core.geometry.normals import point_normals
from zygomorph.core.kernels.along_directions import push
from zygomorph.core.shared.image_projection import PICTURE_VALUES, brightness
from zygomorph.core.shared.laying import LAID_LAYER, suited
from zygomorph.core.values.definitions import DeformDefinition
from zygomorph.core.values.groups import PUSH
from zygomorph.core.values.specimen import SHEET, Specimen, saw
from zygomorph.core.values.value import choice, direction, number


def apply(mesh: Mesh, values: Resolved, weights: np.ndarray, context: Context) -> Mesh:
    number = values.numbers
    heights = brightness(mesh, values, context, values.discrete("picture"))
    heights = (heights - number["level"] / 100).astype(np.float32)
    along = (
        point_normals(mesh)
        if values.discrete("along") == "normal"
        else unit(values.vector("direction"))[None, :].astype(np.float32)
    )
    amount = values.array("amount")
    return mesh.moved(push(mesh.points, along, heights, amount, weights))


def suggest(mesh: Mesh) -> dict[str, object]:
    """A push that suits the size of the mesh, and the picture over all of it."""
    found = extent_of(mesh)
    if not found:
        return {}
    return {"amount": found.share(0.05), **suited(mesh)}


DEFINITION = DeformDefinition(
    key="relief",
    title="Relief from a picture",
    group=PUSH,
    help="Pushes the surface by how bright a picture is.",
    also=("picture", "image", "height map", "emboss", "bump map", "texture"),
    values={
        "picture": PICTURE_VALUES["picture"],
        "amount": number(0.08, "Amount", "How far white pushes.", "m", (-0.5, 0.5)),
        "along": choice(
            "normal",
            "Along",
            "The way each point is pushed.",
            {"normal": "the normals", "axis": "a direction"},
        ),
        "direction": direction(
            (0.0, 1.0, 0.0),
            "Direction",
            "The way all points are pushed.",
            shown_when=("along", ("axis",)),
        ),
        **PICTURE_VALUES,
        "level": number(
            0.0, "Level", "The brightness that stays where it is.", "%", (0.0, 100.0), main=False
        ),
    },
    sentence="Push {amount} along {along} by a picture, {times} across",
    apply=apply,
    per_element=frozenset({"amount", "width", "times", "across", "upward", "turn", "level"}),
    pointwise=True,
    suggest=suggest,
    handle=LAID_LAYER["handle"],
    grips=LAID_LAYER["grips"],
    amounts=("amount",),
    specimen=Specimen(SHEET, {"amount": 0.14, "laid": "uv", "times": 1.0, "across": saw(0, 1)}),
    order=12,
)

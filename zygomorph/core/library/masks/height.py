"""Height: how far along an axis, between the lowest and the highest point of the piece."""

from __future__ import annotations

import numpy as np

from zygomorph.core.animation.context import Context
from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.geometry.affine import unit
from zygomorph.core.geometry.mesh import Mesh
from zygomorph.core.masking.measured import MEASURED, measured_points
from zygomorph.core.masking.span import between
from zygomorph.core.transforms.axis_frame import spine_of
from zygomorph.core.values.definitions import MaskDefinition, Slope
from zygomorph.core.values.groups import FRONTS
from zygomorph.core.values.value import choice, direction, number


def apply(mesh: Mesh, values: Resolved, context: Context) -> np.ndarray:
    points = measured_points(mesh, values, context)
    if len(points) == 0:
        return np.zeros(0, np.float32)
    along = points @ unit(values.vector("axis")).astype(np.float32)
    if values.discrete("range") == "set":
        return between(along, values.array("bottom"), values.array("top"))
    lowest, highest = along.min(), along.max()
    place = (along - lowest) / np.maximum(highest - lowest, np.float32(1e-9))
    hundred = np.float32(100)
    return between(place, values.array("low") / hundred, values.array("high") / hundred)


def rises_along(values: Resolved) -> Slope | None:
    """Between heights that are set it goes by the position alone."""
    if values.discrete("range") != "set" or values.discrete("measured") != "piece":
        return None
    axis = unit(values.vector("axis"))
    return Slope(axis, values.scalar("bottom"), values.scalar("top"))


def suggest(mesh: Mesh) -> dict[str, object]:
    if len(mesh.points) == 0:
        return {}
    lowest, highest = mesh.points.min(axis=0), mesh.points.max(axis=0)
    axis = spine_of(highest - lowest)
    bottom, top = (round(float(end[axis]), 3) for end in (lowest, highest))
    return {"axis": np.eye(3)[axis].tolist(), "bottom": bottom, "top": top}


_FOUND = ("range", ("found",))
_SET = ("range", ("set",))

DEFINITION = MaskDefinition(
    key="height",
    title="Height",
    group=FRONTS,
    help="Rises with the height in the piece, or along another axis, however large the piece is.",
    also=("up", "top", "bottom", "altitude"),
    values={
        "range": choice(
            "found",
            "Between",
            "What From and To are measured by.",
            {
                "found": "the lowest and the highest point",
                "set": "two heights in metres",
            },
        ),
        "low": number(0.0, "From", "Where the weight is 0.", "%", (0.0, 100.0), shown_when=_FOUND),
        "high": number(100.0, "To", "Where the weight is 1.", "%", (0.0, 100.0), shown_when=_FOUND),
        "bottom": number(
            -0.5, "From", "The height at which the weight is 0.", "m", (-3.0, 3.0), shown_when=_SET
        ),
        "top": number(
            0.5, "To", "The height at which the weight is 1.", "m", (-3.0, 3.0), shown_when=_SET
        ),
        "axis": direction((0.0, 1.0, 0.0), "Axis", "Along which it is measured."),
        "measured": MEASURED,
    },
    sentence="height[ from {low} to {high}][ from {bottom} to {top}]",
    apply=apply,
    per_element=frozenset({"low", "high", "bottom", "top"}),
    suggest=suggest,
    handle="arrows",
    rises_along=rises_along,
    order=12,
)

"""How a picture lies on a surface, and how bright it is at each point."""

from __future__ import annotations

import numpy as np

from zygomorph.core.animation.context import Context
from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.geometry.affine import unit
from zygomorph.core.geometry.extent import extent_of
from zygomorph.core.geometry.image import BEYOND, woven
from zygomorph.core.geometry.mesh import UV, Mesh
from zygomorph.core.geometry.uvs import uv_of_points
from zygomorph.core.values.grips import X, both_ways, spot
from zygomorph.core.values.value import Value, choice, direction, image, number, vector

BEYOND_LABELS = {
    "repeat": "repeats",
    "mirror": "repeats mirrored",
    "rim": "goes on as at its rim",
    "nothing": "is black",
}
assert {*BEYOND, "nothing"} == set(BEYOND_LABELS)
_SEEN = ("laid", ("seen",))

PICTURE_VALUES: dict[str, Value] = {
    "picture": image("Picture", "PNG, JPEG, WebP or TIFF; a weave where none is chosen."),
    "laid": choice(
        "seen",
        "Laid",
        "How the picture lies on the surface.",
        {"uv": "by the UVs", "seen": "along a direction"},
    ),
    "from": direction((0.0, 1.0, 0.0), "From", "Where it is seen upright from.", shown_when=_SEEN),
    "width": number(
        1.0,
        "Width",
        "How wide the picture is.",
        "m",
        (0.1, 10.0),
        scale="log",
        hard=(1e-4, 1e6),
        shown_when=_SEEN,
    ),
    "times": number(
        2.0,
        "Repeats",
        "How often it goes across.",
        "×",
        (0.25, 16.0),
        scale="log",
        hard=(1e-3, 1e4),
    ),
    "across": number(
        0.0,
        "Travel across",
        "Shares of its width to the right; 1 closes a loop.",
        "cycle",
        (-2.0, 2.0),
    ),
    "upward": number(
        0.0,
        "Travel upward",
        "Shares of its height upwards; 1 closes a loop.",
        "cycle",
        (-2.0, 2.0),
    ),
    "soft": number(
        0.5,
        "Softness",
        "Smooths it, as a share of its width.",
        "%",
        (0.0, 10.0),
        hard=(0.0, 50.0),
        main=False,
    ),
    "turn": number(
        0.0, "Turn", "Turns it about its middle.", "°", (-180.0, 180.0), main=False, period=360.0
    ),
    "middle": vector(
        (0.0, 0.0, 0.0), "Middle", "Where its middle is.", main=False, shown_when=_SEEN
    ),
    "beyond": choice("repeat", "Beyond its rim", "How it goes on.", BEYOND_LABELS, main=False),
    "sampled": choice(
        "piece",
        "Sampled",
        "Whether it stays on the stage, moves with the piece, or sticks to the surface as it "
        "was at rest.",
        {"rest": "on the rest shape", "piece": "in the piece", "space": "in space"},
        main=False,
        shown_when=_SEEN,
        reads=(("space", "place"),),
    ),
}
PICTURE_GRIPS = (spot("middle"), both_ways("width", X, "middle"))


def _across(away: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    """What is to the right and what is up in a picture that is seen from a direction.

    Up is the height, or, from above and below, away from the viewer's side (-z).
    """
    up = np.array([0.0, 1.0, 0.0]) if abs(away[1]) < 0.999 else np.array([0.0, 0.0, -1.0])
    right = np.cross(up, away)
    right /= np.linalg.norm(right)
    return right, np.cross(away, right)


def _places(mesh: Mesh, values: Resolved, context: Context) -> tuple[np.ndarray, np.ndarray]:
    """(P,) right and up of the picture's middle, in its widths, or heights where UVs lay it."""
    number = values.numbers
    if values.discrete("laid") == "uv":
        u, v = (uv_of_points(mesh) - 0.5).astype(np.float64).T
    else:
        points = (mesh.rest if values.discrete("sampled") == "rest" else mesh.points).astype(
            np.float64
        )
        if values.discrete("sampled") == "space":
            points = points @ context.place[:3, :3].T + context.place[:3, 3]
        right, up = _across(unit(values.vector("from")))
        own = points - values.vector("middle")
        u, v = own @ right / number["width"], own @ up / number["width"]
    turn = np.radians(number["turn"])
    c, s = np.cos(turn), np.sin(turn)
    u, v = u * c + v * s, v * c - u * s
    return u * number["times"], v * number["times"]


def brightness(mesh: Mesh, values: Resolved, context: Context) -> np.ndarray:
    """(P,) float32 from 0 to 1. Raises ZygomorphError where the picture is not there, or is laid
    by UVs that the mesh has not."""
    number = values.numbers
    chosen = values.discrete("picture")
    shown = context.image(chosen) if chosen else woven()
    u, v = _places(mesh, values, context)
    if values.discrete("laid") != "uv":
        # As high as the picture is, not stretched to a square.
        rows, columns = shown.pixels.shape
        v = v * (columns / rows)
    u, v = u + 0.5 - number["across"], v + 0.5 - number["upward"]
    return shown.at(u, v, values.discrete("beyond"), float(number["soft"][0]) / 100)


def suited(mesh: Mesh) -> dict[str, object]:
    """The picture over all of the mesh, by its UVs where it has them."""
    found = extent_of(mesh)
    if not found:
        return {}
    laid = {"laid": "uv"} if mesh.get("corner", UV) is not None else {}
    return {"width": found.share(1.0), **laid}

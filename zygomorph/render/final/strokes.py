"""Shading of lines and loose points, by a light beside the viewer as on the stage.

A line of a few pixels has no side that a lamp could light. The stage therefore shades a stroke as a
rod that is lit from the upper right of the viewer, whatever the lamps are. These are the numbers of
``web/src/stage/strokes.ts``.
"""

from __future__ import annotations

from typing import Literal, get_args

import numpy as np

from zygomorph.core.geometry.view import View

# Shading of a surface: by lamps; by the light beside the viewer and its normals; or by that light
# as if it faced the viewer everywhere.
Shaded = Literal["lamps", "round", "even"]
SHADED: tuple[Shaded, ...] = get_args(Shaded)
# Share of the colour that is seen in shade, and what is added of it in light.
IN_SHADE, IN_LIGHT = 0.42, 0.72
# Towards the light: to the right, upwards and to the viewer; unit length.
TOWARDS = np.array([0.4, 0.7, 0.6]) / np.linalg.norm([0.4, 0.7, 0.6])
# Cosine of what is shaded evenly.
EVEN = 0.905
# Dots of so few pixels are drawn as squares, whatever they are.
SMALL_PX = 3.0
# Radius of a disc with the area of a square whose half side is 1.
DISC_OF_SQUARE = 2 / np.sqrt(np.pi)
# Sides of the outlines of larger dots, and of those whose rim has few pixels or that are very many.
DOT_SIDES, FEW_DOT_SIDES, FEW_SIDES_PX, VERY_MANY = 32, 6, 12.0, 20_000


def stroke_light(normals: np.ndarray, points: np.ndarray, view: View, shaded: Shaded) -> np.ndarray:
    """(P,) by which the colour of strokes and dots is multiplied; not for those that lamps light.

    normals : (P, 3) unit; points : (P, 3) metres, both on the stage
    """
    if shaded == "even":
        return np.full(len(points), IN_SHADE + IN_LIGHT * EVEN)
    right, _, near = view.axes.T
    towards = np.broadcast_to(near, points.shape)
    if view.height is None:
        towards = view.position - points
        towards = towards / np.maximum(np.linalg.norm(towards, axis=1, keepdims=True), 1e-9)
    across = right - towards * (towards @ right)[:, None]
    across /= np.maximum(np.linalg.norm(across, axis=1, keepdims=True), 1e-9)
    axes = np.stack([across, np.cross(towards, across), towards], axis=1)
    lit = np.einsum("pij,pj,i->p", axes, normals, TOWARDS)
    found: np.ndarray = IN_SHADE + IN_LIGHT * np.maximum(lit, 0)
    return found

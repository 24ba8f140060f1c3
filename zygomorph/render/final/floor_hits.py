"""Intersections with shadow-only ground, which is not part of the renderer's scene."""

from __future__ import annotations

from typing import Any

import drjit as dr
import mitsuba as mi
import numpy as np

from zygomorph.render.final.arrays import number, vector
from zygomorph.render.final.things import Floor


def floor_met(floor: Floor, origin: Any, way: Any) -> tuple[Any, Any, Any]:
    """Distances along rays, the points, and whether these are on the ground, seen from above."""
    middle = mi.Point3f(vector(np.array(floor.middle)))
    down = -way.y
    far = (origin.y - middle.y) / dr.maximum(down, 1e-9)
    point = origin + way * far
    across = dr.square(point.x - middle.x) + dr.square(point.z - middle.z)
    return far, point, (down > 1e-6) & (far > 1e-5) & (across < number(floor.reach**2))

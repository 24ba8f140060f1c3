"""Rays from the eye through the pixels of a picture, and where directions are in it."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import drjit as dr
import mitsuba as mi
import numpy as np

from zygomorph.core.geometry.view import View
from zygomorph.render.final.arrays import number, vector

# Beyond everything.
FAR = 1e7


def share_of_height(size: tuple[int, int], aspect: float) -> float:
    """Of the height of a picture, what the frame of a camera takes whose width is so many times its
    height; all of the frame is seen, and where the picture has another form some of what is
    around it."""
    place = size[0] / size[1]
    return place / aspect if aspect > place else 1.0


@dataclass
class Seen:
    """A ray, how far along it things are drawn, and the cosine of its angle to the axis."""

    origin: Any
    way: Any
    reach: Any
    cosine: Any


class Eye:
    """A view through a picture; size : (columns, rows)"""

    def __init__(self, view: View, size: tuple[int, int]) -> None:
        self._view, self._size = view, size
        share = share_of_height(size, view.aspect)
        # Half the height of the picture: of a lens at 1 m, of an orthographic view everywhere.
        half = np.tan(np.radians(view.angle) / 2) if view.height is None else view.height / 2
        self._half = float(half / share)

    def axes(self) -> tuple[Any, Any, Any]:
        """To the right and upwards in the picture, and back from what is looked at."""
        axes = self._view.axes
        right, up, back = (vector(axes[:, k]) for k in range(3))
        return right, up, back

    def rays(self, at: Any, lens: Any | None) -> Seen:
        """at : pixels from the left and the top; lens : a place in the unit square, or None for all
        as sharp as through a pinhole"""
        columns, rows = self._size
        right, up, back = self.axes()
        pixel = number(2 * self._half / rows)
        x = (at.x - columns / 2) * pixel
        y = (rows / 2 - at.y) * pixel
        view = self._view
        origin = mi.Point3f(vector(view.position))
        if view.height is not None:
            origin = origin + right * x + up * y
            way = dr.zeros(mi.Vector3f, dr.width(x)) - back
            cosine = mi.Float(1.0)
        else:
            local = right * x + up * y - back
            if lens is not None and view.lens_radius > 0:
                place = self._on_lens(lens) * number(view.lens_radius)
                shift = right * place.x + up * place.y
                origin = origin + shift
                local = local - shift / number(view.focus)
            way = dr.normalize(local)
            cosine = -dr.dot(way, back)
        near = number(view.near or 0.0)
        far = number(FAR if view.far is None else view.far)
        origin = origin + way * (near / cosine)
        return Seen(mi.Point3f(origin), mi.Vector3f(way), (far - near) / cosine, cosine)

    def _on_lens(self, place: Any) -> Any:
        """A place on an opening of radius 1, round or with straight blades."""
        radius, angle = dr.sqrt(place.x), dr.two_pi * place.y
        blades = self._view.blades
        if blades > 2:
            wedge = 2 * np.pi / blades
            within = angle - dr.floor(angle / wedge) * wedge - wedge / 2
            radius *= float(np.cos(wedge / 2)) / dr.cos(within)
        sine, cosine = dr.sincos(angle)
        return mi.Point2f(radius * cosine, radius * sine)

    def place_of(self, way: Any) -> tuple[Any, Any]:
        """Where far away things in a direction are in the picture, from 0 to 1 from the left and
        the top, and whether they are ahead at all; what is beside it is at its rim."""
        right, up, back = self.axes()
        ahead = -dr.dot(way, back)
        columns, rows = self._size
        if self._view.height is not None:
            return mi.Point2f(0.5, 0.5) + dr.zeros(mi.Point2f, dr.width(ahead)), ahead > 0
        scale = number(0.5 / self._half) / dr.maximum(ahead, 1e-6)
        u = 0.5 + dr.dot(way, right) * scale * (rows / columns)
        v = 0.5 - dr.dot(way, up) * scale
        return mi.Point2f(dr.clip(u, 0, 1), dr.clip(v, 0, 1)), ahead > 0.05

    def pixel_of(self, point: Any) -> tuple[Any, Any]:
        """Where a point on the stage is in the picture, in pixels from the left and the top, and
        how far ahead it is along the axis, metres."""
        columns, rows = self._size
        right, up, back = self.axes()
        towards = point - vector(self._view.position)
        ahead = -dr.dot(towards, back)
        pixel = number(2 * self._half / rows)
        if self._view.height is None:
            pixel = pixel * dr.maximum(ahead, 1e-6)
        x, y = dr.dot(towards, right) / pixel, dr.dot(towards, up) / pixel
        return mi.Point2f(columns / 2 + x, rows / 2 - y), ahead

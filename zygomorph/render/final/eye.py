"""The camera: rays through pixels, and the projection of points and directions."""

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
    """Share of a picture's height that the camera's frame takes. The whole frame is seen; if the
    picture has another aspect ratio, some of what is around the frame is seen as well."""
    place = size[0] / size[1]
    return place / aspect if aspect > place else 1.0


@dataclass
class Seen:
    """Camera rays: origin, direction, length limit, and the cosine of the angle to the axis."""

    origin: Any
    way: Any
    reach: Any
    cosine: Any


class Eye:
    """A view with the size of a picture, (columns, rows)."""

    def __init__(self, view: View, size: tuple[int, int]) -> None:
        self._view, self._size = view, size
        share = share_of_height(size, view.aspect)
        # Half the height of the picture: of a lens at 1 m, of an orthographic view everywhere.
        half = np.tan(np.radians(view.angle) / 2) if view.height is None else view.height / 2
        self._half = float(half / share)

    def axes(self) -> tuple[Any, Any, Any]:
        """Unit vectors to the right, upwards, and from the target to the camera."""
        axes = self._view.axes
        right, up, back = (vector(axes[:, k]) for k in range(3))
        return right, up, back

    def rays(self, at: Any, lens: Any | None) -> Seen:
        """at : pixels from the left and the top; lens : point in the unit square, or None for a
        pinhole"""
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
        """Point on an aperture of radius 1, round or with straight blades."""
        radius, angle = dr.sqrt(place.x), dr.two_pi * place.y
        blades = self._view.blades
        if blades > 2:
            wedge = 2 * np.pi / blades
            within = angle - dr.floor(angle / wedge) * wedge - wedge / 2
            radius *= float(np.cos(wedge / 2)) / dr.cos(within)
        sine, cosine = dr.sincos(angle)
        return mi.Point2f(radius * cosine, radius * sine)

    def place_of(self, way: Any) -> tuple[Any, Any]:
        """Projects directions: (0, 0) to (1, 1) from the upper left corner, clamped to the rim, and
        whether they point forward at all."""
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
        """Projects points on the stage: pixels from the left and the top, and depth along the axis
        in metres."""
        columns, rows = self._size
        right, up, back = self.axes()
        towards = point - vector(self._view.position)
        ahead = -dr.dot(towards, back)
        pixel = number(2 * self._half / rows)
        if self._view.height is None:
            pixel = pixel * dr.maximum(ahead, 1e-6)
        x, y = dr.dot(towards, right) / pixel, dr.dot(towards, up) / pixel
        return mi.Point2f(columns / 2 + x, rows / 2 - y), ahead

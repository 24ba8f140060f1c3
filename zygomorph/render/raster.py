"""A small software rasteriser for thumbnails: triangles, depth, two lights, soft backdrop.

Large pictures are drawn by the viewer's own graphics; this one needs no graphics at all, so that
the gallery has moving pictures on any machine.
"""

from __future__ import annotations

import numpy as np
from numba import float32, prange, types

from zygomorph.core.kernels.compiled import F2, I2, kernel

_IMAGE = types.float32[:, :, ::1]


@kernel(types.void(F2, F2, F2, I2, types.float32[:, ::1], _IMAGE))
def _draw(screen, normals, colours, triangles, depth, image):  # type: ignore[no-untyped-def]
    """Fill triangles in bands of rows, one band a thread, so that no two write one pixel.

    screen : (P, 3) pixels and depth; normals : (P, 3) to the eye; colours : (P, C) linear
    """
    rows, columns = depth.shape
    bands = 8
    height = (rows + bands - 1) // bands
    for band in prange(bands):
        first = band * height
        last = min(rows, first + height)
        for t in range(triangles.shape[0]):
            a = triangles[t, 0]
            b = triangles[t, 1]
            c = triangles[t, 2]
            ax, ay, az = screen[a, 0], screen[a, 1], screen[a, 2]
            bx, by, bz = screen[b, 0], screen[b, 1], screen[b, 2]
            cx, cy, cz = screen[c, 0], screen[c, 1], screen[c, 2]
            if az <= 0 or bz <= 0 or cz <= 0:
                continue
            area = (bx - ax) * (cy - ay) - (by - ay) * (cx - ax)
            if area == 0:
                continue
            # Rows run down: counter-clockwise is below 0. Of a face seen from behind the other side
            # is lit, by its own facing; a smooth normal near an outline may point away already.
            side = float32(1.0) if area < 0 else float32(-1.0)
            y0 = max(first, int(np.floor(min(ay, by, cy))))
            y1 = min(last - 1, int(np.ceil(max(ay, by, cy))))
            x0 = max(0, int(np.floor(min(ax, bx, cx))))
            x1 = min(columns - 1, int(np.ceil(max(ax, bx, cx))))
            for y in range(y0, y1 + 1):
                for x in range(x0, x1 + 1):
                    px = float32(x) + float32(0.5)
                    py = float32(y) + float32(0.5)
                    u = ((bx - px) * (cy - py) - (by - py) * (cx - px)) / area
                    v = ((cx - px) * (ay - py) - (cy - py) * (ax - px)) / area
                    w = float32(1.0) - u - v
                    if u < 0 or v < 0 or w < 0:
                        continue
                    z = u * az + v * bz + w * cz
                    if z >= depth[y, x]:
                        continue
                    depth[y, x] = z
                    light = colours.shape[1]
                    for k in range(light):
                        image[y, x, k] = u * colours[a, k] + v * colours[b, k] + w * colours[c, k]
                    for k in range(3):
                        image[y, x, light + k] = side * (
                            u * normals[a, k] + v * normals[b, k] + w * normals[c, k]
                        )


def project(
    points: np.ndarray, position: np.ndarray, view: np.ndarray, angle: float, size: tuple[int, int]
) -> np.ndarray:
    """(P, 3) float32: column, row and distance of points seen through a lens.

    angle : vertical angle of view, degrees; size : (columns, rows)
    """
    columns, rows = size
    local = (points - position) @ view.T
    focal = rows / 2 / np.tan(np.radians(angle) / 2)
    depth = -local[:, 2]
    safe = np.where(depth > 1e-3, depth, 1.0)
    seen = np.empty((len(points), 3), np.float32)
    seen[:, 0] = columns / 2 + focal * local[:, 0] / safe
    seen[:, 1] = rows / 2 - focal * local[:, 1] / safe
    seen[:, 2] = np.where(depth > 1e-3, depth, -1.0)
    return seen


def draw(
    image: np.ndarray,
    depth: np.ndarray,
    screen: np.ndarray,
    normals: np.ndarray,
    colours: np.ndarray,
    triangles: np.ndarray,
) -> None:
    """Draw into (rows, columns, C + 3) colours and normals, nearest depth first come."""
    _draw(
        np.ascontiguousarray(screen, np.float32),
        np.ascontiguousarray(normals, np.float32),
        np.ascontiguousarray(colours, np.float32),
        np.ascontiguousarray(triangles, np.int32),
        depth,
        image,
    )

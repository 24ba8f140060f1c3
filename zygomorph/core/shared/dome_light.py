"""Light from a picture all round, as what arrives on surfaces.

The first nine spherical harmonics hold nearly all of what a matt surface makes of it (R.
Ramamoorthi, P. Hanrahan, "An Efficient Representation for Irradiance Environment Maps", SIGGRAPH
2001).
"""

from __future__ import annotations

import numpy as np

from zygomorph.core.errors import ZygomorphError
from zygomorph.core.geometry.domes import COLUMNS, ROWS, directions, solid_angles
from zygomorph.core.geometry.images import Images
from zygomorph.core.shared.drawn_scene import DomeLamp

LUMINANCE = np.array([0.2126, 0.7152, 0.0722])
# What is left of each order by the cosine over the half sphere, as the paper has it.
KEPT = np.array([np.pi, *[2 * np.pi / 3] * 3, *[np.pi / 4] * 5])
# Pixels of the small picture that the harmonics are found from.
SMALL = (32, 64)
# Turns of domes whose harmonics are kept: more than a loop has frames.
MOST_KEPT = 4000


def harmonics(way: np.ndarray) -> np.ndarray:
    """(…, 9) the real spherical harmonics of orders 0, 1 and 2 at unit directions (…, 3)."""
    x, y, z = np.moveaxis(way, -1, 0)
    found = [
        0.282095 * np.ones_like(x),
        0.488603 * y,
        0.488603 * z,
        0.488603 * x,
        1.092548 * x * y,
        1.092548 * y * z,
        0.315392 * (3 * z * z - 1),
        1.092548 * x * z,
        0.546274 * (x * x - y * y),
    ]
    return np.stack(found, axis=-1)


def levelled(radiance: np.ndarray) -> np.ndarray:
    """The radiance, (rows, columns, 3), of which surfaces get 1 W/m² on the mean over all ways that
    they may face."""
    weight = solid_angles(*radiance.shape[:2])
    mean = float(((radiance @ LUMINANCE) * weight).sum() / (4 * np.pi))
    found: np.ndarray = radiance / max(np.pi * mean, 1e-12)
    return found


def shrunk(radiance: np.ndarray, rows: int, columns: int) -> np.ndarray:
    """(rows, columns, 3): the means of the pixels that each covers."""
    for axis, count in ((0, rows), (1, columns)):
        length = radiance.shape[axis]
        if length < count:
            radiance = np.repeat(radiance, -(-count // length), axis=axis)
            length = radiance.shape[axis]
        starts = np.arange(count) * length // count
        counts = np.diff([*starts, length])
        sums = np.add.reduceat(radiance, starts, axis=axis)
        radiance = sums / counts.reshape([-1 if k == axis else 1 for k in range(3)])
    return radiance


def around(images: Images, picture: str) -> np.ndarray:
    """(ROWS, COLUMNS, 3) float32: what renderers have of a dome of 1 W/m². Raises ZygomorphError
    where the picture is not there."""
    key = ("around", picture)
    if key not in images.known:
        light = levelled(shrunk(images.radiance(picture), ROWS, COLUMNS))
        images.known[key] = light.astype(np.float32)
    return images.known[key]


def coefficients(lamp: DomeLamp, images: Images) -> np.ndarray:
    """(9, 3) of the radiance that a dome sends; of one whose picture is not there, the same from
    all sides."""
    key = ("harmonics", lamp.picture, lamp.axes.tobytes())
    if key not in images.known:
        if len(images.known) > MOST_KEPT:
            images.known.clear()
        try:
            radiance = shrunk(around(images, lamp.picture), *SMALL)
        except ZygomorphError:
            # It may be brought in yet, so that this is not kept.
            return _of_unit(np.full((*SMALL, 3), 1 / np.pi), lamp.axes) * lamp.strength
        images.known[key] = _of_unit(radiance, lamp.axes)
    found: np.ndarray = images.known[key] * lamp.strength
    return found


def _of_unit(radiance: np.ndarray, axes: np.ndarray) -> np.ndarray:
    """(9, 3) of a radiance, (rows, columns, 3), whose picture lies by its axes."""
    rows, columns = radiance.shape[:2]
    way = directions(rows, columns) @ axes.T
    weighed = radiance * solid_angles(rows, columns)[..., None]
    found: np.ndarray = np.tensordot(harmonics(way), weighed, axes=((0, 1), (0, 1)))
    return found


def arriving(found: np.ndarray, normals: np.ndarray) -> np.ndarray:
    """(…, 3) W/m² on surfaces with normals (…, 3), by the coefficients."""
    light: np.ndarray = np.maximum(harmonics(normals) @ (KEPT[:, None] * found), 0)
    return light

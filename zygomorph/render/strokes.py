"""Curves and loose points as triangles that face the camera, for the small rasteriser."""

from __future__ import annotations

import numpy as np

Drawn = tuple[np.ndarray, np.ndarray, np.ndarray, np.ndarray]
LEAST_PX = 1.5


def _radius(depth: np.ndarray, thickness: np.ndarray, focal: float) -> np.ndarray:
    """Half the thickness on the picture, pixels."""
    return np.maximum(0.5 * thickness * focal / np.maximum(depth, 1e-3), LEAST_PX / 2)


def _quads(count: int) -> np.ndarray:
    first = 4 * np.arange(count)[:, None]
    return np.concatenate([first + np.array(k) for k in ([0, 2, 1], [0, 3, 2])])


def strokes(
    screen: np.ndarray,
    colours: np.ndarray,
    segments: np.ndarray,
    view: np.ndarray,
    thickness: np.ndarray,
    focal: float,
) -> Drawn:
    """Screen places, normals, colours and triangles of strips along segments.

    screen : (P, 3) column, row, distance; segments : (S, 2); view : (3, 3) rows right, up, towards
    the eye; thickness : (P,) metres; focal : pixels of 1 m at the distance of 1 m
    """
    ends = screen[segments].astype(float)
    way = ends[:, 1, :2] - ends[:, 0, :2]
    way /= np.maximum(np.linalg.norm(way, axis=1, keepdims=True), 1e-9)
    across = np.stack([-way[:, 1], way[:, 0]], axis=1)
    corners = ends[:, [0, 1, 1, 0]]
    side = np.array([-1.0, -1.0, 1.0, 1.0])
    reach = np.array([-0.3, 0.3, 0.3, -0.3])
    radius = _radius(corners[..., 2], thickness[segments[:, [0, 1, 1, 0]]], focal)[..., None]
    shift = side[:, None] * across[:, None] + reach[:, None] * way[:, None]
    corners[..., :2] += radius * shift
    # Rows of the picture run down, the view's second row points up.
    sideways = across[:, :1] * view[0] - across[:, 1:] * view[1]
    normals = 0.8 * side[:, None] * sideways[:, None] + 0.6 * view[2]
    return (
        corners.reshape(-1, 3),
        normals.reshape(-1, 3),
        colours[segments[:, [0, 1, 1, 0]]].reshape(-1, colours.shape[1]),
        _quads(len(segments)),
    )


def dots(
    screen: np.ndarray, colours: np.ndarray, view: np.ndarray, thickness: np.ndarray, focal: float
) -> Drawn:
    """The same for a small square at every point."""
    corners = np.repeat(screen.astype(float)[:, None], 4, axis=1)
    radius = _radius(screen[:, 2].astype(float), thickness, focal)[:, None, None]
    corners[..., :2] += radius * np.array([[-1, -1], [1, -1], [1, 1], [-1, 1]])
    normal = view[2] * 0.7 + view[1] * 0.7
    return (
        corners.reshape(-1, 3),
        np.tile(normal, (4 * len(screen), 1)),
        np.repeat(colours, 4, axis=0),
        _quads(len(screen)),
    )

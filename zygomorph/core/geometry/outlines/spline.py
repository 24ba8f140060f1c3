"""A smooth curve through knots: the centripetal Catmull–Rom spline.

C. Yuksel, S. Schaefer and J. Keyser, "Parameterization and Applications of Catmull–Rom Curves",
Computer-Aided Design 43, 2011: with the distances' square roots as steps it has no cusps and does
not cross itself within a segment. Evaluated by Barry and Goldman's pyramid.
"""

from __future__ import annotations

from itertools import pairwise

import numpy as np


def _distinct(knots: np.ndarray, closed: bool) -> np.ndarray:
    """Without knots that stand on the one before."""
    keep = np.ones(len(knots), bool)
    keep[1:] = np.any(knots[1:] != knots[:-1], axis=1)
    knots = knots[keep]
    if closed and len(knots) > 1 and np.array_equal(knots[0], knots[-1]):
        knots = knots[:-1]
    return knots


def smooth_curve(knots: np.ndarray, closed: bool, pieces: int) -> np.ndarray:
    """Points of the curve, (m, 2) float64, ``pieces`` from each knot to the next.

    knots : (n, 2); of less than three distinct ones the curve is straight
    An open curve begins and ends at its outer knots; a closed one does not repeat its first point.
    """
    knots = _distinct(np.asarray(knots, np.float64), closed)
    count = len(knots)
    if count < 3:
        return knots
    if closed:
        around = np.concatenate([knots[-1:], knots, knots[:2]])
    else:
        # Beyond its ends it goes on as it would mirrored there.
        before, after = 2 * knots[0] - knots[1], 2 * knots[-1] - knots[-2]
        around = np.concatenate([before[None], knots, after[None]])
    segments = count if closed else count - 1
    p = [around[k : k + segments, None, :] for k in range(4)]
    steps = [np.sqrt(np.linalg.norm(b - a, axis=2, keepdims=True)) for a, b in pairwise(p)]
    t = [np.zeros_like(steps[0])]
    for step in steps:
        t.append(t[-1] + np.maximum(step, 1e-12))
    share = (np.arange(pieces) / pieces)[None, :, None]
    at = t[1] + (t[2] - t[1]) * share

    def between(a: np.ndarray, b: np.ndarray, low: int, high: int) -> np.ndarray:
        return (a * (t[high] - at) + b * (at - t[low])) / (t[high] - t[low])

    first = [between(p[k], p[k + 1], k, k + 1) for k in range(3)]
    second = [between(first[k], first[k + 1], k, k + 2) for k in range(2)]
    points = between(second[0], second[1], 1, 2).reshape(-1, 2)
    return points if closed else np.concatenate([points, knots[-1:]])

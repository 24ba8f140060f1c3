"""Points taken apart and put together again are the same points."""

import numpy as np
import pytest
from numba import njit

from zygomorph.core.kernels.structure_of_arrays import merge, split


@njit
def _there_and_back(flat, lo, m, out):
    x = np.zeros(m, np.float32)
    y = np.zeros(m, np.float32)
    z = np.zeros(m, np.float32)
    split(flat, lo, m, x, y, z)
    merge(x, y, z, lo, m, out)
    return x, y, z


@pytest.mark.parametrize("lo", [0, 1, 5])
@pytest.mark.parametrize("m", [0, 1, 7, 16, 33, 90])
def test_only_the_asked_for_points_are_read_and_written(lo, m):
    points = np.arange(300, dtype=np.float32).reshape(100, 3)
    out = np.full((100, 3), -1, np.float32)
    columns = _there_and_back(points.reshape(-1), lo, m, out.reshape(-1))
    for axis in range(3):
        assert np.array_equal(columns[axis], points[lo : lo + m, axis])
    assert np.array_equal(out[lo : lo + m], points[lo : lo + m])
    assert (out[:lo] == -1).all()
    assert (out[lo + m :] == -1).all()

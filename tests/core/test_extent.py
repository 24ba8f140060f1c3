"""How large a mesh is, for values that are to suit it."""

import numpy as np
import pytest

from zygomorph.core.geometry.extent import extent_of
from zygomorph.core.geometry.mesh import loose_points


def test_the_extent_is_the_middle_and_the_longest_side_of_the_box():
    found = extent_of(loose_points(np.array([[0, 1, -1], [3, 2, 1.0]])))
    assert found.middle == [1.5, 1.5, 0.0]
    assert found.size == pytest.approx(3)
    # In two figures.
    assert found.share(0.1234) == 0.37


def test_no_points_and_points_in_one_place_have_none():
    assert extent_of(loose_points(np.zeros((0, 3)))) is None
    assert extent_of(loose_points(np.ones((4, 3)))) is None

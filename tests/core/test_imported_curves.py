"""Curves in files: lines of OBJ, edges of PLY, lines of GLB; and what repairs leave of them."""

from itertools import pairwise

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.reference.test_deformers import form
from zygomorph.core.errors import MeshFileError
from zygomorph.core.formats.chains import chains
from zygomorph.core.formats.read import read_here as read_mesh
from zygomorph.core.formats.soup import curves_of
from zygomorph.core.formats.write import write_obj, write_ply
from zygomorph.core.geometry.mesh import with_curves
from zygomorph.core.geometry.repair.holes import filled
from zygomorph.core.geometry.repair.merge import joined, split_by
from zygomorph.core.geometry.repair.shells import with_faces_turned

CUBE_AND_LINE = """
v 0 0 0
v 1 0 0
v 1 1 0
v 0 1 0
v 0 0 5
v 0 0 6
v 1 0 6
f 1 2 3 4
l 5 6 7
l 1 2 3 4 1
"""


def curves(mesh):
    topology = mesh.topology
    return [
        (mesh.points[topology.curve_points[lo:hi]].tolist(), bool(closed))
        for (lo, hi), closed in zip(
            pairwise(topology.curve_starts), topology.curve_closed, strict=True
        )
    ]


def test_lines_of_an_obj_are_curves_beside_its_faces():
    mesh, report = read_mesh(CUBE_AND_LINE.encode(), "a.obj")
    assert (report.faces, report.curves, report.points) == (1, 2, 7)
    assert curves(mesh) == [
        ([[0, 0, 5], [0, 0, 6], [1, 0, 6]], False),
        ([[0, 0, 0], [1, 0, 0], [1, 1, 0], [0, 1, 0]], True),
    ]


def test_an_obj_of_lines_alone_is_read_with_uvs_and_numbers_from_the_end():
    mesh, report = read_mesh(b"v 0 0 0\nv 1 0 0\nv 2 1 0\nvt 0 0\nl -3/1 -2/1 -1/1\n", "a.obj")
    assert (report.points, report.faces, report.curves) == (3, 0, 1)
    assert curves(mesh) == [([[0, 0, 0], [1, 0, 0], [2, 1, 0]], False)]


@pytest.mark.parametrize("end", ["9", "0", "x"])
def test_a_line_that_names_a_missing_point_says_where(end):
    with pytest.raises(MeshFileError, match="Line 3: a line names|Curve 1 names point 9"):
        read_mesh(f"v 0 0 0\nv 1 0 0\nl 1 {end}\n".encode(), "a.obj")


@pytest.mark.parametrize(("write", "name"), [(write_obj, "a.obj"), (write_ply, "a.ply")])
@pytest.mark.parametrize("key", ["circle", "helix", "strands"])
def test_curves_that_were_written_are_read_back(write, name, key):
    made = form(key)
    mesh, report = read_mesh(write(made), name)
    assert report.curves == made.topology.curve_count
    assert sorted(mesh.topology.curve_closed) == sorted(made.topology.curve_closed)
    lengths = [
        np.sort([np.linalg.norm(np.diff(points, axis=0), axis=1).sum() for points, _ in curves(m)])
        for m in (made, mesh)
    ]
    assert np.allclose(*lengths, rtol=1e-4)


@given(
    st.lists(st.tuples(st.integers(0, 12), st.integers(0, 12)), max_size=40, unique=True),
)
def test_chains_use_every_segment_once(pairs):
    points, starts = chains(np.array(pairs, np.int64).reshape(-1, 2))
    walked = [
        tuple(sorted((int(a), int(b))))
        for lo, hi in pairwise(starts)
        for a, b in pairwise(points[lo:hi])
    ]
    # One that is named again, either way round, is the same one.
    assert sorted(walked) == sorted({tuple(sorted(p)) for p in pairs if p[0] != p[1]})


def test_a_ring_comes_back_and_a_fork_ends_curves():
    points, starts = chains(np.array([[2, 0], [0, 1], [1, 2]]))
    assert len(starts) == 2
    assert points[0] == points[-1]
    # A Y has three arms.
    _, starts = chains(np.array([[0, 1], [1, 2], [1, 3]]))
    assert np.diff(starts).tolist() == [2, 2, 2]


def test_points_that_repeat_and_curves_of_one_point_are_left_out():
    points, starts, closed = curves_of(
        np.array([3, 3, 4, 4, 5, 7, 7, 1, 2, 3, 1]), np.array([0, 5, 7, 11])
    )
    assert points.tolist() == [3, 4, 5, 1, 2, 3]
    assert starts.tolist() == [0, 3, 6]
    assert closed.tolist() == [False, True]


def test_repairs_leave_curves_where_they_are():
    mesh, _ = read_mesh(CUBE_AND_LINE.encode(), "a.obj")
    before = curves(mesh)
    assert curves(joined(mesh, 1e-3)) == before
    assert curves(with_faces_turned(mesh, np.array([True]))) == before
    split = split_by(mesh, np.array([0], np.int32))
    assert curves(split) == before
    # The face and the curve along it have points of their own, so that parts move apart.
    assert len(split.points) == len(mesh.points) + 4
    open_box = form("cylinder", around=8, rows=2, caps=False)
    lined = with_curves(open_box, [0, 8], [0, 2], [False])
    assert curves(filled(lined)) == curves(lined)

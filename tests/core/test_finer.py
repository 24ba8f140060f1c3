"""Surfaces cut finer for pictures: the same surface, and what lies on it as sharp as it is."""

from __future__ import annotations

import numpy as np
import pytest

from tests.conftest import document
from zygomorph.core.document.study import Study, check_document
from zygomorph.core.evaluation.evaluate import Evaluator, Request
from zygomorph.core.evaluation.finer import MOST_LEVELS, finer
from zygomorph.core.geometry.geometry import Geometry
from zygomorph.core.geometry.normals import point_normals

BALL = {"step": "icosphere", "values": {"halvings": 2}}
CHECKS = {"id": "c", "layer": "pattern", "values": {"figure": "checks", "times": 4}}


def drawn(*steps, looks=None, edge_of=None, mask_of=None):
    made = document(*steps)
    if looks:
        made["pieces"][0]["looks"] = looks
    study = Study(check_document(made).document)
    request = Request("p", mask_of=mask_of)
    return Evaluator().drawn(study, request, for_viewer=False, edge_of=edge_of)


def edges(mesh) -> np.ndarray:
    ends = mesh.points[mesh.topology.edges]
    return np.linalg.norm(ends[:, 1] - ends[:, 0], axis=1)


def test_edges_become_as_short_as_is_wanted_and_the_shape_stays():
    result = drawn(BALL).result
    mesh = result.geometry.mesh
    fine = finer(result, 0.05).geometry.mesh
    assert np.percentile(edges(fine), 90) <= 0.05
    # Each old point is there, and all others lie on the faces between: so inside of the ball.
    assert np.allclose(fine.points[: len(mesh.points)], mesh.points)
    assert (
        np.linalg.norm(fine.points, axis=1).max()
        <= np.linalg.norm(mesh.points, axis=1).max() + 1e-6
    )
    corners = [m.points[m.topology.drawn_triangles] for m in (mesh, fine)]
    volumes = [np.einsum("ij,ij->i", c[:, 0], np.cross(c[:, 1], c[:, 2])).sum() for c in corners]
    assert volumes[1] == pytest.approx(volumes[0], rel=1e-5)


def test_it_is_shaded_as_before():
    """Normals are those that shading mixes between the old points."""
    result = drawn(BALL).result
    mesh = result.geometry.mesh
    fine = finer(result, 0.05).geometry.mesh
    assert np.allclose(point_normals(fine)[: len(mesh.points)], point_normals(mesh), atol=1e-5)
    # On a ball they look away from its middle, also between its points.
    away = fine.points / np.linalg.norm(fine.points, axis=1, keepdims=True)
    assert (point_normals(fine) * away).sum(axis=1).min() > 0.995


def test_what_is_fine_already_and_copies_stay_as_they_are():
    result = drawn(BALL).result
    assert finer(result, 10.0) is result
    copied = drawn(BALL, {"step": "row", "values": {"count": 3}}).result
    assert copied.geometry.copies is not None
    assert finer(copied, 1e-4) is copied


def test_there_is_an_end_to_it():
    result = drawn({"step": "icosphere", "values": {"halvings": 0}}).result
    mesh = finer(result, 1e-9).geometry.mesh
    assert mesh.topology.face_count == 20 * 4**MOST_LEVELS


def test_only_what_has_a_pattern_is_cut_finer():
    asked = []

    def edge(result):
        asked.append(result)
        return 0.05

    plain = drawn(BALL, edge_of=edge).result
    assert not asked
    base = {"id": "b", "look": "surface"}
    look = [base, {"id": "l", "look": "surface", "where": {"layers": [CHECKS]}}]
    found = drawn(BALL, looks=look, edge_of=edge)
    assert asked
    assert found.result.geometry.point_count > 4 * plain.geometry.point_count


def test_weights_of_masks_go_with_it():
    ramp = {"layers": [{"id": "r", "layer": "linear"}]}
    result = drawn(BALL, {"id": "t", "step": "twist", "where": ramp}, mask_of="t").result
    assert result.weights is not None and len(result.weights) == len(result.geometry.mesh.points)
    fine = finer(result, 0.05)
    assert len(fine.weights) == len(fine.geometry.mesh.points)
    assert fine.weights.min() >= result.weights.min() and fine.weights.max() <= result.weights.max()
    assert isinstance(fine.geometry, Geometry)

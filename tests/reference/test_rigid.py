"""Shards that move as a whole: congruent, at the deformer's height, tilted to its slope."""

import numpy as np
import pytest

from tests.conftest import study
from zygomorph.core.errors import StepError
from zygomorph.core.evaluation.evaluate import Evaluator, Request
from zygomorph.core.geometry.mesh import Mesh
from zygomorph.core.values.entries import definitions

TILES = {"step": "tiling", "values": {"kind": "square", "size": 0.2, "columns": 9, "rows": 7}}
COUNT = 63
RIGID = [key for key, d in definitions("step").items() if d.rigid and not d.changes_topology]
# Without another piece they do nothing.
JOINED = {
    key for key in RIGID if any(v.kind == "piece" for v in definitions("step")[key].values.values())
}


def made(step: dict, moves: str, layers=()) -> Mesh:
    where = {"moves": moves, "layers": list(layers)}
    return Evaluator().evaluate(study(TILES, step | {"where": where}), Request("p")).mesh


def tiles(mesh: Mesh) -> np.ndarray:
    return mesh.points.reshape(COUNT, 4, 3).astype(np.float64)


def sides(mesh: Mesh) -> np.ndarray:
    """Distances between all corners of each tile."""
    corners = tiles(mesh)
    return np.linalg.norm(corners[:, :, None] - corners[:, None], axis=3)


PLAIN = Evaluator().evaluate(study(TILES), Request("p")).mesh
WAVE = {"step": "wave", "values": {"amplitude": 0.1, "wavelength": 1.1, "phase": 0.2}}


@pytest.mark.parametrize("moves", ["shards", "tilted"])
@pytest.mark.parametrize("key", sorted(set(RIGID) - JOINED))
def test_a_tile_stays_a_tile_under_every_deformer(key, moves):
    definition = definitions("step")[key]
    values = definition.suggest(PLAIN) if definition.suggest else {}
    found = made({"step": key, "values": values}, moves)
    # Common practice: a rigid motion keeps all distances.
    assert np.allclose(sides(found), sides(PLAIN), atol=2e-6)
    assert np.abs(found.points - PLAIN.points).max() > 1e-3


def test_tiles_stand_at_the_height_of_the_wave_and_lie_level():
    found = tiles(made(WAVE, "shards"))
    middle = tiles(PLAIN).mean(axis=1)
    # sin 2π (x / λ - φ), averaged over the reach of a tile.
    height = 0.1 * np.sin(2 * np.pi * (middle[:, 0] / 1.1 - 0.2))
    assert np.allclose(found[..., 1].mean(axis=1), height, atol=3e-3)
    # A level tile has no tilt.
    assert np.ptp(found[..., 1], axis=1).max() < 1e-6


def test_tilted_tiles_follow_the_slope_of_the_wave():
    found = tiles(made(WAVE, "tilted"))
    x = tiles(PLAIN).mean(axis=1)[:, 0]
    slope = 0.1 * 2 * np.pi / 1.1 * np.cos(2 * np.pi * (x / 1.1 - 0.2))
    normal = np.cross(found[:, 1] - found[:, 0], found[:, 3] - found[:, 0])
    normal *= np.sign(normal[:, 1:2])
    # The normal of y = h(x) is (-h', 1, 0) (textbook).
    assert np.allclose(-normal[:, 0] / normal[:, 1], slope, atol=0.02)


def test_a_mask_counts_by_its_mean_over_a_tile():
    layer = {"id": "l", "layer": "linear", "values": {"width": 0.0, "direction": [1.0, 0.0, 0.0]}}
    found = tiles(made({"step": "inflate", "values": {"amount": 0.2}}, "shards", [layer]))
    assert np.ptp(found[..., 1], axis=1).max() < 1e-6
    assert set(np.round(found[:, 0, 1], 3)) >= {0.0, 0.2}


def test_points_that_belong_to_no_shard_are_said():
    for form in ("icosphere", "strands"):
        steps = [{"step": form}, {"step": "wave", "where": {"moves": "tilted"}}]
        with pytest.raises(StepError, match="no shards") as caught:
            Evaluator().evaluate(study(*steps), Request("p"))
        assert "tiling" in caught.value.hint


def test_the_cache_knows_what_moves():
    evaluator = Evaluator()
    found = [
        evaluator.evaluate(study(TILES, WAVE | {"where": {"moves": m}}), Request("p")).mesh.points
        for m in ("points", "shards", "tilted")
    ]
    assert not np.allclose(found[0], found[1], atol=1e-3)
    assert not np.allclose(found[1], found[2], atol=1e-3)

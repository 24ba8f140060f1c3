"""Figures of solids and voxels: fracture, a boolean whose both pieces move, and skins."""

from __future__ import annotations

import itertools
from collections.abc import Callable
from typing import Any

import numpy as np

from zygomorph.bench.figures import Result, in_turns, result
from zygomorph.bench.sample import one_piece
from zygomorph.core.document.study import check_document
from zygomorph.core.evaluation.evaluate import Evaluator, Request
from zygomorph.core.geometry.voxels.skin import Grid, skin_of

ROUNDS = 15
VOXELS = 128
SAW = {"signal": "cycle", "shape": "saw", "low": 0, "high": 1}


def _fracture() -> Callable[[], Any]:
    """A new ball of 20,480 triangles broken into 200 shards, all that it takes included."""
    numbers, kept = itertools.count(1), Evaluator()

    def once() -> None:
        # Another radius each time, so that nothing is known of it.
        ball = {"radius": 0.5 + next(numbers) / 1e4, "halvings": 5}
        fracture = {"step": "fracture", "values": {"count": 200, "gap": 0.01}}
        study = one_piece({"step": "icosphere", "values": ball}, fracture)
        kept.evaluate(study, Request("p"))

    return once


def _boolean() -> Callable[[], float]:
    """A frame of letters of 4,800 triangles with a block of 30,000, both moving; gives the
    milliseconds of the boolean."""
    sway = {"step": "wave", "values": {"phase": SAW, "amplitude": 0.02}}
    text = {"step": "text", "values": {"text": "GLA", "size": 0.5, "cell": 0.25}}
    cut = {"step": "boolean", "values": {"piece": "block", "keep": "outside"}}
    study = one_piece(text, sway, cut)
    cells = {"size": [1.5, 2.0, 1.0], "across": 50, "up": 50, "deep": 50}
    move = {"signal": "cycle", "shape": "sine", "low": -1.0, "high": 1.0}
    block = {
        "id": "block",
        "name": "Block",
        "visible": False,
        "place": {"move": [move, 0, 0]},
        "recipe": [
            {"id": "b", "step": "box", "values": cells},
            {"id": "n", "step": "displace", "values": {"amount": 0.1, "travel": SAW}},
        ],
    }
    both = check_document({**study.document, "pieces": [*study.document["pieces"], block]})
    evaluator, frames = Evaluator(), itertools.count()

    def frame() -> float:
        found = evaluator.evaluate(both, Request("p", next(frames)))
        return found.steps[-1].milliseconds

    return frame


def _field() -> tuple[np.ndarray, Grid]:
    """A field on 128³ points whose skin has about 150,000."""
    axis = np.linspace(-1, 1, VOXELS)
    x, y, z = np.meshgrid(axis, axis, axis, indexing="ij")
    wavy = np.sin(11 * x) * np.cos(11 * y) + np.sin(11 * y) * np.cos(11 * z)
    field = np.maximum(wavy + np.sin(11 * z) * np.cos(11 * x), np.maximum(abs(x), abs(y)) - 0.97)
    return field.astype(np.float32), Grid(-np.ones(3), 2 / (VOXELS - 1), field.shape)


def _rebuild() -> Callable[[], Any]:
    """A new ball of 20,480 triangles rebuilt through about a million voxels."""
    numbers, kept = itertools.count(1), Evaluator()

    def once() -> None:
        ball = {"radius": 0.5 + next(numbers) / 1e4, "halvings": 5}
        voxels = {"step": "voxels", "values": {"size": 0.01}}
        kept.evaluate(one_piece({"step": "icosphere", "values": ball}, voxels), Request("p"))

    return once


def bench_solids() -> list[Result]:
    frame = _boolean()
    frame()
    boolean = sorted(frame() for _ in range(ROUNDS))[ROUNDS // 2]
    field, grid = _field()
    fracture, rebuild, skin = in_turns(
        _fracture(), _rebuild(), lambda: skin_of(field, grid), rounds=5
    )
    return [
        result("solids_fracture_200_shards_20k_ms", fracture * 1000, "ms", 800.0),
        result("solids_boolean_text_with_moving_block_ms", boolean, "ms", 80.0),
        result("solids_marching_cubes_128_ms", skin * 1000, "ms", 60.0, _scikit_image_ms(field)),
        result("solids_rebuild_20k_million_voxels_ms", rebuild * 1000, "ms", None),
    ]


def _scikit_image_ms(field: np.ndarray) -> float | None:
    """Its marching cubes of the same field, where it is installed."""
    try:
        from skimage.measure import marching_cubes
    except ImportError:
        return None
    (seconds,) = in_turns(lambda: marching_cubes(field, 0.0), rounds=3)
    return seconds * 1000

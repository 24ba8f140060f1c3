"""Figures of systems: a sea, a ripple tank, soft balls, swarms."""

from __future__ import annotations

import itertools
from collections.abc import Callable
from typing import Any

import numpy as np
import scipy.fft

from zygomorph.bench.figures import Result, in_turns, result
from zygomorph.bench.sample import one_piece
from zygomorph.core.document.study import Study
from zygomorph.core.evaluation.evaluate import Evaluator, Request
from zygomorph.core.geometry.balls.balls import Balls
from zygomorph.core.geometry.normals import point_normals
from zygomorph.core.geometry.ripples.tank import Basin, State, Water, advanced
from zygomorph.core.geometry.sea.amplitudes import Weather, waves_of
from zygomorph.core.geometry.sea.surface import fields_at
from zygomorph.core.kernels.gate import GATE

ROUNDS = 9
SEA = 512
# Along one side of a sheet of 1.28 million points.
SHEET = 1131
TANK, STEPS = 512, 400
BALLS, VOXELS = 150, 128


def _sea() -> list[Result]:
    waves = waves_of(Weather(), SEA, 100.0, 1, 10.0, True)
    frames = itertools.count()
    # As many inverse transforms by themselves.
    chance = np.random.default_rng(1)
    plain = chance.normal(size=(6, SEA, SEA // 2 + 1)).astype(np.complex64)
    sheet = one_piece(
        {"step": "sheet", "values": {"width": 4, "depth": 4, "columns": SHEET, "rows": SHEET}},
        {"step": "sea", "values": {"tile": 4.0, "grid": SEA}},
    )
    evaluator = Evaluator()

    def whole_sheet() -> None:
        found = evaluator.evaluate(sheet, Request("p", next(frames)))
        with GATE.wide():
            point_normals(found.mesh)

    spectrum_s, transforms_s, sheet_s = in_turns(
        lambda: fields_at(waves, next(frames) / 240, True),
        lambda: scipy.fft.irfft2(plain, (SEA, SEA), norm="forward", workers=2),
        whole_sheet,
        rounds=ROUNDS,
    )
    return [
        result("sea_six_fields_ms", spectrum_s * 1e3, "ms", 20.0, transforms_s * 1e3),
        result("sea_sheet_frame_ms", sheet_s * 1e3, "ms", 40.0),
    ]


def _tank() -> list[Result]:
    chance = np.random.default_rng(1)
    begin = chance.normal(size=(TANK, TANK)).astype(np.float32) * np.float32(1e-3)
    state = State(begin, np.zeros_like(begin))
    water, size = Water(1.0), 0.01
    seconds = 0.5 * size * STEPS

    def free() -> None:
        advanced(state, water, Basin(size), None, seconds, STEPS)

    island = np.ones((TANK, TANK), bool)
    island[200:260, 200:300] = False

    def walled() -> None:
        advanced(state, water, Basin(size, island), None, seconds, STEPS)

    free_s, walled_s = in_turns(free, walled, rounds=ROUNDS)
    return [
        result("ripple_tank_steps_per_s", STEPS / free_s, "/s", 8000.0),
        result("ripple_tank_with_walls_steps_per_s", STEPS / walled_s, "/s", None),
    ]


def _balls() -> list[Result]:
    chance = np.random.default_rng(1)
    centres = chance.uniform(-0.8, 0.8, (BALLS, 3)).astype(np.float32)
    radius = chance.uniform(0.1, 0.2, BALLS).astype(np.float32)
    one = np.ones(BALLS, np.float32)

    def skin() -> None:
        balls = Balls(centres, radius, one)
        low, high = balls.box
        balls.skin(float((high - low).max()) / VOXELS)

    (skin_s,) = in_turns(skin, rounds=ROUNDS)
    return [result("soft_balls_skin_ms", skin_s * 1e3, "ms", 60.0)]


def _swarm(count: int, distance: float) -> Callable[[], Any]:
    """The next frame of a swarm whose points keep apart."""
    study: Study = one_piece(
        {"step": "icosphere", "values": {"radius": 1.0, "halvings": 4}},
        {"step": "force_neighbours", "values": {"distance": distance}},
        {"step": "force_drag"},
        {"step": "swarm", "values": {"count": count, "born": "inside", "closing": "once"}},
    )
    evaluator, frames = Evaluator(), itertools.count()
    return lambda: evaluator.evaluate(study, Request("p", float(next(frames))))


def _swarms() -> list[Result]:
    few_s, many_s = in_turns(_swarm(1000, 0.1), _swarm(100_000, 0.03), rounds=ROUNDS)
    return [
        result("swarm_of_1000_frame_ms", few_s * 1e3, "ms", 3.0),
        result("swarm_of_100000_frame_ms", many_s * 1e3, "ms", 150.0),
    ]


def bench_systems() -> list[Result]:
    return [*_sea(), *_tank(), *_balls(), *_swarms()]

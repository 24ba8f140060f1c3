"""Figures of large studies: a cloth of loose points, a sheet of waves, their memory, a formula."""

from __future__ import annotations

import itertools
import resource
import sys
from typing import Any

import numpy as np

from zygomorph.api.frames import FrameOptions, pack_frame
from zygomorph.bench.figures import Result, in_turns, result
from zygomorph.bench.sample import one_piece
from zygomorph.core.document.study import Study
from zygomorph.core.evaluation.evaluate import Evaluator, Request
from zygomorph.core.geometry.normals import point_normals
from zygomorph.core.kernels.gate import GATE
from zygomorph.core.values.formula.parse import read_formula
from zygomorph.core.values.formula.run import run_formulas

CLOTH = 1280
SHEET = 1131
# What a stage that plays asks for: one point of seven.
EVERY = 7
ROUNDS = 9
SAW = {"signal": "cycle", "shape": "saw", "low": 0, "high": 1}


def cloth_study() -> Study:
    """1.64 million loose points, pushed every way by three octaves behind a front."""
    front = {"id": "l", "layer": "linear", "values": {"position": [SAW, 0, 0]}}
    push = {"along": "vector", "octaves": 3.0, "travel": SAW}
    return one_piece(
        {"step": "cloth", "values": {"columns": CLOTH, "rows": CLOTH}},
        {"step": "displace", "values": push, "where": {"layers": [front]}},
    )


def released_study() -> Study:
    """The same cloth let go behind a soft front, with swirls of three octaves, and gathered."""
    swing = {"signal": "cycle", "shape": "sine", "low": -1.5, "high": 1.5}
    values = {"position": [swing, 0, 0], "width": 1.5, "measured": "rest"}
    front = {"id": "l", "layer": "linear", "values": values}
    go = {"of": "points", "octaves": 3.0, "evolve": SAW}
    return one_piece(
        {"step": "cloth", "values": {"columns": CLOTH, "rows": CLOTH}},
        {"step": "let_go", "values": go, "where": {"layers": [front]}},
    )


def sheet_study() -> Study:
    """1.28 million points with faces: a plane wave, and noise of four octaves."""
    return one_piece(
        {"step": "sheet", "values": {"columns": SHEET, "rows": SHEET}},
        {"step": "wave", "values": {"phase": SAW}},
        {"step": "displace", "values": {"along": "axis", "octaves": 4.0, "travel": SAW}},
    )


def bench_large() -> list[Result]:
    frames = itertools.count()
    cloth, sheet, evaluator = cloth_study(), sheet_study(), Evaluator()
    released = released_study()

    def one(study: Study) -> Any:
        return evaluator.evaluate(study, Request("p", next(frames)))

    def whole_sheet() -> None:
        found = one(sheet)
        with GATE.wide():
            point_normals(found.mesh)

    def packed(study: Study) -> None:
        drawn = evaluator.drawn(study, Request("p", next(frames), stride=EVERY))
        pack_frame("p", drawn, FrameOptions(0.0, stride=EVERY))

    cloth_s, packed_s, sheet_s, released_s, released_packed_s = in_turns(
        lambda: one(cloth),
        lambda: packed(cloth),
        whole_sheet,
        lambda: one(released),
        lambda: packed(released),
        rounds=ROUNDS,
    )
    # Linux counts in kilobytes, macOS in bytes.
    per = 1e9 if sys.platform == "darwin" else 1e6
    memory = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / per
    return [
        result("large_cloth_frame_ms", cloth_s * 1000, "ms", 50.0),
        result("large_cloth_frame_thinned_and_packed_ms", packed_s * 1000, "ms", None),
        result("large_let_go_frame_ms", released_s * 1000, "ms", None),
        result("large_let_go_frame_thinned_and_packed_ms", released_packed_s * 1000, "ms", 41.7),
        result("large_sheet_frame_ms", sheet_s * 1000, "ms", 40.0),
        result("large_memory_gb", memory, "GB", 1.5),
    ]


def bench_formula() -> list[Result]:
    """A formula for a million points, against the same written in NumPy at once."""
    x = np.random.default_rng(3).random(1_000_000, np.float32)
    names = frozenset({"x", "p"})
    formula = read_formula("0.05 * sin(9 * x - tau * p) * clamp(x, 0, 1)", names)
    p = np.full(1, 0.3, np.float32)
    tau = np.float32(2 * np.pi)

    def plain() -> Any:
        wave = np.sin(np.float32(9) * x - tau * p)
        return np.float32(0.05) * wave * np.minimum(np.maximum(x, np.float32(0)), np.float32(1))

    ours, reference = in_turns(lambda: run_formulas([formula], {"x": x, "p": p}, len(x)), plain)
    return [result("formula_ns_per_point", ours * 1e3, "ns", None, reference * 1e3)]

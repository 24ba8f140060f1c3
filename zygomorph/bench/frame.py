"""One frame of the sample study."""

from __future__ import annotations

from typing import Any

import numpy as np

from zygomorph.bench.figures import Result, in_turns, result
from zygomorph.bench.sample import sample_study
from zygomorph.core.evaluation.evaluate import Evaluator, Request
from zygomorph.core.formats.encode import Coloured, encode
from zygomorph.core.geometry.normals import point_normals
from zygomorph.core.kernels.gate import GATE


def bench_frame() -> list[Result]:
    """One frame of the sample study: every moving step, then normals."""
    study, evaluator = sample_study(), Evaluator()
    frame = [0]

    def compute() -> Any:
        frame[0] += 1
        found = evaluator.evaluate(study, Request("ball", frame[0]))
        with GATE.wide():
            point_normals(found.mesh)
        return found

    def compute_and_encode() -> None:
        found = compute()
        coloured = Coloured(np.ascontiguousarray(found.mesh.points[:, 1]), -1.0, 1.0)
        encode(found.mesh, found.low, found.high, coloured, None)

    plain, encoded = in_turns(compute, compute_and_encode, rounds=41)
    return [
        result("icosphere_frame_ms", plain * 1000, "ms", 3.0),
        result("icosphere_frame_encoded_ms", encoded * 1000, "ms", None),
    ]

"""A whole loop made ready for play: a ball of 40,962 points with three masks, 240 frames."""

from __future__ import annotations

import time as clock
from concurrent.futures import ThreadPoolExecutor
from typing import Any

from zygomorph.api.frames import FrameOptions, pack_frame
from zygomorph.bench.figures import Result, result
from zygomorph.core.document.study import Study, check_document
from zygomorph.core.evaluation.evaluate import Evaluator, Request
from zygomorph.core.kernels.compiled import CORES
from zygomorph.core.kernels.gate import GATE

FRAMES = 240
ROUNDS = 3
SAW = {"signal": "cycle", "shape": "saw", "low": 0, "high": 1}
SWING = {"signal": "cycle", "low": -0.5, "high": 0.5}


def _masked(step: str, values: dict[str, Any], layer: dict[str, Any]) -> dict[str, Any]:
    return {"id": step, "step": step, "values": values, "where": {"layers": [{"id": "l", **layer}]}}


def masked_study(memory: str = "none") -> Study:
    """memory : how the last of its masks remembers"""
    recipe = [
        {"id": "form", "step": "icosphere", "values": {"halvings": 6, "radius": 0.6}},
        _masked(
            "displace",
            {"octaves": 3.0, "travel": SAW},
            {"layer": "linear", "values": {"position": [0, SWING, 0]}},
        ),
        _masked(
            "wave", {"amplitude": 0.05, "phase": SAW}, {"layer": "bands", "values": {"travel": SAW}}
        ),
        _masked(
            "twist",
            {"angle": 70.0},
            {"layer": "ball", "memory": memory, "values": {"centre": [SWING, 0, 0]}},
        ),
    ]
    return check_document(
        {
            "format": "zygomorph-study",
            "version": 2,
            "name": "Bench",
            "loop": {"frames": FRAMES, "rate": 24},
            "pieces": [{"id": "p", "name": "Masked", "recipe": recipe}],
        }
    )


def seconds_of(study: Study, evaluator: Evaluator) -> float:
    """From nothing to the bytes of all frames, as many at a time as there are cores."""

    def ready(frame: int) -> int:
        drawn = evaluator.drawn(study, Request("p", float(frame), shared=True))
        with GATE.narrow():
            return len(pack_frame("p", drawn, FrameOptions(float(frame))))

    started = clock.perf_counter()
    with ThreadPoolExecutor(CORES) as pool:
        list(pool.map(ready, range(FRAMES)))
    return clock.perf_counter() - started


def bench_loop() -> list[Result]:
    seconds_of(masked_study(), Evaluator())
    plain = sorted(seconds_of(masked_study(), Evaluator()) for _ in range(ROUNDS))[ROUNDS // 2]
    # Each time a new study, so that nothing is remembered from the round before.
    kept = sorted(seconds_of(masked_study("fades"), Evaluator()) for _ in range(ROUNDS))[
        ROUNDS // 2
    ]
    return [
        result("loop_three_masks_s", plain, "s", 3.0),
        result("loop_remembering_s", kept, "s", None),
    ]

"""Twenty steps on 642 points while other programs keep the cores busy, against two threads."""

from __future__ import annotations

import subprocess
import sys
from typing import Any
from unittest.mock import patch

import numpy as np

import zygomorph.core.kernels.gate as gate
from zygomorph.bench.figures import Result, result, timed
from zygomorph.core.document.schema import FORMAT, VERSION
from zygomorph.core.document.study import Study, check_document
from zygomorph.core.evaluation.evaluate import Evaluator, Request
from zygomorph.core.kernels.compiled import CORES

STEPS = ("displace", "twist", "wave", "bend")
FRAMES = 40


def _study() -> Study:
    moving = {"amount": {"signal": "cycle", "high": 0.3}}
    recipe: list[dict[str, Any]] = [{"id": "f", "step": "icosphere", "values": {"halvings": 3}}]
    recipe += [{"id": f"s{k}", "step": STEPS[k % len(STEPS)]} for k in range(20)]
    recipe[1]["values"] = moving
    return check_document(
        {
            "format": FORMAT,
            "version": VERSION,
            "name": "Bench",
            "loop": {"frames": 480, "rate": 24},
            "pieces": [{"id": "p", "name": "Small", "recipe": recipe}],
        }
    )


def _frame_ms(study: Study, small: int) -> float:
    """small : up to how many points kernels stay on their thread"""
    evaluator = Evaluator()
    with patch.object(gate, "SMALL", small):
        times = [
            timed(lambda f=f: evaluator.evaluate(study, Request("p", float(f))))  # type: ignore[misc]
            for f in range(FRAMES)
        ]
    return float(np.median(times[3:])) * 1000


def bench_small() -> list[Result]:
    study = _study()
    busy = [subprocess.Popen([sys.executable, "-c", "while True: pass"]) for _ in range(CORES)]
    try:
        one, two = _frame_ms(study, gate.SMALL), _frame_ms(study, 0)
    finally:
        for each in busy:
            each.kill()
            each.wait()
    return [result("small_mesh_busy_ms", one, "ms", None, two)]

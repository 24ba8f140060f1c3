"""Figures of final pictures: one frame, and what a second worker brings."""

from __future__ import annotations

import tempfile
import time
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import numpy as np

from zygomorph.bench.figures import Result, in_turns, result
from zygomorph.core.document.schema import VERSION
from zygomorph.core.document.study import Study, check_document
from zygomorph.core.evaluation.evaluate import Evaluator
from zygomorph.core.formats.bundle import write_bundle

ROUNDS = 5
SIZE, SAMPLES = (1280, 720), 4
# Seconds, with LLVM 19 and without.
GOALS = {"llvm_ad_rgb": 6.0, "scalar_rgb": 10.0}
FRAMES = 24
SMALL = (480, 270)
TIMES_ONE = 1.7


def _glass_ball() -> Study:
    """A ball of glass in focus before a red one, on a plane, under a sky and a sun."""
    look = [{"id": "surface", "look": "surface", "values": {"glass": 100.0, "roughness": 0.0}}]
    matt = [{"id": "surface", "look": "surface", "values": {"colour": "#cc3319"}}]
    turn = {"signal": "cycle", "shape": "saw", "low": 0, "high": 360}
    ball = {"step": "icosphere", "values": {"halvings": 5}}
    camera = {"position": [0.0, 1.0, 4.0], "blur": True, "f_number": 1.4}
    document = {
        "format": "zygomorph-study",
        "version": VERSION,
        "name": "Glass ball",
        "loop": {"frames": FRAMES, "rate": 24},
        "pieces": [
            {
                "id": "ball",
                "name": "Ball",
                "recipe": [{"id": "a", **ball}],
                "looks": look,
                "place": {"turn": [0, turn, 0]},
            },
            {
                "id": "behind",
                "name": "Behind",
                "recipe": [{"id": "a", **ball}],
                "looks": matt,
                "place": {"move": [0.9, 0.0, -1.0], "scale": [0.5, 0.5, 0.5]},
            },
        ],
        "ground": {"values": {"ground": "plane"}},
        "cameras": [{"id": "camera", "name": "Camera", "camera": "perspective", "values": camera}],
    }
    return check_document(document)


def _frame() -> Iterator[Result]:
    from zygomorph.render.final.engine import start
    from zygomorph.render.final.picture import draw
    from zygomorph.render.final.settings import FinalSettings

    study, evaluator = _glass_ball(), Evaluator()
    settings = FinalSettings(SIZE, SAMPLES)
    noisy = FinalSettings(SIZE, SAMPLES, noise_removal=False)
    whole, traced = in_turns(
        lambda: draw(study, evaluator, 0.0, settings),
        lambda: draw(study, evaluator, 0.0, noisy),
        rounds=ROUNDS,
    )
    yield result("final_frame_s", whole, "s", GOALS[start()])
    yield result("final_frame_noisy_s", traced, "s", None)


def _two_workers() -> Iterator[Result]:
    """How many times as fast two workers are as one, with one core each, once they are there."""
    from zygomorph.jobs.queue.cluster import Cluster, ClusterSettings
    from zygomorph.jobs.queue.orders import FinalOrder
    from zygomorph.jobs.queue.queue import Queue

    bundle = write_bundle(_glass_ball().document, [])
    seconds: dict[int, list[float]] = {1: [], 2: []}
    with tempfile.TemporaryDirectory(prefix="zygomorph-bench-") as folder:
        queues = {
            count: Queue(Path(folder) / str(count), Cluster(ClusterSettings(workers=count)))
            for count in seconds
        }
        try:
            for turn in range(3):
                for count, queue in queues.items():
                    last = FRAMES - 1 if turn else 3
                    order = FinalOrder("png", SMALL, 0, last, samples=16)
                    taken = _made(queue, bundle, order)
                    if turn:
                        seconds[count].append(taken)
        finally:
            for queue in queues.values():
                queue.close()
    one, two = (float(np.median(seconds[count])) for count in (1, 2))
    more = one / two
    told = result("final_two_workers_over_one", more, "x", None)
    yield {**told, "goal": TIMES_ONE, "met": more >= TIMES_ONE}


def _made(queue: Any, bundle: bytes, order: Any) -> float:
    started = time.perf_counter()
    job = queue.get(queue.add(bundle, order)["id"])
    while job.record.state in ("waiting", "running"):
        time.sleep(0.02)
    if job.record.state != "done":
        raise RuntimeError(job.record.message)
    return time.perf_counter() - started


def bench_final() -> list[Result]:
    """A glass ball at 1280 x 720 with 4 samples; and 24 frames of it by two workers."""
    return [*_frame(), *_two_workers()]

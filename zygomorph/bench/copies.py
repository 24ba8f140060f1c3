"""Figures of a hundred thousand copies: carried as wholes, tilted, packed for a viewer."""

from __future__ import annotations

import itertools

from zygomorph.api.frames import FrameOptions, pack_frame
from zygomorph.bench.figures import Result, in_turns, result
from zygomorph.bench.sample import one_piece
from zygomorph.core.document.study import Study
from zygomorph.core.evaluation.evaluate import Evaluator, Request
from zygomorph.core.kernels.gate import GATE

ROUNDS = 15
SAW = {"signal": "cycle", "shape": "saw", "low": 0, "high": 1}


def copies_study(moves: str) -> Study:
    """1,000 by 100 small balls of 42 points, which a plane wave carries."""
    return one_piece(
        {"step": "icosphere", "values": {"radius": 0.04, "halvings": 1}},
        {"step": "row", "values": {"count": 1000, "move": [0.1, 0, 0]}},
        {"step": "row", "values": {"count": 100, "move": [0, 0, 0.1]}},
        {"step": "wave", "values": {"phase": SAW}, "where": {"moves": moves}},
    )


def bench_copies() -> list[Result]:
    evaluator, frames = Evaluator(), itertools.count()
    plain, tilted = copies_study("shards"), copies_study("tilted")

    def frame(study: Study, packed: bool) -> None:
        request = Request("p", next(frames))
        if not packed:
            evaluator.evaluate(study, request)
            return
        drawn = evaluator.drawn(study, request)
        with GATE.wide():
            pack_frame("p", drawn, FrameOptions(0.0))

    plain_s, tilted_s, packed_s = in_turns(
        lambda: frame(plain, False),
        lambda: frame(tilted, False),
        lambda: frame(plain, True),
        rounds=ROUNDS,
    )
    return [
        result("copies_100k_frame_ms", plain_s * 1000, "ms", 10.0),
        result("copies_100k_tilted_frame_ms", tilted_s * 1000, "ms", None),
        result("copies_100k_frame_and_packing_ms", packed_s * 1000, "ms", None),
    ]

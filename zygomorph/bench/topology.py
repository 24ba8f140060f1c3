"""Figures of topology: one that changes at every frame, hexagons, and a structure that is kept."""

from __future__ import annotations

import itertools
from dataclasses import replace

from zygomorph.api.frames import FrameOptions, pack_frame, pack_topology
from zygomorph.bench.figures import Result, in_turns, result, timed
from zygomorph.bench.sample import one_piece, sample_study
from zygomorph.core.document.study import Study
from zygomorph.core.evaluation.drawable import Drawn
from zygomorph.core.evaluation.evaluate import Evaluator, Request
from zygomorph.core.geometry.geometry import Geometry
from zygomorph.core.geometry.normals import point_normals
from zygomorph.core.geometry.topology import Topology
from zygomorph.core.kernels.gate import GATE

ROUNDS = 15
SAW = {"signal": "cycle", "shape": "saw", "low": 0, "high": 1}


def _as_if_new(drawn: Drawn) -> Drawn:
    """The same, of whose topology nothing has been derived."""
    found = drawn.result
    old = found.mesh.topology
    topology = Topology(old.point_count, old.corners.copy(), old.face_starts.copy())
    topology = topology.triangulated(found.mesh.rest)
    mesh = replace(found.mesh, topology=topology)
    return replace(drawn, result=replace(found, geometry=Geometry((mesh,))))


def _packed(piece: str, drawn: Drawn) -> None:
    with GATE.wide():
        new = _as_if_new(drawn)
        pack_frame(piece, new, FrameOptions(0.0))
        pack_topology(new.result.mesh.topology)


def subdivided_study() -> Study:
    """A torus of 20,000 quads in a plane wave, rounded twice: 320,000 quads."""
    return one_piece(
        {"step": "torus", "values": {"around": 200, "section": 100}},
        {"step": "wave", "values": {"phase": SAW}},
        {"step": "subdivide", "values": {"levels": 2}},
    )


def bench_topology() -> list[Result]:
    """Frames whose topology is new, packed for the wire; a frame of a subdivided surface."""
    ball, tiles = (
        sample_study(),
        one_piece({"step": "tiling", "values": {"columns": 100, "rows": 100}}),
    )
    evaluator, frames = Evaluator(), itertools.count()
    of_ball = evaluator.drawn(ball, Request("ball"))
    of_tiles = evaluator.drawn(tiles, Request("p"))
    rounded = subdivided_study()

    def frame() -> None:
        found = evaluator.evaluate(rounded, Request("p", next(frames)))
        with GATE.wide():
            point_normals(found.mesh)

    first = timed(frame)
    ball_s, tiles_s, rounded_s = in_turns(
        lambda: _packed("ball", of_ball),
        lambda: _packed("p", of_tiles),
        frame,
        rounds=ROUNDS,
    )
    return [
        result("topology_new_82k_triangles_packed_ms", ball_s * 1000, "ms", 30.0),
        result("topology_new_10k_hexagons_packed_ms", tiles_s * 1000, "ms", 60.0),
        result("topology_rounded_320k_frame_ms", rounded_s * 1000, "ms", 12.0),
        result("topology_rounded_320k_first_ms", first * 1000, "ms", None),
    ]

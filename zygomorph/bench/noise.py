"""Noise: against the same in C, its kinds, evolving against still, and by the number of points."""

from __future__ import annotations

import ctypes
import shutil
import subprocess
import tempfile
from collections.abc import Callable
from functools import partial
from pathlib import Path
from typing import Any

import numpy as np

from zygomorph.bench.figures import ROUNDS, Result, in_turns, result
from zygomorph.core.kernels.compiled import CORES
from zygomorph.core.kernels.gate import GATE
from zygomorph.core.kernels.noise import fractal as noise
from zygomorph.core.kernels.noise.lattice import octave_offset, octave_seed

OCTAVES = 4
SOURCE = Path(__file__).parents[2] / "benchmarks" / "noise.c"


def _c_noise(folder: Path, points: np.ndarray, out: np.ndarray) -> Callable[[], None] | None:
    """The same noise in C, built here with gcc; None where there is no gcc."""
    if shutil.which("gcc") is None:
        return None
    library = folder / "noise.so"
    subprocess.run(
        [
            "gcc",
            "-O3",
            "-march=native",
            "-ffast-math",
            "-fopenmp",
            "-shared",
            "-fPIC",
            str(SOURCE),
            "-o",
            str(library),
        ],
        check=True,
    )
    run = ctypes.CDLL(str(library)).fractal
    table = noise._octave_table(OCTAVES, 0.5, 2.0, 64.0)
    seeds = np.array([octave_seed(0, o) for o in range(OCTAVES)], np.uint32)
    offsets = np.stack([octave_offset(0, o) for o in range(OCTAVES)])
    parts = [np.ascontiguousarray(table[k]) for k in range(3)] + [seeds, offsets]

    def pointer(array: np.ndarray) -> ctypes.c_void_p:
        return ctypes.c_void_p(array.ctypes.data)

    def call() -> None:
        run(
            pointer(points),
            ctypes.c_long(len(points)),
            OCTAVES,
            *(pointer(p) for p in parts),
            pointer(out),
        )

    return call


def bench_noise() -> list[Result]:
    """One million random points, four octaves, all cores."""
    random = np.random.default_rng(1)
    points = (random.random((1_000_000, 3)) * 20).astype(np.float32)
    pattern = noise.Pattern()
    ours = noise.fractal(points, pattern)
    per = 1e9 / len(points) / OCTAVES
    with tempfile.TemporaryDirectory() as folder, GATE.wide():
        theirs = np.empty(len(points), np.float32)
        in_c = _c_noise(Path(folder), points, theirs)
        # Into memory that is already there, as in the reference: fresh pages are the system's cost.
        own = lambda: noise.fractal(points, pattern, out=ours)  # noqa: E731
        if in_c is None:
            (own_time,) = in_turns(own)
            reference = None
        else:
            own_time, c_time = in_turns(own, in_c)
            reference = c_time * per
            if not np.allclose(ours, theirs, atol=1e-4):
                raise RuntimeError("The C reference computes something else.")
    ratio = None if reference is None else own_time * per / reference
    return [
        result("noise_ns_per_octave_point", own_time * per, "ns", 5.0, reference),
        result("noise_vs_c", ratio, "×", 1.3, None if reference is None else 1.0),
    ]


def bench_noise_kinds() -> list[Result]:
    """One octave of every kind at a million points; beside it improved gradient noise in the same
    run, or, where distances are sought, scipy's cKDTree on as many points, both of its cores."""
    from scipy.spatial import cKDTree

    random = np.random.default_rng(3)
    points = (random.random((1_000_000, 3)) * 20).astype(np.float32)
    tree = cKDTree(random.random((8000, 3)) * 20)
    one = np.ones(1)
    per = 1e9 / len(points)

    def scalar(kind: str) -> Callable[[], Any]:
        pattern, out = noise.Pattern(noise=kind, octaves=one), np.empty(len(points), np.float32)
        return lambda: noise.fractal(points, pattern, out=out)

    plain = noise.Pattern(octaves=one)
    works = {
        "value": scalar("value"),
        "simplex": scalar("simplex"),
        "three_components": lambda: noise.vector_fractal_of(points, plain),
        "curl": lambda: noise.curl(points, plain),
    }
    cells = scalar("cellular_between")
    with GATE.wide():
        base, *times = in_turns(scalar("gradient"), *works.values(), rounds=9)
        cellular, search = in_turns(cells, lambda: tree.query(points, k=2, workers=CORES), rounds=3)
    found = [
        result(f"noise_kind_{name}_ns", seconds * per, "ns", None, base * per)
        for name, seconds in zip(works, times, strict=True)
    ]
    return [*found, result("noise_kind_cellular_ns", cellular * per, "ns", None, search * per)]


def bench_flow() -> list[Result]:
    """One octave that evolves against the same that stands still, in the same run."""
    points = (np.random.default_rng(3).random((1_000_000, 3)) * 20).astype(np.float32)
    one = np.ones(1)
    found = []
    for kind in noise.KERNELS:
        out = np.empty(len(points), np.float32)
        patterns = [noise.Pattern(noise=kind, octaves=one, evolve=e) for e in (None, one * 0.3)]
        still, turned = (partial(noise.fractal, points, p, out=out) for p in patterns)
        with GATE.wide():
            before, after = in_turns(still, turned, rounds=9)
        found.append(result(f"flow_{kind}_vs_still", after / before, "×", 2.0, 1.0))
    return found


def bench_growth() -> list[Result]:
    """Cost of noise per point from 10⁴ to 10⁷ points, against that at 10⁶."""
    random = np.random.default_rng(2)
    costs = {}
    for count in (10_000, 100_000, 1_000_000, 10_000_000):
        points = (random.random((count, 3)) * 20).astype(np.float32)
        out = np.empty(count, np.float32)
        work = lambda p=points, o=out: noise.fractal(p, noise.Pattern(), out=o)  # noqa: E731
        with GATE.wide():
            (seconds,) = in_turns(work, rounds=5 if count > 1_000_000 else ROUNDS)
        costs[count] = seconds / count * 1e9
    base = costs[1_000_000]
    return [
        result("noise_ns_per_point_1e4", costs[10_000], "ns", None, base),
        result("noise_ns_per_point_1e5", costs[100_000], "ns", None, base),
        result("noise_ns_per_point_1e7", costs[10_000_000], "ns", None, base),
    ]

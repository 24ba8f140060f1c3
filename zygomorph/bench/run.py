"""The figures of docs/performance.md, each beside its reference, measured in one run.

Machines are shared and noisy, so figures are medians, and what is compared is timed in turns.
"""

from __future__ import annotations

import ctypes
import http.client
import json
import os
import shutil
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from functools import partial
from pathlib import Path
from typing import Any
from urllib.parse import urlsplit

import numpy as np

from zygomorph.core.document.study import Study, check_document
from zygomorph.core.evaluation.evaluate import Evaluator, Request
from zygomorph.core.formats.encode import encode
from zygomorph.core.geometry.normals import point_normals
from zygomorph.core.kernels.compiled import CORES
from zygomorph.core.kernels.gate import GATE
from zygomorph.core.kernels.noise import fractal as noise
from zygomorph.core.kernels.noise.lattice import octave_offset, octave_seed
from zygomorph.core.shared.colouring import Colouring

ROUNDS = 21
OCTAVES = 4
SOURCE = Path(__file__).parents[2] / "benchmarks" / "noise.c"

Result = dict[str, Any]


def result(
    name: str, value: float | None, unit: str, goal: float | None, reference: float | None = None
) -> Result:
    """One figure; the ratio is value over reference. Smaller is better, but for rates."""
    more = unit == "/s"
    return {
        "name": name,
        "value": None if value is None else round(value, 4),
        "unit": unit,
        "reference": None if reference is None else round(reference, 4),
        "ratio": round(value / reference, 3) if value is not None and reference else None,
        "goal": goal,
        "met": None
        if goal is None or value is None
        else bool(value >= goal if more else value <= goal),
    }


def timed(work: Callable[[], Any]) -> float:
    start = time.perf_counter()
    work()
    return time.perf_counter() - start


def in_turns(*works: Callable[[], Any], rounds: int = ROUNDS) -> list[float]:
    """Median seconds of each, measured A B A B so that a drift of the machine hits all alike."""
    for work in works:
        work()
    times = np.array([[timed(work) for work in works] for _ in range(rounds)])
    return [float(t) for t in np.median(times, axis=0)]


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


def sample_study(halvings: int = 6) -> Study:
    """An icosphere (of 40,962 points) with four octaves of noise, a twist and a ball mask."""
    saw = {"signal": "cycle", "shape": "saw"}
    return check_document(
        {
            "format": "zygomorph-study",
            "version": 2,
            "name": "Bench",
            "pieces": [
                {
                    "id": "ball",
                    "name": "Ball",
                    "recipe": [
                        {"id": "form", "step": "icosphere", "values": {"halvings": halvings}},
                        {
                            "id": "push",
                            "step": "displace",
                            "values": {"octaves": OCTAVES, "travel": saw},
                            "where": {
                                "layers": [{"id": "l", "layer": "ball", "values": {"radius": 0.8}}]
                            },
                        },
                        {
                            "id": "twist",
                            "step": "twist",
                            "values": {"angle": {"signal": "cycle", "low": 0, "high": 90}},
                        },
                    ],
                }
            ],
        }
    )


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
        colouring = Colouring(np.ascontiguousarray(found.mesh.points[:, 1]), -1.0, 1.0)
        encode(found.mesh, found.low, found.high, colouring, None)

    plain, encoded = in_turns(compute, compute_and_encode, rounds=41)
    return [
        result("icosphere_frame_ms", plain * 1000, "ms", 3.0),
        result("icosphere_frame_encoded_ms", encoded * 1000, "ms", None),
    ]


@contextmanager
def served(**environment: str) -> Iterator[http.client.HTTPConnection]:
    """A connection to the real server, in a process of its own, on a folder of its own.

    environment : variables that it gets besides those of this process
    """
    with tempfile.TemporaryDirectory() as folder:
        command = [sys.executable, "-m", "zygomorph.cli", "--data", folder, "serve", "--port", "0"]
        process = subprocess.Popen(
            command, stdout=subprocess.PIPE, text=True, env=os.environ | environment
        )
        try:
            assert process.stdout is not None
            address = next(line for line in process.stdout if "http://" in line)
            connection = http.client.HTTPConnection(urlsplit(address.split()[-1]).netloc)
            yield connection
            connection.close()
        finally:
            process.terminate()
            process.wait()


def bench_http() -> list[Result]:
    """The sample study's frames from the server to a Python client's buffer."""
    with served() as connection:

        def ask(method: str, path: str, body: str | None = None) -> bytes:
            connection.request(method, path, body, {"Content-Type": "application/json"})
            answer = connection.getresponse()
            data = answer.read()
            if answer.status >= 300:
                raise RuntimeError(data[:200])
            return data

        document = json.dumps({"document": sample_study().document})
        state = json.loads(ask("POST", "/api/studies", document))
        base = f"/api/studies/{state['id']}/pieces/ball/frame?key={state['motion'][0]['key']}"

        def fetch(frame: int, have: str) -> bytes:
            return ask("GET", f"{base}&frame={frame}&have={have}")

        first = fetch(0, "")
        header = json.loads(first[12 : 12 + int.from_bytes(first[8:12], "little")])
        have = header["topology"]
        for frame in range(1, 22):
            fetch(frame, have)
        # Each frame is asked for once, so that none comes from the server's own cache.
        times = [timed(lambda f=f: fetch(f, have)) * 1000 for f in range(22, 222)]  # type: ignore[misc]
    return [
        result("http_frame_ms_median", float(np.median(times)), "ms", 5.0),
        result("http_frame_ms_p95", float(np.percentile(times, 95)), "ms", 12.0),
    ]


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


def bench_large() -> list[Result]:
    from zygomorph.bench.large import bench_large as measure

    return measure()


def bench_loop() -> list[Result]:
    from zygomorph.bench.loop import bench_loop as measure

    return measure()


def bench_small() -> list[Result]:
    from zygomorph.bench.small import bench_small as measure

    return measure()


def bench_formula() -> list[Result]:
    from zygomorph.bench.large import bench_formula as measure

    return measure()


def bench_browser() -> list[Result]:
    """See bench_stage, which needs what the tests need."""
    from zygomorph.bench.stage import bench_stage

    return bench_stage()


# Each bench with how the names of its figures begin.
BENCHES: list[tuple[tuple[str, ...], Callable[[], list[Result]]]] = [
    (("noise_ns_per_octave_point", "noise_vs_c"), bench_noise),
    (("noise_kind",), bench_noise_kinds),
    (("flow_",), bench_flow),
    (("icosphere_frame",), bench_frame),
    (("http_frame",), bench_http),
    (("noise_ns_per_point",), bench_growth),
    (("large_",), bench_large),
    (("loop_",), bench_loop),
    (("small_",), bench_small),
    (("formula_",), bench_formula),
    (
        ("server_ready", "first_picture", "cold_", "chromium_frame", "drag_to", "software_"),
        bench_browser,
    ),
]


def run(only: str | None = None) -> list[Result]:
    """All figures, or those whose names begin with ``only``, and the number of cores."""
    wanted = only or ""
    found: list[Result] = []
    for names, bench in BENCHES:
        if any(name.startswith(wanted) or wanted.startswith(name) for name in names):
            found += [figure for figure in bench() if figure["name"].startswith(wanted)]
    return [*found, result("cores", CORES, "", None)]

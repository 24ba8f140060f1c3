"""All figures of docs/performance.md, measured in one run."""

from __future__ import annotations

from importlib import import_module

from zygomorph.bench.figures import Result, result
from zygomorph.core.kernels.cores import CORES

# For each function that measures, by its module, how the names of its figures begin. They are
# imported when they are asked for: the browser's need what the tests need.
SUBJECTS: dict[str, tuple[str, ...]] = {
    "noise.bench_noise": ("noise_ns_per_octave_point", "noise_vs_c"),
    "noise.bench_noise_kinds": ("noise_kind",),
    "noise.bench_flow": ("flow_",),
    "frame.bench_frame": ("icosphere_frame",),
    "http.bench_http": ("http_frame",),
    "noise.bench_growth": ("noise_ns_per_point",),
    "large.bench_large": ("large_",),
    "loop.bench_loop": ("loop_",),
    "small.bench_small": ("small_",),
    "large.bench_formula": ("formula_",),
    "topology.bench_topology": ("topology_",),
    "rebuild.bench_rebuild": ("rebuild_",),
    "solids.bench_solids": ("solids_",),
    "copies.bench_copies": ("copies_",),
    "systems.bench_systems": ("sea_", "ripple_tank", "soft_balls", "swarm_"),
    "history.bench_history": ("history_",),
    "final.bench_final": ("final_",),
    "stage.bench_stage": (
        "server_ready",
        "first_picture",
        "cold_",
        "chromium_frame",
        "drag_to",
        "software_",
    ),
}


def measured(subject: str) -> list[Result]:
    """The figures of a subject."""
    module, _, function = subject.rpartition(".")
    found: list[Result] = getattr(import_module(f"{__package__}.{module}"), function)()
    return found


def run(only: str | None = None) -> list[Result]:
    """All figures, or those whose names begin with ``only``, and the number of cores."""
    wanted = only or ""
    found: list[Result] = []
    for subject, names in SUBJECTS.items():
        if any(name.startswith(wanted) or wanted.startswith(name) for name in names):
            found += [figure for figure in measured(subject) if figure["name"].startswith(wanted)]
    return [*found, result("cores", CORES, "", None)]

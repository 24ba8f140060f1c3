"""What the demo studies come to: digests of their meshes, kept to hold later versions against.

``python -m tests.demo_results`` writes the file anew, after a change that is meant to be seen.
"""

from __future__ import annotations

import hashlib
import json
from pathlib import Path
from typing import Any

import llvmlite.binding as llvm
import numpy as np

from zygomorph.core.document.study import Study, parse_study
from zygomorph.core.evaluation.evaluate import Evaluator, Request
from zygomorph.core.geometry.mesh import Mesh

EXAMPLES = Path(__file__).parents[1] / "examples"
KEPT = Path(__file__).with_suffix(".json")
# Points that are kept as numbers too, for machines whose last bits differ.
SAMPLES = 8


def machine() -> str:
    """What decides the last bits of a kernel's results."""
    return str(llvm.get_host_cpu_name())


def digest(mesh: Mesh) -> str:
    """Of points, faces, curves and all attributes with their names."""
    topology = mesh.topology
    found = hashlib.sha256()
    arrays = {
        "points": mesh.points,
        "corners": topology.corners,
        "face_starts": topology.face_starts,
        "curve_points": topology.curve_points,
        "curve_starts": topology.curve_starts,
        "curve_closed": topology.curve_closed,
    }
    for domain, named in sorted(mesh.attributes.items()):
        arrays |= {f"{domain}.{name}": array for name, array in named.items()}
    for name, array in sorted(arrays.items()):
        found.update(f"{name} {array.dtype} {array.shape}".encode())
        found.update(np.ascontiguousarray(array).tobytes())
    return found.hexdigest()


def frames_of(study: Study) -> list[tuple[float, bool]]:
    """Frames and qualities that are kept: 0, 1 and F/2 in draft, F/2 in final quality."""
    half = study.loop.frames / 2
    return [(0.0, False), (1.0, False), (half, False), (half, True)]


def results(evaluator: Evaluator, study: Study) -> dict[str, dict[str, Any]]:
    """By piece, frame and quality."""
    found = {}
    for piece in study.pieces:
        for frame, final in frames_of(study):
            request = Request(piece["id"], frame, final=final)
            mesh = evaluator.evaluate(study, request).mesh
            last = max(len(mesh.points) - 1, 0)
            chosen = np.linspace(0, last, min(SAMPLES, len(mesh.points))).astype(int)
            found[f"{piece['id']} {frame:g} {'final' if final else 'draft'}"] = {
                "points": len(mesh.points),
                "faces": mesh.topology.face_count,
                "digest": digest(mesh),
                "some": [[float(x) for x in point] for point in mesh.points[chosen]],
            }
    return found


def example(path: Path) -> Study:
    return parse_study(path.read_text())


if __name__ == "__main__":
    every = Evaluator()
    kept = {path.stem: results(every, example(path)) for path in sorted(EXAMPLES.glob("*.json"))}
    KEPT.write_text(json.dumps({"machine": machine(), "studies": kept}, indent=1) + "\n")

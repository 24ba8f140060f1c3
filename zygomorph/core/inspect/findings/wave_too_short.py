"""A wave that has fewer than four edges of the mesh from crest to crest."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

import numpy as np

from zygomorph.core.geometry.mesh import Mesh
from zygomorph.core.inspect.findings.finding import Finding, Fix, Look, set_value

# Lengths of a step from crest to crest, by its key.
LENGTHS = {"wave": ("wavelength",), "rings": ("wavelength",), "displace": ("size",)}
EDGES = 4
SAMPLE = 4000


def usual_edge(mesh: Mesh) -> float | None:
    """Median length of the edges and segments, of some of them where they are many; metres."""
    pairs = np.concatenate([mesh.topology.edges, mesh.topology.curve_segments])
    if len(pairs) == 0:
        return None
    pairs = pairs[:: max(1, len(pairs) // SAMPLE)]
    return float(
        np.median(np.linalg.norm(mesh.points[pairs[:, 0]] - mesh.points[pairs[:, 1]], axis=1))
    )


def find(look: Look) -> Iterator[Finding]:
    for piece in look.study.pieces:
        edge: float | None = None
        for step in look.planned(piece["id"]):
            for name in LENGTHS.get(step.definition.key, ()):
                edge = edge or usual_edge(look.form(piece["id"]).mesh)
                shortest = float(look.number(step, name).min())
                if not edge or shortest >= EDGES * edge:
                    continue
                yield _finding(piece, step.id, name, step.definition, shortest, edge, step)


def _finding(
    piece: dict[str, Any],
    step: str,
    name: str,
    definition: Any,
    shortest: float,
    edge: float,
    planned: Any,
) -> Finding:
    address = f"/pieces/{piece['id']}/recipe/{step}/values/{name}"
    least = float(f"{EDGES * edge * 1.05:.2g}")
    still = not any(moved == name for moved, _ in planned.values.moving)
    label = definition.values[name].label
    return Finding(
        "wave_too_short",
        piece["id"],
        f"{definition.title}: shorter than four edges",
        f"{label} is {shortest:.3g} m, and an edge of the mesh {edge:.3g} m: the mesh is too "
        "coarse to show it. Make the waves longer, or give the form more points.",
        step,
        address=address,
        fix=Fix(f"Make it {least:g} m", [set_value(address, least)]) if still else None,
    )

"""A mesh that was brought in from a file."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from zygomorph.core.catalogue import Definition
from zygomorph.core.context import Context
from zygomorph.core.mesh import Mesh
from zygomorph.core.resolve import Resolved
from zygomorph.core.values import asset, choice, number, switch


def apply(values: Resolved, context: Context) -> Mesh:
    mesh = context.asset(values.word("mesh"))
    points = mesh.points.astype(np.float64)
    if values.word("up") == "z":
        points = np.stack([points[:, 0], points[:, 2], -points[:, 1]], axis=1)
    if values.word("fit") and len(points):
        low, high = points.min(axis=0), points.max(axis=0)
        size = float((high - low).max())
        points = (points - (low + high) / 2) / (size if size > 0 else 1.0)
    moved = np.ascontiguousarray(points * values.scalar("scale"), np.float32)
    return replace(mesh, points=moved).with_attribute("point", "rest", moved)


DEFINITION = Definition(
    sort="form",
    key="imported",
    title="Brought-in mesh",
    group="surfaces",
    help="A mesh from an OBJ, PLY, STL or GLB file.",
    values={
        "mesh": asset("Mesh", "The file that was brought in."),
        "scale": number(
            1.0,
            "Scale",
            "Larger or smaller; with fit, the largest side in metres.",
            "×",
            (0.01, 100.0),
            hard=(1e-6, 1e6),
            scale="log",
        ),
        "fit": switch(True, "Fit", "Centre it and make its largest side one metre before scaling."),
        "up": choice("y", "Up axis", "The axis that points up in the file.", {"y": "y", "z": "z"}),
    },
    sentence="Brought-in mesh, scaled {scale}",
    apply=apply,
    reads=frozenset({"assets"}),
    changes_topology=True,
    order=90,
)

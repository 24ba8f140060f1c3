"""Ruffles: lines that grow longer than the room they have and fold, as lines or as a surface whose
rim does."""

from __future__ import annotations

from typing import Any

import numpy as np

from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.budget import within_budget
from zygomorph.core.errors import ZygomorphError
from zygomorph.core.geometry.extent import extent_of
from zygomorph.core.geometry.line_growth import (
    Growing,
    Stage,
    grown_lines,
    lengths_of,
    thinned,
)
from zygomorph.core.geometry.mesh import MASK, UV, Mesh
from zygomorph.core.geometry.origins import Origin
from zygomorph.core.geometry.ruffles import Ruffles, lines_at, surface_at
from zygomorph.core.geometry.structure import Structure
from zygomorph.core.values.definitions import (
    MASK_INPUT,
    OFF,
    TopologyDefinition,
    follow_origin_apart,
)
from zygomorph.core.values.groups import MAKE
from zygomorph.core.values.specimen import Specimen, saw
from zygomorph.core.values.value import SEED, choice, number

# Of the width of a fold, how far points push each other away.
REACH = 0.5
# Of that reach, how near points may be to each other to begin with.
NEAREST = 0.3
# Points that a metre of line has for a reach of one metre, about.
DENSE = 2.6
# Of a point with all stages of its growth (measured).
GROWING_BYTES = 2_000
AGE = "age"


def _plane(points: np.ndarray) -> np.ndarray:
    """(3, 3): two directions along which points spread most, and the third across, upwards."""
    _, _, axes = np.linalg.svd(points - points.mean(axis=0), full_matrices=True)
    across = axes[2] * (1.0 if axes[2][np.abs(axes[2]).argmax()] > 0 else -1.0)
    if np.ptp(points @ axes[1]) < 1e-6 * max(np.ptp(points @ axes[0]), 1e-12):
        # Along a straight line any plane would do: the level one, or the upright one.
        level = np.cross(axes[0], [0.0, 1.0, 0.0])
        across = np.array([0.0, 1.0, 0.0])
        if np.linalg.norm(level) < 1e-3:
            level, across = np.array([1.0, 0.0, 0.0]), np.array([0.0, 0.0, 1.0])
        return np.stack([axes[0], level / np.linalg.norm(level), across])
    return np.stack([axes[0], np.cross(across, axes[0]), across])


def _grown(mesh: Mesh, values: Resolved, mask: np.ndarray) -> tuple[np.ndarray, Ruffles]:
    """The points of a mesh at rest that its lines grow from, (m,), and all their growth; found once
    for what decides it."""
    names = ("longer", "width", "seed")
    key = ("ruffles", *(values.scalar(n) for n in names), values.discrete("folds"), mask.tobytes())

    def make() -> tuple[np.ndarray, np.ndarray, Ruffles]:
        topology = mesh.topology
        reach = REACH * values.scalar("width")
        order = topology.curve_points
        points = mesh.points[order].astype(np.float64)
        closed = topology.curve_closed & (np.diff(topology.curve_starts) > 2)
        kept, starts = thinned(points, topology.curve_starts, closed, NEAREST * reach)
        plane = _plane(points)
        alone = np.arange(float(len(kept)))
        length = float(lengths_of([Stage(points[kept], starts, alone, alone)], closed)[0])
        count = int(DENSE * values.scalar("longer") * length / reach) + len(kept)
        hint = "Let the folds be wider, or the lines grow less long"
        within_budget(count, GROWING_BYTES, hint=hint)
        how = Growing(
            reach,
            values.scalar("longer"),
            2 * count,
            plane if values.discrete("folds") == "plane" else None,
            values.count("seed"),
            np.broadcast_to(mask, len(mesh.points))[order][kept].astype(np.float64),
        )
        stages = grown_lines(points[kept], starts, closed, how)
        lengths = np.maximum.accumulate(lengths_of(stages, closed))
        return mesh.points, order[kept], Ruffles(stages, lengths, closed, plane[2])

    found: tuple[np.ndarray, np.ndarray, Ruffles] = mesh.topology.derived(
        (*key, id(mesh.points)), make
    )
    return found[1], found[2]


def structure(mesh: Mesh, values: Resolved, mask: np.ndarray | None) -> Structure:
    if mesh.topology.curve_count == 0:
        raise ZygomorphError(
            "There are no curves here.", "Ruffles grow from lines, circles and outlines."
        )
    kept, grown = _grown(mesh, values, np.ones(1, np.float32) if mask is None else mask)
    moment = grown.moment(values.scalar("grown") / 100)
    if values.discrete("makes") == "line":
        made = lines_at(grown, moment)
    else:
        made = surface_at(grown, moment, values.scalar("height"))
    parents = kept[np.stack([made.first, made.second], axis=1)]
    origin = Origin.anew(parents, np.stack([1 - made.share, made.share], axis=1))
    off = (made.places - origin.carry(np.asarray(mesh.points, np.float32))).astype(np.float32)
    age = np.clip(made.age / grown.last, 0, 1).astype(np.float32)
    attributes = {"point": {MASK + AGE: age, OFF: off}}
    if made.uv is not None:
        attributes["corner"] = {UV: made.uv}
    return Structure(made.topology, {"point": origin}, attributes)


def suggest(mesh: Mesh) -> dict[str, Any]:
    found = extent_of(mesh)
    return {"width": found.share(0.12), "height": found.share(0.4)} if found else {}


DEFINITION = TopologyDefinition(
    key="ruffles",
    title="Ruffles",
    group=MAKE,
    help="Lines grow longer than the room they have, and fold: alone, like the folds of a coral, "
    "or with a surface below, which ruffles towards its rim like a leaf of lettuce. A mask says "
    "where they grow.",
    also=("frill", "fold", "coral", "lettuce", "labyrinth", "meander", "growth", "brain", "petal"),
    values={
        "grown": number(
            100.0, "Grown", "How much of it there is.", "%", (0.0, 100.0), hard=(0.0, 100.0)
        ),
        "longer": number(
            8.0,
            "Longer",
            "How many times as long the lines become.",
            "×",
            (1.5, 20.0),
            scale="log",
            hard=(1.0, 200.0),
            moves=False,
        ),
        "width": number(
            0.12,
            "Width of a fold",
            "From one side of a fold to the other, about.",
            "m",
            (0.02, 0.5),
            scale="log",
            hard=(1e-3, 1e4),
            moves=False,
        ),
        "makes": choice(
            "surface",
            "Makes",
            "A surface from the line as it was to the line as it has grown, or that line alone.",
            {"surface": "a surface", "line": "the line"},
        ),
        "height": number(
            0.4,
            "Height",
            "How high the surface rises while it grows.",
            "m",
            (0.0, 2.0),
            shown_when=("makes", ("surface",)),
        ),
        "folds": choice(
            "plane",
            "Folds",
            "In the plane in which the lines lie, or to all sides.",
            {"plane": "in their plane", "space": "to all sides"},
            main=False,
        ),
        "seed": SEED,
    },
    sentence="Ruffles {width} wide, {longer} as long, grown {grown}",
    structure=structure,
    changes_with=frozenset(
        {"grown", "longer", "width", "makes", "height", "folds", "seed", MASK_INPUT}
    ),
    exact_mask=lambda discrete: True,
    acts_per=lambda discrete: "points",
    stands=lambda values: "at rest",
    apply=follow_origin_apart,
    acts_on=lambda mesh: mesh.topology.curve_count > 0,
    suggest=suggest,
    specimen=Specimen(
        ("circle", {"radius": 0.44, "count": 80}),
        {"grown": saw(5.0, 100.0), "longer": 5.0, "width": 0.18, "height": 0.75},
        after=[{"step": "place", "values": {"move": [0.0, -0.4, 0.0]}}],
    ),
    order=96,
)

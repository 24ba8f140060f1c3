"""Stretch: where the surface is longer or shorter than it is at rest."""

from __future__ import annotations

import numpy as np

from zygomorph.core.animation.context import Context
from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.geometry.mesh import Mesh
from zygomorph.core.geometry.topology import Topology
from zygomorph.core.values.definitions import MaskDefinition
from zygomorph.core.values.groups import SURFACE
from zygomorph.core.values.value import choice, number


def stretch(mesh: Mesh) -> np.ndarray:
    """(P,) float32: the length of the edges at each point over their length at rest; 1 where
    nothing is stretched, or where a point has no edge."""
    ends = _lines(mesh.topology)
    if len(ends) == 0:
        return np.ones(len(mesh.points), np.float32)
    now, rest = (_lengths(points, ends) for points in (mesh.points, mesh.rest))
    count, both = len(mesh.points), ends.T.reshape(-1)
    now, rest = (np.bincount(both, np.tile(each, 2), count) for each in (now, rest))
    return np.where(rest > 1e-12, now / np.maximum(rest, 1e-12), 1.0).astype(np.float32)


def _lines(topology: Topology) -> np.ndarray:
    return np.concatenate([topology.edges, topology.curve_segments.reshape(-1, 2)])


def _lengths(points: np.ndarray, ends: np.ndarray) -> np.ndarray:
    apart = points[ends[:, 1]] - points[ends[:, 0]]
    found: np.ndarray = np.sqrt(np.einsum("ij,ij->i", apart, apart)).astype(np.float64)
    return found


def apply(mesh: Mesh, values: Resolved, context: Context) -> np.ndarray:
    most = np.maximum(values.array("most") / np.float32(100), np.float32(1e-6))
    grown = stretch(mesh) - np.float32(1)
    what = values.discrete("what")
    if what == "shorter":
        return -grown / most
    if what == "both":
        return np.float32(0.5) + grown / (2 * most)
    return grown / most


DEFINITION = MaskDefinition(
    key="stretched",
    title="Stretch",
    group=SURFACE,
    help="1 where the surface is stretched against its rest shape, or pressed together.",
    also=("strain", "compression", "tension", "squeeze"),
    values={
        "what": choice(
            "longer",
            "Where",
            "Which change counts; with both, what is unchanged is one half.",
            {"longer": "it is longer", "shorter": "it is shorter", "both": "both"},
        ),
        "most": number(
            50.0,
            "Most",
            "Changed by this much, the weight is 1.",
            "%",
            (1.0, 200.0),
            hard=(0.01, 1e5),
        ),
    },
    sentence="stretch up to {most}",
    apply=apply,
    acts_on=lambda mesh: bool(np.ptp(stretch(mesh)) > 1e-4) if len(mesh.points) else False,
    per_element=frozenset({"most"}),
    reach="neighbourhood",
    on_copies="base",
    order=57,
)

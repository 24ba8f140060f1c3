"""The corners around each point of a polygon mesh, in order."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import scipy

from zygomorph.core.geometry.splitting import edge_sides
from zygomorph.core.geometry.topology import Topology


def opposite_sides(topology: Topology) -> np.ndarray:
    """(C,) int: of each side the one that runs against it, where the edge has these two only; -1
    elsewhere."""
    order, starts = edge_sides(topology)
    first = starts[:-1][np.diff(starts) == 2]
    one, other = order[first], order[first + 1]
    opposed = topology.corners[one] != topology.corners[other]
    found = np.full(len(topology.corners), -1)
    found[one[opposed]] = other[opposed]
    found[other[opposed]] = one[opposed]
    return found


def corners_before(topology: Topology) -> np.ndarray:
    """(C,) int: the corner before each, round its own face."""
    found = np.empty(len(topology.corners), np.int64)
    found[topology.next_corner] = np.arange(len(topology.corners))
    return found


@dataclass(frozen=True)
class Rings:
    """Fans of faces around points, each as its corners at that point, counter-clockwise.

    starts : (R + 1,) where each begins; corners : (C,) in order
    closed : (R,) bool, whether its last face meets its first
    A point where several fans meet has several rings.
    """

    starts: np.ndarray
    corners: np.ndarray
    closed: np.ndarray


def rings_of(topology: Topology) -> Rings:
    """All fans, in the order of their points."""
    return topology.derived(("rings",), lambda: _rings(topology))


def _rings(topology: Topology) -> Rings:
    corners = topology.corners
    count = len(corners)
    against = opposite_sides(topology)
    # Round a point, the next face is the one beyond the side that leads to it.
    after = against[corners_before(topology)]
    has_next = after >= 0
    led_to = np.zeros(count, bool)
    led_to[after[has_next]] = True
    rows = np.flatnonzero(has_next)
    links = scipy.sparse.coo_array((np.ones(len(rows), bool), (rows, after[rows])), (count, count))
    label = scipy.sparse.csgraph.connected_components(links, directed=False)[1]
    # A fan begins where no other face leads to, and a whole round at its first corner.
    order = np.lexsort((np.arange(count), led_to, label))
    is_first = np.concatenate([[True], label[order][1:] != label[order][:-1]])[: len(order)]
    begin = order[is_first]
    begin = begin[np.argsort(corners[begin], kind="stable")]
    sizes = np.bincount(label, minlength=len(begin))[label[begin]]
    starts = np.concatenate([[0], np.cumsum(sizes)])
    found = np.empty(count, np.int64)
    at, active, turn = begin.copy(), np.arange(len(begin)), 0
    while len(active):
        found[starts[active] + turn] = at
        turn += 1
        going = turn < sizes[active]
        active, at = active[going], after[at[going]]
    return Rings(starts, found, led_to[begin])

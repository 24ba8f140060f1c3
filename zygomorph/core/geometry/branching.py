"""Branching by space colonisation: a tree grows towards places that draw it until it reaches them.

(A. Runions et al., "Modeling and visualization of leaf venation patterns", SIGGRAPH 2005;
A. Runions, B. Lane & P. Prusinkiewicz, "Modeling Trees with a Space Colonization Algorithm", 2007.)
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from scipy.spatial import cKDTree

from zygomorph.core.cancelling import go_on

# Rounds of growth, and nodes, at most.
MOST_ROUNDS, MOST_NODES = 4000, 200_000
# Of a step; what goes less far stands still, and would grow for ever.
STUCK = 0.4
# Rounds for which a target draws a branch that comes no nearer.
PATIENCE = 12
# Of a stem, how the sum of its branches' areas makes its own (C. Murray, 1926): r³ = Σ r³.
MURRAY = 3.0


@dataclass(frozen=True)
class Tree:
    """places : (N, 3) float64, metres, each after its parent
    parent : (N,) int64, -1 of roots
    born : (N,) float64, the round in which each grew
    thick : (N,) float64 from 0 to 1, by what grows from it
    """

    places: np.ndarray
    parent: np.ndarray
    born: np.ndarray
    thick: np.ndarray


Hold = Callable[[np.ndarray], np.ndarray]


def grown(
    roots: np.ndarray, targets: np.ndarray, step: float, sees: float, reached: float, hold: Hold
) -> Tree:
    """roots : (R, 3); targets : (T, 3) metres
    step : how far a branch grows in a round; sees : how far a target draws; reached : how near to
        it is there, all in metres
    hold : puts new nodes where they may be, (n, 3) to (n, 3)
    """
    places, parent, born = (
        [roots.astype(np.float64)],
        [np.full(len(roots), -1)],
        [np.zeros(len(roots))],
    )
    every = places[0]
    left = targets.astype(np.float64)
    far, near = cKDTree(every).query(left)
    keep = far > reached
    left, far, near = left[keep], far[keep], near[keep]
    count = len(every)
    waited = np.zeros(len(left), np.int64)
    for number in range(1, MOST_ROUNDS):
        drawn = far <= sees
        if number == 1 and not drawn.any() and len(left):
            # Roots that see nothing begin towards what is nearest.
            drawn = far <= far.min() * (1 + 1e-9)
        if not drawn.any() or count > MOST_NODES:
            break
        if number % 16 == 0:
            go_on()
        ways = left[drawn] - every[near[drawn]]
        ways /= np.maximum(np.linalg.norm(ways, axis=1, keepdims=True), 1e-12)
        nodes, which = np.unique(near[drawn], return_inverse=True)
        total = np.stack([np.bincount(which, ways[:, k], len(nodes)) for k in range(3)], axis=1)
        length = np.linalg.norm(total, axis=1)
        first = np.full(len(nodes), -1)
        first[which[::-1]] = np.arange(len(which))[::-1]
        new = _onwards(every[nodes], total / np.maximum(length, 1e-12)[:, None], step, hold)
        # Between two that draw it to opposite sides, a branch goes to one of them.
        stuck = np.linalg.norm(new - every[nodes], axis=1) < STUCK * step
        new[stuck] = _onwards(every[nodes[stuck]], ways[first[stuck]], step, hold)
        goes = np.linalg.norm(new - every[nodes], axis=1) >= STUCK * step
        new, nodes = new[goes], nodes[goes]
        if len(new) == 0:
            break
        places.append(new)
        parent.append(nodes)
        born.append(np.full(len(new), float(number)))
        every = np.concatenate([every, new])
        nearer, at = cKDTree(new).query(left)
        better = nearer < far
        # Round what lies in the way of a branch it would go for ever.
        waited = np.where(nearer < far - 0.02 * step, 0, waited + drawn)
        far = np.where(better, nearer, far)
        near = np.where(better, at + count, near)
        count = len(every)
        keep = (far > reached) & (waited < PATIENCE)
        left, far, near, waited = left[keep], far[keep], near[keep], waited[keep]
        if len(left) == 0:
            break
    found = np.concatenate(parent).astype(np.int64)
    return Tree(every, found, np.concatenate(born), _thickness(found))


def _onwards(places: np.ndarray, ways: np.ndarray, step: float, hold: Hold) -> np.ndarray:
    return hold(places + step * ways) if len(places) else places


def _thickness(parent: np.ndarray) -> np.ndarray:
    area = np.zeros(len(parent))
    # Children come after their parents.
    for node in range(len(parent) - 1, -1, -1):
        if area[node] == 0:
            area[node] = 1.0
        if parent[node] >= 0:
            area[parent[node]] += area[node]
    radius = area ** (1 / MURRAY)
    return radius / max(float(radius.max(initial=1.0)), 1e-12)


def branches(parent: np.ndarray, born: np.ndarray) -> list[np.ndarray]:
    """Runs of nodes from where each branch leaves to its end: the first child of a node goes on
    with its branch, each other one begins a new one at that node."""
    goes_on = np.full(len(parent), -1)
    begins = []
    for node in range(len(parent)):
        up = parent[node]
        if up < 0:
            begins.append((node, -1))
        elif goes_on[up] < 0:
            goes_on[up] = node
        else:
            begins.append((node, up))
    runs = []
    for first, stem in begins:
        run = [stem] if stem >= 0 else []
        node = first
        while node >= 0:
            run.append(node)
            node = goes_on[node]
        if len(run) > 1:
            runs.append(np.array(run))
    return runs

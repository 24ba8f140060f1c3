"""Veins: branches that grow over a surface or through what it encloses, by space colonisation.

The tree is found once at rest. How much of it has grown is a value of its own, so that it grows and
withers by a signal; its branches stay on the surface however that moves.
"""

from __future__ import annotations

from collections.abc import Hashable
from typing import Any

import numpy as np

from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.budget import LOOSE_BYTES, within_budget
from zygomorph.core.errors import ZygomorphError
from zygomorph.core.geometry.branching import Tree, branches, grown
from zygomorph.core.geometry.chance import by_chance
from zygomorph.core.geometry.extent import extent_of
from zygomorph.core.geometry.mesh import MASK, Mesh
from zygomorph.core.geometry.origins import Origin
from zygomorph.core.geometry.solids.pieces import shares_in
from zygomorph.core.geometry.structure import Structure
from zygomorph.core.geometry.surface_search import search_of
from zygomorph.core.geometry.swarm.births import born
from zygomorph.core.geometry.topology import Topology
from zygomorph.core.values.definitions import OFF, TopologyDefinition, follow_origin_apart
from zygomorph.core.values.groups import MAKE
from zygomorph.core.values.specimen import Specimen, saw
from zygomorph.core.values.value import SEED, choice, fineness, number, whole

# Of the fineness, how far targets are seen and how near to them a branch has come.
SEES, REACHED = 12.0, 1.6
AGE, THICK = "age", "thick"


def _roots(mesh: Mesh, values: Resolved) -> np.ndarray:
    points = mesh.points.astype(np.float64)
    begins = values.discrete("begins")
    if begins == "chance":
        chosen = by_chance(values.count("seed"), np.arange(values.count("seeds")), 99)
        return points[np.unique((chosen * len(points)).astype(np.int64))]
    height = points[:, 1] if begins == "low" else -points[:, 1]
    return points[[int(height.argmin())]]


def _tree(mesh: Mesh, values: Resolved) -> Tree:
    """Of a mesh at rest; found once for what decides it."""
    names = ("targets", "step", "seeds", "seed")
    parts = [values.scalar(n) for n in names]
    through = values.discrete("through")
    key: tuple[Hashable, ...] = ("veins", *parts, values.discrete("begins"), through)

    def make() -> tuple[np.ndarray, Tree]:
        count, step = values.count("targets"), values.scalar("step")
        within_budget(count, 40 * LOOSE_BYTES, hint="Take fewer targets")
        index = np.arange(count)
        where = "inside" if through == "inside" else "surface"
        targets, _ = born(mesh, where, index, np.zeros(count, np.int64), values.count("seed"))
        search = search_of(mesh.points, mesh.topology.drawn_triangles)

        def hold(places: np.ndarray) -> np.ndarray:
            return places if where == "inside" else search.nearest(places)[0]

        tree = grown(_roots(mesh, values), targets, step, SEES * step, REACHED * step, hold)
        return mesh.points, tree

    found: tuple[np.ndarray, Tree] = mesh.topology.derived((*key, id(mesh.points)), make)
    return found[1]


def _moment(tree: Tree, share: float) -> float:
    """The round of growth, with its part, in which there is a share of all branches."""
    rounds, many = np.unique(tree.born, return_counts=True)
    # The roots, which are there before the first round, are no part of it.
    grown_by = np.cumsum(np.concatenate([[0], many[1:]]))
    return float(np.interp(share * grown_by[-1], grown_by, rounds))


def _seen(tree: Tree, share: float) -> tuple[np.ndarray, list[np.ndarray], np.ndarray]:
    """What has grown: places of points, (n, 3), runs of them, and the nodes they stand for, (n,).
    The tip of each branch is on its way to its next node."""
    moment = _moment(tree, share)
    places, nodes, runs, count = [], [], [], 0
    for run in branches(tree.parent, tree.born):
        there = run[tree.born[run] <= moment]
        if len(there) == 0:
            continue
        own = tree.places[there]
        ids = there
        if len(there) < len(run):
            tip = run[len(there)]
            # It sets out a round before it arrives.
            gone = np.clip(moment - (tree.born[tip] - 1), 0, 1)
            if gone > 0:
                at = own[-1] + gone * (tree.places[tip] - own[-1])
                own, ids = np.concatenate([own, at[None]]), np.append(ids, tip)
        if len(own) < 2:
            continue
        places.append(own)
        nodes.append(ids)
        runs.append(np.arange(count, count + len(own)))
        count += len(own)
    if not runs:
        return np.zeros((0, 3)), [], np.zeros(0, np.int64)
    return np.concatenate(places), runs, np.concatenate(nodes)


def structure(mesh: Mesh, values: Resolved, mask: np.ndarray | None) -> Structure:
    if len(mesh.topology.drawn_triangles) == 0:
        raise ZygomorphError("There is no surface to grow on.", "Begin with a form that has faces.")
    tree = _tree(mesh, values)
    places, runs, nodes = _seen(tree, values.scalar("grown") / 100)
    triangles = mesh.topology.drawn_triangles
    topology = Topology(
        len(places),
        curve_points=np.arange(len(places), dtype=np.int32),
        curve_starts=np.concatenate([[0], np.cumsum([len(r) for r in runs])]).astype(np.int32),
        curve_closed=np.zeros(len(runs), bool),
    )
    found, _, face = search_of(mesh.points, triangles).nearest(places)
    corners = triangles[np.maximum(face, 0)]
    shares = shares_in(found, mesh.points.astype(np.float64)[corners])
    last = max(float(tree.born.max(initial=1.0)), 1.0)
    moment = _moment(tree, values.scalar("grown") / 100)
    # What grew long ago is thicker than what has just grown.
    age = np.clip((moment - tree.born[nodes]) / last, 0, 1)
    thick = tree.thick[nodes] * np.clip((moment - tree.born[nodes]) / (0.25 * last) + 0.15, 0, 1)
    off = (places - found).astype(np.float32)
    own = {MASK + AGE: age.astype(np.float32), MASK + THICK: thick.astype(np.float32)}
    # Inside, branches keep the way that they have from the surface.
    point = {**own, OFF: off}
    return Structure(topology, {"point": Origin.anew(corners, shares)}, {"point": point})


def suggest(mesh: Mesh) -> dict[str, Any]:
    found = extent_of(mesh)
    return {"step": found.share(0.02)} if found else {}


DEFINITION = TopologyDefinition(
    key="veins",
    title="Veins",
    group=MAKE,
    help="Branches that grow over the surface, or through the inside, until they have reached "
    "everywhere: veins, frost, roots. They are curves; a tube thins them by the mask “thick”.",
    also=("branch", "branches", "roots", "frost", "lightning", "coral", "tree", "growth", "leaf"),
    values={
        "grown": number(
            100.0, "Grown", "How much of them there is.", "%", (0.0, 100.0), hard=(0.0, 100.0)
        ),
        "targets": fineness(
            800,
            "Targets",
            "Places that they grow to, evenly by chance.",
            (600, 1600),
            (50, 5000),
            (1, 100_000),
            moves=False,
            tested_to=200,
        ),
        "step": number(
            0.03,
            "Fineness",
            "How far a branch grows at once.",
            "m",
            (0.005, 0.2),
            scale="log",
            hard=(1e-4, 1e4),
            moves=False,
        ),
        "begins": choice(
            "low",
            "Begins",
            "At the lowest or highest point, or at points by chance.",
            {"low": "at the lowest point", "high": "at the highest point", "chance": "by chance"},
        ),
        "seeds": whole(
            3,
            "Seeds",
            "How many points they begin at.",
            (1, 30),
            hard=(1, 1000),
            moves=False,
            shown_when=("begins", ("chance",)),
        ),
        "through": choice(
            "surface",
            "Over",
            "Along the surface, or through what it encloses.",
            {"surface": "the surface", "inside": "the inside"},
            main=False,
        ),
        "seed": SEED,
    },
    sentence="Veins to {targets} places, grown {grown}",
    structure=structure,
    changes_with=frozenset({"grown", "targets", "step", "begins", "seeds", "through", "seed"}),
    stands=lambda values: "at rest",
    apply=follow_origin_apart,
    acts_on=lambda mesh: len(mesh.topology.drawn_triangles) > 0,
    suggest=suggest,
    specimen=Specimen(
        ("icosphere", {"radius": 0.66, "halvings": 3}),
        {"grown": saw(30.0, 100.0), "targets": 260, "step": 0.035},
        after=[{"step": "tube", "values": {"radius": 0.022, "sides": 5}}],
    ),
    order=95,
)

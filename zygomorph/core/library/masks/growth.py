"""Growth: a weight that spreads from seeds over the surface or through space, and withers again."""

from __future__ import annotations

import numpy as np
from scipy.spatial import cKDTree

from zygomorph.core.animation.context import Context
from zygomorph.core.animation.other_pieces import search_other
from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.document.loop import Loop
from zygomorph.core.geometry.chance import by_chance
from zygomorph.core.geometry.extent import extent_of
from zygomorph.core.geometry.geodesic import distance_from
from zygomorph.core.geometry.mesh import Mesh
from zygomorph.core.kernels.noise.fractal import Pattern, fractal
from zygomorph.core.masking.at_rest import once_at_rest
from zygomorph.core.values.definitions import MaskDefinition
from zygomorph.core.values.groups import FRONTS
from zygomorph.core.values.value import SEED, choice, number, piece, whole


def _seeds(mesh: Mesh, values: Resolved, context: Context) -> np.ndarray:
    """Numbers of the points that it begins at."""
    rest = mesh.rest
    begins = values.discrete("begins")
    if begins == "piece":
        search = search_other(context.other(values.discrete("piece")), context)
        _, away, _ = search.nearest(rest)
        near = np.flatnonzero(away <= values.scalar("near"))
        return near if len(near) else np.array([int(away.argmin())])
    if begins == "chance":
        seeds = values.count("seeds")
        chosen = by_chance(values.count("seed"), np.arange(seeds)) * len(rest)
        return np.unique(chosen.astype(np.int64))
    height = rest[:, 1] if begins == "low" else -rest[:, 1]
    return np.flatnonzero(height <= height.min() + 1e-6)


def _way(mesh: Mesh, values: Resolved, context: Context) -> np.ndarray:
    """(P,) float32 metres from the nearest seed to each point at rest."""
    rest = mesh.rest
    seeds = _seeds(mesh, values, context)
    if values.discrete("over") == "surface" and len(mesh.topology.drawn_triangles):
        found = distance_from(mesh.topology, rest, seeds, lines=True)
        # Parts that nothing leads to are reached through space.
        lost = ~np.isfinite(found)
        if lost.any():
            found = found.copy()
            found[lost] = cKDTree(rest[seeds]).query(rest[lost])[0]
    else:
        found = cKDTree(rest[seeds]).query(rest)[0]
    away: np.ndarray = np.asarray(found, np.float32)
    return away


def _uneven(mesh: Mesh, values: Resolved) -> np.ndarray:
    """(P,) float32 from 0 to 2: how much farther the way to a point is made by chance."""
    pattern = Pattern(
        size=np.array([max(values.scalar("size"), 1e-4)]),
        octaves=np.array([3.0]),
        seed=values.count("seed"),
    )
    found: np.ndarray = 1 + fractal(mesh.rest, pattern, None)
    return np.clip(found, 0, 2).astype(np.float32)


def reach_at(values: Resolved, context: Context, farthest: float) -> float:
    """How far it has come at the moment, metres."""
    rim = values.scalar("rim")
    if values.discrete("goes") == "share":
        return values.scalar("grown") / 100 * (farthest + rim)
    loop: Loop = context.loop
    frame = context.frame
    left = frame if loop.one_way else min(frame % loop.frames, -frame % loop.frames)
    return values.scalar("speed") * left / loop.rate


def apply(mesh: Mesh, values: Resolved, context: Context) -> np.ndarray:
    if len(mesh.points) == 0:
        return np.zeros(0, np.float32)
    begins = values.discrete("begins")
    names = ("seeds", "seed", "near")
    key = ("growth", begins, values.discrete("over"), *(values.scalar(n) for n in names))
    if begins == "piece":
        away = _way(mesh, values, context)
    else:
        away = once_at_rest(mesh, key, lambda: _way(mesh, values, context))
    uneven = values.scalar("uneven") / 100
    if uneven:
        shape = once_at_rest(
            mesh,
            ("growth uneven", values.scalar("size"), values.count("seed")),
            lambda: _uneven(mesh, values),
        )
        away = away * (1 + np.float32(uneven) * (shape - 1))
    rim = max(values.scalar("rim"), 1e-6)
    reach = reach_at(values, context, float(away.max(initial=0.0)))
    found: np.ndarray = ((reach - away) / np.float32(rim)).astype(np.float32)
    return found


def suggest(mesh: Mesh) -> dict[str, object]:
    found = extent_of(mesh)
    if found is None:
        return {}
    return {"rim": found.share(0.08), "speed": found.share(0.4), "size": found.share(0.2)}


DEFINITION = MaskDefinition(
    key="growth",
    title="Growth",
    group=FRONTS,
    help="Spreads from seeds over the surface or through space, with a ragged rim, and withers "
    "again.",
    also=("spread", "infect", "grow", "frost", "moss", "crawl", "reveal", "seeds"),
    values={
        "begins": choice(
            "chance",
            "Begins",
            "At points by chance, at the lowest or highest, or near another piece.",
            {
                "chance": "by chance",
                "low": "at the lowest point",
                "high": "at the highest point",
                "piece": "near a piece",
            },
        ),
        "seeds": whole(
            3,
            "Seeds",
            "How many points it begins at.",
            (1, 30),
            hard=(1, 10_000),
            moves=False,
            shown_when=("begins", ("chance",)),
        ),
        "piece": piece("Piece", "Near which it begins.", shown_when=("begins", ("piece",))),
        "near": number(
            0.05,
            "Near",
            "As near as this it has begun.",
            "m",
            (0.0, 0.5),
            hard=(0.0, 1e6),
            shown_when=("begins", ("piece",)),
        ),
        "goes": choice(
            "share",
            "Goes",
            "As far as “Grown” says; or at a speed, and back in the second half of the loop.",
            {"share": "as far as it is set", "speed": "at a speed, and back"},
        ),
        "grown": number(
            50.0,
            "Grown",
            "At 100 % it is everywhere.",
            "%",
            (0.0, 100.0),
            shown_when=("goes", ("share",)),
        ),
        "speed": number(
            0.5,
            "Speed",
            "How fast it spreads.",
            "m/s",
            (0.02, 4.0),
            scale="log",
            hard=(0.0, 1e6),
            shown_when=("goes", ("speed",)),
        ),
        "rim": number(0.1, "Rim", "From weight 0 to weight 1.", "m", (0.01, 1.0), hard=(1e-6, 1e6)),
        "over": choice(
            "surface",
            "Over",
            "Along the surface at rest, or straight through space.",
            {"surface": "the surface", "space": "space"},
            main=False,
        ),
        "uneven": number(
            40.0,
            "Uneven",
            "How much sooner or later places are reached by chance.",
            "%",
            (0.0, 100.0),
            hard=(0.0, 100.0),
            main=False,
        ),
        "size": number(
            0.25,
            "Size of unevenness",
            "Of its largest swells.",
            "m",
            (0.02, 2.0),
            scale="log",
            hard=(1e-4, 1e6),
            moves=False,
            main=False,
        ),
        "seed": SEED,
    },
    sentence="grown {grown}",
    apply=apply,
    by_time=lambda discrete: discrete["goes"] == "speed",
    reach="neighbourhood",
    on_copies="base",
    suggest=suggest,
    order=55,
)

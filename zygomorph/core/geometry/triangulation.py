"""Polygons cut into the triangles that they are drawn as."""

from __future__ import annotations

import numpy as np

from zygomorph.core.geometry.origins import Origin
from zygomorph.core.geometry.runs import ragged
from zygomorph.core.geometry.structure import Structure, unchanged
from zygomorph.core.geometry.topology import Topology


def triangulated(topology: Topology, chosen: np.ndarray | None = None) -> Structure:
    """Chosen polygons, (F,) bool or all of them, cut into triangles; others stay."""
    starts = topology.face_starts
    sizes = np.diff(starts)
    cut = (sizes > 3) if chosen is None else chosen & (sizes > 3)
    if not cut.any():
        return unchanged(topology)
    drawn = topology.drawn_corners
    of_drawn = topology.corner_face[drawn[:, 0]] if len(drawn) else np.zeros(0, np.int32)
    mine = cut[of_drawn]
    kept = np.flatnonzero(~cut)
    face = np.concatenate([kept, of_drawn[mine]])
    lengths = np.concatenate([sizes[kept], np.full(int(mine.sum()), 3)])
    own = np.concatenate(
        [ragged(starts[:-1][kept].astype(np.int64), sizes[kept]), drawn[mine].reshape(-1)]
    )
    # In the order of the polygons they come from.
    order = np.argsort(face, kind="stable")
    first = np.cumsum(lengths) - lengths
    taken = own[ragged(first[order], lengths[order])]
    made = Topology(
        topology.point_count,
        topology.corners[taken],
        np.concatenate([[0], np.cumsum(lengths[order])]).astype(np.int32),
        topology.curve_points,
        topology.curve_starts,
        topology.curve_closed,
    )
    parents = face[order]
    of_face = Origin.taken(parents)
    return Structure(
        made,
        {
            "point": Origin.taken(np.arange(topology.point_count)),
            "corner": Origin.taken(taken),
            "face": Origin(
                of_face.starts, of_face.parents, continues=np.where(cut[parents], -1, parents)
            ),
        },
    )

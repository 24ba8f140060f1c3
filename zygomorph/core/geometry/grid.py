"""Rectangular grids of quads, open or closed on themselves."""

from __future__ import annotations

import numpy as np

from zygomorph.core.geometry.topology import Grid, Topology


def grid_topology(
    columns: int, rows: int, wrap_columns: bool = False, wrap_rows: bool = False
) -> tuple[Topology, np.ndarray]:
    """Quads of ``columns`` × ``rows`` cells, and the UV of each corner, (C, 2) float32.

    They lie as :class:`Grid` says; a wrapped direction has as many points as cells.
    """
    across = columns if wrap_columns else columns + 1
    down = rows if wrap_rows else rows + 1
    i, j = (each.ravel() for each in np.meshgrid(np.arange(columns), np.arange(rows)))
    corner_i = np.stack([i, i, i + 1, i + 1], axis=1)
    corner_j = np.stack([j, j + 1, j + 1, j], axis=1)
    corners = (corner_j % down) * across + corner_i % across
    uv = np.stack([corner_i / columns, 1 - corner_j / rows], axis=2).reshape(-1, 2)
    starts = np.arange(columns * rows + 1) * 4
    topology = Topology(
        across * down,
        np.ascontiguousarray(corners.reshape(-1), np.int32),
        np.ascontiguousarray(starts, np.int32),
        grid=Grid(across, down, wrap_columns, wrap_rows),
    )
    return topology, np.ascontiguousarray(uv, np.float32)

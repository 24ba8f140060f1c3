"""The eight corners of a cell of flow noise, blended."""

from __future__ import annotations

from collections.abc import Callable

from numba import float32, int32

from zygomorph.core.compiled import inline
from zygomorph.core.noise.lattice import fade


def blended_edges(edge: Callable, blend: Callable) -> Callable:
    """Build the function that blends the four edges of a cell that run along x.

    edge : of (column, column after it, row, layer, seed, x, y, z, turn, faded x), where x, y and z
        go from the edge's beginning to the point
    blend : of two results and the share of the second

    The result takes the cell as :func:`swaying_cell` gives it, the seed and the turn.
    """

    @inline
    def noise(cell, seed, turn):  # type: ignore[no-untyped-def]
        ix, jx, iy, iz, x, y, z = cell
        jy, jz = int32(iy + int32(1)), int32(iz + int32(1))
        y1, z1, t = y - float32(1.0), z - float32(1.0), fade(x)
        a = edge(ix, jx, iy, iz, seed, x, y, z, turn, t)
        b = edge(ix, jx, jy, iz, seed, x, y1, z, turn, t)
        c = edge(ix, jx, iy, jz, seed, x, y, z1, turn, t)
        d = edge(ix, jx, jy, jz, seed, x, y1, z1, turn, t)
        t = fade(y)
        return blend(blend(a, b, t), blend(c, d, t), fade(z))

    return noise

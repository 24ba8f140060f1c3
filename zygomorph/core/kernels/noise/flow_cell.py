"""The eight corners of a cell of flow noise, blended."""

from __future__ import annotations

from collections.abc import Callable

from numba import float32, int32

from zygomorph.core.kernels.compiled import inline
from zygomorph.core.kernels.noise.lattice import cell_hash, fade


def blended_corners(corner: Callable, blend: Callable) -> Callable:
    """Build the noise of a cell from what stands at its corners.

    corner : of (hash, x, y, z, turn), where x, y and z go from the corner to the point
    blend : of two results and the share of the second

    The result takes the cell as :func:`swaying_cell` gives it, the seed and the turn.
    """

    @inline
    def edge(ix, jx, iy, iz, seed, x, y, z, turn, t):  # type: ignore[no-untyped-def]
        """Two corners blended along x; t : faded x"""
        near = corner(cell_hash(ix, iy, iz, seed), x, y, z, turn)
        return blend(near, corner(cell_hash(jx, iy, iz, seed), x - float32(1.0), y, z, turn), t)

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

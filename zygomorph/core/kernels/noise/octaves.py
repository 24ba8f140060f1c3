"""What all sums of octaves share: into the pattern's coordinates, and how octaves are folded.

Ridged octaves are (1 - |n|)², after Musgrave's ridged multifractal (Ebert et al., "Texturing and
Modeling", 3rd ed., chapter 16; from memory), without its feedback between octaves. Turbulence is
the sum of |n| (K. Perlin, "An Image Synthesizer", SIGGRAPH 1985); billowed is the same spread
over -1 to 1.
"""

from __future__ import annotations

from numba import float32, int32, types

from zygomorph.core.kernels.compiled import F1, F1W, F2, inline, load, per_block
from zygomorph.core.kernels.noise.lattice import fade, floor_to_int
from zygomorph.core.kernels.structure_of_arrays import split, transform

FOLDS = ("sum", "ridged", "billowed", "turbulence")
SEEDS = types.Array(types.uint32, 1, "C", readonly=True)
# points, rows of the transform, one over size, phase, octave table, seeds, offsets, number in
# FOLDS, result
FRACTAL = types.void(F2, F2, F1, F1, F2, SEEDS, F2, types.int32, F1W)
# The same with cosine and sine of the angle by which flow noise has turned after the phase, and
# the sway of each octave after the offsets.
FLOW = types.void(F2, F2, F1, F1, F2, F2, SEEDS, F2, F2, types.int32, F1W)


@per_block
def enter_pattern(flat, rows, inverse_size, lo, m, x, y, z, scale):  # type: ignore[no-untyped-def]
    """Cells of the first octave at ``m`` points; the axis that wraps is x.

    rows : (3, 4) from points to unscaled cells; scale : (BLOCK,) room to work in
    """
    load(inverse_size, lo, m, scale)
    split(flat, lo, m, x, y, z)
    transform(rows, m, x, y, z)
    for i in range(m):
        x[i], y[i], z[i] = scale[i] * x[i], scale[i] * y[i], scale[i] * z[i]


@inline
def wrapped(cell, span, per_span):  # type: ignore[no-untyped-def]
    """A whole cell, as float32, brought to 0 … span - 1."""
    # Half a cell keeps the product away from whole numbers, where rounding of the reciprocal
    # would put a cell on the wrong side.
    return cell - span * float32(floor_to_int((cell + float32(0.5)) * per_span))


@per_block
def add_octave(wave, fold, share, m, result):  # type: ignore[no-untyped-def]
    """Fold an octave, -1 to 1, and add its share to the result; ``wave`` is written over."""
    one, two = float32(1.0), float32(2.0)
    if fold == 1:
        for i in range(m):
            ridge = one - abs(wave[i])
            wave[i] = two * ridge * ridge - one
    elif fold == 2:
        for i in range(m):
            wave[i] = two * abs(wave[i]) - one
    elif fold == 3:
        for i in range(m):
            wave[i] = abs(wave[i])
    for i in range(m):
        result[i] += share * wave[i]


@per_block
def cells_of(x, y, z, travel, frequency, span, offset, m, place, cells):  # type: ignore[no-untyped-def]
    """Into the lattice of one octave: the place inside the cell, and the numbers of its corners.

    place : (3, BLOCK); cells : (4, BLOCK) int32, column, the column after it, row and layer
    """
    u, v, w = place[0], place[1], place[2]
    begin, after, row, layer = cells[0], cells[1], cells[2], cells[3]
    ox, oy, oz = offset[0], offset[1], offset[2]
    per_span = float32(1.0) / span
    for i in range(m):
        a = x[i] * frequency + ox - travel[i] * span
        b = y[i] * frequency + oy
        c = z[i] * frequency + oz
        ix, iy, iz = floor_to_int(a), floor_to_int(b), floor_to_int(c)
        start = wrapped(float32(ix), span, per_span)
        end = start + float32(1.0)
        begin[i] = int32(start)
        after[i] = int32(end if end < span else float32(0.0))
        row[i] = iy
        layer[i] = iz
        u[i], v[i], w[i] = a - float32(ix), b - float32(iy), c - float32(iz)


@per_block
def fade_all(place, m, faded):  # type: ignore[no-untyped-def]
    """The quintic fade of the place inside the cell; place, faded : (3, BLOCK)"""
    for axis in range(3):
        for i in range(m):
            faded[axis, i] = fade(place[axis, i])

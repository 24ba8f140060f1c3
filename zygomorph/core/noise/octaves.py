"""What all sums of octaves share: into the pattern's coordinates, and how octaves are folded.

Ridged octaves are (1 - |n|)², after Musgrave's ridged multifractal (Ebert et al., "Texturing and
Modeling", 3rd ed., chapter 16; from memory), without its feedback between octaves. Turbulence is
the sum of |n| (K. Perlin, "An Image Synthesizer", SIGGRAPH 1985); billowed is the same spread
over -1 to 1.
"""

from __future__ import annotations

from numba import float32, types

from zygomorph.core.compiled import F1, F1W, F2, inline, load, per_block
from zygomorph.core.noise.lattice import floor_to_int
from zygomorph.core.triples import apart, transform

FOLDS = ("sum", "ridged", "billowed", "turbulence")
SEEDS = types.Array(types.uint32, 2, "C", readonly=True)
OFFSETS = types.Array(types.float32, 3, "C", readonly=True)
# points, rows of the transform, one over size, phase, cosine and sine of evolve, octave table,
# seeds, offsets, number in FOLDS, result
FRACTAL = types.void(F2, F2, F1, F1, F1, F1, F2, SEEDS, OFFSETS, types.int32, F1W)


@per_block
def enter_pattern(flat, rows, inverse_size, lo, m, x, y, z, scale):  # type: ignore[no-untyped-def]
    """Cells of the first octave at ``m`` points; the axis that wraps is x.

    rows : (3, 4) from points to unscaled cells; scale : (BLOCK,) room to work in
    """
    load(inverse_size, lo, m, scale)
    apart(flat, lo, m, x, y, z)
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

"""Copies and their placements: the box around them, and what of them goes to a viewer."""

from __future__ import annotations

import numpy as np
from numba import float32, int16, prange, types

from zygomorph.core.kernels.compiled import CHUNKS, F2, F2W, I1, first_of, kernel

F3 = types.Array(types.float32, 3, "C", readonly=True)
N16 = types.int16[:, ::1]
FAR = float32(3.4e38)
# A number from -1 to 1 as 16 bits.
STEPS = float32(32767.0)


@kernel(types.void(F3, I1, F2, F2, F2W))
def boxes_of_copies(placements, base, lows, highs, bounds):  # type: ignore[no-untyped-def]
    """Into rows of ``bounds`` (2, 3) the box around all copies.

    placements : (K, 3, 4); lows, highs : (B, 3) boxes of the bases
    A placed box reaches from its placed middle as far as its half sides turned, each taken as
    positive (J. Arvo, "Transforming axis-aligned bounding boxes", Graphics Gems, 1990; from memory)
    """
    n = base.shape[0]
    parts = np.empty((CHUNKS, 6), np.float32)
    for chunk in prange(CHUNKS):
        own = parts[chunk]
        for axis in range(3):
            own[axis] = FAR
            own[3 + axis] = -FAR
        for k in range(first_of(chunk, n), first_of(chunk + 1, n)):
            b = base[k]
            for axis in range(3):
                middle = placements[k, axis, 3]
                reach = float32(0.0)
                for j in range(3):
                    m = placements[k, axis, j]
                    middle += m * (lows[b, j] + highs[b, j]) * float32(0.5)
                    reach += abs(m) * (highs[b, j] - lows[b, j]) * float32(0.5)
                own[axis] = min(own[axis], middle - reach)
                own[3 + axis] = max(own[3 + axis], middle + reach)
    for axis in range(3):
        low, high = FAR, -FAR
        for chunk in range(CHUNKS):
            low = min(low, parts[chunk, axis])
            high = max(high, parts[chunk, 3 + axis])
        bounds[0, axis] = low
        bounds[1, axis] = high


@kernel(types.void(F3, types.float32, F2, N16))
def encode_placements(placements, linear, frame, out):  # type: ignore[no-untyped-def]
    """Rows of the matrices as 16-bit numbers.

    linear : by how much the first three numbers of each row are divided
    frame : (2, 3) middle and half size of the box of the places, which become shares of it
    out : (K, 12)
    """
    per = STEPS / linear
    for k in prange(out.shape[0]):
        for axis in range(3):
            for j in range(3):
                out[k, 4 * axis + j] = int16(np.rint(placements[k, axis, j] * per))
            half = frame[1, axis]
            share = (placements[k, axis, 3] - frame[0, axis]) / half if half > 0 else float32(0.0)
            out[k, 4 * axis + 3] = int16(np.rint(share * STEPS))

"""Profiles of mask layers, and how layers blend."""

from __future__ import annotations

import numpy as np
from numba import float32, prange, types

from zygomorph.core.kernels.compiled import BLOCK, CHUNKS, F1, F1W, at, first_of, kernel, load
from zygomorph.core.kernels.noise.lattice import fade

PROFILES = ("hard", "linear", "smooth", "smoother", "power", "curve")
BLENDS = ("replace", "multiply", "add", "subtract", "lighten", "darken")


@kernel(types.void(F1, F1, types.int32, F1, F1, types.boolean, types.int32, F1, F1W), first=20)
def blend_weights(below, raw, profile, power, table, invert, mode, strength, out):  # type: ignore[no-untyped-def]
    """Shape raw weights and blend it over what is below, in one pass over the points.

    profile, mode : numbers of PROFILES and BLENDS; 0 for the first layer's blend
    table : a drawn profile at even places from 0 to 1
    """
    n = out.shape[0]
    zero = float32(0.0)
    one = float32(1.0)
    blocks = (n + BLOCK - 1) // BLOCK
    for chunk in prange(CHUNKS):
        work = np.empty((3, BLOCK), np.float32)
        t, base, share = work[0], work[1], work[2]
        for block in range(first_of(chunk, blocks), first_of(chunk + 1, blocks)):
            lo = block * BLOCK
            m = min(BLOCK, n - lo)
            result = out[lo : lo + m]
            load(raw, lo, m, t)
            load(below, lo, m, base)
            load(strength, lo, m, share)
            for i in range(m):
                t[i] = min(max(t[i], zero), one)
            if profile == 0:
                for i in range(m):
                    t[i] = one if t[i] >= float32(0.5) else zero
            elif profile == 2:
                for i in range(m):
                    t[i] = t[i] * t[i] * (float32(3.0) - float32(2.0) * t[i])
            elif profile == 3:
                for i in range(m):
                    t[i] = fade(t[i])
            elif profile == 4:
                for i in range(m):
                    t[i] = t[i] ** at(power, lo + i)
            elif profile == 5:
                last = table.shape[0] - 1
                for i in range(m):
                    place = t[i] * float32(last)
                    k = min(int(place), last - 1)
                    t[i] = table[k] + (place - float32(k)) * (table[k + 1] - table[k])
            if invert:
                for i in range(m):
                    t[i] = one - t[i]
            if mode == 1:
                for i in range(m):
                    t[i] = base[i] * t[i]
            elif mode == 2:
                for i in range(m):
                    t[i] = base[i] + t[i]
            elif mode == 3:
                for i in range(m):
                    t[i] = base[i] - t[i]
            elif mode == 4:
                for i in range(m):
                    t[i] = max(base[i], t[i])
            elif mode == 5:
                for i in range(m):
                    t[i] = min(base[i], t[i])
            for i in range(m):
                mixed = min(max(t[i], zero), one)
                result[i] = base[i] + share[i] * (mixed - base[i])

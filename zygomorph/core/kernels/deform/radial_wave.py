"""Waves that travel outwards from a centre."""

from __future__ import annotations

import numpy as np
from numba import float32, prange, types

from zygomorph.core.kernels.compiled import BLOCK, CHUNKS, F1, F1W, F2, first_of, kernel, load
from zygomorph.core.kernels.exponential import exponential
from zygomorph.core.kernels.noise.lattice import floor_to_int
from zygomorph.core.kernels.structure_of_arrays import split
from zygomorph.core.kernels.trigonometry import sine_cosine

TURN = float32(2 * np.pi)


@kernel(types.void(F2, F1, F1, F1, F1, F1, F1, F1, F1, F1, F1, F1, F1W), first=190)
def radial_wave(  # type: ignore[no-untyped-def]
    points,
    centre,
    level,
    amplitude,
    wavelength,
    phase,
    decay,
    front,
    packet,
    softness,
    distortion,
    pattern,
    out,
):
    """level : the axis that takes no part in the distance, or zero; pattern : (1,) or (P,)"""
    n = points.shape[0]
    flat = points.reshape(-1)
    blocks = (n + BLOCK - 1) // BLOCK
    cx, cy, cz = centre[0], centre[1], centre[2]
    ax, ay, az = level[0], level[1], level[2]
    one = float32(1.0)
    fades = np.any(decay != 0.0)
    packed = np.any(packet != 0.0)
    for chunk in prange(CHUNKS):
        work = np.empty((8, BLOCK), np.float32)
        x, y, z, far, soft, first, second, away = (
            work[0],
            work[1],
            work[2],
            work[3],
            work[4],
            work[5],
            work[6],
            work[7],
        )
        for block in range(first_of(chunk, blocks), first_of(chunk + 1, blocks)):
            lo = block * BLOCK
            m = min(BLOCK, n - lo)
            result = out[lo : lo + m]
            split(flat, lo, m, x, y, z)
            load(softness, lo, m, soft)
            for i in range(m):
                u, v, w = x[i] - cx, y[i] - cy, z[i] - cz
                along = u * ax + v * ay + w * az
                u, v, w = u - along * ax, v - along * ay, w - along * az
                square = u * u + v * v + w * w
                away[i] = np.sqrt(square)
                far[i] = np.sqrt(square + soft[i] * soft[i])
            load(distortion, lo, m, first)
            load(pattern, lo, m, second)
            for i in range(m):
                bent = first[i] * second[i]
                far[i] = far[i] + bent
                away[i] = max(away[i] + bent, float32(0.0))
            load(wavelength, lo, m, first)
            load(phase, lo, m, second)
            for i in range(m):
                cycles = far[i] / first[i] - second[i]
                # Whole cycles away first: a cosine of a large angle has lost its digits.
                _, c = sine_cosine(TURN * (cycles - float32(floor_to_int(cycles))))
                x[i] = c
            load(amplitude, lo, m, first)
            for i in range(m):
                result[i] = x[i] * first[i]
            if fades:
                load(decay, lo, m, first)
                for i in range(m):
                    result[i] = result[i] * exponential(-first[i] * away[i])
            if packed:
                load(front, lo, m, first)
                load(packet, lo, m, second)
                for i in range(m):
                    t = min(abs(away[i] - first[i]) / max(second[i], float32(1e-6)), one)
                    # A Hann window: exactly nothing outside, and no corner where it ends.
                    _, c = sine_cosine(TURN * float32(0.5) * t)
                    share = float32(0.5) + float32(0.5) * c if t < one else float32(0.0)
                    result[i] = result[i] * (share if second[i] > float32(0.0) else one)

"""Placements of copies as compact numbers for a viewer: twelve 16-bit numbers each."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np

from zygomorph.core.kernels.copies import bounds_of_copies, encode_placements


class EncodedCopies(NamedTuple):
    """rows : (K, 12) int16, ÷ 32767: the three rows of each placement, of which the first three
    numbers are shares of ``linear``, and the fourth is a share of ``half`` from ``middle``"""

    rows: np.ndarray
    linear: float
    middle: list[float]
    half: list[float]


def encode_copies(placements: np.ndarray) -> EncodedCopies:
    """placements : (K, 3, 4) float32, contiguous"""
    count = len(placements)
    spans = np.zeros((3, 3), np.float32)
    if count:
        # Of a base without extent: the box around the places alone.
        nothing = np.zeros((1, 3), np.float32)
        bounds_of_copies(placements, np.zeros(count, np.int32), nothing, nothing, spans)
    low, high = spans[0].astype(np.float64), spans[1].astype(np.float64)
    # A little more than half, so that rounding stays within.
    frame = np.stack([(low + high) / 2, (high - low) * (0.5 + 1e-6)]).astype(np.float32)
    linear = max(float(spans[2, 0]), 1e-12)
    rows = np.empty((count, 12), np.int16)
    encode_placements(placements, np.float32(linear), frame, rows)
    return EncodedCopies(rows, linear, frame[0].tolist(), frame[1].tolist())

"""Rows of a sparse matrix times columns of values: what carries elements through a new topology."""

from __future__ import annotations

from numba import float32, prange, types, uint32

from zygomorph.core.kernels.compiled import CHUNKS, F1, F2, F2W, I1, first_of, kernel


@kernel(types.void(I1, I1, F1, F2, F2W))
def combine_rows(starts, parents, weights, values, out):  # type: ignore[no-untyped-def]
    """starts, parents, weights : the matrix in CSR format; values : (old, k); out : (new, k)"""
    n, width = out.shape
    flat, flat_out = values.reshape(-1), out.reshape(-1)
    one, three = uint32(1), uint32(3)
    for chunk in prange(CHUNKS):
        lo, hi = first_of(chunk, n), first_of(chunk + 1, n)
        begins = starts[lo : hi + 1]
        k = uint32(begins[0])
        if width == 3:
            own = flat_out[3 * lo : 3 * hi]
            for row in range(hi - lo):
                x, y, z = float32(0.0), float32(0.0), float32(0.0)
                end = uint32(begins[row + 1])
                while k < end:
                    at = three * uint32(parents[k])
                    share = weights[k]
                    x += share * flat[at]
                    y += share * flat[at + one]
                    z += share * flat[at + one + one]
                    k += one
                own[3 * row] = x
                own[3 * row + 1] = y
                own[3 * row + 2] = z
        else:
            for row in range(hi - lo):
                end = uint32(begins[row + 1])
                for column in range(width):
                    total = float32(0.0)
                    for each in range(k, end):
                        at = uint32(parents[uint32(each)]) * uint32(width) + uint32(column)
                        total += weights[uint32(each)] * flat[at]
                    flat_out[(lo + row) * width + column] = total
                k = end


@kernel(types.void(I1, F2, F2W))
def take_rows(parents, values, out):  # type: ignore[no-untyped-def]
    """parents : (n,) rows of values, (old, 3), that become those of out, (n, 3)"""
    n = out.shape[0]
    flat, flat_out = values.reshape(-1), out.reshape(-1)
    one, three = uint32(1), uint32(3)
    for chunk in prange(CHUNKS):
        for row in range(first_of(chunk, n), first_of(chunk + 1, n)):
            at = three * uint32(parents[row])
            to = three * uint32(row)
            flat_out[to] = flat[at]
            flat_out[to + one] = flat[at + one]
            flat_out[to + one + one] = flat[at + one + one]

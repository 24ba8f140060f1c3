"""Elements that are let go: how far each is on its way, and where that brings it."""

from __future__ import annotations

from numba import float32, float64, prange, types, uint64

from zygomorph.core.kernels.compiled import CHUNKS, F1, F1W, F2, F2W, first_of, inline, kernel

I8 = types.Array(types.int64, 1, "C", readonly=True)


@inline
def _mixed(h):  # type: ignore[no-untyped-def]
    """See :func:`zygomorph.core.geometry.chance.mixed`."""
    h = (h ^ (h >> uint64(30))) * uint64(0xBF58476D1CE4E5B9)
    h = (h ^ (h >> uint64(27))) * uint64(0x94D049BB133111EB)
    return h ^ (h >> uint64(31))


@kernel(types.void(F2, I8, F1, I8, F1, F1, F1, F1, types.uint64, types.uint64, F1W, F2W))
def drifted(places, chosen, gone, ids, drift, uneven, fall, along, before, after, own, out):  # type: ignore[no-untyped-def]
    """Where the chosen elements have drifted and fallen to, without swirls.

    places : (K, 3); chosen : (m,) numbers of elements; gone, ids : (K,)
    drift, uneven, fall : (1,) or (K,) m, shares and m; along : (3,) of length 1
    before, after : hash of what chance goes by besides an id, up to it, and what is added after it
    own : (m,), written: how far each is on its way, from 0
    out : (m, 3)
    """
    n = chosen.shape[0]
    golden, one, two = uint64(0x9E3779B97F4A7C15), float32(1.0), float32(2.0)
    drifts, unevens, falls = drift.shape[0] != 1, uneven.shape[0] != 1, fall.shape[0] != 1
    x, y, z = along[0], along[1], along[2]
    for chunk in prange(CHUNKS):
        for k in range(first_of(chunk, n), first_of(chunk + 1, n)):
            e = chosen[k]
            h = _mixed(_mixed(before + uint64(ids[e]) * golden) + after)
            chance = float32(float64(h >> uint64(11)) * 2.0**-53)
            u = uneven[e] if unevens else uneven[0]
            share = gone[e] * (one - u + two * u * chance)
            far = share * (drift[e] if drifts else drift[0])
            own[k] = share
            out[k, 0] = places[e, 0] + far * x
            drop = (fall[e] if falls else fall[0]) * share * share
            out[k, 1] = places[e, 1] + far * y - drop
            out[k, 2] = places[e, 2] + far * z


@kernel(types.void(F2, F2, F1, F1, I8, F2W))
def swirled(places, flow, own, swirl, chosen, out):  # type: ignore[no-untyped-def]
    """The places of the chosen elements, moved on by a flow; those of others stay as they are.

    places, flow : (m, 3); own : (m,); swirl : (1,) or (K,) m; out : (K, 3)
    """
    n = chosen.shape[0]
    each = swirl.shape[0] != 1
    for chunk in prange(CHUNKS):
        for k in range(first_of(chunk, n), first_of(chunk + 1, n)):
            e = chosen[k]
            far = own[k] * (swirl[e] if each else swirl[0])
            for axis in range(3):
                out[e, axis] = places[k, axis] + far * flow[k, axis]


@kernel(types.void(F2, I8, F2W))
def put_back(places, chosen, out):  # type: ignore[no-untyped-def]
    """places : (m, 3) of the chosen elements; out : (K, 3), of which others stay as they are"""
    n = chosen.shape[0]
    for chunk in prange(CHUNKS):
        for k in range(first_of(chunk, n), first_of(chunk + 1, n)):
            for axis in range(3):
                out[chosen[k], axis] = places[k, axis]

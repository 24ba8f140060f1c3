"""Improved gradient noise in three dimensions.

K. Perlin, "Improving Noise", SIGGRAPH 2002: the quintic fade and the twelve edge gradients. The
published permutation table is replaced by an integer hash, which needs no memory look-ups and
repeats only after 2³² cells; the tests put the table back and compare with published values.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from llvmlite import ir
from numba import float32, int32, types
from numba.extending import intrinsic

from zygomorph.core.kernels.compiled import inline
from zygomorph.core.kernels.noise.lattice import cell_hash, fade, lerp, word


def signed(builder: Any, value: Any, h: Any, bit: int) -> Any:
    """``value`` with its sign turned where this bit of the hash is set."""
    sign = builder.and_(builder.shl(h, word(31 - bit)), word(0x80000000))
    turned = builder.xor(builder.bitcast(value, ir.IntType(32)), sign)
    return builder.bitcast(turned, ir.FloatType())


def total(builder: Any, a: Any, b: Any) -> Any:
    return builder.fadd(a, b, flags=("fast",))


def edge_parts(builder: Any, h: Any, x: Any, y: Any, z: Any) -> tuple[Any, Any, Any]:
    """The two coordinates whose sum is the product with an edge gradient, and the third one.

    The four upper bits of the hash are read as in Perlin's reference: below 8 picks x first,
    below 4 picks y second, 12 and 14 pick x second; the two lowest set the signs.
    """
    x_first = builder.icmp_signed(">=", h, word(0))
    first = builder.select(x_first, x, y)
    picked = builder.and_(h, word(0xD0000000))
    x_second = builder.icmp_unsigned("==", picked, word(0xC0000000))
    y_second = builder.icmp_unsigned("<", h, word(0x40000000))
    second = builder.select(y_second, y, builder.select(x_second, x, z))
    z_is_left = builder.or_(x_second, y_second)
    third = builder.select(z_is_left, z, builder.select(x_first, y, x))
    return signed(builder, first, h, 28), signed(builder, second, h, 29), third


@intrinsic
def edge_gradient(context: Any, h: Any, x: Any, y: Any, z: Any) -> Any:
    """Dot product of (x, y, z) with one of the 12 edge gradients, chosen by a hash."""

    def generate(_context: Any, builder: Any, _signature: Any, arguments: Any) -> Any:
        first, second, _ = edge_parts(builder, *arguments)
        return total(builder, first, second)

    return types.float32(types.uint32, types.float32, types.float32, types.float32), generate


def three_edge_parts(builder: Any, h: Any, x: Any, y: Any, z: Any) -> list[tuple[Any, Any, Any]]:
    """For each of three components the two coordinates whose sum is the product with its edge
    gradient, and the third one.

    The hash puts the axes in one of three orders p, q, r, all equally often, and the components
    are ±p ± q, ±q ± r and ±r ± p with six signs of their own: each is an edge chosen evenly from
    the twelve, and no two of them go together.
    """
    low = builder.icmp_unsigned("<", h, word(0x55555555))
    high = builder.icmp_unsigned(">", h, word(0xAAAAAAAA))

    def one_of(a: Any, b: Any, c: Any) -> Any:
        return builder.select(low, a, builder.select(high, b, c))

    p, q, r = one_of(x, z, y), one_of(y, x, z), one_of(z, y, x)
    return [
        (signed(builder, a, h, bit), signed(builder, b, h, bit - 1), c)
        for a, b, c, bit in ((p, q, r, 21), (q, r, p, 19), (r, p, q, 17))
    ]


@intrinsic
def three_edge_gradients(context: Any, h: Any, x: Any, y: Any, z: Any) -> Any:
    """Dot products of (x, y, z) with an edge gradient for each of three components, by one hash."""

    def generate(context: Any, builder: Any, signature: Any, arguments: Any) -> Any:
        parts = [total(builder, a, b) for a, b, _ in three_edge_parts(builder, *arguments)]
        return context.make_tuple(builder, signature.return_type, parts)

    returned = types.UniTuple(types.float32, 3)
    return returned(types.uint32, types.float32, types.float32, types.float32), generate


def make_gradient_noise(corner_hash: Callable) -> Callable:
    """Build the noise function on a given hash of lattice points.

    The result takes the cell (ix, iy, iz), the cells after it along each axis (jx, jy, jz; they
    differ from +1 where the lattice wraps), the place inside the cell and the seed.
    """

    @inline
    def noise(ix, iy, iz, jx, jy, jz, x, y, z, seed):  # type: ignore[no-untyped-def]
        one = float32(1.0)
        u = fade(x)
        v = fade(y)
        w = fade(z)
        a = lerp(
            edge_gradient(corner_hash(ix, iy, iz, seed), x, y, z),
            edge_gradient(corner_hash(jx, iy, iz, seed), x - one, y, z),
            u,
        )
        b = lerp(
            edge_gradient(corner_hash(ix, jy, iz, seed), x, y - one, z),
            edge_gradient(corner_hash(jx, jy, iz, seed), x - one, y - one, z),
            u,
        )
        c = lerp(
            edge_gradient(corner_hash(ix, iy, jz, seed), x, y, z - one),
            edge_gradient(corner_hash(jx, iy, jz, seed), x - one, y, z - one),
            u,
        )
        d = lerp(
            edge_gradient(corner_hash(ix, jy, jz, seed), x, y - one, z - one),
            edge_gradient(corner_hash(jx, jy, jz, seed), x - one, y - one, z - one),
            u,
        )
        return lerp(lerp(a, b, v), lerp(c, d, v), w)

    return noise


gradient_noise = make_gradient_noise(cell_hash)


@inline
def lerp_each(a, b, t):  # type: ignore[no-untyped-def]
    return lerp(a[0], b[0], t), lerp(a[1], b[1], t), lerp(a[2], b[2], t)


@inline
def edge_of_three(ix, jx, iy, iz, x, y, z, u, seed):  # type: ignore[no-untyped-def]
    """Three components blended along the edge of a cell that runs along x; u : faded x."""
    near = three_edge_gradients(cell_hash(ix, iy, iz, seed), x, y, z)
    far = three_edge_gradients(cell_hash(jx, iy, iz, seed), x - float32(1.0), y, z)
    return lerp_each(near, far, u)


@inline
def three_gradient_noises(ix, iy, iz, jx, x, y, z, seed):  # type: ignore[no-untyped-def]
    """Gradient noise of three components that share the hash of each lattice point.

    The cell (ix, iy, iz), the cell after it along x, the place inside the cell, and the seed.
    """
    u, v, w = fade(x), fade(y), fade(z)
    jy, jz = int32(iy + int32(1)), int32(iz + int32(1))
    y1, z1 = y - float32(1.0), z - float32(1.0)
    a = edge_of_three(ix, jx, iy, iz, x, y, z, u, seed)
    b = edge_of_three(ix, jx, jy, iz, x, y1, z, u, seed)
    c = edge_of_three(ix, jx, iy, jz, x, y, z1, u, seed)
    d = edge_of_three(ix, jx, jy, jz, x, y1, z1, u, seed)
    return lerp_each(lerp_each(a, b, v), lerp_each(c, d, v), w)

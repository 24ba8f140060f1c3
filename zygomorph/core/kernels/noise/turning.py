"""Flow noise: what stands at each lattice point turns by whole cycles of its own.

K. Perlin & F. Neyret, "Flow Noise", SIGGRAPH 2001 (technical sketches): the gradients of gradient
noise turn with time. Here each turns about an axis of its own, by one, two or three whole cycles
a loop, chosen by its hash, so that the pattern returns exactly and no two of its moments are
alike. The axis is tilted against the gradient by arccos √TILT, so that a part of it stays: turns
of 1, 2 and 3 cycles alone would leave moments 0.2 of a loop apart correlated by -0.43; with it
the correlation between moments a turn Δ apart,

    TILT + (1 - TILT) (cos Δ + cos 2Δ + cos 3Δ) / 3,

is within ±0.2 for all that are an eighth of a loop or more apart (derived).

Half a loop apart a gradient is again what it was, or its negative, which is the same where noise
is folded. So the lattice of each octave also sways round a small circle, by which those moments
are read at different places. The variance is the same at every moment, and at no turn the pattern
is that of the still noise.
"""

from __future__ import annotations

from typing import Any

import numpy as np
from llvmlite import ir
from numba import float32, int32, types, uint32
from numba.extending import intrinsic

from zygomorph.core.kernels.compiled import inline, per_block
from zygomorph.core.kernels.noise.gradient import edge_parts, signed, three_edge_parts, total
from zygomorph.core.kernels.noise.lattice import floor_to_int, signed_unit, word
from zygomorph.core.kernels.noise.octaves import wrapped

# Share of the power that stands still.
TILT = 1.0 / 6.0
# A gradient ±p ± q is a part along its axis, ALONG·p + ACROSS·q, and the rest of it, which turns
# towards the third axis: both sides are perpendicular and have the lengths √(2 TILT) and
# √(2 (1 - TILT)) (the roots of t² - 2 TILT t + TILT (2 TILT - 1) / 1, derived).
ALONG = TILT + np.sqrt(TILT * (1.0 - TILT))
ACROSS = TILT - np.sqrt(TILT * (1.0 - TILT))
THIRD = np.sqrt(2.0 * (1.0 - TILT))
# Rows of an array of turns: cosine and sine of one, two and three times the angle.
TURNS = 6


@per_block
def load_turns(angle, lo, m, turns):  # type: ignore[no-untyped-def]
    """Cosine and sine of 1, 2 and 3 times the angle at each point of a block.

    angle : (1 or n, 2) float32, cosine and sine; turns : (TURNS, BLOCK) float32
    """
    for i in range(m):
        k = 0 if angle.shape[0] == 1 else lo + i
        c, s = angle[k, 0], angle[k, 1]
        turns[0, i], turns[1, i] = c, s
        turns[2, i], turns[3, i] = float32(2.0) * c * c - float32(1.0), float32(2.0) * s * c
        turns[4, i] = c * (float32(4.0) * c * c - float32(3.0))
        turns[5, i] = s * (float32(3.0) - float32(4.0) * s * s)


@per_block
def swayed(x, y, z, turns, frequency, sway, m, place):  # type: ignore[no-untyped-def]
    """Points in the cells of an octave, whose lattice sways; divided by its frequency.

    sway : (6,) float32, two perpendicular radii of its circle, in cells; place : (3, BLOCK)
    """
    p, q, r, c, s = place[0], place[1], place[2], turns[0], turns[1]
    a, b = sway[:3] / frequency, sway[3:] / frequency
    for i in range(m):
        k = c[i] - float32(1.0)
        p[i] = x[i] + k * a[0] + s[i] * b[0]
        q[i] = y[i] + k * a[1] + s[i] * b[1]
        r[i] = z[i] + k * a[2] + s[i] * b[2]


@inline
def turn_at(turns, i):  # type: ignore[no-untyped-def]
    """Cosine and sine of one, two and three times the angle at a point of a block."""
    return turns[0, i], turns[1, i], turns[2, i], turns[3, i], turns[4, i], turns[5, i]


@inline
def lattice_of(offsets, sways, octave):  # type: ignore[no-untyped-def]
    """Offset of an octave's lattice, and how it sways: nine numbers, in cells."""
    o, s = offsets[octave], sways[octave]
    return o[0], o[1], o[2], s[0], s[1], s[2], s[3], s[4], s[5]


@inline
def swaying_cell(x, y, z, travel, frequency, span, lattice, turn):  # type: ignore[no-untyped-def]
    """The cell of an octave's swaying lattice that a point is in: column, the column after it, row,
    layer, and the place inside it.

    lattice : see :func:`lattice_of`; turn : see :func:`turn_at`
    """
    ox, oy, oz, ax, ay, az, bx, by, bz = lattice
    sine, gone = turn[1], turn[0] - float32(1.0)
    u = x * frequency + ox - travel * span + gone * ax + sine * bx
    v = y * frequency + oy + gone * ay + sine * by
    w = z * frequency + oz + gone * az + sine * bz
    ix, iy, iz = floor_to_int(u), floor_to_int(v), floor_to_int(w)
    start = wrapped(float32(ix), span, float32(1.0) / span)
    end = start + float32(1.0)
    after = int32(end if end < span else float32(0.0))
    return int32(start), after, iy, iz, u - float32(ix), v - float32(iy), w - float32(iz)


def _turn_of(builder: Any, bits: Any, angles: Any) -> tuple[Any, Any]:
    """Cosine and sine of one, two or three times the angle, equally often, by 32 random bits."""
    low = builder.icmp_unsigned("<", bits, word(0x55555555))
    high = builder.icmp_unsigned(">", bits, word(0xAAAAAAAA))

    def one_of(*rows: int) -> Any:
        one, two, three = (builder.extract_value(angles, row) for row in rows)
        return builder.select(low, one, builder.select(high, two, three))

    return one_of(0, 2, 4), one_of(1, 3, 5)


def _fixed(value: float) -> ir.Constant:
    return ir.Constant(ir.FloatType(), float(np.float32(value)))


def _scaled(builder: Any, value: Any, factor: Any) -> Any:
    return builder.fmul(value, factor, flags=("fast",))


def _turned(builder: Any, parts: tuple[Any, Any, Any], swap: Any, turn: tuple[Any, Any]) -> Any:
    """The product with a gradient that has turned.

    parts : the products with its two parts, signs included, and with its third axis
    swap : bit that says which of the two parts lies more along the axis of turning
    turn : cosine and sine
    """
    (a, b, third), (cosine, sine) = parts, turn
    first, second = builder.select(swap, a, b), builder.select(swap, b, a)

    def mix(still: float) -> Any:
        return total(builder, _fixed(still), _scaled(builder, cosine, _fixed(1.0 - still)))

    along = _scaled(builder, first, mix(ALONG))
    across = _scaled(builder, second, mix(ACROSS))
    aside = _scaled(builder, third, _scaled(builder, sine, _fixed(THIRD)))
    return total(builder, total(builder, along, across), aside)


def _bit(builder: Any, h: Any, bit: int) -> Any:
    return builder.trunc(builder.lshr(h, word(bit)), ir.IntType(1))


TURN = types.UniTuple(types.float32, TURNS)
PLACE = (types.float32,) * 3


@intrinsic
def flow_gradient(context: Any, h: Any, x: Any, y: Any, z: Any, turn: Any) -> Any:
    """Dot product of (x, y, z) with the edge gradient of a hash after its turn, see
    :func:`turn_at`."""

    def generate(_context: Any, builder: Any, _signature: Any, arguments: Any) -> Any:
        h, x, y, z, angles = arguments
        a, b, third = edge_parts(builder, h, x, y, z)
        turn = _turn_of(builder, builder.shl(h, word(4)), angles)
        aside = signed(builder, third, h, 19)
        return _turned(builder, (a, b, aside), _bit(builder, h, 18), turn)

    return types.float32(types.uint32, *PLACE, TURN), generate


@intrinsic
def three_flow_gradients(context: Any, h: Any, x: Any, y: Any, z: Any, turn: Any) -> Any:
    """Dot products of (x, y, z) with the gradients of three components after their turn.

    They turn by the same number of cycles, each in a direction of its own.
    """

    def generate(context: Any, builder: Any, signature: Any, arguments: Any) -> Any:
        h, x, y, z, angles = arguments
        # The upper bits of the hash say which edges they are; these are drawn once more.
        g = builder.xor(h, builder.lshr(h, word(16)))
        g = builder.mul(g, word(0x21F0AAAD))
        turn = _turn_of(builder, builder.shl(g, word(6)), angles)
        found = []
        for k, (a, b, third) in enumerate(three_edge_parts(builder, h, x, y, z)):
            aside = signed(builder, third, g, 31 - k)
            found.append(_turned(builder, (a, b, aside), _bit(builder, g, 28 - k), turn))
        return context.make_tuple(builder, signature.return_type, found)

    returned = types.UniTuple(types.float32, 3)
    return returned(types.uint32, *PLACE, TURN), generate


@intrinsic
def turned_height(context: Any, height: Any, bits: Any, turn: Any) -> Any:
    """A number on a closed path that begins at ``height``, -1 to 1.

    It is a coordinate of a point of the unit sphere that turns about a tilted axis. Points on a
    sphere have coordinates that are spread evenly (Archimedes), so that it is evenly spread at
    every moment. Of the circle of points with this coordinate the bits choose one of eight, an
    eighth of a turn apart, which is as good as all of them for the first seven moments of the
    spread (the trapezoidal rule is exact for that many cycles).

    bits : uint32, random; the upper three choose the point, those below them how often it turns
    """

    def generate(_context: Any, builder: Any, _signature: Any, arguments: Any) -> Any:
        height, bits, angles = arguments
        cosine, sine = _turn_of(builder, builder.shl(bits, word(3)), angles)
        root = builder.module.declare_intrinsic("llvm.sqrt", [ir.FloatType()])
        square = builder.fmul(height, height, flags=("fast",))
        ring = builder.call(root, [builder.fsub(_fixed(1.0), square, flags=("fast",))])
        swap = _bit(builder, bits, 31)

        def of_ring(bit: int, one: float, other: float) -> Any:
            factor = builder.select(swap, _fixed(one), _fixed(other))
            return signed(builder, factor, bits, bit)

        near, far = np.cos(np.pi / 8), np.sin(np.pi / 8)
        aside, above = np.sqrt(TILT * (1.0 - TILT)), np.sqrt(1.0 - TILT)
        # The part along the axis is TILT·height + aside·ring; what is left of the height turns.
        turned = total(
            builder,
            _scaled(builder, height, _fixed(TILT - 1.0)),
            _scaled(builder, ring, of_ring(30, aside * near, aside * far)),
        )
        across = _scaled(builder, ring, of_ring(29, above * far, above * near))
        gone = builder.fsub(_fixed(1.0), cosine, flags=("fast",))
        moved = total(builder, _scaled(builder, gone, turned), _scaled(builder, sine, across))
        return total(builder, height, moved)

    return types.float32(types.float32, types.uint32, TURN), generate


@inline
def flow_height(h, x, y, z, turn):  # type: ignore[no-untyped-def]
    """The height of value noise at a lattice point after its turn; at no turn that of the hash.
    Where the point is seen from plays no part."""
    return turned_height(signed_unit(h), uint32(h << uint32(14)), turn)

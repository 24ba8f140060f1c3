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

from zygomorph.core.compiled import inline, per_block
from zygomorph.core.noise.gradient import edge_parts, signed, three_edge_parts, total
from zygomorph.core.noise.lattice import cell_hash, mixed, signed_unit, word

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


def _one_of(builder: Any, bits: Any, parts: list[Any]) -> Any:
    """One of three values, equally often, by 32 random bits."""
    low = builder.icmp_unsigned("<", bits, word(0x55555555))
    high = builder.icmp_unsigned(">", bits, word(0xAAAAAAAA))
    return builder.select(low, parts[0], builder.select(high, parts[1], parts[2]))


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


FLOATS = (types.float32,) * 9


@intrinsic
def flow_gradient(
    context: Any,
    h: Any,
    x: Any,
    y: Any,
    z: Any,
    c1: Any,
    s1: Any,
    c2: Any,
    s2: Any,
    c3: Any,
    s3: Any,
) -> Any:
    """Dot product of (x, y, z) with the edge gradient of a hash after its turn.

    c1 … s3 : cosine and sine of one, two and three times the angle
    """

    def generate(_context: Any, builder: Any, _signature: Any, arguments: Any) -> Any:
        h, x, y, z, c1, s1, c2, s2, c3, s3 = arguments
        a, b, third = edge_parts(builder, h, x, y, z)
        speed = builder.shl(h, word(4))
        turn = _one_of(builder, speed, [c1, c2, c3]), _one_of(builder, speed, [s1, s2, s3])
        aside = signed(builder, third, h, 19)
        return _turned(builder, (a, b, aside), _bit(builder, h, 18), turn)

    return types.float32(types.uint32, *FLOATS), generate


@intrinsic
def three_flow_gradients(
    context: Any,
    h: Any,
    x: Any,
    y: Any,
    z: Any,
    c1: Any,
    s1: Any,
    c2: Any,
    s2: Any,
    c3: Any,
    s3: Any,
) -> Any:
    """Dot products of (x, y, z) with the gradients of three components after their turn.

    They turn by the same number of cycles, each in a direction of its own.
    """

    def generate(context: Any, builder: Any, signature: Any, arguments: Any) -> Any:
        h, x, y, z, c1, s1, c2, s2, c3, s3 = arguments
        # The upper bits of the hash say which edges they are; these are drawn once more.
        g = builder.xor(h, builder.lshr(h, word(16)))
        g = builder.mul(g, word(0x21F0AAAD))
        speed = builder.shl(g, word(6))
        turn = _one_of(builder, speed, [c1, c2, c3]), _one_of(builder, speed, [s1, s2, s3])
        found = []
        for k, (a, b, third) in enumerate(three_edge_parts(builder, h, x, y, z)):
            aside = signed(builder, third, g, 31 - k)
            found.append(_turned(builder, (a, b, aside), _bit(builder, g, 28 - k), turn))
        return context.make_tuple(builder, signature.return_type, found)

    returned = types.UniTuple(types.float32, 3)
    return returned(types.uint32, *FLOATS), generate


@inline
def third_of(bits, one, two, three):  # type: ignore[no-untyped-def]
    """One of three values, equally often, by 32 random bits."""
    return one if bits < uint32(0x55555555) else (three if bits < uint32(0xAAAAAAAA) else two)


@inline
def sine_of_quarter(t):  # type: ignore[no-untyped-def]
    """sin(πt/2) for t from -1 to 1, within 2e-4 (Taylor's terms, fitted at the end; derived)."""
    t2 = t * t
    return t * (float32(1.5706) - t2 * (float32(0.6432) - t2 * float32(0.0727)))


@inline
def cosine_of_quarter(t):  # type: ignore[no-untyped-def]
    """cos(πt/2) for t from -1 to 1, which has no sign, within 1e-4 (Taylor's terms, the last one
    such that it is 0 at both ends; derived)."""
    t2 = t * t
    return float32(1.0) - t2 * (
        float32(1.2337006) - t2 * (float32(0.2536695) - t2 * float32(0.0199689))
    )


@inline
def on_path(a, t, cosine, sine):  # type: ignore[no-untyped-def]
    """A coordinate on a closed path that begins at ``a``, -1 to 1.

    It is that of a point of the unit sphere which turns about a tilted axis; on a sphere every
    coordinate is spread evenly (Archimedes), so that it is evenly spread at every moment.

    t : -1 to 1, says which of the sphere's points with this coordinate it is
    """
    ring = np.sqrt(max(float32(1.0) - a * a, float32(0.0)))
    half = t + t
    # Half a turn to each side: the sign of cos is that of 1 - |2t|.
    folded = half - (float32(2.0) if half > float32(1.0) else float32(0.0))
    folded = folded + (float32(2.0) if half < float32(-1.0) else float32(0.0))
    flip = float32(1.0) if abs(half) <= float32(1.0) else float32(-1.0)
    aside = ring * flip * cosine_of_quarter(folded)
    above = ring * flip * sine_of_quarter(folded)
    still = float32(TILT) * a + float32(np.sqrt(TILT * (1.0 - TILT))) * aside
    return still + cosine * (a - still) + sine * float32(np.sqrt(1.0 - TILT)) * above


@inline
def flow_value(ix, iy, iz, seed, c1, s1, c2, s2, c3, s3):  # type: ignore[no-untyped-def]
    """The height of value noise at a lattice point after its turn; at no turn that of the hash."""
    h = cell_hash(ix, iy, iz, seed)
    g = mixed(h)
    speed = uint32(g << uint32(16))
    t = float32(int32(g) >> int32(16)) * float32(1.0 / 32768.0)
    return on_path(signed_unit(h), t, third_of(speed, c1, c2, c3), third_of(speed, s1, s2, s3))

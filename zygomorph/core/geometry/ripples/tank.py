"""A tank of water: its heights and speeds, and what they are a while later."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from zygomorph.core.errors import ZygomorphError
from zygomorph.core.kernels.ripples import run, spread_out

# Steps may be this share of the longest ones by which waves stay bounded (R. Courant, K. Friedrichs
# & H. Lewy, 1928): dt √(8 c² / cell² + r) < 2.
SAFE = 0.9
# Cells that waves may cross in a step at most on a square grid, where nothing draws them to rest.
COURANT = 0.5**0.5
# More steps than this within a frame take too long.
MOST_STEPS = 400
# Of what a cell has more than those around it, the share that goes to each of them at once; beyond
# 1 / 4 the field would swing.
SPREADS = 0.2
# Waves that have gone through the rim and back have this share of their height, were they to meet
# the damping there head-on.
BACK = 1e-3
NONE = np.empty((0, 0), np.float32)
# Heights beyond this many metres are a mistake.
HIGHEST = 1e5


@dataclass(frozen=True)
class Water:
    """How the water moves.

    speed : of waves, m/s; damping : per second; stiffness : to rest, per second²
    smoothing : m²/s, by which motion spreads to what is around it
    """

    speed: float
    damping: float = 0.0
    stiffness: float = 0.0
    smoothing: float = 0.0


@dataclass(frozen=True)
class Basin:
    """size : of a cell, metres
    water : (rows, columns) bool, or None where there is water everywhere
    absorbs : (rows, columns) float32, damping per second and m/s of waves, or None
    """

    size: float
    water: np.ndarray | None = None
    absorbs: np.ndarray | None = None


@dataclass(frozen=True)
class State:
    """heights, speeds : (rows, columns) float32, metres and m/s"""

    heights: np.ndarray
    speeds: np.ndarray


def at_rest(shape: tuple[int, int]) -> State:
    return State(np.zeros(shape, np.float32), np.zeros(shape, np.float32))


def steps_for(water: Water, size: float, seconds: float) -> int:
    """Steps within so many seconds by which waves stay bounded.

    Raises ZygomorphError where they would be too many, with the speed that goes.
    """
    highest = np.sqrt(8 * (water.speed / size) ** 2 + water.stiffness)
    needed = int(np.ceil(seconds * highest / (2 * SAFE)))
    if needed > MOST_STEPS:
        left = (2 * SAFE * MOST_STEPS / seconds) ** 2 - water.stiffness
        speed = size * np.sqrt(max(left, 0.0) / 8)
        raise ZygomorphError(
            f"Waves of {water.speed:g} m/s on cells of {size:.3g} m need {needed:,} steps a frame; "
            f"the limit is {MOST_STEPS}.",
            f"Up to {speed:.2g} m/s go on this grid; a coarser one takes faster waves."
            if speed > 0
            else "Make it less stiff.",
        )
    return max(needed, 1)


def step_words(water: Water, basin_shape: tuple[int, int], size: float, seconds: float) -> str:
    """What was chosen for a grid of cells, (rows, columns) of so many metres, in a sentence."""
    steps = steps_for(water, size, seconds)
    crossed = water.speed * seconds / steps / size
    rows, columns = basin_shape
    a_frame = "1 step" if steps == 1 else f"{steps} steps"
    return (
        f"{a_frame} a frame on {columns} × {rows} cells of {1000 * size:.3g} mm; in each, waves "
        f"cross {crossed:.2f} of a cell, where {COURANT:.2f} is the limit"
    )


def advanced(
    state: State, water: Water, basin: Basin, push: np.ndarray | None, seconds: float, steps: int
) -> State:
    """The state so many seconds later, by so many steps.

    push : (rows, columns) float32, m/s² upwards, or None

    Raises ZygomorphError where waves have grown beyond all bounds.
    """
    if seconds <= 0:
        return state
    dt = seconds / steps
    if water.smoothing > 0:
        # Half of it in heights and half in speeds: waves fade as by ν ∇²h′, in whichever part of
        # their swing they are.
        state = State(
            _softened(state.heights, water, basin, seconds / 2),
            _softened(state.speeds, water, basin, seconds / 2),
        )
    walled = basin.water is not None or basin.absorbs is not None
    shape = state.heights.shape
    now = np.pad(state.heights, 1)
    before = np.pad(state.heights - np.float32(dt) * state.speeds, 1)
    pushed = NONE if push is None else np.ascontiguousarray(push * dt**2, np.float32)
    wet, keeps = NONE, NONE
    keep = float(np.exp(-water.damping * dt))
    if walled:
        known = np.ones(shape, np.float32) if basin.water is None else basin.water
        # The cells beyond the grid are walls.
        wet = np.pad(known.astype(np.float32), 1)
        damping = 0.0 if basin.absorbs is None else basin.absorbs * water.speed
        keeps = np.full(shape, keep, np.float32) * np.exp(-damping * dt).astype(np.float32)
        pushed = np.zeros(shape, np.float32) if push is None else pushed
    pull = (water.speed * dt / basin.size) ** 2
    run(
        now,
        before,
        pushed,
        wet,
        keeps,
        np.float32(pull),
        np.float32(water.stiffness * dt**2),
        np.float32(keep),
        steps,
    )
    last, other = (now, before) if steps % 2 == 0 else (before, now)
    heights = np.ascontiguousarray(last[1:-1, 1:-1])
    speeds = (heights - other[1:-1, 1:-1]) / np.float32(dt)
    highest = np.abs(heights).max()
    if not highest < HIGHEST:
        raise ZygomorphError(
            "The waves grow beyond all bounds.",
            "Make drops and pushes weaker, or damp the water.",
        )
    return State(heights, speeds)


def _softened(field: np.ndarray, water: Water, basin: Basin, seconds: float) -> np.ndarray:
    """A field after it has spread for so long: ∂f/∂t = smoothing ∇²f."""
    whole = water.smoothing * seconds / basin.size**2
    passes = int(np.ceil(whole / SPREADS))
    if passes > MOST_STEPS:
        most = MOST_STEPS * SPREADS * basin.size**2 / seconds
        raise ZygomorphError(
            f"A smoothing of {water.smoothing:g} m²/s needs {passes:,} passes a frame.",
            f"Up to {most:.2g} m²/s go on this grid.",
        )
    wet = NONE if basin.water is None else np.pad(basin.water.astype(np.float32), 1)
    other = np.empty_like(field)
    field = field.copy()
    for _ in range(passes):
        spread_out(field, other, wet, np.float32(whole / passes))
        field, other = other, field
    return field


def absorbing(outside: np.ndarray, margin: float) -> np.ndarray:
    """(rows, columns) float32 damping around a basin, to be multiplied by the speed of the waves:
    it rises by the square of the distance, so that nothing is thrown back where it begins.

    outside : (rows, columns) metres from the basin, 0 within; margin : how far the grid goes on,
        metres
    """
    # A wave loses exp(-∫ g / 2c) on its way, there and back.
    strongest = 3 * np.log(1 / BACK) / margin
    found: np.ndarray = strongest * np.minimum(outside / margin, 1) ** 2
    return found.astype(np.float32)

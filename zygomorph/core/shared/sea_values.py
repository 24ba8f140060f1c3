"""The values of a sea: what makes its waves, the tile that it is made of, and how it repeats."""

from __future__ import annotations

import numpy as np

from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.document.loop import Loop
from zygomorph.core.geometry.sea.amplitudes import Weather
from zygomorph.core.geometry.sea.dispersion import GRAVITY
from zygomorph.core.values.value import SEED, Value, choice, fineness, number

# A wind that suits a new sea, m/s; its fetch is then chosen for waves of a fitting length.
WIND = 6.0

SEA_VALUES: dict[str, Value] = {
    "wind": number(
        WIND, "Wind", "Its speed 10 m over the water.", "m/s", (0.5, 25.0), hard=(0.0, 80.0)
    ),
    "fetch": number(
        5.0,
        "Fetch",
        "How far the wind blows over open water: farther makes longer and higher waves.",
        "km",
        (0.001, 1000.0),
        scale="log",
        hard=(1e-5, 1e5),
        shown_when=("spectrum", ("jonswap",)),
    ),
    "direction": number(
        20.0,
        "Direction",
        "Where the wind blows to: 0° is along the x axis, 90° against the z axis.",
        "°",
        (-180.0, 180.0),
        period=360.0,
    ),
    "height": number(
        100.0,
        "Height",
        "Of what wind and swell make.",
        "%",
        (0.0, 300.0),
        hard=(-1e4, 1e4),
    ),
    "choppiness": number(
        100.0,
        "Choppiness",
        "How far water goes towards the crests: these are sharp, and turn over beyond some value.",
        "%",
        (0.0, 150.0),
        hard=(0.0, 1000.0),
    ),
    "tile": number(
        20.0,
        "Tile",
        "The square after which the sea repeats along x and z.",
        "m",
        (1.0, 500.0),
        scale="log",
        hard=(1e-3, 1e6),
        moves=False,
    ),
    "grid": fineness(
        256,
        "Grid",
        "Points of a tile along each side at which waves are made.",
        (128, 512),
        (64, 1024),
        (16, 2048),
        unit="points",
        moves=False,
        tested_to=64,
    ),
    "spectrum": choice(
        "jonswap",
        "Spectrum",
        "The waves of a wind that blows over a fetch, or over the open sea for days; or of a "
        "simple law of powers.",
        {
            "jonswap": "JONSWAP",
            "pierson_moskowitz": "Pierson–Moskowitz",
            "phillips": "Phillips",
        },
        main=False,
    ),
    "spread": number(
        30.0,
        "Spread",
        "How far the ways of the waves differ from the wind’s: the standard deviation.",
        "°",
        (2.0, 80.0),
        hard=(1.0, 80.0),
        main=False,
    ),
    "depth": number(
        200.0,
        "Depth",
        "Of the water: where it is shallow waves are lower and slower.",
        "m",
        (0.1, 500.0),
        scale="log",
        hard=(1e-3, 1e5),
        main=False,
        idle=200.0,
    ),
    "smallest": number(
        0.0,
        "Smallest wave",
        "Waves that are shorter are left out; 0 is as short as the grid allows.",
        "m",
        (0.0, 5.0),
        hard=(0.0, 1e6),
        main=False,
        idle=0.0,
    ),
    "swell_height": number(
        0.0,
        "Swell",
        "The height of waves from far away, from trough to crest.",
        "m",
        (0.0, 5.0),
        hard=(0.0, 100.0),
        idle=0.0,
        main=False,
    ),
    "swell_period": number(
        8.0,
        "Swell every",
        "From crest to crest.",
        "s",
        (0.5, 20.0),
        hard=(0.05, 100.0),
        main=False,
    ),
    "swell_direction": number(
        -30.0,
        "Swell runs to",
        "0° is along the x axis, 90° against the z axis.",
        "°",
        (-180.0, 180.0),
        period=360.0,
        main=False,
    ),
    "swell_spread": number(
        10.0,
        "Spread of swell",
        "How far its ways differ.",
        "°",
        (2.0, 45.0),
        hard=(1.0, 80.0),
        main=False,
    ),
    "repeats": choice(
        "loop",
        "Repeats after",
        "Every wave goes up and down whole times in it, once at least; or each at its own speed, "
        "and the sea never repeats.",
        {"loop": "the loop", "set": "a time", "never": "never"},
        main=False,
    ),
    "period": number(
        10.0,
        "Time",
        "After which the sea repeats.",
        "s",
        (1.0, 60.0),
        hard=(0.1, 1e5),
        shown_when=("repeats", ("set",)),
        moves=False,
        main=False,
    ),
    "seed": SEED,
}


def _towards(values: Resolved, name: str) -> float:
    """An angle about the y axis from x, as an angle from x towards z."""
    return -float(np.radians(values.scalar(name) % 360.0))


def weather_of(values: Resolved) -> Weather:
    """What makes the waves."""

    def spread(name: str) -> float:
        return float(np.radians(values.scalar(name)))

    return Weather(
        values.discrete("spectrum"),
        values.scalar("wind"),
        1000 * values.scalar("fetch"),
        values.scalar("depth"),
        _towards(values, "direction"),
        spread("spread"),
        values.scalar("swell_height"),
        values.scalar("swell_period"),
        _towards(values, "swell_direction"),
        spread("swell_spread"),
        values.scalar("smallest"),
    )


def cells_of(values: Resolved) -> int:
    """Points of the grid along a side: an even number."""
    return 2 * round(values.scalar("grid") / 2)


def period_of(values: Resolved, loop: Loop) -> tuple[float, bool]:
    """Seconds to which the cycles of waves refer, and whether each has whole ones in them."""
    repeats = values.discrete("repeats")
    return (values.scalar("period") if repeats == "set" else loop.seconds), repeats != "never"


def moment_of(values: Resolved, loop: Loop, frame: float) -> float:
    """A frame in periods of the sea."""
    if values.discrete("repeats") == "set":
        return frame / loop.rate / values.scalar("period")
    return frame / loop.frames


def opens(values: Resolved, loop: Loop) -> tuple[str, str] | None:
    """The value for which the sea is another one at the end of the loop, and what closes it."""
    if values.discrete("repeats") == "never":
        return "repeats", "loop"
    turns = loop.seconds / values.scalar("period")
    if values.discrete("repeats") == "set" and abs(turns - round(turns)) > 1e-9:
        return "repeats", "loop"
    return None


def fetch_for(length: float) -> float:
    """Kilometres over which WIND makes waves of which the highest are so long, in metres."""
    frequency = np.sqrt(2 * np.pi * GRAVITY / length)
    # Hasselmann's peak ω = 22 (g² / U F)^⅓, solved for F.
    fetch = GRAVITY**2 * (22 / frequency) ** 3 / WIND
    return float(f"{np.clip(fetch / 1000, 1e-3, 1e3):.2g}")

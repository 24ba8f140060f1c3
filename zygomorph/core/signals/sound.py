"""How loud a sound is, or a band of its frequencies, softened by attack and release."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

import numpy as np
import scipy

from zygomorph.core.catalogue import Definition
from zygomorph.core.loop import Loop
from zygomorph.core.sound.track import Track, follow
from zygomorph.core.ties import NO_TIES, Ties
from zygomorph.core.values import choice, number, sound, switch

# Seconds over which a level is evened out: what jumps within a frame is not seen as a beat.
SOFT = 0.02
BANDS = {
    "all": (0.0, 1e6),
    "low": (20.0, 200.0),
    "middle": (200.0, 2000.0),
    "high": (2000.0, 16_000.0),
}


def heard(
    track: Track,
    band: tuple[float, float],
    attack: float,
    release: float,
    part: tuple[float, float],
) -> tuple[np.ndarray, float]:
    """A part of the sound as levels from 0 to 1, one each hundredth of a second or finer.

    part : seconds from and to; it goes round, so that its end meets its beginning
    returns levels (T,) and seconds from one to the next
    """
    key = ("heard", band, attack, release, part)
    if key not in track._made:
        level, at = track.level(*band)
        begin, length = part
        count = max(2, round(length * 120))
        step = length / count
        places = np.mod(begin + np.arange(count) * step, track.seconds)
        found = follow(np.interp(places, at, level), step, attack, release)
        found = scipy.ndimage.gaussian_filter1d(found, SOFT / step, mode="wrap")
        # Against the loudest moment of the whole sound, so that a quiet part stays quiet.
        loudest = float(level.max())
        track._made[key] = found / loudest if loudest > 0 else found
    found_levels: np.ndarray = track._made[key]
    return found_levels, part[1] / len(found_levels)


def _track_of(values: Mapping[str, Any], ties: Ties) -> Track | None:
    name = values.get("track") or "night"
    return ties.sound(values.get("file", "") if name == "file" else name)


def peaks_of(
    values: Mapping[str, Any], loop: Loop, ties: Ties, count: int = 300
) -> list[list[float]]:
    """Least and greatest sample of each stretch of the part that lasts one loop."""
    track = _track_of(values, ties)
    if track is None:
        return []
    first = round(float(values.get("begin", 0.0)) * track.rate)
    length = max(1, round(loop.seconds * track.rate))
    part = np.take(track.samples, np.arange(first, first + length), mode="wrap")
    return Track(part, track.rate).peaks(count)


def sample(
    values: dict[str, Any], times: np.ndarray, loop: Loop, ties: Ties = NO_TIES
) -> np.ndarray:
    times = np.asarray(times, np.float64)
    track = _track_of(values, ties)
    if track is None:
        return np.broadcast_to(values["low"], times.shape).astype(np.float64)
    band = BANDS.get(values["band"], (float(values["from"]), float(values["to"])))
    looped = bool(values["looped"]) and values["track"] != "live"
    length = loop.seconds if looped else track.seconds
    begin = float(values["begin"])
    level, step = heard(
        track, band, float(values["attack"]), float(values["release"]), (begin, length)
    )
    place = np.mod(times / loop.rate, length) / step
    # Round: after the last comes the first. A cubic, so that its speed has no jumps either.
    now = scipy.ndimage.map_coordinates(level, place[None], order=3, mode="grid-wrap")
    share = np.clip(now * values["gain"], 0, 1) ** values["curve"]
    return values["low"] + (values["high"] - values["low"]) * share


DEFINITION = Definition(
    sort="signal",
    key="sound",
    title="Sound",
    help="Follows how loud a sound is, or a band of its frequencies.",
    values={
        "track": choice(
            "night",
            "Sound",
            "A file of yours, the track that comes with the program, or a live input that is "
            "only simulated.",
            {"night": "the bundled track", "file": "a file", "live": "a simulated live input"},
        ),
        "file": sound("File", "WAV, FLAC or OGG.", shown_when=("track", ("file",))),
        "band": choice(
            "all",
            "Band",
            "Which frequencies it listens to.",
            {
                "all": "all of it",
                "low": "low: 20 to 200 Hz",
                "middle": "middle: 200 to 2000 Hz",
                "high": "high: from 2000 Hz",
                "own": "from and to",
            },
        ),
        "from": number(
            60.0,
            "From",
            "Lowest frequency.",
            "Hz",
            (20.0, 16_000.0),
            hard=(0.0, 1e5),
            scale="log",
            shown_when=("band", ("own",)),
        ),
        "to": number(
            250.0,
            "To",
            "Highest frequency.",
            "Hz",
            (20.0, 16_000.0),
            hard=(0.0, 1e5),
            scale="log",
            shown_when=("band", ("own",)),
        ),
        "low": number(0.0, "Low", "The value in silence."),
        "high": number(1.0, "High", "The value at the loudest."),
        "gain": number(
            1.0,
            "Gain",
            "Louder or quieter before it counts.",
            "×",
            (0.1, 8.0),
            hard=(0.0, 1e4),
            scale="log",
        ),
        "curve": number(
            1.0,
            "Contrast",
            "Above 1 only what is loud counts.",
            "",
            (0.3, 4.0),
            hard=(0.05, 20.0),
            scale="log",
            main=False,
        ),
        "attack": number(
            0.02, "Attack", "How fast it rises.", "s", (0.0, 0.5), hard=(0.0, 60.0), main=False
        ),
        "release": number(
            0.25, "Release", "How slowly it falls.", "s", (0.0, 2.0), hard=(0.0, 60.0), main=False
        ),
        "begin": number(
            0.0,
            "Begins at",
            "Which second of the sound is frame 0.",
            "s",
            (0.0, 30.0),
            hard=(0.0, 1e5),
            main=False,
        ),
        "looped": switch(
            True,
            "Closes",
            "The part of the sound that lasts one loop comes again and again.",
            main=False,
        ),
    },
    sentence="follows {track} from {low} to {high}",
    apply=sample,
    order=6,
)

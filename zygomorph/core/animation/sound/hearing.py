"""What listens to a sound: which one, how loud, how softly, and from where on."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

import numpy as np
import scipy

from zygomorph.core.document.loop import Loop
from zygomorph.core.document.signal_context import SignalContext, Sounds
from zygomorph.core.values.sound.track import Track, follow
from zygomorph.core.values.value import Value, choice, number, sound, switch

# Seconds over which a level is evened out: what jumps within a frame is not seen as a beat.
SOFT = 0.02
BANDS = {
    "all": (0.0, 1e6),
    "low": (20.0, 200.0),
    "middle": (200.0, 2000.0),
    "high": (2000.0, 16_000.0),
}


def frequency(default: float, label: str, help: str, **more: Any) -> Value:
    return number(
        default, label, help, "Hz", (20.0, 16_000.0), hard=(0.0, 1e5), scale="log", **more
    )


SOURCE_VALUES: dict[str, Value] = {
    "track": choice(
        "night",
        "Sound",
        "A file of yours, the track that comes with the program, or a live input that is "
        "only simulated.",
        {"night": "the bundled track", "file": "a file", "live": "a simulated live input"},
    ),
    "file": sound("File", "WAV, FLAC or OGG.", shown_when=("track", ("file",))),
}


BAND_VALUES: dict[str, Value] = {
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
    "from": frequency(60.0, "From", "Lowest frequency.", shown_when=("band", ("own",))),
    "to": frequency(250.0, "To", "Highest frequency.", shown_when=("band", ("own",))),
}
GAIN = number(
    1.0,
    "Gain",
    "Louder or quieter before it counts.",
    "×",
    (0.1, 8.0),
    hard=(0.0, 1e4),
    scale="log",
)
SOFTENING_VALUES: dict[str, Value] = {
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
}


def track_of(values: Mapping[str, Any], sounds: Sounds) -> Track | None:
    """The sound that values name; None where it is not stored."""
    name = values.get("track") or "night"
    return sounds(values.get("file", "") if name == "file" else name)


def band_of(values: Mapping[str, Any]) -> tuple[float, float]:
    """Lowest and highest frequency, Hz, of BAND_VALUES."""
    return BANDS.get(values["band"], (float(values["from"]), float(values["to"])))


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


def opens(values: Mapping[str, Any]) -> tuple[str, bool | None] | None:
    """The value for which what is heard is elsewhere at the loop's end than at its beginning, and
    what would close it."""
    if values["track"] == "live":
        return "track", None
    return None if values["looped"] else ("looped", True)


def levels_at(
    values: Mapping[str, Any],
    track: Track,
    band: tuple[float, float],
    seconds: np.ndarray,
    loop: Loop,
) -> np.ndarray:
    """How loud a band is at times, from 0 to 1 after gain and contrast; like ``seconds``.

    values : those of this module, each one number
    """
    length = track.seconds if opens(values) else loop.seconds
    part = (float(values["begin"]), length)
    level, step = heard(track, band, float(values["attack"]), float(values["release"]), part)
    place = np.mod(seconds, length) / step
    # Round: after the last comes the first. A cubic, so that its speed has no jumps either.
    now = scipy.ndimage.map_coordinates(level, place[None], order=3, mode="grid-wrap")
    found: np.ndarray = np.clip(now * values["gain"], 0, 1) ** values["curve"]
    return found


def peaks_of(
    values: Mapping[str, Any], loop: Loop, signals: SignalContext, count: int = 300
) -> list[list[float]]:
    """Least and greatest sample of each stretch of the part that lasts one loop."""
    track = track_of(values, signals.sound)
    if track is None:
        return []
    first = round(float(values.get("begin", 0.0)) * track.rate)
    length = max(1, round(loop.seconds * track.rate))
    part = np.take(track.samples, np.arange(first, first + length), mode="wrap")
    return Track(part, track.rate).peaks(count)

"""Clips: pictures one after the other in MP4 or WebM, written and read by PyAV (FFmpeg)."""

from __future__ import annotations

import os
from collections.abc import Iterable, Iterator
from contextlib import suppress
from dataclasses import dataclass
from fractions import Fraction
from pathlib import Path
from typing import Any, Literal

import av
import av.error
import numpy as np
from av.video.reformatter import ColorRange, Colorspace

from zygomorph.core.errors import ZygomorphError

Effort = Literal["small", "good", "best"]
EFFORTS: tuple[Effort, ...] = ("small", "good", "best")


@dataclass(frozen=True)
class ClipKind:
    """container : FFmpeg's name of it; codec : its encoder
    pixel_formats : that may be chosen, the most widely read first
    factors : constant rate factor for each effort, the lower the larger and better
    options : of the encoder
    """

    title: str
    container: str
    codec: str
    pixel_formats: tuple[str, ...]
    factors: tuple[int, int, int]
    options: tuple[tuple[str, str], ...] = ()


CLIPS: dict[str, ClipKind] = {
    "mp4": ClipKind(
        "MP4, H.264",
        "mp4",
        "libx264",
        ("yuv420p", "yuv444p", "yuv420p10le"),
        (28, 20, 14),
        (("preset", "medium"), ("movflags", "+faststart")),
    ),
    "webm": ClipKind(
        "WebM, VP9",
        "webm",
        "libvpx-vp9",
        ("yuv420p", "yuv444p", "yuva420p"),
        (38, 28, 18),
        (("b:v", "0"), ("row-mt", "1"), ("cpu-used", "4"), ("deadline", "good")),
    ),
    "av1": ClipKind(
        "WebM, AV1",
        "webm",
        "libsvtav1",
        ("yuv420p", "yuv420p10le"),
        (42, 30, 10),
        # Faster ones are wrong by 20 of 255 where 10 bits flicker (seen in 4.0).
        (("preset", "6"),),
    ),
}
# The encoder of AV1 says otherwise what it does on the console.
os.environ.setdefault("SVT_LOG", "1")
# Of what is written: the numbers of ITU-T H.273 for the primaries of BT.709, the curve of sRGB
# (IEC 61966-2-1) and the matrix of BT.709.
PRIMARIES, CURVE, MATRIX, LIMITED = 1, 13, 1, 1


@dataclass(frozen=True)
class ClipFacts:
    """What a clip holds, found by reading all of it. rate : frames a second"""

    frames: int
    width: int
    height: int
    rate: Fraction

    @property
    def seconds(self) -> float:
        return float(self.frames / self.rate)


def rate_of(rate: float) -> Fraction:
    """A rate as clips have it: 23.976 is 24000/1001."""
    for ntsc in (24, 30, 60, 120):
        if abs(rate - ntsc / 1.001) < 0.002:
            return Fraction(ntsc * 1000, 1001)
    return Fraction(rate).limit_denominator(1000)


def check_clip(kind: str, pixel_format: str, width: int, height: int) -> None:
    """Raises ZygomorphError where a clip of that kind cannot have these pixels."""
    known = CLIPS[kind].pixel_formats
    if pixel_format not in known:
        raise ZygomorphError(
            f"{CLIPS[kind].title} has no pixel format {pixel_format!r}.",
            f"Known: {', '.join(known)}.",
        )
    if "420" in pixel_format and (width % 2 or height % 2):
        raise ZygomorphError(
            f"{pixel_format} has one colour for two by two pixels, so that {width} × {height} does "
            "not fit.",
            "Make width and height even, or choose yuv444p.",
        )


def write_clip(
    path: Path,
    pictures: Iterable[np.ndarray],
    kind: str,
    size: tuple[int, int],
    rate: Fraction,
    pixel_format: str,
    effort: Effort = "good",
) -> int:
    """Write a clip of pictures, (rows, columns, 4) uint8 sRGB with straight alpha; returns how many
    there were.

    size : (columns, rows). Raises ZygomorphError where it cannot be encoded so, OSError where it
    cannot be written.
    """
    check_clip(kind, pixel_format, *size)
    chosen = CLIPS[kind]
    options = dict(chosen.options) | {"crf": str(chosen.factors[EFFORTS.index(effort)])}
    container_options = {k: options.pop(k) for k in ("movflags",) if k in options}
    alpha = pixel_format.startswith("yuva")
    try:
        with av.open(
            str(path), "w", format=chosen.container, container_options=container_options
        ) as container:
            stream: Any = container.add_stream(chosen.codec, rate=rate, options=options)
            stream.width, stream.height, stream.pix_fmt = *size, pixel_format
            stream.time_base = stream.codec_context.time_base = 1 / rate
            context = stream.codec_context
            context.color_primaries, context.color_trc = PRIMARIES, CURVE
            context.colorspace, context.color_range = MATRIX, LIMITED
            count = 0
            for count, picture in enumerate(pictures, 1):
                container.mux(stream.encode(_frame(picture, count - 1, pixel_format, rate, alpha)))
            container.mux(stream.encode(None))
    except av.error.OSError as error:
        raise OSError(error.errno, error.strerror or "the clip could not be written") from error
    except (av.error.FFmpegError, ValueError) as error:
        raise ZygomorphError(
            f"The clip could not be encoded: {error}.", "Choose another kind or pixel format."
        ) from error
    return count


def _frame(
    picture: np.ndarray, number: int, pixel_format: str, rate: Fraction, alpha: bool
) -> av.VideoFrame:
    if alpha:
        frame = av.VideoFrame.from_ndarray(np.ascontiguousarray(picture), format="rgba")
    else:
        frame = av.VideoFrame.from_ndarray(np.ascontiguousarray(picture[..., :3]), format="rgb24")
    made = frame.reformat(
        format=pixel_format,
        src_colorspace=Colorspace.ITU709,
        dst_colorspace=Colorspace.ITU709,
        src_color_range=ColorRange.JPEG,
        dst_color_range=ColorRange.MPEG,
    )
    made.pts, made.time_base = number, 1 / rate
    return made


def pictures_in(path: Path) -> Iterator[np.ndarray]:
    """The pictures of a clip, (rows, columns, 4) uint8. Raises ZygomorphError where there are none,
    or they cannot be read."""
    with suppress(StopIteration):
        for frame, _ in _read(path):
            full = frame.reformat(
                format="rgba",
                src_colorspace=Colorspace.ITU709,
                dst_colorspace=Colorspace.ITU709,
                src_color_range=ColorRange.MPEG,
                dst_color_range=ColorRange.JPEG,
            )
            yield full.to_ndarray()


def _read(path: Path) -> Iterator[tuple[av.VideoFrame, Any]]:
    try:
        with av.open(str(path)) as container:
            if not container.streams.video:
                raise ZygomorphError("This file has no pictures.", "Give a clip, or a ZIP of PNGs.")
            stream = container.streams.video[0]
            if stream.codec_context.name == "vp9":
                # FFmpeg's own decoder leaves the opacity out.
                context = av.CodecContext.create("libvpx-vp9", "r")
                context.extradata = stream.codec_context.extradata
                for packet in container.demux(stream):
                    for frame in context.decode(packet if packet.size else None):
                        yield frame, stream
                return
            for frame in container.decode(stream):
                yield frame, stream
    except av.error.FFmpegError as error:
        raise ZygomorphError(f"The clip cannot be read: {error}.", "Save it again.") from error


def facts_of(path: Path) -> ClipFacts:
    """What a clip holds. Raises ZygomorphError where it cannot be read to its end."""
    count, last, rate = 0, None, Fraction(0)
    for frame, stream in _read(path):
        count, last, rate = count + 1, frame, stream.average_rate or stream.guessed_rate
    if last is None:
        raise ZygomorphError("The clip has no pictures.", "Make it again.")
    return ClipFacts(count, last.width, last.height, Fraction(rate))

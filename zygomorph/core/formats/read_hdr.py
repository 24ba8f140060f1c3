"""Read pictures of radiance in the RGBE format, whose files end in .hdr.

G. Ward, "Real Pixels", Graphics Gems II, 1991; the run lengths as in Radiance's picture format
(Radiance file formats, "PIC", from memory).
"""

from __future__ import annotations

import re

import numpy as np

from zygomorph.core.errors import MeshFileError
from zygomorph.core.geometry.image import ColourImage

BEGINS = (b"#?RADIANCE", b"#?RGBE")
MAX_PIXELS = 67_000_000


def is_hdr(data: bytes) -> bool:
    return data.startswith(BEGINS)


def read_hdr(data: bytes) -> np.ndarray:
    """(rows, columns, 3) float32 linear radiance, the first row at the top. Raises MeshFileError
    with what is wrong."""
    head, gap, rest = data.partition(b"\n\n")
    if not gap or b"FORMAT=32-bit_rle_rgbe" not in head:
        raise MeshFileError("This HDR picture has no header that is known.", "Save it as RGBE.")
    line, _, body = rest.partition(b"\n")
    size = re.fullmatch(rb"-Y (\d{1,6}) \+X (\d{1,6})\s*", line)
    if not size:
        raise MeshFileError(
            "This HDR picture lies on its side or upside down.", "Save it the usual way round."
        )
    rows, columns = int(size[1]), int(size[2])
    if rows * columns == 0 or rows * columns > MAX_PIXELS:
        raise MeshFileError(
            f"The picture has {rows * columns:,} pixels; the limit is {MAX_PIXELS:,}.",
            "Make it smaller.",
        )
    return _light(_pixels(np.frombuffer(body, np.uint8), rows, columns))


def as_shown(light: np.ndarray) -> ColourImage:
    """What it looks like on a screen, its brightest parts cut off where 99 % are below."""
    top = max(float(np.quantile(light, 0.99)), 1e-9)
    share = np.clip(light / top, 0, 1)
    # The screen's curve, IEC 61966-2-1.
    shown = np.where(share <= 0.0031308, share * 12.92, 1.055 * share ** (1 / 2.4) - 0.055)
    pixels = np.full((*light.shape[:2], 4), 255, np.uint8)
    pixels[..., :3] = np.rint(shown * 255)
    return ColourImage(pixels)


def _light(rgbe: np.ndarray) -> np.ndarray:
    exponent = rgbe[..., 3].astype(np.int32)
    scale = np.where(exponent > 0, np.ldexp(np.float32(1), exponent - 136), np.float32(0))
    found: np.ndarray = ((rgbe[..., :3] + np.float32(0.5)) * scale[..., None]).astype(np.float32)
    found[exponent == 0] = 0
    return found


def _pixels(body: np.ndarray, rows: int, columns: int) -> np.ndarray:
    """(rows, columns, 4) uint8"""
    found = np.empty((rows, columns, 4), np.uint8)
    at = 0
    for row in range(rows):
        begin = body[at : at + 4].tolist()
        packed = len(begin) == 4 and begin[:2] == [2, 2] and begin[2] * 256 + begin[3] == columns
        if packed and 8 <= columns < 32768:
            at = _packed_row(body, at + 4, found[row])
            continue
        plain = body[at : at + 4 * columns]
        if len(plain) < 4 * columns:
            raise _short()
        found[row] = plain.reshape(columns, 4)
        at += 4 * columns
    return found


def _packed_row(body: np.ndarray, at: int, out: np.ndarray) -> int:
    """One row of which each part is run-length encoded by itself; returns where the next begins."""
    columns = len(out)
    for part in range(4):
        column = 0
        while column < columns:
            if at >= len(body):
                raise _short()
            count = int(body[at])
            same = count > 128
            count = count - 128 if same else count
            taken = 1 if same else count
            if count == 0 or column + count > columns or at + 1 + taken > len(body):
                raise _short()
            out[column : column + count, part] = body[at + 1 : at + 1 + taken]
            at += 1 + taken
            column += count
    return at


def _short() -> MeshFileError:
    return MeshFileError("The HDR picture is damaged: it ends early.", "Save it again.")

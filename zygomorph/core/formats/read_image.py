"""Read pictures by Pillow: PNG of 8 and 16 bits, JPEG, WebP, TIFF."""

from __future__ import annotations

import io
import warnings

import numpy as np
from PIL import Image, UnidentifiedImageError

from zygomorph.core.errors import MeshFileError
from zygomorph.core.geometry.image import ColourImage, HeightImage

FORMATS = ("PNG", "JPEG", "WEBP", "TIFF")
PICTURE_ENDINGS = (".png", ".jpg", ".jpeg", ".webp", ".tif", ".tiff")
MAX_PIXELS = 67_000_000
# How bright the parts of a colour are: Rec. ITU-R BT.709.
LUMINANCE = np.array([0.2126, 0.7152, 0.0722], np.float32)


def read_image(data: bytes) -> HeightImage:
    """The picture's brightness as heights; what is transparent is 0.

    The numbers are taken as they stand in the file, without the screen's curve: a height of half
    is half of the greatest number, as is usual for pictures of heights.

    Raises MeshFileError with what is wrong.
    """
    return HeightImage(_heights(opened(data)))


def read_colours(data: bytes) -> ColourImage:
    """The picture's colours; of one without colours the shades. Raises MeshFileError."""
    image = opened(data)
    if image.mode.startswith("I;16") or image.mode in ("I", "F"):
        image = Image.fromarray(np.rint(_heights(image) * 255).astype(np.uint8))
    return ColourImage(np.asarray(image.convert("RGBA")))


def heights_of(picture: ColourImage) -> np.ndarray:
    """(rows, columns) float32: how bright it is, as :func:`read_image` has it."""
    return _heights(Image.fromarray(picture.pixels))


def opened(data: bytes) -> Image.Image:
    """A picture that has been read whole. Raises MeshFileError with what is wrong."""
    if not data:
        raise MeshFileError("The picture is empty.", "Save it again.")
    try:
        with warnings.catch_warnings():
            # Its own warning of large pictures; the limit here is an error that says so.
            warnings.simplefilter("ignore", Image.DecompressionBombWarning)
            image = Image.open(io.BytesIO(data), formats=FORMATS)
            width, height = image.size
            if width * height > MAX_PIXELS:
                raise MeshFileError(
                    f"The picture has {width * height:,} pixels; the limit is {MAX_PIXELS:,}.",
                    "Make it smaller.",
                )
            image.load()
    except UnidentifiedImageError:
        raise MeshFileError(
            "This is no picture that can be read.", "Save it as PNG, JPEG, WebP or TIFF."
        ) from None
    except Image.DecompressionBombError:
        raise MeshFileError(
            f"The picture has more than {MAX_PIXELS:,} pixels.", "Make it smaller."
        ) from None
    except MeshFileError:
        raise
    # Pillow raises many kinds of errors on damaged files.
    except Exception as error:
        raise MeshFileError(f"The picture is damaged: {error}", "Save it again.") from error
    return image


def _heights(image: Image.Image) -> np.ndarray:
    if image.mode.startswith("I;16"):
        return (np.asarray(image).astype(np.float32) / 65535).astype(np.float32)
    if image.mode in ("I", "F"):
        raw = np.nan_to_num(np.asarray(image).astype(np.float64))
        # Whole numbers are of 16 bits; others are heights from 0 to 1 already.
        return np.clip(raw / (65535 if image.mode == "I" else 1), 0, 1).astype(np.float32)
    if image.mode in ("L", "1"):
        return (np.asarray(image.convert("L")) / np.float32(255)).astype(np.float32)
    rgba = np.asarray(image.convert("RGBA")) / np.float32(255)
    return np.ascontiguousarray((rgba[..., :3] @ LUMINANCE) * rgba[..., 3], np.float32)


def small_webp(picture: ColourImage, side: int = 256) -> bytes:
    """The picture, at most so many pixels wide and high."""
    shades = Image.fromarray(picture.pixels)
    shades.thumbnail((side, side))
    buffer = io.BytesIO()
    shades.save(buffer, "WEBP", quality=80)
    return buffer.getvalue()


def png_of(picture: ColourImage, most: int) -> bytes:
    """The picture as PNG, its longer side at most so many pixels."""
    image = Image.fromarray(picture.pixels)
    if max(image.size) > most:
        image.thumbnail((most, most))
    buffer = io.BytesIO()
    image.save(buffer, "PNG", compress_level=1)
    return buffer.getvalue()

"""OpenEXR files with several layers: the open format of pictures as numbers of light.

A channel is named "layer.R", and of the picture itself "R". Light is stored in 16-bit floats, what
is measured in 32-bit ones. Pictures are associated with their cover, as OpenEXR wants them.
"""

from __future__ import annotations

import tempfile
from collections.abc import Mapping, Sequence
from pathlib import Path
from typing import Any

import numpy as np

from zygomorph.core.errors import ZygomorphError

# Names of channels by how many a layer has.
LIGHT = {3: ("R", "G", "B"), 4: ("R", "G", "B", "A")}
MOST_HALF = 65_504.0


def write_exr(layers: Mapping[str, tuple[Sequence[str], np.ndarray]]) -> bytes:
    """The bytes of a file; the same layers give the same bytes.

    layers : by their names, "" of the picture itself: names of channels, and (rows, columns,
        channels) float32, or float16 of what is to take half the room
    """
    import OpenEXR

    channels = {}
    for name, (names, array) in layers.items():
        for k, channel in enumerate(names):
            full = f"{name}.{channel}" if name else channel
            channels[full] = np.ascontiguousarray(array[..., k])
    header = {"compression": OpenEXR.ZIP_COMPRESSION, "type": OpenEXR.scanlineimage}
    with tempfile.TemporaryDirectory(prefix="zygomorph-exr-") as folder:
        path = Path(folder) / "picture.exr"
        try:
            OpenEXR.File(header, channels).write(str(path))
        except RuntimeError as error:
            raise OSError(f"an EXR file could not be written: {error}") from error
        return path.read_bytes()


def read_exr(path: Path) -> dict[str, np.ndarray]:
    """(rows, columns, channels) of each layer, by its name; channels in the order R G B A, X Y Z.

    Raises ZygomorphError where it cannot be read.
    """
    import OpenEXR

    try:
        with OpenEXR.File(str(path), separate_channels=True) as file:
            found = {name: channel.pixels for name, channel in file.channels().items()}
    except Exception as error:
        # The library raises whatever it meets.
        raise ZygomorphError(
            f"{path.name} cannot be read as EXR: {error}.", "Make it again."
        ) from error
    return _layers(found)


def _layers(channels: Mapping[str, Any]) -> dict[str, np.ndarray]:
    order = "RGBAXYZ"
    named: dict[str, dict[str, np.ndarray]] = {}
    for full, pixels in channels.items():
        name, _, channel = full.rpartition(".")
        named.setdefault(name, {})[channel] = pixels
    return {
        name: np.stack([own[c] for c in sorted(own, key=order.find)], axis=-1)
        for name, own in named.items()
    }


def as_half(array: np.ndarray) -> np.ndarray:
    """In 16 bits; what is too bright for them is as bright as they can be."""
    return np.clip(array, -MOST_HALF, MOST_HALF).astype(np.float16)

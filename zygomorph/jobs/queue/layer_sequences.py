"""Packs the layers of pictures as PNG sequences, a folder each, in one ZIP.

Depth and motion have no natural range: they are scaled by the range of the whole sequence, which
``layers.json`` beside the folders tells.
"""

from __future__ import annotations

import json
from collections.abc import Callable, Sequence
from dataclasses import replace
from pathlib import Path
from typing import Any

import numpy as np

from zygomorph.core.errors import Cancelled
from zygomorph.core.formats.exr import read_exr
from zygomorph.core.formats.stills import png16_of, png_of_picture
from zygomorph.core.shared.drawn_scene import Finish
from zygomorph.core.values.gradients import to_srgb
from zygomorph.jobs.checked_zip import checked_zip
from zygomorph.render.final.finish import on_screen

TOLD = "layers.json"
PICTURE = "picture"
# Greater depths, in metres, are of pixels that see nothing.
SOMETHING_M = 1e9
# Grey of the greatest depth; pixels that see nothing are black.
FURTHEST = 0.1

Report = Callable[[float, str], None]


def pack_layers(
    path: Path,
    stem: str,
    pictures: Sequence[Path],
    files: Sequence[Path],
    finishes: Sequence[Finish],
    report: Report,
    stopped: Callable[[], bool],
) -> dict[str, Any]:
    """Write the ZIP, atomically. Returns the number of pictures and of layers.

    pictures : PNGs; files : their EXRs with the layers
    finishes : exposure and contrast of each picture, in which single pieces are shown

    Raises ZygomorphError if the ZIP cannot be read back; Cancelled; OSError.
    """
    bounds = _bounds(files, report, stopped)
    # Not compressed: PNG is.
    with checked_zip(path) as archive:
        each = zip(pictures, files, finishes, strict=True)
        for number, (picture, file, finish) in enumerate(each):
            if stopped():
                raise Cancelled
            report(0.5 + 0.5 * number / len(files), "writing layers")
            archive.write(picture, f"{PICTURE}/{stem}_{number:04d}.png")
            for name, array in read_exr(file).items():
                if name:
                    shown = _shown(name, array, bounds, finish)
                    archive.writestr(f"{name}/{stem}_{number:04d}.png", shown)
        told = _told(archive.namelist(), bounds)
        archive.writestr(TOLD, json.dumps(told, indent=1) + "\n")
    return {"pictures": len(pictures), "layers": len(told["folders"]) - 1}


def _bounds(
    files: Sequence[Path], report: Report, stopped: Callable[[], bool]
) -> dict[str, tuple[float, float]]:
    """Least and greatest value of depth, in metres, and of motion, in pixels."""
    near, far, most = np.inf, 0.0, 0.0
    for number, file in enumerate(files):
        if stopped():
            raise Cancelled
        report(0.5 * number / len(files), "looking for the bounds")
        layers = read_exr(file)
        if "depth" in layers:
            there = layers["depth"][layers["depth"] < SOMETHING_M]
            if there.size:
                near, far = min(near, float(there.min())), max(far, float(there.max()))
        if "motion" in layers:
            most = max(most, float(np.abs(layers["motion"]).max(initial=0)))
    return {"depth": (near if near < np.inf else 0.0, far), "motion": (-most, most)}


def _shown(
    name: str, array: np.ndarray, bounds: dict[str, tuple[float, float]], finish: Finish
) -> bytes:
    """A layer as a PNG."""
    values = array.astype(np.float32)
    if name == "depth":
        near, far = bounds["depth"]
        share = (far - values) / max(far - near, 1e-9)
        values = np.where(values < SOMETHING_M, FURTHEST + (1 - FURTHEST) * share, 0)
    elif name == "motion":
        most = max(bounds["motion"][1], 1e-9)
        still = np.full((*values.shape[:2], 1), 0.5, np.float32)
        values = np.concatenate([values / (2 * most) + 0.5, still], axis=-1)
    elif name == "normals":
        values = values * 0.5 + 0.5
    elif name == "albedo":
        return png_of_picture(_bytes(to_srgb(np.clip(values, 0, 1))))
    elif values.shape[-1] == 4:
        return png_of_picture(_piece(values, finish))
    return png16_of(np.round(np.clip(values, 0, 1) * 65_535).astype(np.uint16))


def _piece(values: np.ndarray, finish: Finish) -> np.ndarray:
    """(rows, columns, 4) uint8 sRGB with straight alpha, without bloom and vignette, which belong
    to the whole picture."""
    alone = replace(finish, bloom=0.0, vignette=0.0)
    drawn = on_screen(np.maximum(values[..., :3], 0), values[..., 3], alone)
    alpha = drawn[..., 3:]
    straight = np.minimum(drawn[..., :3] / np.maximum(alpha, 1 / 255), 1)
    return _bytes(np.concatenate([straight, alpha], axis=-1))


def _bytes(shares: np.ndarray) -> np.ndarray:
    return np.round(np.clip(shares, 0, 1) * 255).astype(np.uint8)


def _told(names: Sequence[str], bounds: dict[str, tuple[float, float]]) -> dict[str, Any]:
    folders = list(dict.fromkeys(name.split("/")[0] for name in names))
    told: dict[str, Any] = {"folders": folders}
    if "depth" in folders:
        near, far = bounds["depth"]
        told["depth"] = {"white_m": near, "grey_m": far, "grey": FURTHEST, "black": "nothing"}
    if "motion" in folders:
        most = bounds["motion"][1]
        told["motion"] = {
            "pixels_at_1": most,
            "pixels_at_0": -most,
            "red": "to the right since the frame before",
            "green": "upwards since the frame before",
        }
    if "normals" in folders:
        told["normals"] = "x, y, z on the stage; 0 is -1 and 1 is 1"
    return told

"""Plane wave: height sin 2π(d / λ - φ) at the distance d along its direction; a second one may
run across the first."""

from __future__ import annotations

from typing import Any

import numpy as np

from zygomorph.core.animation.context import Context
from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.geometry.affine import unit
from zygomorph.core.geometry.extent import extent_of
from zygomorph.core.geometry.mesh import Mesh
from zygomorph.core.geometry.normals import point_normals
from zygomorph.core.kernels.along_directions import ONE, push
from zygomorph.core.kernels.deform.wave import add_wave
from zygomorph.core.values.definitions import DeformDefinition
from zygomorph.core.values.grips import reach
from zygomorph.core.values.groups import PUSH
from zygomorph.core.values.specimen import SHEET, Specimen, saw
from zygomorph.core.values.value import Value, choice, direction, number


def apply(mesh: Mesh, values: Resolved, weights: np.ndarray, context: Context) -> Mesh:
    forward, up = unit(values.vector("direction")), unit(values.vector("push"))
    side = np.cross(up, forward)
    heights = np.empty(len(mesh.points), np.float32)
    waves = [(forward, "amplitude", "wavelength", "phase")]
    if np.any(values.numbers["across"]) and np.linalg.norm(side) > 1e-9:
        waves.append((unit(side), "across", "across_wavelength", "across_phase"))
    for index, (way, amplitude, wavelength, phase) in enumerate(waves):
        add_wave(
            mesh.points,
            way.astype(np.float32),
            values.array(amplitude),
            np.ascontiguousarray(1.0 / values.numbers[wavelength], np.float32),
            values.cycles(phase),
            index == 0,
            heights,
        )
    along = point_normals(mesh) if values.discrete("along") == "normal" else up[None, :]
    return mesh.moved(push(mesh.points, along.astype(np.float32), heights, ONE, weights))


def suggest(mesh: Mesh) -> dict[str, float]:
    """A wave that goes about twice into the mesh, and is seen."""
    found = extent_of(mesh)
    if found is None:
        return {}
    length = found.share(0.5)
    return {
        "amplitude": found.share(0.06),
        "wavelength": length,
        "across_wavelength": length,
    }


def _length(label: str, **more: Any) -> Value:
    return number(
        0.8, label, "From crest to crest.", "m", (0.05, 5.0), scale="log", hard=(1e-4, 1e6), **more
    )


DEFINITION = DeformDefinition(
    key="wave",
    title="Plane wave",
    group=PUSH,
    help="Straight crests that run in one direction; a second wave may run across them.",
    also=("ripple", "sine", "swell", "flag", "banner"),
    values={
        "amplitude": number(
            0.1, "Amplitude", "Height of the crests over the middle.", "m", (-0.5, 0.5)
        ),
        "wavelength": _length("Wavelength"),
        "phase": number(
            0.0,
            "Phase",
            "How far the wave has run; each whole cycle looks the same.",
            "cycle",
            (0.0, 1.0),
        ),
        "direction": direction((1.0, 0.0, 0.0), "Direction", "The way the wave runs."),
        "across": number(
            0.0,
            "Across",
            "Height of a second wave that runs across the first.",
            "m",
            (-0.5, 0.5),
            idle=0.0,
        ),
        "along": choice(
            "axis",
            "Along",
            "The way each point is pushed.",
            {"axis": "a direction", "normal": "the normals"},
        ),
        "push": direction(
            (0.0, 1.0, 0.0), "Pushes towards", "The way crests stand out.", main=False
        ),
        "across_wavelength": _length("Length across", main=False),
        "across_phase": number(
            0.0, "Phase across", "How far the second wave has run.", "cycle", (0.0, 1.0), main=False
        ),
    },
    sentence="Wave of {amplitude} every {wavelength}[, {across} across]",
    apply=apply,
    per_element=frozenset(
        {"amplitude", "wavelength", "phase", "across", "across_wavelength", "across_phase"}
    ),
    pointwise=True,
    suggest=suggest,
    handle="arrows",
    grips=(reach("wavelength", "direction"),),
    amounts=("amplitude", "across"),
    specimen=Specimen(SHEET, {"amplitude": 0.14, "wavelength": 0.95, "phase": saw(0, 1)}),
    order=30,
)

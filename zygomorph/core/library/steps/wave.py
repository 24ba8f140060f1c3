"""Plane wave: height sin 2π(d / λ - φ) at the distance d along its direction; a second one may
run across the first."""

from __future__ import annotations

from typing import Any

import numpy as np
from numba import float32, prange, types

from zygomorph.core.catalogue import Definition
from zygomorph.core.compiled import BLOCK, CHUNKS, F1, F1W, F2, first_of, kernel, load
from zygomorph.core.context import Context
from zygomorph.core.extent import extent_of
from zygomorph.core.grips import reach
from zygomorph.core.mesh import Mesh
from zygomorph.core.noise.lattice import floor_to_int
from zygomorph.core.normals import point_normals
from zygomorph.core.resolve import Resolved
from zygomorph.core.steps.axis_frame import unit
from zygomorph.core.steps.pushing import ONE, push
from zygomorph.core.trigonometry import sine_cosine
from zygomorph.core.triples import apart
from zygomorph.core.values import Value, choice, direction, number

TURN = float32(2 * np.pi)


@kernel(types.void(F2, F1, F1, F1, F1, types.boolean, F1W))
def _add_wave(points, direction, amplitude, per_length, phase, first, out):  # type: ignore[no-untyped-def]
    """per_length : waves a metre; phase : cycles; first : whether ``out`` begins at zero"""
    n = points.shape[0]
    flat = points.reshape(-1)
    blocks = (n + BLOCK - 1) // BLOCK
    dx, dy, dz = direction[0], direction[1], direction[2]
    for chunk in prange(CHUNKS):
        work = np.empty((6, BLOCK), np.float32)
        x, y, z, height, waves, shift = work[0], work[1], work[2], work[3], work[4], work[5]
        for block in range(first_of(chunk, blocks), first_of(chunk + 1, blocks)):
            lo = block * BLOCK
            m = min(BLOCK, n - lo)
            result = out[lo : lo + m]
            apart(flat, lo, m, x, y, z)
            load(amplitude, lo, m, height)
            load(per_length, lo, m, waves)
            load(phase, lo, m, shift)
            if first:
                for i in range(m):
                    result[i] = float32(0.0)
            for i in range(m):
                cycles = (dx * x[i] + dy * y[i] + dz * z[i]) * waves[i] - shift[i]
                # Whole cycles away first: a sine of a large angle has lost its digits.
                s, _ = sine_cosine(TURN * (cycles - float32(floor_to_int(cycles))))
                result[i] += height[i] * s


def apply(mesh: Mesh, values: Resolved, weights: np.ndarray, context: Context) -> Mesh:
    forward, up = unit(values.vector("direction")), unit(values.vector("push"))
    side = np.cross(up, forward)
    heights = np.empty(len(mesh.points), np.float32)
    waves = [(forward, "amplitude", "wavelength", "phase")]
    if np.any(values.numbers["across"]) and np.linalg.norm(side) > 1e-9:
        waves.append((unit(side), "across", "across_wavelength", "across_phase"))
    for index, (way, amplitude, wavelength, phase) in enumerate(waves):
        _add_wave(
            mesh.points,
            way.astype(np.float32),
            values.array(amplitude),
            np.ascontiguousarray(1.0 / values.numbers[wavelength], np.float32),
            values.cycles(phase),
            index == 0,
            heights,
        )
    along = point_normals(mesh) if values.word("along") == "normal" else up[None, :]
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


DEFINITION = Definition(
    sort="step",
    key="wave",
    title="Plane wave",
    group="push",
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
    each=frozenset(
        {"amplitude", "wavelength", "phase", "across", "across_wavelength", "across_phase"}
    ),
    alone=True,
    suggest=suggest,
    handle="arrows",
    grips=(reach("wavelength", "direction"),),
    order=30,
)

"""Checks, stripes, dots, grids and soft noise: numbers from 0 to 1 that are the same again after
each repeat. Viewers have the same formulas, see web/src/stage/printShader.ts."""

from __future__ import annotations

import numpy as np

# Cells of the noise in each repeat, and how many times finer noise is added at half the strength.
NOISE_CELLS = 4
NOISE_OCTAVES = 3


def figure_at(
    figure: str,
    s: np.ndarray,
    t: np.ndarray,
    *,
    fill: float = 0.5,
    edge: float = 0.0,
    seed: int = 1,
    evolve: float = 0.0,
) -> np.ndarray:
    """(n,) float32 from 0 to 1 at places in repeats; see :class:`Print` for the others."""
    soft = max(edge, 1e-6)
    if figure == "noise":
        found = _noise(s, t, seed, evolve)
    elif figure == "checks":
        one, other = (2 * _band(_tent(x) - 0.25, soft) - 1 for x in (s, t))
        found = 0.5 + 0.5 * one * other
    elif figure == "stripes":
        found = _band(fill / 2 - _tent(s), soft)
    elif figure == "dots":
        found = _band(fill / 2 - np.hypot(_tent(s), _tent(t)), soft)
    else:
        far = np.maximum(_tent(s), _tent(t))
        found = _band(far - 0.5 + fill / 2, soft)
    return found.astype(np.float32)


def _tent(x: np.ndarray) -> np.ndarray:
    """How far from the middle of its repeat, from 0 to a half."""
    return np.abs(x - np.floor(x) - 0.5)


def _band(inside: np.ndarray, soft: float) -> np.ndarray:
    """From 0 outside to 1 inside of an edge of a width."""
    return np.clip(inside / soft + 0.5, 0, 1)


def _hashed(x: np.ndarray, y: np.ndarray, seed: int) -> np.ndarray:
    """(n,) uint32 for each lattice point: a multiply and xorshift hash (C. Wellons, "Prospecting
    for Hash Functions", 2018, lowbias32; from memory)."""
    with np.errstate(over="ignore"):
        h = x * np.uint32(0x9E3779B1) ^ y * np.uint32(0x85EBCA77)
        h ^= np.uint32(seed & 0xFFFFFFFF) * np.uint32(0xC2B2AE3D)
        h ^= h >> np.uint32(16)
        h *= np.uint32(0x7FEB352D)
        h ^= h >> np.uint32(15)
        h *= np.uint32(0x846CA68B)
        h ^= h >> np.uint32(16)
    return h


def _noise(s: np.ndarray, t: np.ndarray, seed: int, evolve: float) -> np.ndarray:
    """Gradient noise on a lattice that wraps (K. Perlin, SIGGRAPH 2002); to evolve, each gradient
    turns by whole cycles of its own."""
    total, strength, cells = np.zeros(len(s)), 1.0, NOISE_CELLS
    for octave in range(NOISE_OCTAVES):
        total += strength * _octave(s * cells, t * cells, cells, seed + octave, evolve)
        strength, cells = strength / 2, cells * 2
    # By what one octave reaches, √½, so that nearly all lies between 0 and 1.
    return np.clip(0.5 + total * 0.6, 0, 1)


def _octave(x: np.ndarray, y: np.ndarray, wrap: int, seed: int, evolve: float) -> np.ndarray:
    column, row = np.floor(x), np.floor(y)
    fx, fy = x - column, y - row
    found = np.zeros(len(x))
    for dx in (0, 1):
        for dy in (0, 1):
            h = _hashed(
                np.mod(column + dx, wrap).astype(np.uint32),
                np.mod(row + dy, wrap).astype(np.uint32),
                seed,
            )
            turns = np.array([1.0, -1.0, 2.0, -2.0])[h & np.uint32(3)]
            angle = 2 * np.pi * ((h >> np.uint32(8)) / 2.0**24 + evolve * turns)
            slope = np.cos(angle) * (fx - dx) + np.sin(angle) * (fy - dy)
            found += slope * _fade(fx, dx) * _fade(fy, dy)
    return found


def _fade(f: np.ndarray, corner: int) -> np.ndarray:
    """Weight of the lower or upper lattice point: 6f⁵ − 15f⁴ + 10f³ of the upper one."""
    upper = f * f * f * (f * (f * 6 - 15) + 10)
    return upper if corner else 1 - upper

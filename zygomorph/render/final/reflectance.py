"""How much light a microfacet surface sends back, for the energy that single reflections lose.

Directional albedo of a GGX surface as two numbers: with Fresnel's factor by Schlick it is
F0 · A + B (B. Karis, "Real Shading in Unreal Engine 4", SIGGRAPH 2013 course). What is lost between
the facets is given back as by E. Turquin, "Practical multiple scattering compensation for
microfacet models", 2019.
"""

from __future__ import annotations

from functools import cache

import numpy as np

# Places of the table each way: of the cosine to the eye, and of the roughness.
SIZE = 32
_DRAWS = 512


@cache
def albedo_table() -> np.ndarray:
    """(SIZE, SIZE, 2) float32: A and B by roughness (rows) and cosine (columns), at even places
    from 0 to 1."""
    places = np.linspace(0, 1, SIZE)
    rough, cosine = np.meshgrid(places, np.clip(places, 1e-3, 1 - 1e-6), indexing="ij")
    alpha = np.maximum(rough, LEAST_ROUGHNESS)[..., None] ** 2
    # Places that fill a square evenly: a rank-1 lattice.
    k = np.arange(_DRAWS)
    u, v = (k + 0.5) / _DRAWS, (k * 0.6180339887498949) % 1.0
    view = np.stack([np.sqrt(1 - cosine**2), np.zeros_like(cosine), cosine], axis=-1)[..., None, :]
    half = _visible_normals(view, alpha, u, v)
    towards = (view * half).sum(axis=-1)
    light_z = 2 * towards * half[..., 2] - view[..., 2]
    # Weight of a sample of the visible normals: masking both ways over masking one way.
    a2 = alpha**2
    seen = cosine[..., None]
    lit = np.maximum(light_z, 1e-6)
    one = seen + np.sqrt(a2 + (1 - a2) * seen**2)
    both = seen * np.sqrt(a2 + (1 - a2) * lit**2) + lit * np.sqrt(a2 + (1 - a2) * seen**2)
    weight = np.where(light_z > 0, lit * one / both, 0.0)
    grazing = (1 - np.clip(towards, 0, 1)) ** 5
    found = np.stack([(weight * (1 - grazing)).mean(-1), (weight * grazing).mean(-1)], axis=-1)
    return found.astype(np.float32)


# Highlights of lamps that have no size must have one.
LEAST_ROUGHNESS = 0.045


def _visible_normals(
    view: np.ndarray, alpha: np.ndarray, u: np.ndarray, v: np.ndarray
) -> np.ndarray:
    """Normals of facets as they are seen from a direction (E. Heitz, "Sampling the GGX distribution
    of visible normals", JCGT 2018)."""
    stretched = np.concatenate(
        [
            view[..., :1] * alpha[..., None],
            view[..., 1:2] * alpha[..., None],
            np.broadcast_to(view[..., 2:], (*alpha.shape[:2], 1, 1)),
        ],
        axis=-1,
    )
    stretched = stretched / np.linalg.norm(stretched, axis=-1, keepdims=True)
    across = np.zeros_like(stretched)
    length = np.maximum(np.hypot(stretched[..., 0], stretched[..., 1]), 1e-9)
    across[..., 0], across[..., 1] = -stretched[..., 1] / length, stretched[..., 0] / length
    along = np.cross(stretched, across)
    radius, angle = np.sqrt(u), 2 * np.pi * v
    x, y = radius * np.cos(angle), radius * np.sin(angle)
    share = 0.5 * (1 + stretched[..., 2])
    y = (1 - share) * np.sqrt(np.maximum(1 - x**2, 0)) + share * y
    z = np.sqrt(np.maximum(1 - x**2 - y**2, 0))
    found = x[..., None] * across + y[..., None] * along + z[..., None] * stretched
    flat = np.stack(
        [found[..., 0] * alpha, found[..., 1] * alpha, np.maximum(found[..., 2], 1e-6)], -1
    )
    return flat / np.linalg.norm(flat, axis=-1, keepdims=True)

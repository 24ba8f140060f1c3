"""Removes the noise of a traced picture by Open Image Denoise, guided by albedo and normals."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from zygomorph.render.final.traced import Traced

# A cover that differs by less from what is next to it has no noise.
CLEAN = 1e-3


def without_noise(traced: Traced) -> Traced:
    """The picture without noise. Alpha is filtered as well where it is noisy, as it is out of
    focus."""
    from pyoidn import denoise

    guides = {
        "albedo": _packed(np.clip(traced.albedo, 0, 1)),
        "normal": _packed(np.clip(traced.normal, -1, 1)),
    }
    light = denoise(_packed(np.maximum(traced.light, 0)), **guides, hdr=True)
    alpha = traced.alpha
    partly = (alpha > CLEAN) & (alpha < 1 - CLEAN)
    if partly.any():
        three = np.repeat(alpha[..., None], 3, axis=-1)
        alpha = np.clip(denoise(_packed(three), **guides, hdr=False)[..., 0], 0, 1)
        # Where nothing is there is still nothing, and what is whole stays so.
        whole = (traced.alpha <= 0) | (traced.alpha >= 1)
        alpha = np.where(whole & ~_near(partly), traced.alpha, alpha).astype(np.float32)
    return replace(traced, light=light, alpha=alpha)


def _packed(picture: np.ndarray) -> np.ndarray:
    return np.ascontiguousarray(picture, np.float32)


def _near(some: np.ndarray, steps: int = 2) -> np.ndarray:
    """Dilates a mask of pixels by a few pixels."""
    from scipy.ndimage import binary_dilation

    found: np.ndarray = binary_dilation(some, iterations=steps)
    return found

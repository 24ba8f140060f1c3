"""Numbers on their way to Dr.Jit, so that a picture differs from another by data and not by code:
what it finds as a constant, and where arrays begin, is compiled into a kernel."""

from __future__ import annotations

from typing import Any

import drjit as dr
import mitsuba as mi
import numpy as np

# Arrays begin at whole multiples of so many bytes.
ALIGNED = 64


def number(value: float) -> Any:
    return dr.opaque(mi.Float, float(value))


def vector(v: np.ndarray) -> Any:
    """v : (3,)"""
    return mi.Vector3f(*(number(x) for x in v))


def floats(array: np.ndarray) -> Any:
    """The numbers of an array, one after the other."""
    return mi.Float(_aligned(array, np.float32))


def whole_numbers(array: np.ndarray) -> Any:
    """The same of numbers from 0."""
    return mi.UInt32(_aligned(array, np.uint32))


def tensor(array: np.ndarray) -> Any:
    """The same with its shape."""
    return mi.TensorXf(floats(array), shape=array.shape)


def _aligned(array: np.ndarray, kind: type[np.generic]) -> np.ndarray:
    """A flat copy: Dr.Jit reads arrays where they lie."""
    flat = np.ascontiguousarray(array, kind).ravel()
    room = np.empty(flat.nbytes + ALIGNED, np.uint8)
    begin = -room.ctypes.data % ALIGNED
    own = room[begin : begin + flat.nbytes].view(kind)
    own[:] = flat
    return own

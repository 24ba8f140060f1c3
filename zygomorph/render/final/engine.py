"""Mitsuba in the fastest variant that runs on this machine.

Its vectorised variant compiles with LLVM 19, which is looked for where Debian puts it. Without it
the scalar variant draws, which needs nothing else; see :mod:`zygomorph.render.final.plain_tracer`
for what that one leaves out.
"""

from __future__ import annotations

import os
from functools import cache
from pathlib import Path
from typing import Literal

Variant = Literal["llvm_ad_rgb", "scalar_rgb"]
NAMED_BY = "DRJIT_LIBLLVM_PATH"
# Names of the library of LLVM 19 on Debian, Ubuntu and Fedora.
PLACES = (
    "/usr/lib/*/libLLVM.so.19*",
    "/usr/lib/llvm-19/lib/libLLVM*.so*",
    "/usr/lib64/libLLVM.so.19*",
)


def llvm_library() -> str | None:
    """Path of the library of LLVM; None where it is not installed. The environment may name
    another, in DRJIT_LIBLLVM_PATH, or none at all by an empty name."""
    named = os.environ.get(NAMED_BY)
    if named is not None:
        return named if named and Path(named).exists() else None
    root = Path("/")
    found = (path for place in PLACES for path in sorted(root.glob(place[1:])))
    return next((str(path) for path in found), None)


@cache
def start() -> Variant:
    """Load Mitsuba, once in a process. Returns which of its variants draws."""
    library = llvm_library()
    if library is not None:
        os.environ[NAMED_BY] = library
    import mitsuba as mi

    mi.set_log_level(mi.LogLevel.Error)
    variant: Variant = "scalar_rgb" if library is None else "llvm_ad_rgb"
    mi.set_variant(variant)
    return variant


def use_threads(count: int) -> None:
    """Let either variant work on so many cores."""
    start()
    import drjit as dr

    dr.set_thread_count(max(1, count))

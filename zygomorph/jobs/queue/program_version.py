"""Identifies the program that makes a job's files, so that versions are never mixed in one job."""

from __future__ import annotations

from importlib.metadata import version

from zygomorph.core.program import program_digest


def program_version() -> str:
    """Release, digest of the sources and renderer: the same for all processes whose files have the
    same bytes."""
    from zygomorph.render.final.engine import llvm_library

    renderer = "llvm" if llvm_library() else "scalar"
    return f"{version('zygomorph')} ({program_digest()}, {renderer})"

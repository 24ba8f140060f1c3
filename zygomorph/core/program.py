"""Which program this is: results of another one are not to be taken for its own."""

from __future__ import annotations

import hashlib
from functools import cache
from importlib.metadata import version
from pathlib import Path

PACKAGE = Path(__file__).parents[1]
# Libraries whose results are in frames.
LIBRARIES = ("numpy", "scipy", "numba", "llvmlite", "mapbox-earcut", "mitsuba", "drjit", "pyoidn")


@cache
def program_digest() -> str:
    """Hash of all sources that results depend on, and of the versions of the libraries that take
    part; found once, in some ten milliseconds."""
    digest = hashlib.blake2b(digest_size=8)
    for name in LIBRARIES:
        digest.update(f"{name} {version(name)}".encode())
    for path in sorted(PACKAGE.rglob("*.py")):
        digest.update(path.relative_to(PACKAGE).as_posix().encode())
        digest.update(path.read_bytes())
    return digest.hexdigest()

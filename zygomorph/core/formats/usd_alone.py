"""Whether a USD file needs others: only those that its own package holds may be read.

A file from elsewhere must not choose what is read on this machine. Each layer that would take part
is opened by itself, before a stage is composed, and the paths that it names are looked at as text.
"""

from __future__ import annotations

import posixpath
import zipfile
from collections.abc import Iterator
from pathlib import Path
from typing import Any

from zygomorph.core.errors import MeshFileError

LAYERS = (".usd", ".usda", ".usdc")
# Each of these names files that hold the values of a prim over time.
CLIPS = (
    "clips",
    "clipSets",
    "clipAssetPaths",
    "clipManifestAssetPath",
    "clipTemplateAssetPath",
)
FLATTEN = "Flatten the stage where it was made, or pack it as USDZ."
MOST_LAYERS = 1000


def check_alone(path: Path) -> None:
    """Raise MeshFileError where a file names others that are not in its own package."""
    if path.suffix == ".usdz":
        _check_package(path)
        return
    needed = sorted(set(_named(_opened(str(path)))))
    if needed:
        what = f"{len(needed)} other {'file' if len(needed) == 1 else 'files'}"
        raise MeshFileError(
            f"The USD file needs {what} ({', '.join(needed)[:120]}).",
            FLATTEN,
        )


def _opened(identifier: str) -> Any:
    from pxr import Sdf

    layer = Sdf.Layer.FindOrOpen(identifier)
    if layer is None:
        raise MeshFileError("The USD file cannot be read.", "Export it again.")
    return layer


def _named(layer: Any) -> Iterator[str]:
    """Paths of other files that a layer names for what is composed from it."""
    yield from (str(name) for name in layer.GetCompositionAssetDependencies() if str(name))
    found: list[str] = []

    def look(at: Any) -> None:
        spec = layer.GetPrimAtPath(at) if at.IsPrimPath() else None
        if spec is not None and any(spec.HasInfo(name) for name in CLIPS):
            found.append(f"value clips of {at}")

    layer.Traverse("/", look)
    yield from found


def _check_package(path: Path) -> None:
    if not zipfile.is_zipfile(path):
        raise MeshFileError("This is not a USDZ package.", "Export it again.")
    with zipfile.ZipFile(path) as package:
        inside = package.namelist()
    # The first file of a package is its root layer.
    waiting = inside[:1]
    seen: set[str] = set()
    while waiting:
        own = waiting.pop()
        if own in seen:
            continue
        seen.add(own)
        if len(seen) > MOST_LAYERS or Path(own).suffix.lower() not in LAYERS:
            raise MeshFileError(
                f"The package is not made of USD layers alone ({own[:80]}).", FLATTEN
            )
        for name in _named(_opened(f"{path}[{own}]")):
            there = posixpath.normpath(posixpath.join(posixpath.dirname(own), name))
            # Arguments of a format, packages in packages and search paths lead elsewhere.
            if there not in inside or any(sign in name for sign in ":[]\\"):
                raise MeshFileError(
                    f"The package needs a file that it does not hold ({name[:120]}).", FLATTEN
                )
            waiting.append(there)

"""Files of a bundle, read from memory as the store reads its own."""

from __future__ import annotations

from collections.abc import Sequence

from zygomorph.core.document.study import Study
from zygomorph.core.evaluation.evaluate import Evaluator
from zygomorph.core.formats.bundle import BundledFile, read_bundle
from zygomorph.store.assets import AssetFiles
from zygomorph.store.models import AssetRow
from zygomorph.store.state_shelf import StateShelf


def bundled_files(files: Sequence[BundledFile]) -> AssetFiles:
    rows = {
        file.digest: AssetRow(
            digest=file.digest, filename=file.filename, data=file.data, report=dict(file.report)
        )
        for file in files
    }
    return AssetFiles(rows.get)


def open_bundle(
    data: bytes, cache_bytes: int = 512_000_000, shelf: StateShelf | None = None
) -> tuple[Study, Evaluator]:
    """The study of a bundle with its files, and an evaluator that reads them.

    shelf : simulation caches that the evaluator looks up states in

    Raises what :func:`zygomorph.core.formats.bundle.read_bundle` raises.
    """
    bundle = read_bundle(data)
    files = bundled_files(bundle.files)
    evaluator = Evaluator(files.mesh, cache_bytes, files.images, shelf)
    study = Study(bundle.document, files.sound, images=files.images)
    return evaluator.with_geometry(study), evaluator

"""Files of a bundle, read from memory as the store reads its own."""

from __future__ import annotations

from collections.abc import Sequence

from zygomorph.core.document.study import Study
from zygomorph.core.evaluation.evaluate import Evaluator
from zygomorph.core.formats.bundle import BundledFile, read_bundle
from zygomorph.store.assets import AssetFiles
from zygomorph.store.models import AssetRow


def bundled_files(files: Sequence[BundledFile]) -> AssetFiles:
    rows = {
        file.digest: AssetRow(
            digest=file.digest, filename=file.filename, data=file.data, report=dict(file.report)
        )
        for file in files
    }
    return AssetFiles(rows.get)


def open_bundle(data: bytes, cache_bytes: int = 512_000_000) -> tuple[Study, Evaluator]:
    """The study of a bundle with all it uses, and an evaluator that knows its files.

    Raises what :func:`zygomorph.core.formats.bundle.read_bundle` raises.
    """
    bundle = read_bundle(data)
    files = bundled_files(bundle.files)
    evaluator = Evaluator(files.mesh, cache_bytes, files.images)
    study = Study(bundle.document, files.sound, images=files.images)
    return evaluator.with_geometry(study), evaluator

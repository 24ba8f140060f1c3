"""What commands work on: a study by its file or name, and where studies are stored."""

from __future__ import annotations

import json
from dataclasses import replace
from functools import cache
from pathlib import Path
from typing import Any

import platformdirs

from zygomorph.core.document.study import Study, parse_study
from zygomorph.core.errors import ZygomorphError


def default_data() -> Path:
    return Path(platformdirs.user_data_dir("zygomorph", appauthor=False))


class Failed(ZygomorphError):
    """The work failed though the input was right."""


def open_store(data: Path) -> tuple[Any, Any]:
    from zygomorph.store.assets import Assets
    from zygomorph.store.database import open_engine
    from zygomorph.store.studies import Studies

    engine = open_engine(data / "zygomorph.sqlite3")
    return Studies(engine), Assets(engine)


def load_study(name: str, data: Path) -> Study:
    """A file of that name wins; ``stored:NAME`` forces a stored study. Raises ZygomorphError."""
    forced = name.startswith("stored:")
    path = Path(name)
    if not forced and path.is_file():
        from zygomorph.core.formats.collection import is_archive

        try:
            given = path.read_bytes()
            if is_archive(given):
                raise ZygomorphError(
                    f"{path} has a study with its files.", "Bring it in first: zygomorph import."
                )
            study = parse_study(given)
        except OSError as error:
            raise ZygomorphError(f"{path} cannot be read: {error}.") from error
        return _fitted(study, data)
    if not forced and (path.suffix == ".json" or "/" in name):
        raise ZygomorphError(f"There is no file {name}.", "Give a file or the name of a study.")
    studies, assets = open_store(data)
    document = studies.find(name.removeprefix("stored:")).document
    return _fitted(Study(document, assets.sound), data)


def _fitted(study: Study, data: Path) -> Study:
    """With pictures, curves and meshes from the store and its evaluator."""
    _, assets = open_store(data)
    fitted: Study = evaluator_of(data).with_geometry(replace(study, images=assets.images))
    return fitted


@cache
def evaluator_of(data: Path) -> Any:
    from zygomorph.core.evaluation.evaluate import Evaluator

    _, assets = open_store(data)
    return Evaluator(assets.mesh, image=assets.images)


def piece_of(study: Study, wanted: str | None) -> str:
    if wanted is not None:
        return study.piece(wanted)["id"]
    if not study.pieces:
        raise ZygomorphError("The study has no piece.", "Add one.")
    return study.pieces[0]["id"]


def print_json(value: Any) -> None:
    print(json.dumps(value, indent=1, ensure_ascii=False))

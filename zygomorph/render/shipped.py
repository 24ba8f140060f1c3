"""Pictures that come with the program, of its demo studies and of all forms and steps, so that its
first start need not draw them.

They are drawn anew, after anything they show has changed, by
``python -m zygomorph.render.shipped``; a test tells when that is due.
"""

from __future__ import annotations

import hashlib
import json
from collections.abc import Iterator
from pathlib import Path
from typing import Any

EXAMPLES = Path(__file__).parents[2] / "examples"
FOLDER = EXAMPLES / "thumbnails"


def example_files() -> list[Path]:
    """The demo studies, in the order of the gallery."""
    return sorted(EXAMPLES.glob("*.json"))


def name_of_study(document: dict[str, Any]) -> str:
    """The file that shows a study: of the same content only."""
    content = json.dumps(document, sort_keys=True).encode()
    return f"study-{hashlib.blake2b(content, digest_size=6).hexdigest()}.webp"


def name_of_entry(sort: str, key: str, edition: str) -> str:
    """The file that shows what a form or a step does."""
    return f"{sort}-{key}-{edition}.webp"


def shipped(name: str) -> bytes | None:
    """The picture of that name, if there is one."""
    try:
        return (FOLDER / name).read_bytes()
    except OSError:
        return None


def all_shipped() -> Iterator[tuple[str, Any]]:
    """Names of all pictures that are shipped, and what draws each."""
    from zygomorph.core.document.study import parse_study
    from zygomorph.core.values.entries import definitions
    from zygomorph.render import specimens

    for path in example_files():
        study = parse_study(path.read_bytes())
        yield name_of_study(dict(study.document)), (study,)
    for sort in ("form", "step"):
        for key in (k for k, d in definitions(sort).items() if not d.needs_file):
            shown = specimens.specimen(sort, key)
            edition = specimens.edition_of(sort, key)
            yield (
                name_of_entry(sort, key, edition),
                (shown, specimens.SIZE, specimens.MOMENTS),
            )


def draw_all() -> None:
    """Draw all of them, and take away those of older editions."""
    from zygomorph.core.evaluation.evaluate import Evaluator
    from zygomorph.render.thumbnail import moving_thumbnail

    evaluator = Evaluator()
    FOLDER.mkdir(exist_ok=True)
    names = set()
    for name, (study, *how) in all_shipped():
        (FOLDER / name).write_bytes(moving_thumbnail(study, evaluator, *how))
        names.add(name)
    for path in FOLDER.glob("*.webp"):
        if path.name not in names:
            path.unlink()


if __name__ == "__main__":
    draw_all()

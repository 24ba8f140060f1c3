"""Makes a web page with a clip, or with a GLB and the viewer."""

from __future__ import annotations

from pathlib import Path

import zygomorph
from zygomorph.core.document.study import Study
from zygomorph.core.errors import ZygomorphError
from zygomorph.core.formats.page import clip_page, model_page
from zygomorph.jobs.delivery import write_whole
from zygomorph.jobs.pages.scene import told_scene

VIEWER = Path(zygomorph.__file__).parent / "web" / "viewer" / "viewer.js"


def page_of_model(study: Study, glb: bytes) -> bytes:
    """A page with the GLB and the viewer. Raises ZygomorphError if the viewer was not built."""
    try:
        script = VIEWER.read_text(encoding="utf-8")
    except OSError as error:
        raise ZygomorphError("The viewer of pages is not built.", "Run `make web`.") from error
    page = model_page(study.name, glb, told_scene(study), script)
    return page.encode()


def page_of_clip(clip: Path, path: Path, name: str, size: tuple[int, int]) -> None:
    """Write a page with an MP4, atomically. Raises OSError."""
    write_whole(path, clip_page(name, clip.read_bytes(), "video/mp4", size).encode())

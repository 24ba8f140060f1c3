"""Pictures that come with the program show what it does now."""

import io

import numpy as np
import pytest
from PIL import Image

from zygomorph.api.thumbnails import Thumbnails, of_entry, of_study
from zygomorph.core.document.study import parse_study
from zygomorph.core.evaluation.evaluate import Evaluator
from zygomorph.render.shipped import all_shipped, example_files, name_of_study, shipped
from zygomorph.render.thumbnail import SIZE, render_frame
from zygomorph.store.studies import Stored

DUE = "python -m zygomorph.render.shipped draws them anew"


@pytest.fixture(scope="module")
def evaluator():
    return Evaluator()


def first_of(picture: bytes) -> np.ndarray:
    with Image.open(io.BytesIO(picture)) as opened:
        return np.asarray(opened.convert("RGB"), float)


def in_blocks(picture: np.ndarray) -> np.ndarray:
    """The means of four by four pixels."""
    rows, columns = picture.shape[0] // 4, picture.shape[1] // 4
    cut = picture[: 4 * rows, : 4 * columns]
    return cut.reshape(rows, 4, columns, 4, 3).mean(axis=(1, 3))


@pytest.mark.parametrize(
    "name, drawn",
    [
        pytest.param(n, d, id=n.rsplit("-", 1)[0] if not n.startswith("study") else d[0].name)
        for n, d in all_shipped()
    ],
)
def test_what_is_shipped_is_what_would_be_drawn(name, drawn, evaluator):
    made = shipped(name)
    assert made is not None, DUE
    study, *how = drawn
    now = np.asarray(render_frame(study, evaluator, 0.0, how[0] if how else SIZE), float)
    # But for what WebP leaves out: the most where there are single grains.
    assert np.abs(in_blocks(first_of(made)) - in_blocks(now)).mean() < 4, DUE


def test_a_gallery_that_is_new_draws_nothing(tmp_path, monkeypatch):
    monkeypatch.setattr(
        "zygomorph.api.thumbnails.moving_thumbnail", lambda *_: pytest.fail("drawn")
    )
    thumbnails = Thumbnails(tmp_path, Evaluator(), lambda: None)
    for number, path in enumerate(example_files()):
        document = dict(parse_study(path.read_bytes()).document)
        stored = Stored(id=f"s{number}", document=document, revision=0, created="", changed="")
        assert thumbnails.state(of_study(stored)) == "ready"
        assert thumbnails.get(of_study(stored)) == shipped(name_of_study(document))
    assert thumbnails.state(of_entry("step", "twist")) == "ready"


def test_a_demo_study_that_was_changed_is_drawn(tmp_path):
    document = dict(parse_study(example_files()[0].read_bytes()).document)
    assert shipped(name_of_study(document)) is not None
    black = {"backdrop": "two_colours", "values": {"centre": "#000000", "edge": "#000000"}}
    assert shipped(name_of_study({**document, "backdrop": black})) is None

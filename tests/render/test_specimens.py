"""The pictures that show what each form and step does."""

import io

import numpy as np
import pytest
from PIL import Image

from zygomorph.core.errors import ZygomorphError
from zygomorph.core.evaluation.evaluate import Evaluator
from zygomorph.core.values.entries import definitions
from zygomorph.render.specimens import FRAMES, edition_of, specimen
from zygomorph.render.thumbnail import moving_thumbnail, render_frame

ENTRIES = [
    (sort, key)
    for sort in ("form", "step")
    for key, definition in definitions(sort).items()  # type: ignore[arg-type]
    if not definition.needs_file
]


@pytest.mark.parametrize(("sort", "key"), ENTRIES)
def test_every_form_and_step_is_seen_moving(sort, key):
    study, evaluator = specimen(sort, key), Evaluator()
    pictures = [
        np.asarray(render_frame(study, evaluator, f, (96, 60)), float)
        for f in (0.0, FRAMES / 4 + 0.5, FRAMES / 2 + 1)
    ]
    # Something stands before the backdrop, whose corner is dark.
    assert (np.abs(pictures[0] - pictures[0][0, 0]).max(axis=2) > 40).mean() > 0.012
    moved = [np.abs(p - pictures[0]).max(axis=2) > 12 for p in pictures[1:]]
    assert max(m.mean() for m in moved) > 0.004, key


def test_an_edition_changes_with_what_is_drawn():
    assert edition_of("step", "twist") == edition_of("step", "twist")
    assert edition_of("step", "twist") != edition_of("step", "bend")


def test_what_is_not_there_has_no_picture():
    for sort, key in (("step", "elsewhere"), ("form", "imported"), ("signal", "cycle")):
        with pytest.raises(ZygomorphError, match="no picture"):
            specimen(sort, key)


def test_a_picture_has_the_size_and_the_frames_that_were_asked_for():
    made = moving_thumbnail(specimen("step", "wave"), Evaluator(), (64, 40), 5)
    read = Image.open(io.BytesIO(made))
    assert read.size == (64, 40)
    assert read.n_frames == 5

"""A new piece is light in draft and fine in final quality."""

import numpy as np
import pytest

from zygomorph.core.animation.context import Context
from zygomorph.core.animation.resolve import resolve
from zygomorph.core.document.loop import Loop
from zygomorph.core.document.schema import VERSION
from zygomorph.core.document.study import check_document
from zygomorph.core.values.entries import definitions
from zygomorph.core.values.value import beginning

LOOP = Loop(24, 24)
# Points that a machine without a graphics card draws ten times a second and more.
LIGHT = 16_000
BEGIN = [key for key, form in definitions("form").items() if beginning(form.values)]


def points(key, quality):
    form = definitions("form")[key]
    values = {name: both[quality] for name, both in beginning(form.values).items()}
    context = Context(LOOP, 0.0, np.eye(4))
    return len(form.apply(resolve(form.values, values, np.zeros(1), LOOP), context).points)


def test_forms_of_many_points_begin_with_two_qualities():
    assert {"icosphere", "sphere", "sheet", "box", "disc", "cylinder", "cone", "torus"} <= set(
        BEGIN
    )


@pytest.mark.parametrize("key", BEGIN)
def test_draft_is_light_and_final_is_finer(key):
    assert points(key, "final") > 2.5 * points(key, "draft")
    # Loose points are drawn more cheaply than faces.
    assert points(key, "draft") <= (40_000 if key == "cloth" else LIGHT)


@pytest.mark.parametrize("key", BEGIN)
def test_what_a_piece_begins_with_is_a_valid_document(key):
    values = beginning(definitions("form")[key].values)
    recipe = [{"id": "form", "step": key, "values": values}]
    check_document(
        {
            "format": "zygomorph-study",
            "version": VERSION,
            "name": "N",
            "pieces": [{"id": "p", "name": "P", "recipe": recipe}],
        }
    )

"""Checks, stripes, dots, a grid or soft noise, laid on the surface as a picture is."""

from __future__ import annotations

import numpy as np

from zygomorph.core.animation.context import Context
from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.geometry.mesh import Mesh
from zygomorph.core.shared.figures import figure_at
from zygomorph.core.shared.laying import (
    LAID_LAYER,
    found_on,
    laid_places,
    laid_values,
    own_space,
    repeats,
    repeats_matrix,
    suited,
)
from zygomorph.core.values.definitions import MaskDefinition, Print
from zygomorph.core.values.groups import REPEATING
from zygomorph.core.values.value import SEED, choice, number


def _drawn(values: Resolved) -> dict[str, object]:
    """What is drawn in each repeat."""
    return {
        "fill": values.scalar("fill") / 100,
        "edge": values.scalar("edge") / 100,
        "seed": values.count("seed"),
        "evolve": values.scalar("evolve"),
    }


def apply(mesh: Mesh, values: Resolved, context: Context) -> np.ndarray:
    u, v = laid_places(mesh, values, context)
    s, t = repeats(values, u, v)
    return figure_at(values.discrete("figure"), s, t, **_drawn(values))  # type: ignore[arg-type]


def printed(values: Resolved, context: Context) -> Print:
    on, round_ = found_on(values)
    return Print(
        values.discrete("figure"),
        on,
        round_,
        own_space(values, context),
        repeats_matrix(values),
        **_drawn(values),  # type: ignore[arg-type]
    )


DEFINITION = MaskDefinition(
    key="pattern",
    title="Checks, stripes, dots",
    group=REPEATING,
    help="A pattern laid by the UVs, along a direction, by the camera, or wrapped round; sharp at "
    "every pixel of a look.",
    also=("pattern", "checker", "checkerboard", "polka", "lines", "grid", "texture", "UV", "noise"),
    values=laid_values(
        before={
            "figure": choice(
                "checks",
                "Pattern",
                "What is drawn in each repeat.",
                {
                    "checks": "checks",
                    "stripes": "stripes",
                    "dots": "dots",
                    "grid": "a grid of lines",
                    "noise": "soft noise",
                },
            ),
            "fill": number(
                50.0,
                "Fill",
                "How wide a stripe, dot or line is, as a share of its repeat.",
                "%",
                (1.0, 99.0),
                hard=(0.0, 150.0),
                shown_when=("figure", ("stripes", "dots", "grid")),
            ),
            "evolve": number(
                0.0,
                "Evolve",
                "Changes it on the spot; each whole number closes a loop.",
                "cycle",
                (0.0, 2.0),
                shown_when=("figure", ("noise",)),
            ),
        },
        after={
            "edge": number(
                0.0,
                "Soft edges",
                "How soft its edges are, as a share of a repeat.",
                "%",
                (0.0, 50.0),
                hard=(0.0, 100.0),
                main=False,
            ),
            "seed": SEED,
        },
    ),
    sentence="{figure}",
    apply=apply,
    suggest=suited,
    printed=printed,
    **LAID_LAYER,
    order=34,
)

"""Across the UV map: how far along u or v."""

from __future__ import annotations

import numpy as np

from zygomorph.core.animation.context import Context
from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.errors import ZygomorphError
from zygomorph.core.geometry.domains import between_domains
from zygomorph.core.geometry.mesh import UV, Mesh
from zygomorph.core.masking.span import between
from zygomorph.core.values.definitions import MaskDefinition
from zygomorph.core.values.groups import FRONTS
from zygomorph.core.values.value import choice, number


def apply(mesh: Mesh, values: Resolved, context: Context) -> np.ndarray:
    column = 0 if values.discrete("way") == "u" else 1
    at_corners, at_points = mesh.get("corner", UV), mesh.get("point", UV)
    if at_points is not None:
        along = np.ascontiguousarray(at_points[:, column])
    elif at_corners is not None:
        own = np.ascontiguousarray(at_corners[:, column])
        along = between_domains(mesh, own, "corner", "point")
    else:
        raise ZygomorphError(
            "This mesh has no UV map.", "Take a form that has one, or another layer."
        )
    return between(along, values.array("low"), values.array("high"))


DEFINITION = MaskDefinition(
    key="across",
    title="Across the UV map",
    group=FRONTS,
    help="Rises along one way of the UV map, whatever shape the surface has.",
    also=("u", "v", "texture", "along"),
    values={
        "way": choice("u", "Way", "Which of both.", {"u": "along u", "v": "along v"}),
        "low": number(0.0, "From", "Where the weight is 0.", "", (0.0, 1.0)),
        "high": number(1.0, "To", "Where the weight is 1.", "", (0.0, 1.0)),
    },
    sentence="{way} from {low} to {high}",
    apply=apply,
    per_element=frozenset({"low", "high"}),
    reach="neighbourhood",
    acts_on=lambda mesh: mesh.get("corner", UV) is not None or mesh.get("point", UV) is not None,
    on_copies="base",
    order=14,
)

"""Values of rods and knobs, merged or as copies."""

from __future__ import annotations

from typing import Any

from zygomorph.core.geometry.extent import extent_of
from zygomorph.core.geometry.mesh import Mesh
from zygomorph.core.values.value import Value, choice, number, whole

STRUT_VALUES: dict[str, Value] = {
    "rod": number(0.02, "Rods", "Their radius.", "m", (0.001, 0.2), scale="log", hard=(0.0, 1e6)),
    "knob": number(0.05, "Knobs", "Their radius.", "m", (0.001, 0.5), scale="log", hard=(0.0, 1e6)),
    "parts": choice(
        "both", "Parts", "What is made.", {"both": "both", "rods": "rods", "knobs": "knobs"}
    ),
    "sides": whole(
        6,
        "Sides",
        "Round each rod.",
        (3, 16),
        hard=(3, 100),
        draft=True,
        shown_when=("parts", ("both", "rods")),
    ),
    "halvings": whole(
        1,
        "Roundness",
        "Halvings of each knob.",
        (0, 3),
        hard=(0, 5),
        draft=True,
        tested_to=2,
        shown_when=("parts", ("both", "knobs")),
    ),
}


def suggest_struts(mesh: Mesh) -> dict[str, Any]:
    found = extent_of(mesh)
    return {"rod": found.share(0.008), "knob": found.share(0.02)} if found else {}

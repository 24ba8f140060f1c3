"""What all tests share."""

from __future__ import annotations

import json
import re
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from hypothesis import settings

from zygomorph.core.animation.resolve import Resolved, resolve
from zygomorph.core.document.schema import VERSION
from zygomorph.core.document.study import Study, check_document
from zygomorph.core.evaluation.evaluate import Evaluator
from zygomorph.core.geometry.mesh import Mesh

ROOT = Path(__file__).parents[1]
MODULES = ROOT / "web" / "node_modules"

# `make thorough` tries more.
settings.register_profile("project", deadline=None, derandomize=True, max_examples=20)
settings.register_profile("thorough", deadline=None, derandomize=True, max_examples=100)
settings.load_profile("project")


# Carries a piece once round the origin in a loop.
CIRCLING = {
    "step": "place",
    "values": {
        "move": [
            {"signal": "cycle", "low": -0.8, "high": 0.8},
            {"signal": "cycle", "low": -0.8, "high": 0.8, "phase": 0.25},
            0,
        ]
    },
}


def document(*steps: dict[str, Any], frames: int = 24, **piece: Any) -> dict[str, Any]:
    """A study with one piece made by these steps."""
    recipe = [{"id": f"s{k}", **step} for k, step in enumerate(steps)]
    return {
        "format": "zygomorph-study",
        "version": VERSION,
        "name": "Test",
        "loop": {"frames": frames, "rate": 24},
        "pieces": [{"id": "p", "name": "Piece", "recipe": recipe, **piece}],
    }


def surface(by: tuple[dict[str, Any], ...] = (), **values: Any) -> list[dict[str, Any]]:
    """The looks of a piece that is drawn as a surface."""
    return [{"id": "surface", "look": "surface", "values": values, "by": list(by)}]


def by_value(
    name: str, layer: str, own: dict[str, Any] | None = None, **values: Any
) -> dict[str, Any]:
    """What of a look goes by value, evenly through one layer; own : values of the layer."""
    layers = [{"id": "l", "layer": layer, "profile": "linear", "values": own or {}}]
    return {"id": name, "values": values, "where": {"layers": layers}}


def by_height(low: float, high: float, **values: Any) -> dict[str, Any]:
    """The colour by the height in the piece, between two heights in metres."""
    own = {"range": "set", "bottom": low, "top": high, "axis": [0.0, 1.0, 0.0]}
    return by_value("colour", "height", own, **values)


def camera(**values: Any) -> list[dict[str, Any]]:
    """The cameras of a study that has one."""
    return [{"id": "camera", "name": "Camera", "camera": "perspective", "values": values}]


def study(*steps: dict[str, Any], frames: int = 24, **piece: Any) -> Study:
    return check_document(document(*steps, frames=frames, **piece))


def resolved(definition: Any, **values: Any) -> Resolved:
    """Values of a definition at one moment."""
    from zygomorph.core.document.loop import Loop

    return resolve(definition.values, values, np.zeros(1), Loop())


def open_mesh(package: str, file: str) -> tuple[np.ndarray, np.ndarray]:
    """Points and triangles of an open mesh that the npm registry carries (test data only)."""
    text = (MODULES / package / file).read_text()
    parts = dict(re.findall(r"exports\.(positions|cells)\s*=\s*(\[\[.*?\]\])", text, re.DOTALL))
    return np.array(json.loads(parts["positions"])), np.array(json.loads(parts["cells"]))


def obj_text(points: np.ndarray, faces: np.ndarray) -> str:
    lines = [f"v {x} {y} {z}" for x, y, z in points]
    lines += ["f " + " ".join(str(int(i) + 1) for i in face) for face in faces]
    return "\n".join(lines) + "\n"


@pytest.fixture(scope="session")
def bunny() -> tuple[np.ndarray, np.ndarray]:
    return open_mesh("bunny", "index.js")


@pytest.fixture(scope="session")
def teapot() -> tuple[np.ndarray, np.ndarray]:
    return open_mesh("teapot", "teapot.js")


@pytest.fixture
def evaluator() -> Evaluator:
    return Evaluator()


def volume(mesh: Mesh) -> float:
    """Volume inside a closed mesh by the divergence theorem, m³."""
    corners = mesh.points.astype(np.float64)[mesh.topology.triangles(mesh.points)]
    return float(
        np.einsum("ij,ij->i", corners[:, 0], np.cross(corners[:, 1], corners[:, 2])).sum() / 6
    )

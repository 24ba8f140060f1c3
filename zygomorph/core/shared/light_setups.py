"""Ready set-ups of light to begin with: a few lights each, which are edited like any others."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

import numpy as np

from zygomorph.core.errors import ZygomorphError


@dataclass(frozen=True)
class SetUp:
    """A set-up for what is within a ball of 1 m.

    lights : as the document has them; places and sizes are scaled, and so is the power of lamps
        that have a place
    ground, finish : values that go with it
    """

    title: str
    help: str
    lights: tuple[Mapping[str, Any], ...]
    ground: Mapping[str, Any]
    finish: Mapping[str, Any]
    backdrop: tuple[str, Mapping[str, Any]]


def _light(name: str, kind: str, **values: Any) -> dict[str, Any]:
    return {"id": name.lower().replace(" ", "-"), "name": name, "light": kind, "values": values}


SETUPS: dict[str, SetUp] = {
    "daylight": SetUp(
        "Soft daylight",
        "A large window on the left, the sky, and a little sun.",
        (
            _light(
                "Window",
                "area",
                position=[-2.4, 1.8, 1.6],
                width=2.2,
                height=1.8,
                strength=95.0,
                coloured="kelvin",
                kelvin=6200.0,
            ),
            _light("Sun", "sun", towards=[0.8, 1.2, 0.5], strength=1.1, colour="#fff0d8"),
            _light("Sky", "sky", strength=1.2, above="#dfe8f7", below="#6a6258"),
        ),
        {"ground": "shadow", "shadow": 28.0},
        {"exposure": 0.1, "occlusion": 40.0},
        ("two_colours", {"centre": "#8d94a6", "edge": "#4d5263"}),
    ),
    "low_key": SetUp(
        "Low key with rim",
        "Dark, with one soft lamp from the side and two edges of light from behind.",
        (
            _light(
                "Key",
                "area",
                position=[2.0, 1.4, 1.5],
                width=0.9,
                height=1.4,
                strength=60.0,
                coloured="kelvin",
                kelvin=4300.0,
            ),
            _light(
                "Rim left",
                "area",
                position=[-2.0, 1.0, -1.9],
                width=0.5,
                height=2.2,
                strength=90.0,
                colour="#9fb8ff",
                shadow=False,
            ),
            _light(
                "Rim right",
                "spot",
                position=[1.6, 2.2, -2.2],
                angle=50.0,
                strength=320.0,
                coloured="kelvin",
                kelvin=3000.0,
            ),
            _light("Fill", "sky", strength=0.12, above="#8d93b8", below="#1c1822"),
        ),
        {"ground": "mirror", "colour": "#15131a", "roughness": 25.0, "mirror": 45.0},
        {"exposure": 0.2, "contrast": 15.0, "vignette": 35.0},
        ("two_colours", {"centre": "#221d2b", "edge": "#0a090d"}),
    ),
    "glow": SetUp(
        "Glow in the dark",
        "Hardly any light but what the pieces give themselves, which shines over.",
        (
            _light(
                "Moon",
                "sun",
                towards=[-0.6, 1.0, 0.2],
                strength=0.25,
                colour="#8fa6ff",
                shadow=False,
            ),
            _light("Night", "sky", strength=0.1, above="#3a4270", below="#0b0a10"),
        ),
        {"ground": "none"},
        {"exposure": 0.3, "bloom": 55.0, "bloom_from": 55.0, "bloom_size": 55.0, "vignette": 25.0},
        ("two_colours", {"centre": "#14131f", "edge": "#050508"}),
    ),
}
PLACES = ("position", "target")
SIZES = ("width", "height", "diameter", "radius")


def set_up(key: str, low: np.ndarray, high: np.ndarray) -> list[dict[str, Any]]:
    """Edits after which a study is lit by a set-up around what is in a box on the stage.

    low, high : (3,) metres. Raises ZygomorphError where there is no such set-up.
    """
    if key not in SETUPS:
        raise ZygomorphError(f"There is no set-up {key!r}.", f"Known: {', '.join(SETUPS)}.")
    chosen = SETUPS[key]
    middle = (low + high) / 2
    radius = max(float(np.linalg.norm(high - low)) / 2, 1e-3)
    backdrop, shown = chosen.backdrop
    return [
        {
            "do": "set",
            "path": "/lights",
            "value": [_around(e, middle, radius) for e in chosen.lights],
        },
        {"do": "set", "path": "/ground/values", "value": dict(chosen.ground)},
        {"do": "set", "path": "/finish/values", "value": dict(chosen.finish)},
        {
            "do": "set",
            "path": "/backdrop",
            "value": {"backdrop": backdrop, "values": dict(shown)},
        },
    ]


def _around(light: Mapping[str, Any], middle: np.ndarray, radius: float) -> dict[str, Any]:
    values = dict(light["values"])
    if "position" in values:
        for name in PLACES:
            at = middle + radius * np.array(values.get(name, [0.0, 0.0, 0.0]))
            values[name] = [round(float(v), 3) for v in at]
        for name in SIZES:
            if name in values:
                values[name] = round(values[name] * radius, 4)
        # Twice as far away a lamp needs four times the power for the same light.
        values["strength"] = round(values["strength"] * radius**2, 4)
    return {**light, "values": values}


def describe_setups() -> list[dict[str, str]]:
    return [{"key": key, "title": each.title, "help": each.help} for key, each in SETUPS.items()]

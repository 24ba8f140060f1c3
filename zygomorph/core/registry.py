"""Finds every entry of the library, and describes them.

Each entry is one file that holds a ``DEFINITION``. The interface, the API, the command line and
the document's schema all read what is found here; adding a file adds the entry everywhere.
"""

from __future__ import annotations

import importlib
import pkgutil
from collections.abc import Iterable
from functools import cache
from typing import Any

from zygomorph.core.animation.formula_names import TOLD
from zygomorph.core.document.schema import BLENDED, MOVED
from zygomorph.core.shared.light_setups import describe_setups
from zygomorph.core.values.definitions import Definition, Sort
from zygomorph.core.values.entries import definitions
from zygomorph.core.values.formula.functions import CONSTANTS, FUNCTIONS
from zygomorph.core.values.gradients import describe_gradients
from zygomorph.core.values.kinds import describe_value
from zygomorph.core.values.layer_values import LAYER_VALUES, LOOK_LAYER_VALUES
from zygomorph.core.values.per_element import ORDER_VALUES, STAGGER_VALUES
from zygomorph.core.values.place_values import MARKER_VALUES, PLACE_VALUES
from zygomorph.core.values.scene_values import FINISH_VALUES, GROUND_VALUES
from zygomorph.core.values.value import Value

LIBRARY = "zygomorph.core.library"
PACKAGES: dict[Sort, tuple[str, ...]] = {
    "form": ("forms",),
    "step": ("steps", "systems"),
    "layer": ("masks",),
    "signal": ("signals",),
    "look": ("looks",),
    "light": ("scene.lights",),
    "camera": ("scene.cameras",),
    "backdrop": ("scene.backdrops",),
}


@cache
def found_entries(sort: Sort) -> dict[str, Definition]:
    """All entries of a sort by key, in their order."""
    found: list[Definition] = []
    for name in PACKAGES[sort]:
        package = importlib.import_module(f"{LIBRARY}.{name}")
        for info in pkgutil.iter_modules(package.__path__):
            found.append(importlib.import_module(f"{package.__name__}.{info.name}").DEFINITION)
    found.sort(key=lambda d: (d.order, d.key))
    return {definition.key: definition for definition in found}


def _groups(entries: Iterable[Definition]) -> list[dict[str, str]]:
    groups = {entry.group for entry in entries if entry.group is not None}
    return [group.describe() for group in sorted(groups, key=lambda g: (g.order, g.key))]


def _described(values: dict[str, Value]) -> dict[str, Any]:
    return {name: describe_value(value) for name, value in values.items()}


def describe_catalogue() -> dict[str, Any]:
    """The whole catalogue as JSON."""
    return {
        "groups": _groups(definitions("step").values()),
        "layer_groups": _groups(definitions("layer").values()),
        "form_groups": _groups(definitions("form").values()),
        "forms": [d.describe() for d in definitions("form").values()],
        "steps": [d.describe() for d in definitions("step").values()],
        "layers": [d.describe() for d in definitions("layer").values()],
        "signals": [d.describe() for d in definitions("signal").values()],
        "looks": [d.describe() for d in definitions("look").values()],
        "lights": [d.describe() for d in definitions("light").values()],
        "cameras": [d.describe() for d in definitions("camera").values()],
        "backdrops": [d.describe() for d in definitions("backdrop").values()],
        "moved": [{"key": key, "label": label} for key, label in MOVED.items()],
        "blended": [{"key": key, "label": label} for key, label in BLENDED.items()],
        "layer_values": _described(LAYER_VALUES),
        "look_layer_values": _described(LOOK_LAYER_VALUES),
        "light_setups": describe_setups(),
        "ground_values": _described(GROUND_VALUES),
        "finish_values": _described(FINISH_VALUES),
        "place_values": _described(PLACE_VALUES),
        "marker_values": _described(MARKER_VALUES),
        "stagger_values": _described(STAGGER_VALUES),
        "spread_values": _described(ORDER_VALUES),
        "gradients": describe_gradients(),
        "formula_names": [{"key": k, "label": label} for k, label in TOLD.items()],
        "functions": [{"key": k, "label": f.help} for k, f in FUNCTIONS.items()],
        "constants": list(CONSTANTS),
    }

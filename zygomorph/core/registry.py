"""Finds every form, step, mask layer and signal, and describes them.

Each is one file that holds a ``DEFINITION``. The interface, the API, the command line and the
document's schema all read this catalogue; adding a file adds the entry everywhere.
"""

from __future__ import annotations

import importlib
import pkgutil
from collections.abc import Callable, Mapping
from dataclasses import dataclass, field, replace
from functools import cache
from typing import Any, Literal

from zygomorph.core.grips import Grip
from zygomorph.core.values import Value

Sort = Literal["form", "step", "layer", "signal", "look"]
PACKAGES: dict[Sort, str] = {
    "form": "zygomorph.core.forms",
    "step": "zygomorph.core.steps",
    "layer": "zygomorph.core.masks",
    "signal": "zygomorph.core.signals",
    "look": "zygomorph.core.looks",
}
GROUPS = {
    "push": "Push",
    "bend": "Bend",
    "join": "With another piece",
    "make": "Make",
    "place": "Place",
}
LAYER_GROUPS = {
    "fronts": "Fronts",
    "solids": "Solids",
    "repeating": "Patterns",
    "elements": "One by one",
    "surface": "By the surface",
    "drawn": "By hand",
}
FORM_GROUPS = {"surfaces": "Surfaces", "curves": "Curves and points"}


@dataclass(frozen=True)
class Definition:
    """One entry of the catalogue.

    sentence : what the entry does, with ``{value}`` where a value is to be read; parts in square
        brackets are left out where the values in them do nothing
    apply : the work; its arguments depend on the sort
    also : other words by which it is looked for
    version : raised when the same values begin to give another result, so that no kept result of
        the older kind is used
    by_time : from the step's words to whether its result depends on the frame even where no value
        of it moves
    jumps : from the step's words to whether what it makes goes from place to place at once
    opens : from its words to the name of the one that keeps the loop from closing, or None
    reads : parts of the context that the result depends on besides its values ("place", "loop",
        "assets")
    alone : whether what it makes of a point depends on that point alone, not on others, their
        number or its own; of loose points some may then be left out before it
    surface : whether a layer looks at what surrounds each point, so that on faces, shards and
        curves it is the mean of what their points have
    each : values of which every element may have its own
    rigid : whether a step can move each shard as a whole instead of each point
    suggest : values that suit the mesh a new step will act on
    handle : a way of its own in which its spatial values are shown and dragged on the stage
    grips : the other lengths, places and angles that stand on the stage
    """

    sort: Sort
    key: str
    title: str
    help: str
    values: Mapping[str, Value]
    sentence: str
    apply: Callable[..., Any]
    group: str = ""
    also: tuple[str, ...] = ()
    version: int = 1
    by_time: Callable[[Mapping[str, Any]], bool] | None = None
    jumps: Callable[[Mapping[str, Any]], bool] | None = None
    opens: Callable[[Mapping[str, Any]], str | None] | None = None
    reads: frozenset[str] = frozenset()
    changes_topology: bool = False
    alone: bool = False
    surface: bool = False
    each: frozenset[str] = frozenset()
    rigid: bool = True
    suggest: Callable[[Any], dict[str, Any]] | None = None
    handle: str = ""
    grips: tuple[Grip, ...] = ()
    order: int = field(default=100)

    def __post_init__(self) -> None:
        marked = {name: replace(v, each=name in self.each) for name, v in self.values.items()}
        object.__setattr__(self, "values", marked)

    @property
    def carriable(self) -> bool:
        """Whether it is a step that happens at a place, which a marker may carry along."""
        placed = bool(self.handle or self.grips)
        return self.sort == "step" and placed and not self.changes_topology

    @property
    def needs_file(self) -> bool:
        """Whether it shows a file that was brought in."""
        return "assets" in self.reads

    def describe(self) -> dict[str, Any]:
        return {
            "sort": self.sort,
            "key": self.key,
            "title": self.title,
            "group": self.group,
            "help": self.help,
            "also": list(self.also),
            "sentence": self.sentence,
            "handle": self.handle,
            "grips": [grip.describe() for grip in self.grips],
            "changes_topology": self.changes_topology,
            "carriable": self.carriable,
            "rigid": self.sort == "step" and self.rigid and not self.changes_topology,
            "values": {name: value.describe() for name, value in self.values.items()},
        }


@cache
def definitions(sort: Sort) -> dict[str, Definition]:
    """All entries of a sort by key, in their order."""
    package = importlib.import_module(PACKAGES[sort])
    found: list[Definition] = []
    for info in pkgutil.iter_modules(package.__path__):
        module = importlib.import_module(f"{package.__name__}.{info.name}")
        definition = getattr(module, "DEFINITION", None)
        if definition is not None:
            found.append(definition)
    found.sort(key=lambda d: (d.order, d.key))
    return {definition.key: definition for definition in found}


def recipe_definitions() -> dict[str, Definition]:
    """Forms and steps: everything that can stand in a recipe."""
    return {**definitions("form"), **definitions("step")}


def describe_catalogue() -> dict[str, Any]:
    """The whole catalogue as JSON."""
    from zygomorph.core.formula.functions import CONSTANTS, FUNCTIONS
    from zygomorph.core.formula.names import TOLD
    from zygomorph.core.looks.gradients import describe_gradients
    from zygomorph.core.markers import MARKER_VALUES
    from zygomorph.core.masks.layers import COMMON_VALUES
    from zygomorph.core.place import PLACE_VALUES
    from zygomorph.core.schema import MOVED
    from zygomorph.core.spread_values import ACROSS_VALUES, STAGGER_VALUES

    return {
        "groups": [{"key": key, "label": label} for key, label in GROUPS.items()],
        "layer_groups": [{"key": key, "label": label} for key, label in LAYER_GROUPS.items()],
        "form_groups": [{"key": key, "label": label} for key, label in FORM_GROUPS.items()],
        "forms": [d.describe() for d in definitions("form").values()],
        "steps": [d.describe() for d in definitions("step").values()],
        "layers": [d.describe() for d in definitions("layer").values()],
        "signals": [d.describe() for d in definitions("signal").values()],
        "looks": [d.describe() for d in definitions("look").values()],
        "moved": [{"key": key, "label": label} for key, label in MOVED.items()],
        "layer_values": {name: v.describe() for name, v in COMMON_VALUES.items()},
        "place_values": {name: v.describe() for name, v in PLACE_VALUES.items()},
        "marker_values": {name: v.describe() for name, v in MARKER_VALUES.items()},
        "stagger_values": {name: v.describe() for name, v in STAGGER_VALUES.items()},
        "spread_values": {name: v.describe() for name, v in ACROSS_VALUES.items()},
        "gradients": describe_gradients(),
        "formula_names": [{"key": k, "label": label} for k, label in TOLD.items()],
        "functions": [{"key": k, "label": f.help} for k, f in FUNCTIONS.items()],
        "constants": list(CONSTANTS),
    }

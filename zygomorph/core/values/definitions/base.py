"""What every entry of the library declares."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace
from typing import Any, ClassVar, Literal

from zygomorph.core.values.formula.parse import Formula
from zygomorph.core.values.grips import Grip
from zygomorph.core.values.groups import Group
from zygomorph.core.values.kinds import describe_value
from zygomorph.core.values.value import Value

Sort = Literal["form", "step", "layer", "signal", "look", "light", "camera", "backdrop"]
# How far around a point its weight is decided: by the point alone, by the surface around it, or by
# all points together.
Reach = Literal["pointwise", "neighbourhood", "whole"]
Discrete = Mapping[str, Any]


@dataclass(frozen=True)
class FormulaUse:
    """What an entry with formulas does with them.

    formulas : those that are run
    known : names that they may use
    elements : for what they are worked out: "points", "faces" or "shards"
    """

    formulas: tuple[Formula, ...]
    known: frozenset[str]
    elements: str = "points"


Opening = tuple[str, Any]


def _closes(values: Any, loop: Any) -> Opening | None:
    return None


@dataclass(frozen=True, kw_only=True)
class Definition:
    """What every entry declares.

    sentence : what the entry does, with ``{value}`` where a value is to be read; parts in square
        brackets are left out where the values in them do nothing
    apply : the work; its arguments depend on the sort
    also : other words by which it is looked for
    version : raised when the same values begin to give another result, so that no kept result of
        the older kind is used
    by_time : from the discrete values to whether the result depends on the frame even where no
        value moves
    opens : from the values, as :class:`Resolved`, and the loop to the name of the one that keeps it
        from closing though no signal moves it, with what would close it or None; or None
    per_element : values of which every element may have its own
    suggest : values that suit the mesh a new entry will act on
    handle : a way of its own in which its spatial values are shown and dragged on the stage
    grips : the other lengths, places and angles that are dragged on the stage
    formulas : from the discrete values to the formulas that are run
    """

    sort: ClassVar[Sort]
    HOLDS_NO_ARRAYS: ClassVar = True

    key: str
    title: str
    help: str
    values: Mapping[str, Value]
    sentence: str
    apply: Callable[..., Any]
    group: Group | None = None
    also: tuple[str, ...] = ()
    version: int = 1
    by_time: Callable[[Discrete], bool] | None = None
    opens: Callable[[Any, Any], Opening | None] = _closes
    per_element: frozenset[str] = frozenset()
    suggest: Callable[[Any], dict[str, Any]] | None = None
    handle: str = ""
    grips: tuple[Grip, ...] = ()
    formulas: Callable[[Discrete], FormulaUse] | None = None
    order: int = 100

    def __post_init__(self) -> None:
        unknown = self.per_element - self.values.keys()
        if unknown:
            raise ValueError(f"{self.key} declares per element what it does not have: {unknown}")
        marked = {n: replace(v, each=n in self.per_element) for n, v in self.values.items()}
        object.__setattr__(self, "values", marked)

    @property
    def changes_topology(self) -> bool:
        return False

    @property
    def makes_copies(self) -> bool:
        return False

    @property
    def carriable(self) -> bool:
        """Whether it happens at a place, which a marker or a piece may carry along."""
        return False

    @property
    def rigid(self) -> bool:
        """Whether it can move each shard as a whole instead of each point."""
        return False

    @property
    def needs_file(self) -> bool:
        """Whether it shows a file that was brought in."""
        return any(value.kind == "asset" for value in self.values.values())

    @property
    def keeps_volume_by(self) -> str:
        """Name of the switch that makes up for the volume that smoothing takes away, or ""."""
        return ""

    def describe(self) -> dict[str, Any]:
        return {
            "sort": self.sort,
            "key": self.key,
            "title": self.title,
            "group": self.group.key if self.group else "",
            "help": self.help,
            "also": list(self.also),
            "sentence": self.sentence,
            "handle": self.handle,
            "grips": [grip.describe() for grip in self.grips],
            "changes_topology": self.changes_topology,
            "makes_copies": self.makes_copies,
            "carriable": self.carriable,
            "rigid": self.rigid,
            "keeps_volume": self.keeps_volume_by,
            "values": {name: describe_value(value) for name, value in self.values.items()},
        }

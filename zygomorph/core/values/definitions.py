"""What an entry of the library declares: one class for each sort of entry.

Whatever others need to know of an entry stands here, in the entry's own file. Nothing elsewhere
lists entries by name.
"""

from __future__ import annotations

from collections.abc import Callable, Hashable, Mapping
from dataclasses import dataclass, field, replace
from typing import Any, ClassVar, Literal

from zygomorph.core.values.formula.parse import Formula
from zygomorph.core.values.grips import Grip
from zygomorph.core.values.groups import Group
from zygomorph.core.values.kinds import describe_value
from zygomorph.core.values.specimen import DEFAULT_SPECIMEN, Specimen
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


@dataclass(frozen=True, kw_only=True)
class FormDefinition(Definition):
    """``apply(values, context) -> Mesh``.

    brought_in : of a form that shows a file, ``(values, context) -> Mesh`` with the repairs that
        were taken, in the file's own unit and place
    turns_faces : name of the switch that turns its faces outwards, or ""
    specimen : what its picture shows where its defaults do not suit it
    """

    sort = "form"
    brought_in: Callable[..., Any] | None = None
    turns_faces: str = ""
    specimen: Specimen = DEFAULT_SPECIMEN

    @property
    def changes_topology(self) -> bool:
        return True


def _per_point(discrete: Discrete) -> str:
    return "points"


@dataclass(frozen=True, kw_only=True)
class StepDefinition(Definition):
    """A step of a recipe after its form.

    pointwise : whether what it makes of a point depends on that point alone, not on others, their
        number or its own; of loose points some may then be left out before it
    jumps : from the discrete values to whether what it makes goes from place to place at once
    amounts : values that are amounts: it does nothing where all of them are 0
    prepares : whether it moves nothing by itself, but gives later steps something to use
    acts_on : from a mesh to whether there is anything on it for the step to act on
    writes_rest : from the discrete values to whether it makes the points as they are its rest shape
    edges : from the discrete values to what it does to edges: it makes them sharp by giving each
        face points of its own ("opens"), or rounds the surface ("rounds")
    begins_empty : whether it does nothing before somebody clicks on the stage
    needs_real : whether copies are written out before it
    needs_inside : from the values to what has to have an inside: this mesh, as "", or the
        value that names another piece; each with whether it may be open all the same
    acts_per : from the discrete values to the elements that it takes as units: "points", "faces",
        "shards" or "copies". Its weights and its values per element are those of these units
    specimen : what its picture shows, where its defaults on a ball do not show it
    """

    sort = "step"
    pointwise: bool = False
    jumps: Callable[[Discrete], bool] | None = None
    amounts: tuple[str, ...] = ()
    prepares: bool = False
    acts_on: Callable[[Any], bool] = lambda mesh: True
    writes_rest: Callable[[Discrete], bool] = lambda discrete: False
    acts_per: Callable[[Discrete], str] = _per_point
    edges: Callable[[Discrete], Literal["", "opens", "rounds"]] = lambda discrete: ""
    begins_empty: bool = False
    needs_real: bool = False
    needs_inside: Callable[[Any], Mapping[str, bool]] = lambda values: {}
    specimen: Specimen = DEFAULT_SPECIMEN

    def __post_init__(self) -> None:
        super().__post_init__()
        unknown = set(self.amounts) - self.values.keys()
        if unknown:
            raise ValueError(f"{self.key} declares as amounts what it does not have: {unknown}")


def _never(discrete: Discrete) -> bool:
    return False


@dataclass(frozen=True, kw_only=True)
class DeformDefinition(StepDefinition):
    """``apply(mesh, values, weights, context) -> Mesh`` of the same topology as the mesh it is
    given.

    moves_shards : whether it can move each shard or copy as a whole instead of each point
    resizes : from the discrete values to whether it sizes or turns what it moves as a whole
    on_copies : what it acts on where there are copies and nothing else is chosen: each copy as a
        whole, or what is copied
    cuts_apart : from the discrete values to whether faces that share points are given points of
        their own first, where the mask takes any part
    """

    moves_shards: bool = True
    resizes: Callable[[Discrete], bool] = lambda discrete: False
    on_copies: Literal["wholes", "bases"] = "wholes"
    cuts_apart: Callable[[Discrete], bool] = _never

    @property
    def carriable(self) -> bool:
        return bool(self.handle or self.grips)

    @property
    def rigid(self) -> bool:
        return self.moves_shards

    @property
    def changes_topology(self) -> bool:
        return self.cuts_apart is not _never


# Among what a structure changes with: the step's mask.
MASK_INPUT = "mask"

# Where the points are that a structure is made for: it does not matter, as they are remembered, or
# as they are at this frame.
Stands = Literal["anywhere", "at rest", "now"]


def _anywhere(values: Any) -> Stands:
    return "anywhere"


def follow_origin(mesh: Any, structure: Any, *_: Any) -> Any:
    """Positions of the new points: the mixture of old ones that their origin says."""
    return structure.origins["point"].carry(mesh.points)


@dataclass(frozen=True, kw_only=True)
class TopologyDefinition(StepDefinition):
    """A step that makes another topology.

    structure : ``(mesh, values, mask) -> Structure``: the new topology and the origin of its
        elements. It is kept for all that it depends on, and used again while only positions move.
        The points of ``mesh`` are where ``stands`` says, and of its attributes only those that
        ``reads`` names may be used
    changes_with : values on which the structure depends; with ``MASK_INPUT`` among them, ``mask``
        is (n,) bool, the faces or other units that the mask means, or None for all
    exact_mask : from the discrete values to whether ``mask`` is the very weights of the mask
        instead, (n,) or (1,) float32
    means : which faces a mask means: those of which it takes "most", or "any" part
    stands : from the values to where the points are that the structure is made for
    reads : attributes of which the structure depends, as (domain, name)
    beside : ``(values, context) -> (meshes, key)``: meshes of other pieces, as this one sees them,
        and what is the same for the same ones. ``structure`` is then called with all of them, this
        piece first: ``(mesh, values, mask, parts)``
    takes_in : whether what is made is of these, too: ``mesh`` is then all of them as one, as
        :func:`~zygomorph.core.geometry.joining.joined` makes it
    apply : ``(mesh, structure, values, weights, context) -> (n, 3)`` positions of the new points,
        by default as their origin says
    voxel : name of the value that is the size of its voxels, or ""
    keeps_volume : name of the switch that makes up for what its smoothing takes away, or ""
    rest_by_origin : whether the rest shape is as the origin says, wherever ``apply`` puts points
    forgets_smoothing : whether its faces lie where no edge was that could be drawn sharp; what
        ``edges`` says to be rounded forgets it as well
    """

    structure: Callable[..., Any]
    changes_with: frozenset[str] = frozenset()
    exact_mask: Callable[[Discrete], bool] = lambda discrete: False
    means: Literal["most", "any"] = "most"
    stands: Callable[[Any], Stands] = _anywhere
    reads: tuple[tuple[str, str], ...] = ()
    beside: Callable[[Any, Any], tuple[tuple[Any, ...], Hashable]] | None = None
    takes_in: bool = False
    rest_by_origin: bool = False
    forgets_smoothing: bool = False
    voxel: str = ""
    keeps_volume: str = ""
    apply: Callable[..., Any] = follow_origin

    def __post_init__(self) -> None:
        if MASK_INPUT in self.changes_with and self.acts_per is _per_point:
            object.__setattr__(self, "acts_per", lambda discrete: "faces")
        super().__post_init__()
        unknown = self.changes_with - self.values.keys() - {MASK_INPUT}
        if unknown:
            raise ValueError(f"{self.key} changes with what it does not have: {unknown}")

    @property
    def changes_topology(self) -> bool:
        return True

    @property
    def keeps_volume_by(self) -> str:
        return self.keeps_volume

    @property
    def places_rest(self) -> bool:
        """Whether the rest shape is placed as the points are, instead of following its origin."""
        return self.apply is not follow_origin and not self.rest_by_origin


@dataclass(frozen=True, kw_only=True)
class CopiesDefinition(StepDefinition):
    """``apply(geometry, values, context) ->`` placements of copies of what there is, (K, 3, 4); or
    :class:`~zygomorph.core.geometry.placements.Places` with what is known of each; or the copies
    themselves, as a geometry.

    Where there are copies already, each placement takes all of them. The mask is read on the
    copies that are made: where it is 0 a copy has no size.
    """

    @property
    def makes_copies(self) -> bool:
        return True

    @property
    def changes_topology(self) -> bool:
        return True


def _at_the_first_frame(discrete: Discrete) -> int:
    return 0


@dataclass(frozen=True, kw_only=True)
class SystemDefinition(StepDefinition):
    """A step whose result follows from the frames before.

    start : ``(mesh, values, weights, context) -> state`` at its first frame
    advance : ``(state, mesh, values, weights, context, frames) -> state`` so many whole frames
        later: one, or a few more while something is dragged. A state holds arrays and is never
        changed in place; whatever it holds is kept as a checkpoint
    emit : ``(state, mesh, values, weights, context) -> Mesh`` at any frame, from the state at the
        whole frame before it; ``context.frame`` tells how far it is since
    begins : from the discrete values to the first frame; before it the mesh is as it was
    closes : how its loop closes: it is run ahead until it "settles", two runs are "blended", or it
        goes "one way"
    """

    start: Callable[..., Any]
    advance: Callable[..., Any]
    emit: Callable[..., Any]
    apply: Callable[..., Any] = lambda *_: None
    begins: Callable[[Discrete], int] = _at_the_first_frame
    closes: Literal["settles", "blended", "one way"] = "one way"


@dataclass(frozen=True, kw_only=True)
class MaskDefinition(Definition):
    """``apply(mesh, values, context) -> (P,)`` from 0 to 1, before its profile.

    reach : how far around a point its weight is decided. What looks at the surface around each
        point gives faces, shards and curves the mean of what their points have
    opens : from the discrete values to the name of the one that keeps the loop from closing, or
        None
    acts_on : from a mesh to whether anything on it tells some points from others for it
    begins_empty : whether it lets nothing through before somebody picks, draws or chooses
        something
    """

    sort = "layer"
    reach: Reach = "whole"
    acts_on: Callable[[Any], bool] = lambda mesh: True
    begins_empty: bool = False
    opens: Callable[[Discrete], str | None] | None = None


def _nothing_near(*_: Any) -> str:
    return "nothing near by closes"


@dataclass(frozen=True, kw_only=True)
class SignalDefinition(Definition):
    """``apply(values, times, loop, context) -> numbers``, (T,) frames to (T,) float64.

    The functions below take the signal as the document has it.

    series : its lists of values at frames, as fields of a pydantic model (see
        :mod:`zygomorph.core.values.keys`)
    moves : whether it may differ from frame to frame
    jumps : whether it goes from value to value at once
    restarts : whether at the end of its period it falls back to where it began
    fit : makes one that does not close do so with the least change: the changed signal with what
        is changed, in words before and after; or the reason why it cannot
    """

    sort = "signal"
    series: Mapping[str, tuple[Any, Any]] = field(default_factory=dict)
    moves: bool = True
    jumps: Callable[[Discrete], bool] = lambda signal: False
    restarts: Callable[[Discrete], bool] = lambda signal: False
    fit: Callable[..., tuple[dict[str, Any], str, str] | str] = _nothing_near


@dataclass(frozen=True, kw_only=True)
class ShownDefinition(Definition):
    """What decides how the study is drawn: looks of pieces, lights, cameras and backdrops.

    begins : what there is where the document says nothing, as the document has it without the key
        of the entry
    """

    begins: tuple[Mapping[str, Any], ...] = ()


# What colours copies by a value: the height of each point where it is placed, a value of each copy,
# or what the points of the copied mesh have.
CopiesTake = Literal["height", "copy", "base"]


def _of_the_base(discrete: Discrete) -> CopiesTake:
    return "base"


@dataclass(frozen=True, kw_only=True)
class LookDefinition(ShownDefinition):
    """``apply(mesh, values) -> Appearance``; see :mod:`zygomorph.core.shared.appearance`.

    copies_take : from the discrete values to what colours copies; for "copy", ``apply`` is given a
        mesh of loose points, one for each copy
    """

    sort = "look"
    copies_take: Callable[[Discrete], CopiesTake] = _of_the_base


@dataclass(frozen=True, kw_only=True)
class LightDefinition(ShownDefinition):
    """``apply(values) -> lamps``, a tuple of those that renderers know; see
    :mod:`zygomorph.core.shared.drawn_scene`.

    Vectors in metres are places on the stage, and directions are directions on it: a parent
    carries both.
    """

    sort = "light"

    @property
    def carriable(self) -> bool:
        return True


@dataclass(frozen=True, kw_only=True)
class CameraDefinition(ShownDefinition):
    """``apply(values) -> View``. Places and directions are as those of lights."""

    sort = "camera"

    @property
    def carriable(self) -> bool:
        return True


@dataclass(frozen=True, kw_only=True)
class BackdropDefinition(ShownDefinition):
    """``apply(values) ->`` a picture that renderers know, such as a ``RoundGradient``."""

    sort = "backdrop"

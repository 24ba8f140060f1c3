"""What steps declare: those that deform, change topology, make copies, or follow from the frames
before."""

from __future__ import annotations

from collections.abc import Callable, Hashable, Mapping
from dataclasses import dataclass
from typing import Any, Literal

from zygomorph.core.values.definitions.base import Definition, Discrete, Opening
from zygomorph.core.values.specimen import DEFAULT_SPECIMEN, Specimen
from zygomorph.core.values.system_values import Closing, closing_values


def _per_point(discrete: Discrete) -> str:
    return "points"


@dataclass(frozen=True, kw_only=True)
class StepDefinition(Definition):
    """A step of a recipe after its form.

    pointwise : whether what it makes of a loose point depends on that point alone, with its id, not
        on others or how many there are; some may then be left out before it
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
    tile : name of the value that is the side of the square after which what it does repeats along
        x and z, or ""
    tells : ``(mesh, values, weights, context) -> str``: what it has chosen by itself, in a sentence
        for whoever opens it; or None
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
    tile: str = ""
    tells: Callable[[Any, Any, Any, Any], str] | None = None
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
        whole, the same tilted to the slope, or what is copied
    cuts_apart : from the discrete values to whether faces that share points are given points of
        their own first, where the mask takes any part
    """

    moves_shards: bool = True
    resizes: Callable[[Discrete], bool] = lambda discrete: False
    on_copies: Literal["wholes", "tilted", "bases"] = "wholes"
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


# Of points, how far each is from where its origin puts it.
OFF = "off"


def follow_origin_apart(mesh: Any, structure: Any, *_: Any) -> Any:
    """The same, as far off as each point was when the structure was made."""
    return follow_origin(mesh, structure) + structure.attributes["point"][OFF]


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
    of_copies : whether it takes copies as points, which stand where they do, instead of changing
        what is copied
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
    of_copies: bool = False
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


@dataclass(frozen=True, kw_only=True)
class SystemDefinition(StepDefinition):
    """A step whose result follows from the frames before.

    start : ``(mesh, values, weights, context) -> state`` at its first frame
    advance : ``(state, mesh, values, weights, context, frames) -> state`` so many whole frames
        later: one, or a few more while something is dragged. A state holds arrays and is never
        changed in place; whatever it holds is kept as a checkpoint
    emit : ``(state, mesh, values, weights, context) -> Mesh`` at any frame, from the state at the
        whole frame before it; ``context.frame`` tells how far it is since
    needs_motion : whether it does nothing where nothing before it moves
    makes_points : whether it gives points of its own instead of moving those that there are
    shown : ``(mesh, values, context) -> Mesh or Geometry``: what is made of what was emitted, after
        runs are cross-blended; or None
    closes : how its loop may be made to close, the usual way first; the values that say how are
        added to its own. In all of these functions ``context.frame`` is a frame of the system's own
        run, which begins before the loop or goes on after it
    """

    start: Callable[..., Any]
    advance: Callable[..., Any]
    emit: Callable[..., Any]
    apply: Callable[..., Any] = lambda *_: None
    needs_motion: bool = False
    makes_points: bool = False
    shown: Callable[..., Any] | None = None
    closes: tuple[Closing, ...] = ("once",)

    def __post_init__(self) -> None:
        object.__setattr__(self, "values", {**self.values, **closing_values(self.closes)})
        if "once" in self.closes:
            best = next((way for way in self.closes if way != "once"), None)

            def opens(values: Any, loop: Any) -> Opening | None:
                return ("closing", best) if values.discrete("closing") == "once" else None

            object.__setattr__(self, "opens", opens)
        super().__post_init__()

    @property
    def changes_topology(self) -> bool:
        return self.makes_points

    @property
    def carriable(self) -> bool:
        return bool(self.handle or self.grips)


@dataclass(frozen=True, kw_only=True)
class ForceDefinition(StepDefinition):
    """What moves the points of systems after it; see :mod:`zygomorph.core.shared.forces`.

    act : ``(acting, moving, values, weights, context)``: adds to what all forces do together
    hold : ``(before, after, speeds, values, weights, context) -> (places, speeds, held)``: of what
        keeps points from going somewhere, where they go and which of them stay there
    """

    act: Callable[..., Any] | None = None
    hold: Callable[..., Any] | None = None
    apply: Callable[..., Any] = lambda *_: None
    prepares: bool = True
    acts_per: Callable[[Discrete], str] = _per_point

    @property
    def carriable(self) -> bool:
        return bool(self.handle or self.grips)

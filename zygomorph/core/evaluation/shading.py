"""The looks of a piece at one moment, read on its geometry: what renderers draw it by."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field, replace

import numpy as np

from zygomorph.core.animation.context import Context
from zygomorph.core.errors import ZygomorphError
from zygomorph.core.evaluation.planned import PlannedBy, PlannedLayer, PlannedLook
from zygomorph.core.evaluation.viewed import split_viewed
from zygomorph.core.geometry.elements import elements_of
from zygomorph.core.geometry.geometry import Geometry
from zygomorph.core.geometry.mesh import Mesh
from zygomorph.core.geometry.uvs import uv_of_points
from zygomorph.core.masking.blending import ResolvedLayer, blend, shape_of, weights
from zygomorph.core.shared.appearance import (
    Appearance,
    Channel,
    Colouring,
    Pictured,
    Ranging,
    ShownLook,
    Viewed,
)
from zygomorph.core.values.definitions import Print, Slope

# Even places between the ends of what is seen from somewhere.
TABLE = 64
# Numbers that viewers have for each point, of which the first is the finest.
MOST_CHANNELS = 12
MOST_ON_POINTS = 9
# Patterns and pictures of one piece.
MOST_PRINTS = 4


@dataclass
class Faults:
    """What looks could not read, told instead of drawn: address in the piece, message and hint."""

    told: list[tuple[str, str, str]] = field(default_factory=list)


def shaded(
    looks: Sequence[PlannedLook],
    geometry: Geometry,
    times: np.ndarray,
    context: Context,
    faults: Faults | None = None,
    for_viewer: bool = False,
) -> Appearance:
    """times : (1,) frames; faults : takes what could not be read, which is then left out
    for_viewer : what depends on the eye is left to whoever looks, and has no values
    """
    reader = _Reader(geometry, times, context, faults or Faults(), for_viewer)
    shown = tuple(found for look in looks if (found := reader.look(look)) is not None)
    return Appearance(shown, tuple(reader.channels), tuple(reader.prints))


class _Reader:
    """Reads masks on one geometry, each as a channel."""

    def __init__(
        self,
        geometry: Geometry,
        times: np.ndarray,
        context: Context,
        faults: Faults,
        for_viewer: bool,
    ) -> None:
        self._geometry = geometry
        self._times = times
        self._context = context
        self._faults = faults
        self._for_viewer = for_viewer
        self.channels: list[Channel] = []
        self.prints: list[Print] = []

    def look(self, look: PlannedLook) -> ShownLook | None:
        """None of a look whose mask cannot be read."""
        weight = None
        if look.layers:
            weight = self._channel(look.layers, f"looks/{look.id}", look.whole_faces)
            if weight is None:
                return None
        material = look.definition.apply(look.values.at(self._times))
        colours: dict[str, Colouring] = {}
        amounts: dict[str, Ranging] = {}
        for by in look.by:
            channel = self._channel(by.layers, f"looks/{look.id}/by/{by.name}", False)
            if channel is None:
                continue
            if by.spec.kind == "colour":
                still = by.values.still
                shown = None
                if still.discrete("coloured") == "picture":
                    shown = self._pictured(by, f"looks/{look.id}/by/{by.name}")
                colours[by.name] = Colouring(channel, still.discrete("gradient"), shown)
            else:
                name, unit = look.definition.amount(by.name)
                amounts[name] = self._range(by, channel, unit)
        return ShownLook(look.id, material, weight, colours, amounts)

    def _range(self, by: PlannedBy, channel: int, unit: float) -> Ranging:
        ends = by.values.at(self._times)
        return Ranging(channel, ends.scalar("low") * unit, ends.scalar("high") * unit)

    def _channel(
        self, planned: Sequence[PlannedLayer], address: str, whole_faces: bool
    ) -> int | None:
        """Number of the channel of some layers; None where they cannot be read."""
        try:
            if (
                len(self.channels) + 1 + len(planned) > MOST_CHANNELS
                or self._on_points() >= MOST_ON_POINTS
            ):
                raise ZygomorphError(
                    "The looks of this piece differ from place to place in too many ways.",
                    f"Let no more than {MOST_ON_POINTS} values and masks of looks go by value.",
                )
            with np.errstate(all="ignore"):
                return self._read(planned, whole_faces)
        except ZygomorphError as error:
            self._faults.told.append((address, error.message, error.hint))
            return None

    def _on_points(self) -> int:
        sent = [each for each in self.channels if each.view is None]
        return sum(channel.on == "points" for channel in sent)

    def _pictured(self, by: PlannedBy, address: str) -> Pictured | None:
        """The colours of the picture that comes last among its layers; None where there is none."""
        planned = next((p for p in reversed(by.layers) if p.definition.coloured), None)
        if planned is None:
            return None
        layer = planned.at(self._times, self._context.place)
        context = replace(self._context, undo_parent=layer.undo_parent)
        found = planned.definition.coloured
        assert found is not None and planned.definition.printed is not None  # chosen by this
        if self._for_viewer:
            shown = planned.definition.printed(layer.own, context)
            return Pictured((), self._print(shown))
        bases = self._geometry.bases
        try:
            return Pictured(tuple(found(mesh, layer.own, context) for mesh in bases), None)
        except ZygomorphError as error:
            self._faults.told.append((address, error.message, error.hint))
            return None

    def _print(self, shown: Print) -> int:
        """The number of a pattern or picture among those of the piece."""
        self.prints.append(shown)
        if len(self.prints) > MOST_PRINTS:
            raise ZygomorphError(
                "The looks of this piece have too many patterns and pictures.",
                f"Let no more than {MOST_PRINTS} of them lie on it.",
            )
        return len(self.prints) - 1

    def _read(self, planned: Sequence[PlannedLayer], whole_faces: bool) -> int:
        below, viewed = split_viewed(planned)
        if not viewed or whole_faces or not self._for_viewer:
            layers = self._at(planned)
            plain = None if whole_faces else self._plain(layers)
            return self._add(plain or self._weighed(layers, whole_faces))
        found = None
        if below:
            found = self._add(self._weighed(self._at(below), False))
        for layer in viewed:
            seen = self._viewed(layer, found)
            found = self._add(Channel("points", (), view=seen))
        assert found is not None  # there is one that is viewed
        return found

    def _at(self, planned: Sequence[PlannedLayer]) -> list[ResolvedLayer]:
        return [layer.at(self._times, self._context.place) for layer in planned]

    def _add(self, channel: Channel) -> int:
        self.channels.append(channel)
        return len(self.channels) - 1

    def _viewed(self, planned: PlannedLayer, below: int | None) -> Viewed:
        layer = planned.at(self._times, self._context.place)
        even = np.linspace(0, 1, TABLE, dtype=np.float32)
        table = blend(np.ones(1, np.float32), even, **shape_of(layer.common))
        mode = layer.common.discrete("blend") if below is not None else "replace"
        strength = layer.common.scalar("strength") / 100
        if planned.definition.printed is None:
            seen = planned.definition.seen(layer.own)
            assert seen is not None  # it was told apart by this
            return Viewed(seen, table, below, mode, strength)
        context = replace(self._context, undo_parent=layer.undo_parent)
        if planned.definition.by_uv(layer.own.discrete_values):
            for mesh in self._geometry.bases:
                # Says so where there are none.
                uv_of_points(mesh)
        shown = self._print(planned.definition.printed(layer.own, context))
        return Viewed(shown, table, below, mode, strength)

    def _plain(self, layers: Sequence[ResolvedLayer]) -> Channel | None:
        """A single layer that rises with the position, which needs no mask to be worked out."""
        slope = _slope_of(layers)
        if slope is None:
            return None
        geometry = self._geometry
        if geometry.copies is None:
            along = (_along(mesh, slope.axis) for mesh in geometry.bases)
            return Channel("points", tuple(along), slope.low, slope.high)
        centres = _along(geometry.copies.as_points(), slope.axis)
        return Channel("copies", (centres,), slope.low, slope.high, slope)

    def _weighed(self, layers: Sequence[ResolvedLayer], whole_faces: bool) -> Channel:
        geometry = self._geometry
        on_bases = any(layer.definition.on_copies == "base" for layer in layers)
        if geometry.copies is not None and not on_bases and not whole_faces:
            try:
                mesh = geometry.copies.as_points()
                return Channel("copies", (self._weights(mesh, layers, False),))
            except ZygomorphError:
                # The copies know nothing of it; what is copied may.
                pass
        own = (self._weights(mesh, layers, whole_faces) for mesh in geometry.bases)
        return Channel("points", tuple(own))

    def _weights(
        self, mesh: Mesh, layers: Sequence[ResolvedLayer], whole_faces: bool
    ) -> np.ndarray:
        """(P,) float32 from 0 to 1 at the points."""
        if whole_faces and mesh.topology.face_count:
            of_faces = weights(mesh, layers, self._context, None, "faces")
            found = elements_of(mesh, "faces").at_points(
                np.broadcast_to(of_faces, mesh.topology.face_count).astype(np.float32)
            )
        else:
            found = weights(mesh, layers, self._context)
        return np.ascontiguousarray(np.broadcast_to(found, len(mesh.points)), np.float32)


def _slope_of(layers: Sequence[ResolvedLayer]) -> Slope | None:
    if len(layers) != 1:
        return None
    layer, common = layers[0], layers[0].common
    untouched = (
        layer.undo_parent is None
        and not layer.own.per_element
        and not common.per_element
        and common.discrete("profile") == "linear"
        and not common.discrete("invert")
        and common.discrete("read") == "points"
        and common.scalar("strength") == 100
    )
    return layer.definition.rises_along(layer.own) if untouched else None


def _along(mesh: Mesh, axis: np.ndarray) -> np.ndarray:
    at = np.flatnonzero(axis)
    if len(at) == 1 and axis[at[0]] == 1:
        return np.ascontiguousarray(mesh.points[:, at[0]], np.float32)
    return np.ascontiguousarray(mesh.points @ axis.astype(np.float32))

"""What a job is to make, as plain data that is saved with it."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import asdict, dataclass, fields
from typing import Any, Literal

from zygomorph.core.document.loop import Loop
from zygomorph.core.errors import ZygomorphError
from zygomorph.core.formats.clips import CLIPS, Effort, check_clip, rate_of
from zygomorph.core.formats.gltf_numbers import Numbers
from zygomorph.core.formats.placed_copies import CopiesAs
from zygomorph.jobs.pictures.order import Eye, PictureOrder, check_size, encoded_as
from zygomorph.render.final.settings import FinalSettings, LayerName

# Moments of the open shutter at which the scene is drawn for one picture.
MOMENTS = 8


@dataclass(frozen=True)
class FinalOrder(PictureOrder):
    """Pictures by path tracing, and the file that is made of them.

    samples, bounces, clamp, noise_removal, layers, masks : see FinalSettings
    trailed : whether pictures leave trails in later ones; their light is kept for it
    trail_times : times, in frames, that are traced for the trails in other pictures alone
    """

    samples: int = 64
    bounces: int = 8
    clamp: float = 10.0
    noise_removal: bool = True
    layers: tuple[LayerName, ...] = ()
    masks: tuple[tuple[str, str], ...] = ()
    trailed: bool = False
    trail_times: tuple[float, ...] = ()

    @property
    def has_light(self) -> bool:
        return True

    @property
    def layered(self) -> bool:
        """Whether each picture has an EXR with its layers."""
        return bool(self.kind == "exr" or self.layers or self.masks)

    @property
    def keeps_light(self) -> bool:
        """Whether each picture has an EXR."""
        return self.layered or self.trailed

    def drawn_times(self, loop: Loop) -> Sequence[float]:
        """Time of each unit, in frames: of the pictures, then those that only trails need."""
        return [*self.times(loop), *self.trail_times]

    @property
    def settings(self) -> FinalSettings:
        moments = min(MOMENTS, self.samples) if self.blur else 1
        return FinalSettings(
            self.size,
            self.samples,
            self.bounces,
            self.clamp,
            moments,
            self.noise_removal,
            layers=self.layers,
            masks=self.masks,
        )

    def check(self) -> None:
        super().check()
        self.settings.check()
        if (self.layers or self.masks) and self.kind not in ("png", "exr"):
            raise ZygomorphError(
                f"Layers are not kept as {self.kind}.", "Choose a PNG or an EXR sequence."
            )


def in_loop(time: float, frames: int) -> float:
    """The time from 0 up to the end of the loop at which a picture before or after it is drawn."""
    return round(time % frames, 6) % frames


MeshKind = Literal["glb", "usd", "model-page", "obj", "ply", "stl", "cache"]
# Kinds that are one file of the whole loop.
WHOLE: tuple[MeshKind, ...] = ("glb", "usd", "model-page")


@dataclass(frozen=True)
class MeshOrder:
    """Meshes, a scene file, or a simulation cache: the states of systems and memory masks.

    frames : first and last of a sequence, both included; piece : id of one piece, None for all
    tolerance, numbers, copies_as : of a GLB; normals, colours : of USD
    """

    kind: MeshKind
    frames: tuple[int, int]
    piece: str | None = None
    final: bool = False
    tolerance: float | None = None
    numbers: Numbers = "plain"
    copies_as: CopiesAs = "nodes"
    normals: bool = False
    colours: bool = True


Ways = Literal["forwards", "backwards", "there and back"]
ClipKind = Literal["mp4", "webm", "av1", "gif", "webp", "png", "clip-page"]


@dataclass(frozen=True)
class ClipOrder:
    """A clip of the pictures of another job.

    size : (columns, rows) that they are scaled to
    own_rate, rate : pictures a second of that job, and of the clip; it takes the same seconds
    way : order of the pictures; repeats : how often the loop is shown
    """

    kind: ClipKind
    size: tuple[int, int]
    own_rate: float
    rate: float
    way: Ways = "forwards"
    repeats: int = 1
    pixel_format: str = "yuv420p"
    effort: Effort = "good"

    def check(self) -> None:
        """Raises ZygomorphError with what cannot be made so."""
        check_size(self.size)
        if encoded_as(self.kind) in CLIPS:
            check_clip(encoded_as(self.kind), self.pixel_format, *self.size)

    def numbers(self, count: int) -> list[int]:
        """Numbers of the pictures in the order of the clip: at each moment the one that is shown
        at that moment at ``own_rate``."""
        forth = list(range(count))
        if self.way == "backwards":
            forth.reverse()
        elif self.way == "there and back":
            # Neither end is shown twice.
            forth += forth[-2:0:-1]
        own, wanted = rate_of(self.own_rate), rate_of(self.rate)
        total = max(1, round(len(forth) * wanted / own))
        return [forth[min(int(k * own / wanted), len(forth) - 1)] for k in range(total)]


Order = FinalOrder | MeshOrder | ClipOrder
_SORTS: dict[str, type[Order]] = {"final": FinalOrder, "mesh": MeshOrder, "clip": ClipOrder}


def as_data(order: Order) -> dict[str, Any]:
    """An order as a JSON object."""
    sort = next(name for name, kind in _SORTS.items() if isinstance(order, kind))
    return {"order": sort, **asdict(order)}


def from_data(data: Mapping[str, Any]) -> Order:
    """The order that :func:`as_data` made. Raises ZygomorphError if another version made it."""
    kind = _SORTS.get(str(data.get("order")))
    if kind is None:
        raise ZygomorphError(
            "This job was ordered by another version of the program.", "Order it again."
        )
    given = {field.name: data[field.name] for field in fields(kind) if field.name in data}
    for name in ("size", "frames", "layers", "trail_times"):
        if name in given:
            given[name] = tuple(given[name])
    if "masks" in given:
        given["masks"] = tuple(tuple(mask) for mask in given["masks"])
    if given.get("eye"):
        eye = given["eye"]
        given["eye"] = Eye(tuple(eye["position"]), tuple(eye["target"]), eye["angle"])
    return kind(**given)

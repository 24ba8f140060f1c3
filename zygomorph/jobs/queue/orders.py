"""What is to be made, as plain data that a job keeps."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import asdict, dataclass, fields
from typing import Any, Literal

from zygomorph.core.errors import ZygomorphError
from zygomorph.core.formats.clips import CLIPS, Effort, check_clip, rate_of
from zygomorph.core.formats.gltf_numbers import Numbers
from zygomorph.core.formats.placed_copies import CopiesAs
from zygomorph.jobs.pictures.order import Eye, PictureOrder, check_size, encoded_as
from zygomorph.render.final.settings import FinalSettings, LayerName

# At how many moments of a picture things are drawn while the shutter is open.
MOMENTS = 8


@dataclass(frozen=True)
class FinalOrder(PictureOrder):
    """Pictures by path tracing, and what becomes of them.

    samples, bounces, clamp, noise_removal, layers, masks : see FinalSettings
    trailed : whether something of each is left in the next ones, for which its light is kept
    """

    samples: int = 64
    bounces: int = 8
    clamp: float = 10.0
    noise_removal: bool = True
    layers: tuple[LayerName, ...] = ()
    masks: tuple[tuple[str, str], ...] = ()
    trailed: bool = False

    @property
    def has_light(self) -> bool:
        return True

    @property
    def layered(self) -> bool:
        """Whether each picture has a file with its layers as well."""
        return bool(self.kind == "exr" or self.layers or self.masks)

    @property
    def keeps_light(self) -> bool:
        """Whether each picture has an EXR."""
        return self.layered or self.trailed

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


MeshKind = Literal["glb", "usd", "model-page", "obj", "ply", "stl", "cache"]
# One file of the whole loop each.
WHOLE: tuple[MeshKind, ...] = ("glb", "usd", "model-page")


@dataclass(frozen=True)
class MeshOrder:
    """Meshes, a scene, or, as a cache, what remembers at each frame, kept for later.

    frames : first and last of a sequence, both included; piece : one of them, None for all
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
    """A clip of pictures that another job has made.

    size : (columns, rows), to which they are scaled
    own_rate, rate : pictures a second, as they were made for and as they are to be; the seconds
        stay the same
    way : in which order; repeats : how often all are shown
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
        """Numbers of the pictures in the order in which they are shown once: each moment shows the
        one that was to be seen then."""
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
    """An order as JSON has it."""
    sort = next(name for name, kind in _SORTS.items() if isinstance(order, kind))
    return {"order": sort, **asdict(order)}


def from_data(data: Mapping[str, Any]) -> Order:
    """Raises ZygomorphError where it is none of this program's."""
    kind = _SORTS.get(str(data.get("order")))
    if kind is None:
        raise ZygomorphError(
            "This job was ordered by another version of the program.", "Order it again."
        )
    given = {field.name: data[field.name] for field in fields(kind) if field.name in data}
    for name in ("size", "frames", "layers"):
        if name in given:
            given[name] = tuple(given[name])
    if "masks" in given:
        given["masks"] = tuple(tuple(mask) for mask in given["masks"])
    if given.get("eye"):
        eye = given["eye"]
        given["eye"] = Eye(tuple(eye["position"]), tuple(eye["target"]), eye["angle"])
    return kind(**given)

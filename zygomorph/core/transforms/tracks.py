"""World transforms at each frame as moves, turns and scales, as files of animation want them."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from zygomorph.core.geometry.affine import turns_of
from zygomorph.core.transforms.world_transform import WorldTransform
from zygomorph.core.values.place_values import PLACE_VALUES

# A jump is made within this share of a frame, where a file mixes what lies between its times.
JUMP = 0.01


def transform_tracks(world: WorldTransform, times: np.ndarray) -> dict[str, np.ndarray]:
    """Name -> (T, 3) of "move" (m), "turn" (°) and "scale" at times, (T,) frames."""
    own = world.own.at(times)
    tracks = {
        name: np.broadcast_to(own.numbers[name], (3, len(times))).T.copy() for name in PLACE_VALUES
    }
    if not world.attached:
        return tracks
    places = world.unscaled(times)
    tracks["move"] = places[:, :3, 3].copy()
    tracks["turn"] = turns_of(places[:, :3, :3])
    return tracks


@dataclass(frozen=True)
class SampledTransform:
    """A world transform over the loop.

    times : (T,) frames; tracks : name -> (T, 3)
    held : whether each place stays until the next, instead of going there in a straight line
    """

    times: np.ndarray
    tracks: dict[str, np.ndarray]
    held: bool = False


def sampled_transform(
    world: WorldTransform, frames: int, jumps: bool, still: float | None = None
) -> SampledTransform:
    """At each frame up to the end, or once where it does not move; where something goes from place
    to place at once, also just before.

    jumps : whether the piece does, by its place or by its steps
    still : the only frame that is wanted
    """
    if still is not None or not world.moves:
        times = np.array([still or 0.0])
        return SampledTransform(times, transform_tracks(world, times))
    whole = np.arange(frames + 1.0)
    if not jumps:
        return SampledTransform(whole, transform_tracks(world, whole))
    before = whole[1:] - JUMP
    times = np.sort(np.concatenate([whole, before]))
    tracks = transform_tracks(world, times)
    # Every second time is just before the next frame.
    if all(np.array_equal(v[:-1:2], v[1::2]) for v in tracks.values()):
        return SampledTransform(whole, {name: v[::2] for name, v in tracks.items()}, held=True)
    return SampledTransform(times, tracks)

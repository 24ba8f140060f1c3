"""Where a piece stands at each frame as moves, turns and scales, as files of animation want it."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from zygomorph.core.place import PLACE_VALUES
from zygomorph.core.plan import PiecePlan

# A jump is made within this share of a frame, where a file mixes what lies between its times.
JUMP = 0.01


def place_tracks(plan: PiecePlan, times: np.ndarray) -> dict[str, np.ndarray]:
    """Name -> (T, 3) of "move" (m), "turn" (°) and "scale" at times, (T,) frames."""
    own = plan.place.at(times)
    tracks = {
        name: np.broadcast_to(own.numbers[name], (3, len(times))).T.copy() for name in PLACE_VALUES
    }
    if not plan.carried:
        return tracks
    places = plan.stands.firm_course(times)
    tracks["move"] = places[:, :3, 3].copy()
    tracks["turn"] = turns_of(places[:, :3, :3])
    return tracks


@dataclass(frozen=True)
class PlaceCourse:
    """Where a piece stands over the loop.

    times : (T,) frames; tracks : name -> (T, 3)
    held : whether each place stays until the next, instead of going there in a straight line
    """

    times: np.ndarray
    tracks: dict[str, np.ndarray]
    held: bool = False


def place_course(plan: PiecePlan, frames: int, still: float | None = None) -> PlaceCourse:
    """At each frame up to the end, or once where the piece stands still; where it goes from place
    to place at once, also just before.

    still : a frame at which it stands still
    """
    if still is not None or not plan.place_moves:
        times = np.array([still or 0.0])
        return PlaceCourse(times, place_tracks(plan, times))
    whole = np.arange(frames + 1.0)
    if not plan.jumps:
        return PlaceCourse(whole, place_tracks(plan, whole))
    before = whole[1:] - JUMP
    times = np.sort(np.concatenate([whole, before]))
    tracks = place_tracks(plan, times)
    # Every second time is just before the next frame.
    if all(np.array_equal(v[:-1:2], v[1::2]) for v in tracks.values()):
        return PlaceCourse(whole, {name: v[::2] for name, v in tracks.items()}, held=True)
    return PlaceCourse(times, tracks)


# Below this cosine of the middle angle, the outer two turn about one axis.
LOCKED = 1e-7


def turns_of(rotations: np.ndarray) -> np.ndarray:
    """(T, 3) degrees about x, then y, then z, of rotations (T, 3, 3).

    Of the angles that give the same rotation those are taken that lie nearest to the ones before,
    so that a turn goes on and on instead of falling back. Where y is a quarter turn only x and z
    together are known, and x stays as it was.

    Source: the textbook matrix of Rz Ry Rx.
    """
    found = np.zeros((len(rotations), 3))
    before = np.zeros(3)
    for k, r in enumerate(rotations):
        across = np.hypot(r[0, 0], r[1, 0])
        y = np.arctan2(-r[2, 0], across)
        if across > LOCKED:
            x, z = np.arctan2(r[2, 1], r[2, 2]), np.arctan2(r[1, 0], r[0, 0])
        elif y > 0:
            x = np.radians(before[0])
            z = x - np.arctan2(r[0, 1], r[1, 1])
        else:
            x = np.radians(before[0])
            z = np.arctan2(-r[0, 1], r[1, 1]) - x
        # The other three angles of the same rotation are a half turn of the outer two away.
        twins = np.degrees([[x, y, z], [x + np.pi, np.pi - y, z + np.pi]])
        near = twins + 360 * np.rint((before - twins) / 360)
        found[k] = before = near[np.abs(near - before).sum(axis=1).argmin()]
    return found

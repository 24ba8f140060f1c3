"""Where a piece stands at each frame as moves, turns and scales, as files of animation want it."""

from __future__ import annotations

import numpy as np

from zygomorph.core.place import PLACE_VALUES
from zygomorph.core.plan import PiecePlan


def place_tracks(plan: PiecePlan, frames: int) -> dict[str, np.ndarray]:
    """Name -> (T, 3) of "move" (m), "turn" (°) and "scale" at each frame up to the end, or (1, 3)
    where the piece stands still."""
    times = np.arange(frames + 1.0) if plan.place_moves else np.zeros(1)
    own = plan.place.at(times)
    tracks = {
        name: np.broadcast_to(own.numbers[name], (3, len(times))).T.copy() for name in PLACE_VALUES
    }
    if not plan.carried:
        return tracks
    places = np.stack([plan.stands.firm(times[k : k + 1]) for k in range(len(times))])
    tracks["move"] = places[:, :3, 3].copy()
    tracks["turn"] = turns_of(places[:, :3, :3])
    return tracks


def turns_of(rotations: np.ndarray) -> np.ndarray:
    """(T, 3) degrees about x, then y, then z, of rotations (T, 3, 3).

    Of the angles that give the same rotation those are taken that lie nearest to the ones before,
    so that a turn goes on and on instead of falling back.
    """
    from scipy.spatial.transform import Rotation

    found = Rotation.from_matrix(rotations).as_euler("xyz", degrees=True)
    for k in range(1, len(found)):
        x, y, z = found[k]
        # The other three angles of the same rotation.
        twins = np.array([[x, y, z], [x + 180, 180 - y, z + 180]])
        near = twins + 360 * np.rint((found[k - 1] - twins) / 360)
        found[k] = near[np.abs(near - found[k - 1]).sum(axis=1).argmin()]
    return np.asarray(found)

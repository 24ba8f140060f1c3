"""What a layer finds on the rest shape, found once for all frames that share it."""

from __future__ import annotations

from collections.abc import Callable, Hashable

import numpy as np

from zygomorph.core.mesh import Mesh


def once_at_rest(
    mesh: Mesh, key: tuple[Hashable, ...], make: Callable[[], np.ndarray]
) -> np.ndarray:
    """What ``make`` finds, made once for this topology, this rest shape and this key."""
    rest = mesh.rest
    # The rest shape is kept beside what was found, so that its address is not another's meanwhile.
    _, found = mesh.topology.derived((*key, id(rest)), lambda: (rest, make()))
    return found

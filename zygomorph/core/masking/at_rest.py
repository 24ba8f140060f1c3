"""What a layer finds on the rest shape, found once for all frames that share it."""

from __future__ import annotations

from collections.abc import Callable, Hashable

import numpy as np

from zygomorph.core.geometry.mesh import Mesh


def once_at_rest(
    mesh: Mesh, key: tuple[Hashable, ...], make: Callable[[], np.ndarray], of: object = None
) -> np.ndarray:
    """What ``make`` finds, made once for this topology, this rest shape and this key.

    of : a part of the document that it depends on; it is never changed in place, so that it is
        told by its identity and need not be read at every frame
    """
    rest = mesh.rest
    # Both are kept beside what was found, so that their addresses are not another's meanwhile.
    name = (*key, id(rest), id(of))
    *_, found = mesh.topology.derived(name, lambda: (rest, of, make()))
    return found

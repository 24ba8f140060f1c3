"""What a change of topology comes to but for where the points are: made once, used every frame."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field

import numpy as np

from zygomorph.core.geometry.mesh import ELEMENT_ID, REST, Mesh
from zygomorph.core.geometry.origins import Origin
from zygomorph.core.geometry.topology import Topology


@dataclass(frozen=True, eq=False)
class Structure:
    """The topology that a step makes of another, and where each new element comes from.

    origins : by domain; a domain that is not there starts with no attributes
    attributes : domain -> name -> array, of what the step makes itself and does not take over
    """

    topology: Topology
    origins: Mapping[str, Origin]
    attributes: Mapping[str, Mapping[str, np.ndarray]] = field(default_factory=dict)
    # The last array of each attribute that was carried, and what it became: what does not move
    # is not carried anew at every frame.
    _last: dict[tuple[str, str], tuple[np.ndarray | None, np.ndarray]] = field(default_factory=dict)
    _last_rest: dict[str, tuple[tuple[np.ndarray, ...], np.ndarray]] = field(default_factory=dict)

    def carried(self, mesh: Mesh, points: np.ndarray) -> Mesh:
        """The new mesh at these positions, with all that is known of the old one's elements, the
        rest shape included."""
        found: dict[str, dict[str, np.ndarray]] = {}
        for domain, origin in self.origins.items():
            own = self.attributes.get(domain, {})
            found[domain] = {
                name: self.carried_attribute(domain, name, values)
                for name, values in mesh.attributes.get(domain, {}).items()
                if name not in own and name != ELEMENT_ID
            }
            ids = mesh.get(domain, ELEMENT_ID)
            found[domain][ELEMENT_ID] = self._ids(domain, ids, mesh.count(domain), origin)
        if "face" in self.origins and "shard" not in self.origins and "shard" in mesh.attributes:
            # Faces know their shards, and these are the same.
            found["shard"] = dict(mesh.attributes["shard"])
        for domain, own in self.attributes.items():
            found[domain] = found.get(domain, {}) | dict(own)
        found.setdefault("point", {}).setdefault(REST, points)
        return Mesh(points, self.topology, found)

    def after(self, first: Structure) -> Structure:
        """Both changes as one: this one, made of what ``first`` makes.

        Attributes that the first makes itself go on by the origins of this one.
        """
        origins = {
            domain: origin.after(first.origins[domain])
            for domain, origin in self.origins.items()
            if domain in first.origins
        }
        attributes = {domain: dict(named) for domain, named in self.attributes.items()}
        for domain, named in first.attributes.items():
            if domain in self.origins:
                carried = {n: self.origins[domain].carry(v) for n, v in named.items()}
                attributes[domain] = carried | attributes.get(domain, {})
        return Structure(self.topology, origins, attributes)

    def placed_at_rest(
        self, given: Sequence[np.ndarray], place: Callable[[], np.ndarray]
    ) -> np.ndarray:
        """The rest shape that ``place`` gives, found anew only where what it is found from differs
        from the last time."""
        known, made = self._last_rest.get("rest", ((), np.zeros(0)))
        same = len(known) == len(given) and all(
            one is other or np.array_equal(one, other)
            for one, other in zip(known, given, strict=True)
        )
        if not same:
            made = place()
            self._last_rest["rest"] = (tuple(given), made)
        return made

    def carried_attribute(self, domain: str, name: str, values: np.ndarray) -> np.ndarray:
        """An attribute of the old elements as that of the new ones, found anew only where it is
        another array than the last time."""
        source, made = self._last.get((domain, name), (None, values))
        if source is not values:
            made = self.origins[domain].carry(values)
            self._last[domain, name] = (values, made)
        return made

    def _ids(self, domain: str, ids: np.ndarray | None, count: int, origin: Origin) -> np.ndarray:
        known = self._last.get((domain, ELEMENT_ID))
        if known is not None and known[0] is ids:
            return known[1]
        made = origin.carry_ids(np.arange(count) if ids is None else ids)
        self._last[domain, ELEMENT_ID] = (ids, made)
        return made


def unchanged(topology: Topology) -> Structure:
    """A structure that is the topology as it was, with all that has been derived of it."""
    counts = {
        "point": topology.point_count,
        "corner": len(topology.corners),
        "face": topology.face_count,
    }
    return Structure(
        topology, {domain: Origin.taken(np.arange(count)) for domain, count in counts.items()}
    )

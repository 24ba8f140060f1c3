"""Frames as bytes: a small JSON header, then blocks aligned to 4 bytes. See docs/wire.md."""

from __future__ import annotations

import hashlib
import json
import struct
from dataclasses import dataclass
from typing import Any

import numpy as np

from zygomorph.api.shapes import FrameQuery
from zygomorph.core.encode import encode
from zygomorph.core.evaluate import Result
from zygomorph.core.looks.gradients import gradient_table
from zygomorph.core.looks.surface import colour_values
from zygomorph.core.mesh import Mesh
from zygomorph.core.plan import plan_piece
from zygomorph.core.study import Study

MAGIC = b"ZYGF"
VERSION = 1
MEDIA_TYPE = "application/vnd.zygomorph.frame"


def piece_key(study: Study, piece_id: str, final: bool) -> str:
    """Hash of everything the frames of a piece depend on, except the frame."""

    def make() -> str:
        piece = {k: v for k, v in study.piece(piece_id).items() if k not in ("name", "visible")}
        parts = [piece, study.document.get("loop", {}), final, VERSION]
        text = json.dumps(parts, sort_keys=True, separators=(",", ":"))
        return hashlib.blake2b(text.encode(), digest_size=12).hexdigest()

    return study.once(("key", piece_id, final), make)


@dataclass(frozen=True)
class FrameOptions:
    """have : topologies the client holds; exact : points as float32 instead of 16 bits"""

    frame: float
    final: bool = False
    have: frozenset[str] = frozenset()
    exact: bool = False

    @classmethod
    def of(cls, query: FrameQuery) -> FrameOptions:
        held = frozenset(name for name in query.have.split(",") if name)
        return cls(query.frame, query.quality == "final", held, query.exact)


def _topology_blocks(mesh: Mesh) -> dict[str, np.ndarray]:
    topology = mesh.topology
    return {
        "triangles": topology.triangles(mesh.points).astype(np.uint32),
        "edges": topology.edges.astype(np.uint32),
    }


def pack_frame(study: Study, piece_id: str, result: Result, options: FrameOptions) -> bytes:
    """One frame of a piece for a viewer."""
    look = plan_piece(study, piece_id, options.final).look.at(np.array([options.frame]))
    colouring = colour_values(result.mesh, look)
    encoded = encode(result.mesh, result.low, result.high, colouring, result.weights)
    blocks: dict[str, np.ndarray] = {"points": encoded.points, "normals": encoded.normals}
    flat = look.word("shading") == "flat"
    # Facets are shaded by differences of positions, in which the steps of 16 bits would show.
    if options.exact or flat:
        blocks["exact"] = result.mesh.points
    if encoded.mask is not None:
        blocks["mask"] = encoded.mask
    if colouring.values is not None:
        blocks["gradient"] = gradient_table(look.word("gradient"))
    digest = result.mesh.topology.digest
    if digest not in options.have:
        blocks |= _topology_blocks(result.mesh)
    header = {
        "piece": piece_id,
        "frame": options.frame,
        "key": result.key,
        "topology": digest,
        "points": len(result.mesh.points),
        "faces": result.mesh.topology.face_count,
        "closed": result.mesh.topology.closed,
        "low": [float(v) for v in result.low],
        "high": [float(v) for v in result.high],
        "place": [float(v) for v in result.place.T.reshape(-1)],
        "look": {
            "by_value": colouring.values is not None,
            "colour": look.word("colour"),
            "glow": look.scalar("glow") / 100,
            "roughness": look.scalar("roughness") / 100,
            "flat": flat,
        },
        "steps": [
            {
                "id": s.step_id,
                "ms": round(s.milliseconds, 3),
                "points": s.points,
                "faces": s.faces,
                "reused": s.reused,
            }
            for s in result.steps
        ],
    }
    return pack(header, blocks)


def pack(header: dict[str, Any], blocks: dict[str, np.ndarray]) -> bytes:
    """Header and named arrays in one byte string."""
    described: list[dict[str, Any]] = []
    body: list[bytes | memoryview] = []
    offset = 0
    for name, array in blocks.items():
        raw = np.ascontiguousarray(array)
        described.append(
            {"name": name, "type": raw.dtype.name, "shape": list(raw.shape), "offset": offset}
        )
        padding = -raw.nbytes % 4
        body += [raw.reshape(-1).view(np.uint8).data, b"\0" * padding]
        offset += raw.nbytes + padding
    text = json.dumps(header | {"blocks": described}, separators=(",", ":")).encode()
    text += b" " * (-len(text) % 4)
    return b"".join([MAGIC, struct.pack("<II", VERSION, len(text)), text, *body])

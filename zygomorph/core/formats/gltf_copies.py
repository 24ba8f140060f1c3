"""Copies in glTF: a node for each, which may move, or all in one node
(EXT_mesh_gpu_instancing, from the registry of glTF's extensions), which stand still."""

from __future__ import annotations

from typing import Any

import numpy as np
import pygltflib as gl
from scipy.spatial.transform import Rotation

from zygomorph.core.formats.gltf_numbers import Frame
from zygomorph.core.formats.placed_copies import PlacedCopies

INSTANCING = "EXT_mesh_gpu_instancing"
Channel = tuple[int, str, int, int, bool]


def _in_the_frame(copies: PlacedCopies, frame: Frame) -> tuple[np.ndarray, np.ndarray]:
    """Moves and sizes with what takes stored points back to metres before them."""
    if not frame.compact:
        return copies.move, copies.size
    turned = Rotation.from_quat(copies.turn.reshape(-1, 4)).apply(
        (copies.size * frame.centre).reshape(-1, 3)
    )
    return copies.move + turned.reshape(copies.move.shape), copies.size * frame.scale


def add_instances(writer: Any, name: str, mesh: int, copies: PlacedCopies, frame: Frame) -> int:
    """One node with all copies as they are at the first moment; returns its number."""
    move, size = _in_the_frame(copies, frame)
    parts = {"TRANSLATION": move[0], "ROTATION": copies.turn[0], "SCALE": size[0]}
    attributes = {
        key: writer.accessor(
            part.astype(np.float32), gl.VEC4 if key == "ROTATION" else gl.VEC3, gl.FLOAT
        )
        for key, part in parts.items()
    }
    document = writer.document
    extensions = {INSTANCING: {"attributes": attributes}}
    document.nodes.append(gl.Node(name=f"{name} copies", mesh=mesh, extensions=extensions))
    for listed in (document.extensionsUsed, document.extensionsRequired):
        if INSTANCING not in listed:
            listed.append(INSTANCING)
    return len(document.nodes) - 1


def add_nodes(
    writer: Any, name: str, mesh: int, copies: PlacedCopies, frame: Frame
) -> tuple[list[int], list[Channel]]:
    """A node for each copy, and what moves them; returns their numbers."""
    document = writer.document
    move, size = _in_the_frame(copies, frame)
    paths = {"translation": move, "rotation": copies.turn, "scale": size}
    nodes: list[int] = []
    channels: list[Channel] = []
    times: int | None = None
    for k in range(copies.move.shape[1]):
        node = gl.Node(name=f"{name} {k + 1}", mesh=mesh)
        for path, values in paths.items():
            setattr(node, path, [float(v) for v in values[0, k]])
        document.nodes.append(node)
        nodes.append(len(document.nodes) - 1)
        for path, values in paths.items():
            own = values[:, k]
            if not np.ptp(own, axis=0).any():
                continue
            times = writer.times(copies.times) if times is None else times
            kind = gl.VEC4 if path == "rotation" else gl.VEC3
            data = writer.accessor(own.astype(np.float32), kind, gl.FLOAT)
            channels.append((nodes[-1], path, times, data, copies.held))
    return nodes, channels

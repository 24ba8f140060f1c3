"""The ground as a disc, as the stage has it."""

from __future__ import annotations

import numpy as np

from zygomorph.core.values.gradients import parse_hex, to_linear
from zygomorph.render.final.things import (
    COLOUR,
    COLUMNS,
    OPACITY,
    ROUGHNESS,
    Floor,
    Optics,
    Surface,
)

# Sides of its rim.
RIM = 64
# What it is called where pieces have their ids.
FLOOR = "ground"


def floor_surface(floor: Floor, columns: int = COLUMNS) -> Surface:
    """columns : of its table of looks"""
    angle = np.arange(RIM) * (2 * np.pi / RIM)
    rim = np.stack([np.cos(angle), np.zeros(RIM), -np.sin(angle)], axis=1) * floor.reach
    points = np.concatenate([np.zeros((1, 3)), rim]) + np.array(floor.middle)
    after = np.arange(RIM)
    triangles = np.stack([np.zeros(RIM, int), 1 + after, 1 + (after + 1) % RIM], axis=1)
    looks = np.zeros((len(points), columns), np.float32)
    looks[:, COLOUR] = to_linear(parse_hex(floor.ground.colour))
    looks[:, ROUGHNESS], looks[:, OPACITY] = floor.ground.roughness, 1
    normals = np.broadcast_to(np.array([0, 1, 0], np.float32), points.shape)
    return Surface(
        FLOOR,
        points.astype(np.float32),
        np.ascontiguousarray(normals),
        triangles.astype(np.uint32),
        looks,
        Optics(),
    )

"""A pattern or picture on a surface, as viewers find it at every pixel."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

import numpy as np

Figure = Literal["checks", "stripes", "dots", "grid", "noise", "picture"]
# Places in the piece, at rest or as it is, UVs, or the picture that is seen.
On = Literal["piece", "rest", "uv", "eye"]
Round = Literal["flat", "cylinder", "sphere"]


@dataclass(frozen=True, eq=False)
class Print:
    """What is printed, and how it lies.

    on : what its own space is found from; round : what it is wrapped round in that space
    frame : (3, 4) float64 from there to its own space: right, up, and towards whoever sees it
        upright; of a cylinder or sphere, the last is the axis
    across : (2, 3) float64 from (u, v, 1) in that space to repeats of it, (s, t); it is the same
        again after 1 in either
    fill, edge : shares of a repeat: how wide lines and dots are, how soft their edges
    seed, evolve : of noise, and how far its gradients have turned, cycles
    picture : name of the picture, "" of a weave; moment : number of the film's picture
    soft : share of its width over which it is smoothed; beyond : how it goes on beyond its rim
    """

    figure: Figure
    on: On
    round: Round
    frame: np.ndarray
    across: np.ndarray
    fill: float = 0.5
    edge: float = 0.0
    seed: int = 1
    evolve: float = 0.0
    picture: str = ""
    moment: int = 0
    soft: float = 0.0
    beyond: str = "repeat"

"""Markers: bare places on the stage, with axes, that signals move and that carry other things."""

from __future__ import annotations

from zygomorph.core.place import PLACE_VALUES

# A marker is a place without a size; what it carries keeps its own.
MARKER_VALUES = {name: PLACE_VALUES[name] for name in ("move", "turn")}

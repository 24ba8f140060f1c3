"""The study's camera, from which masks may be measured."""

from __future__ import annotations

# Where the camera of a study is that says nothing of it; metres.
EYE = (1.6, 1.0, 2.4)

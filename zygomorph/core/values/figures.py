"""Numbers as they are written, with their units."""

from __future__ import annotations


def figure(value: float) -> str:
    """Four digits; large ones with separators."""
    return f"{value:.4g}" if abs(value) < 1e4 else f"{value:,.0f}"


def with_unit(value: float, unit: str) -> str:
    """A figure with its unit, as it is written: 90°, 1.5 ×, 0.3 m."""
    if unit == "°":
        return f"{figure(value)}°"
    return f"{figure(value)} {unit}".strip()

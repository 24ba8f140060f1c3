"""Plane outlines: of letters and drawings, as curves, filled, or with a depth."""

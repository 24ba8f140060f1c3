"""Waves on shallow water in a basin of any outline, as the wave equation has them.

Lengths in metres, times in seconds. The water is level, and a grid of square cells lies over it.
"""

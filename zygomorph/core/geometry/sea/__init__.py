"""Wind waves: spectra of their height, and the surface that follows from a spectrum.

Lengths in metres, times in seconds, angles in radians. The water is level at y = 0 and reaches to a
flat bottom.
"""

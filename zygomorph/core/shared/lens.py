"""What a lens on a film sees, and how sharply.

Angle of view: 2·atan(d / 2f) for a film of width d behind a lens of focal length f. Depth of field
is that of a thin lens whose opening has the diameter f / N at f-number N (J. E. Greivenkamp, "Field
Guide to Geometrical Optics", 2004; from memory).
"""

from __future__ import annotations

import numpy as np


def picture_on_film(film_mm: float, aspect: float) -> tuple[float, float]:
    """(width, height) of the picture on the film, mm: its longer side is as long as the film is
    wide, whether the picture lies or stands."""
    if aspect >= 1:
        return film_mm, film_mm / aspect
    return film_mm * aspect, film_mm


def angle_of(side_mm: float, lens_mm: float) -> float:
    """The angle that a side of the picture on the film sees, degrees."""
    return float(np.degrees(2 * np.arctan(side_mm / (2 * lens_mm))))


def lens_of(side_mm: float, angle: float) -> float:
    """The focal length, mm, at which a side of the picture on the film sees an angle, degrees."""
    return float(side_mm / (2 * np.tan(np.radians(angle) / 2)))


def lens_radius(lens_mm: float, f_number: float) -> float:
    """Half the diameter of the opening, metres."""
    return lens_mm / f_number / 2000


def circle_of_confusion(radius: float, focus: float, distance: float) -> float:
    """Diameter of the blur of a point at a distance, metres on the plane that is in focus.

    radius : of the opening; focus, distance : along the axis; all in metres
    """
    return 2 * radius * abs(distance - focus) / distance

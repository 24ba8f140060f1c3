"""How bright colours look: weights of linear red, green and blue (IEC 61966-2-1)."""

LUMINANCE = (0.2126, 0.7152, 0.0722)

"""Letters of a text as contours: shaped by HarfBuzz, in fonts that come with the program."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cache
from importlib.resources import files
from typing import Any

import numpy as np

from zygomorph.core.errors import ZygomorphError
from zygomorph.core.geometry.outlines.contour import Contour, Pen

# In the folder fonts; all under the SIL Open Font License; the licences lie beside them.
FONTS = {"sans": "sans.otf", "serif": "serif.otf", "round": "round.ttf", "script": "script.otf"}


@dataclass(frozen=True)
class Letter:
    """A letter, or several that a font draws as one.

    index : place of its first character in the text; contours : in ems, at its place
    """

    index: int
    contours: list[Contour]


@cache
def _font(name: str) -> Any:
    import uharfbuzz

    data = files(__package__).joinpath("fonts", FONTS[name]).read_bytes()
    return uharfbuzz.Font(uharfbuzz.Face(uharfbuzz.Blob(data)))


def letters(
    text: str, font: str, pieces: int, spacing: float, leading: float, align: str
) -> list[Letter]:
    """The letters of a text, its middle at the origin; lengths in ems.

    pieces : of each curve; spacing : added after each letter; leading : from line to line
    align : "left", "centre" or "right", for several lines

    Raises ZygomorphError where the font lacks a character, or nothing is to be drawn.
    """
    found: list[Letter] = []
    start = 0
    for number, line in enumerate(text.split("\n")):
        drawn, width = _line(line, start, font, pieces, spacing)
        left = {"left": 0.0, "centre": -width / 2, "right": -width}[align]
        found += [_moved(letter, np.array([left, -number * leading])) for letter in drawn]
        start += len(line) + 1
    if not found:
        raise ZygomorphError(
            "The text has no letters to be seen.", "Type a word; spaces alone draw nothing."
        )
    every = np.concatenate([c.points for letter in found for c in letter.contours])
    middle = (every.min(axis=0) + every.max(axis=0)) / 2
    return [_moved(letter, -middle) for letter in found]


def _moved(letter: Letter, by: np.ndarray) -> Letter:
    return Letter(letter.index, [Contour(c.points + by, c.closed) for c in letter.contours])


def _line(
    line: str, start: int, font: str, pieces: int, spacing: float
) -> tuple[list[Letter], float]:
    """Letters of one line from its left end, and how long it is."""
    import uharfbuzz

    if not line:
        return [], 0.0
    own = _font(font)
    buffer = uharfbuzz.Buffer()
    buffer.add_str(line.encode(errors="replace").decode())
    buffer.guess_segment_properties()
    # Letters that are set apart are not drawn as one.
    uharfbuzz.shape(own, buffer, {"liga": spacing == 0, "clig": spacing == 0})
    em = own.face.upem
    drawn: list[Letter] = []
    x = y = 0.0
    last = 0.0
    for info, place in zip(buffer.glyph_infos, buffer.glyph_positions, strict=True):
        if info.codepoint == 0:
            raise ZygomorphError(
                f"The font has no {_named(line[info.cluster])}, which is character "
                f"{start + info.cluster + 1} of the text.",
                "Choose another font, or write it another way.",
            )
        pen = Pen(pieces)
        own.draw_glyph_with_pen(info.codepoint, pen)
        offset = np.array([x + place.x_offset, y + place.y_offset])
        contours = [Contour((c.points + offset) / em, True) for c in pen.contours]
        if contours:
            drawn.append(Letter(start + info.cluster, contours))
        last = x + place.x_advance
        x, y = last + spacing * em, y + place.y_advance
    return drawn, last / em


def _named(character: str) -> str:
    return f"“{character}”" if character.isprintable() else f"character U+{ord(character):04X}"

"""Read the outlines of an SVG drawing, by svgelements."""

from __future__ import annotations

import io
import re
from xml.etree import ElementTree
from xml.etree.ElementTree import ParseError

import numpy as np

from zygomorph.core.errors import MeshFileError
from zygomorph.core.geometry.mesh import Mesh
from zygomorph.core.geometry.outlines.contour import Contour, Pen
from zygomorph.core.geometry.outlines.solid import curve_mesh

MAX_BYTES = 20_000_000
# Pieces of each curve and quarter arc; whoever draws seldom uses more than this can show.
PIECES = 24
MAX_POINTS = 1_000_000
# 96 user units are an inch (CSS 2.1, section 4.3.2).
METRES = 0.0254 / 96
MAX_METRES = 1e9
# A parser takes time with the square of the length of a style; elements that are used where they
# are not drawn may double with every use of a use.
MAX_STYLE_BYTES = 20_000
MAX_ELEMENTS = 200_000
MAX_DEPTH = 200
LINK = ("href", "{http://www.w3.org/1999/xlink}href")


def read_svg(data: bytes) -> Mesh:
    """Its outlines as curves, in metres, its middle at the origin and y up.

    Raises MeshFileError where it cannot be read or draws nothing.
    """
    if len(data) > MAX_BYTES:
        raise MeshFileError(
            f"The drawing has {len(data):,} bytes; the limit is {MAX_BYTES:,}.", "Simplify it."
        )
    _check_effort(data)
    contours = _contours(data)
    if not contours:
        words = " Its text is not outlines yet." if re.search(rb"<text[\s>]", data) else ""
        raise MeshFileError(
            f"The drawing holds no paths or shapes.{words}", "Turn what it shows into paths."
        )
    every = np.concatenate([c.points for c in contours])
    if not np.isfinite(every).all():
        raise MeshFileError(
            "The drawing has a coordinate that is not a finite number.", "Draw that path again."
        )
    if np.abs(every).max() * METRES > MAX_METRES:
        raise MeshFileError(
            f"A coordinate of the drawing is as large as {np.abs(every).max():.3g}.",
            "Draw that path again.",
        )
    if len(every) > MAX_POINTS:
        raise MeshFileError(
            f"The drawing has {len(every):,} points; the limit is {MAX_POINTS:,}.", "Simplify it."
        )
    middle = (every.min(axis=0) + every.max(axis=0)) / 2
    # In a drawing y goes down, here up; ways are turned round, so that what ran clockwise still
    # does.
    return curve_mesh(
        [Contour((c.points - middle)[::-1] * [METRES, -METRES], c.closed) for c in contours]
    )


def _check_effort(data: bytes) -> None:
    """Raise MeshFileError where reading a drawing would take very long."""
    try:
        root = ElementTree.fromstring(data)
    except ParseError as error:
        raise _not_xml(error) from error
    named: dict[str, ElementTree.Element] = {}
    for element in root.iter():
        named.setdefault(element.get("id", ""), element)
        if element.tag.rpartition("}")[2] == "style" and len(element.text or "") > MAX_STYLE_BYTES:
            raise MeshFileError(
                f"A style sheet of the drawing has {len(element.text or ''):,} signs; the limit is "
                f"{MAX_STYLE_BYTES:,}.",
                "Export it with its styles at its paths.",
            )
    counts: dict[ElementTree.Element, int] = {}

    def drawn(element: ElementTree.Element, trail: tuple[ElementTree.Element, ...]) -> int:
        """How many elements are drawn by one, what it uses included."""
        if element in trail:
            raise MeshFileError("A part of the drawing uses itself.", "Draw it once.")
        if len(trail) > MAX_DEPTH:
            raise MeshFileError(
                f"The drawing is nested deeper than {MAX_DEPTH} groups.", "Ungroup it."
            )
        if element not in counts:
            below = list(element)
            if element.tag.rpartition("}")[2] == "use":
                link = next((element.get(name) for name in LINK if element.get(name)), "") or ""
                below += [named[link[1:]]] if link[:1] == "#" and link[1:] in named else []
            counts[element] = 1 + sum(drawn(each, (*trail, element)) for each in below)
            if counts[element] > MAX_ELEMENTS:
                raise MeshFileError(
                    f"The drawing shows more than {MAX_ELEMENTS:,} elements by using one another.",
                    "Simplify it.",
                )
        return counts[element]

    drawn(root, ())


def _not_xml(error: ParseError) -> MeshFileError:
    line, column = error.position
    return MeshFileError(
        f"The drawing is not XML at line {line}, column {column + 1}.", "Export it again."
    )


def _contours(data: bytes) -> list[Contour]:
    import svgelements as svg

    try:
        drawing = svg.SVG.parse(io.BytesIO(data), reify=True)
        pen = Pen(PIECES)
        for element in drawing.elements():
            if isinstance(element, svg.Shape) and element.values.get("display") != "none":
                path = abs(svg.Path(element))
                path.approximate_arcs_with_cubics()
                _draw(path, pen)
        pen.endPath()
    except ParseError as error:
        raise _not_xml(error) from error
    except (ValueError, TypeError, IndexError, KeyError, AttributeError) as error:
        # The library lets odd numbers and paths through as whatever error they lead to.
        raise MeshFileError(
            f"The drawing cannot be read: {error}.", "Export it again as plain SVG."
        ) from error
    return pen.contours


def _draw(path: object, pen: Pen) -> None:
    """Put the segments of a path on paper."""
    import svgelements as svg

    for segment in path:  # type: ignore[attr-defined]
        end = segment.end
        if isinstance(segment, svg.Move):
            pen.moveTo((end.x, end.y))
        elif isinstance(segment, svg.Close):
            pen.closePath()
        elif isinstance(segment, svg.CubicBezier):
            one, other = segment.control1, segment.control2
            pen.curveTo((one.x, one.y), (other.x, other.y), (end.x, end.y))
        elif isinstance(segment, svg.QuadraticBezier):
            pen.qCurveTo((segment.control.x, segment.control.y), (end.x, end.y))
        else:
            pen.lineTo((end.x, end.y))
    pen.endPath()

"""Letters and drawings, held against closed formulas, SVG 2, and fontTools.

Sources: SVG 2, sections 9 (paths) and 13.3.1 (fill rules, whose five-pointed star is used here);
the volume of a frustum of a pyramid; areas by fontTools' own pen.
"""

from pathlib import Path

import numpy as np
import pytest
import shapely
from fontTools.pens.areaPen import AreaPen
from fontTools.ttLib import TTFont
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.conftest import document, volume
from zygomorph.core.document.study import check_document
from zygomorph.core.errors import MeshFileError, StepError, ZygomorphError
from zygomorph.core.evaluation.evaluate import Evaluator, Request
from zygomorph.core.formats.read import read_here as read_mesh
from zygomorph.core.formats.svg import METRES
from zygomorph.core.geometry.outlines import letters as letters_module
from zygomorph.core.geometry.outlines.contour import Contour, Pen
from zygomorph.core.geometry.outlines.letters import FONTS, letters
from zygomorph.core.geometry.outlines.region import area_of, faces_of, winding_numbers
from zygomorph.core.geometry.outlines.solid import Solid, flat_mesh, inset, solid_mesh
from zygomorph.core.library.forms.outline import contours_of

FONT_FILES = Path(letters_module.__file__).parent / "fonts"
SQUARE = np.array([[0, 0], [2, 0], [2, 2], [0, 2]], float)


def ring(points, closed=True) -> Contour:
    return Contour(np.asarray(points, float), closed)


def circle(radius: float, count: int = 720, backward: bool = False) -> Contour:
    angle = np.arange(count) * 2 * np.pi / count * (-1 if backward else 1)
    return ring(radius * np.stack([np.cos(angle), np.sin(angle)], axis=1))


def star() -> Contour:
    """The star of SVG's fill rules: each tip joined to the second next."""
    angle = np.pi / 2 + np.arange(5) * 4 * np.pi / 5
    return ring(np.stack([np.cos(angle), np.sin(angle)], axis=1))


def pentagon_inside() -> float:
    """Area of the pentagon in the middle of a star of radius 1."""
    radius = np.sin(np.pi / 10) / np.sin(7 * np.pi / 10)
    return 2.5 * radius**2 * np.sin(2 * np.pi / 5)


def total(parts) -> float:
    return sum(part.area for part in parts)


def test_the_star_is_full_by_direction_and_hollow_by_every_other():
    full = total(area_of([star()], "nonzero"))
    hollow = total(area_of([star()], "evenodd"))
    # The tips are triangles between the radius of the tips and that of the inner corners.
    inner = np.sin(np.pi / 10) / np.sin(7 * np.pi / 10)
    whole = 5 * inner * np.sin(np.pi / 5)
    assert full == pytest.approx(whole)
    assert full - hollow == pytest.approx(pentagon_inside())
    assert len(area_of([star()], "evenodd")) == 5
    assert winding_numbers(np.zeros((1, 2)), [star()]).tolist() == [2]


@pytest.mark.parametrize("backward", [False, True])
def test_a_ring_inside_another_is_a_hole_only_where_it_runs_the_other_way(backward):
    area = total(area_of([circle(2), circle(1, backward=backward)], "nonzero"))
    assert area == pytest.approx(np.pi * (3 if backward else 4), rel=1e-4)
    assert total(area_of([circle(2), circle(1)], "evenodd")) == pytest.approx(3 * np.pi, rel=1e-4)


def test_overlapping_contours_are_one_part():
    both = area_of([ring(SQUARE), ring(SQUARE + 1)])
    assert len(both) == 1
    assert both[0].area == pytest.approx(7)


@given(st.floats(0.03, 0.7))
@settings(max_examples=30, deadline=None)
def test_a_grid_cuts_a_part_without_gaps(cell):
    area = area_of([circle(1, 50), circle(0.31, 20, backward=True)])[0]
    faces = faces_of(area, cell)
    mesh = flat_mesh([(0, area)], cell)
    # Every side inside is shared, so that only the part's own rings are left.
    count = len(np.unique(faces.corners))
    assert count == len(faces.points)
    border = mesh.topology.border.sum()
    assert border >= 70
    triangles = mesh.points[mesh.topology.triangles(mesh.points)].astype(float)
    cross = np.cross(triangles[:, 1] - triangles[:, 0], triangles[:, 2] - triangles[:, 0])
    assert (cross[:, 2] > -1e-9).all()
    assert cross[:, 2].sum() / 2 == pytest.approx(area.area, rel=1e-5)
    assert count - len(mesh.topology.edges) + mesh.topology.face_count == 0, "one hole (Euler)"


def chamfered(side: float, depth: float, width: float) -> float:
    """Volume of a square plate whose rims are cut off: a prism and two frusta."""
    top = (side - 2 * width) ** 2
    frustum = width / 3 * (side**2 + top + np.sqrt(side**2 * top))
    return side**2 * (depth - 2 * width) + 2 * frustum


@pytest.mark.parametrize("cell", [0.0, 0.3])
@pytest.mark.parametrize("width", [0.0, 0.1, 0.25])
def test_a_plate_has_its_volume(cell, width):
    area = area_of([ring(SQUARE)])[0]
    mesh = solid_mesh([(0, area)], Solid(0.5, width, 1, cell))
    assert mesh.topology.closed
    assert volume(mesh) == pytest.approx(chamfered(2, 0.5, width), rel=1e-5)


def test_a_round_bevel_comes_to_that_of_a_quarter_circle():
    """Straight rims lose w²(1 - π/4) each metre; corners less than w³ each."""
    area = area_of([ring(SQUARE)])[0]
    mesh = solid_mesh([(0, area)], Solid(0.5, 0.1, 48, 0.0))
    lost = 2 * 8 * 0.1**2 * (1 - np.pi / 4)
    assert 2 - volume(mesh) == pytest.approx(lost, abs=8 * 0.1**3)


def test_a_disc_with_a_hole_is_a_closed_solid():
    area = area_of([circle(1, 64), circle(0.5, 64, backward=True)])[0]
    mesh = solid_mesh([(3, area)], Solid(0.4, 0.05, 3, 0.1))
    assert mesh.topology.closed
    edges, faces = len(mesh.topology.edges), mesh.topology.face_count
    assert len(mesh.points) - edges + faces == 0, "a torus (Euler)"
    assert set(mesh.get("face", "shard").tolist()) == {3}


def test_a_bevel_is_as_wide_as_the_thinnest_place_allows():
    thin = shapely.Polygon([(0, 0), (4, 0), (4, 0.2), (0, 0.2)])
    drawn, width = inset(shapely.geometry.polygon.orient(thin), 0.5)
    assert 0.09 < width < 0.1
    assert drawn.is_valid
    wide, whole = inset(shapely.geometry.polygon.orient(thin), 0.05)
    assert whole == 0.05
    assert wide.area == pytest.approx(3.9 * 0.1)
    mesh = solid_mesh([(0, shapely.geometry.polygon.orient(thin))], Solid(1.0, 0.5, 3, 0.07))
    assert mesh.topology.closed
    assert volume(mesh) > 0


def test_curves_are_those_of_bezier():
    """Source: Farin, "Curves and Surfaces for CAGD", the Bernstein form."""
    pen = Pen(8)
    corners = np.array([[0, 0], [1, 2], [3, 3], [4, 0]], float)
    pen.moveTo(tuple(corners[0]))
    pen.curveTo(*(tuple(c) for c in corners[1:]))
    pen.endPath()
    t = np.linspace(0, 1, 9)[:, None]
    weights = np.concatenate([(1 - t) ** 3, 3 * t * (1 - t) ** 2, 3 * t**2 * (1 - t), t**3], axis=1)
    assert np.allclose(pen.contours[0].points, weights @ corners)
    assert not pen.contours[0].closed


# The strokes of the script overlap, and the pen counts what lies under two of them twice.
@pytest.mark.parametrize("name", sorted(set(FONTS) - {"script"}))
def test_letters_have_the_areas_that_fonttools_finds(name):
    font = TTFont(str(FONT_FILES / FONTS[name]))
    glyphs = font.getGlyphSet()
    for character in "BOg8s":
        pen = AreaPen(glyphs)
        glyphs[font.getBestCmap()[ord(character)]].draw(pen)
        expected = abs(pen.value) / font["head"].unitsPerEm ** 2
        found = letters(character, name, 40, 0.0, 1.2, "left")
        assert total(area_of(found[0].contours)) == pytest.approx(expected, rel=2e-3)


def test_pairs_are_kerned_and_letters_set_apart():
    def left_ends(text: str, spacing: float = 0.0) -> np.ndarray:
        found = letters(text, "round", 4, spacing, 1.2, "left")
        return np.array([min(c.points[:, 0].min() for c in one.contours) for one in found])

    font = TTFont(str(FONT_FILES / FONTS["round"]))
    cmap, em = font.getBestCmap(), font["head"].unitsPerEm
    (advance, left), (_, right) = (font["hmtx"][cmap[ord(c)]] for c in "AV")
    apart = float(np.diff(left_ends("AV"))[0])
    assert apart < (advance - left + right) / em - 0.05
    assert float(np.diff(left_ends("AV", 0.5))[0]) == pytest.approx(apart + 0.5)


def test_lines_stand_below_each_other_and_are_aligned():
    left = letters("mm\ni", "sans", 4, 0.0, 2.0, "left")
    right = letters("mm\ni", "sans", 4, 0.0, 2.0, "right")
    assert [letter.index for letter in left] == [0, 1, 3]
    assert left[2].contours[0].points[:, 1].max() < left[0].contours[0].points[:, 1].min()
    assert left[2].contours[0].points[:, 0].max() < right[2].contours[0].points[:, 0].min()


def test_what_a_font_lacks_is_named():
    with pytest.raises(ZygomorphError, match=r"no “語”, which is character 4 of the text"):
        letters("abc語", "round", 4, 0.0, 1.2, "left")
    with pytest.raises(ZygomorphError, match=r"no “ж”, which is character 4"):
        letters("a\nbж", "script", 4, 0.0, 1.2, "left")
    with pytest.raises(ZygomorphError, match="no letters to be seen"):
        letters(" \n ", "sans", 4, 0.0, 1.2, "left")


def evaluated(*steps):
    return Evaluator().evaluate(check_document(document(*steps)), Request("p", 0.0)).mesh


def test_text_becomes_closed_solids_faces_or_curves():
    solid = evaluated({"step": "text", "values": {"text": "Rise & fall"}})
    assert solid.topology.closed
    assert solid.count("shard") == 9
    assert np.allclose(solid.points.min(axis=0), -solid.points.max(axis=0), atol=1e-3)
    flat = evaluated({"step": "text", "values": {"text": "Rise", "make": "filled"}})
    assert not flat.points[:, 2].any()
    curves = evaluated({"step": "text", "values": {"text": "io", "make": "curves"}})
    # A dot, its stem, and the two rings of an o.
    assert curves.topology.curve_count == 4
    assert curves.topology.curve_closed.all()


def test_letters_move_as_wholes():
    steps = [
        {"step": "text", "values": {"text": "wave"}},
        {"step": "wave", "values": {"amplitude": 0.3}, "where": {"moves": "shards"}},
    ]
    before, after = evaluated(steps[0]), evaluated(*steps)
    moved = after.points - before.points
    shard = before.get("face", "shard")[before.topology.corner_face]
    for number in range(4):
        own = moved[before.topology.corners[shard == number]]
        assert np.ptp(own, axis=0).max() < 1e-5
    assert np.abs(moved).max() > 0.01


def test_a_grid_too_fine_is_refused_with_its_count():
    with pytest.raises(StepError, match="the limit is"):
        evaluated({"step": "text", "values": {"cell": 1e-5}})


def drawing(inside: str, head: str = 'width="100" height="100"') -> bytes:
    return f'<svg xmlns="http://www.w3.org/2000/svg" {head}>{inside}</svg>'.encode()


def areas(data: bytes, rule: str = "nonzero") -> float:
    """In square user units."""
    mesh, _ = read_mesh(data, "a.svg")
    return total(area_of(contours_of(mesh), rule)) / METRES**2


@pytest.mark.parametrize(
    ("inside", "expected"),
    [
        ('<rect width="30" height="20"/>', 600),
        ('<circle cx="50" cy="50" r="20"/>', np.pi * 400),
        ('<ellipse cx="9" cy="9" rx="20" ry="5"/>', np.pi * 100),
        ('<polygon points="0,0 40,0 0,30"/>', 600),
        ('<path d="M0 0h10v10h-10z"/>', 100),
        ('<path d="m0,0 10,0 0,10 -10,0z m20,0 10,0 0,10 -10,0z"/>', 200),
        ('<path d="M10 0A10 10 0 0 1 -10 0Z"/>', np.pi * 50),
        ('<path d="M0 0 Q 10 20 20 0 Z"/>', 400 / 3),
        ('<rect width="10" height="10" transform="scale(2 3) rotate(30)"/>', 600),
        (
            '<g transform="scale(2)"><g transform="scale(2)"><rect width="5" height="5"/></g></g>',
            400,
        ),
        ('<defs><rect id="r" width="5" height="4"/></defs><use href="#r" x="9"/>', 20),
        ('<rect width="9" height="9" rx="2"/>', 81 - (4 - np.pi) * 4),
    ],
)
def test_drawings_have_their_areas(inside, expected):
    assert areas(drawing(inside)) == pytest.approx(expected, rel=2e-3)


def test_a_view_box_scales_and_inches_are_inches():
    data = drawing('<rect width="10" height="10"/>', 'width="1in" height="1in" viewBox="0 0 10 10"')
    mesh, report = read_mesh(data, "a.svg")
    assert report.curves == 1
    assert np.ptp(mesh.points, axis=0)[:2] == pytest.approx([0.0254, 0.0254])


def test_what_is_above_in_a_drawing_is_above_on_the_stage():
    mesh, _ = read_mesh(drawing('<polygon points="0,0 10,0 5,20"/>'), "a.svg")
    tip = mesh.points[np.argmin(mesh.points[:, 1])]
    assert tip[0] == pytest.approx(0, abs=1e-6)


def test_open_paths_stay_open_and_fill_nothing():
    mesh, _ = read_mesh(drawing('<path d="M0 0 L10 0 L10 10" fill="none"/>'), "a.svg")
    assert mesh.topology.curve_closed.tolist() == [False]
    assert area_of(contours_of(mesh)) == []


@pytest.mark.parametrize(
    ("data", "message"),
    [
        (b"<svg", "not XML at line 1"),
        (drawing("<g>"), "not XML at line 1"),
        (drawing(""), "no paths or shapes"),
        (drawing('<text x="3" y="4">a</text>'), "Its text is not outlines yet"),
        (b"", "empty"),
        (b"hello", "not XML"),
    ],
)
def test_a_wrong_drawing_is_explained(data, message):
    with pytest.raises(MeshFileError, match=message) as caught:
        read_mesh(data, "a.svg")
    assert caught.value.hint


@given(st.text(alphabet="MmLlHhVvCcQqAaZz0123456789 .,-e", max_size=40))
@settings(max_examples=60, deadline=None)
def test_any_path_is_read_or_explained(path):
    try:
        mesh, _ = read_mesh(drawing(f'<path d="{path}"/>'), "a.svg")
    except MeshFileError as error:
        assert error.hint
    else:
        assert np.isfinite(mesh.points).all()

"""Frames as compact numbers: how far they may be from the mesh, and what they are for."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.api.conftest import read_frame
from tests.conftest import study, surface
from zygomorph.api.frames import FrameOptions, Packed, Room, pack_frame
from zygomorph.core.evaluation.evaluate import Evaluator, Request
from zygomorph.core.evaluation.keys import piece_key
from zygomorph.core.formats.encode import Coloured, encode
from zygomorph.core.geometry.bounding_box import box_of
from zygomorph.core.geometry.mesh import make_mesh
from zygomorph.core.geometry.normals import point_normals

NO_COLOUR = Coloured()
BALL = {"step": "icosphere", "values": {"halvings": 3, "radius": 0.7}}


def decoded_normals(octahedral: np.ndarray) -> np.ndarray:
    """As docs/wire.md says (Q. Meyer et al., EGSR 2010)."""
    u, v = octahedral.astype(float).T / 32767
    z = 1 - abs(u) - abs(v)
    lower = z < 0
    x = np.where(lower, (1 - abs(v)) * np.where(u >= 0, 1, -1), u)
    y = np.where(lower, (1 - abs(u)) * np.where(v >= 0, 1, -1), v)
    found = np.stack([x, y, z], axis=1)
    return found / np.linalg.norm(found, axis=1, keepdims=True)


def mesh_of(*steps):
    return Evaluator().evaluate(study(*steps), Request("p")).mesh


def test_points_are_within_half_a_step_of_their_box():
    mesh = mesh_of(BALL, {"step": "displace"})
    low, high, _ = box_of(mesh.points)
    packed = encode(mesh, low, high, NO_COLOUR, None).points
    back = low + packed[:, :3] / 65535.0 * (high - low)
    assert (np.abs(back - mesh.points) <= (high - low) / 65535 * 0.51 + 1e-6).all()


def test_a_flat_box_is_no_division_by_zero():
    mesh = mesh_of({"step": "sheet", "values": {"columns": 3, "rows": 3}})
    low, high, _ = box_of(mesh.points)
    packed = encode(mesh, low, high, NO_COLOUR, None).points
    assert (packed[:, 1] == 0).all()


def test_normals_survive_the_octahedron():
    mesh = mesh_of(BALL, {"step": "displace", "values": {"amount": 0.3}})
    low, high, _ = box_of(mesh.points)
    found = decoded_normals(encode(mesh, low, high, NO_COLOUR, None).normals)
    # 16 bits a component: better than a hundredth of a degree, 1.7e-4 radians.
    assert np.linalg.norm(found - point_normals(mesh), axis=1).max() < 1e-4


@given(st.lists(st.floats(-1, 1), min_size=3, max_size=3).filter(lambda v: np.linalg.norm(v) > 0.1))
def test_any_direction_survives_the_octahedron(direction):
    way = np.array(direction) / np.linalg.norm(direction)
    mesh = make_mesh(np.zeros((1, 3)), np.zeros(0), np.zeros(1))
    mesh.__dict__["_normals"] = way[None].astype(np.float32)
    found = decoded_normals(encode(mesh, np.zeros(3), np.ones(3), NO_COLOUR, None).normals)
    assert found[0] @ way > 1 - 1e-7


@pytest.mark.parametrize(
    ("value", "stored"), [(-5.0, 0), (0.2, 0), (0.3, 32768), (0.4, 65535), (9.0, 65535)]
)
def test_the_coloured_value_is_a_share_of_its_range(value, stored):
    mesh = make_mesh(np.zeros((1, 3)), np.zeros(0), np.zeros(1))
    colouring = Coloured(np.array([value], np.float32), 0.2, 0.4)
    packed = encode(mesh, np.zeros(3), np.ones(3), colouring, None).points
    assert abs(int(packed[0, 3]) - stored) <= 1


def test_a_range_of_no_length_colours_everything_by_its_low_end():
    mesh = make_mesh(np.zeros((2, 3)), np.zeros(0), np.zeros(1))
    colouring = Coloured(np.array([0.0, 1.0], np.float32), 0.5, 0.5)
    assert (encode(mesh, np.zeros(3), np.ones(3), colouring, None).points[:, 3] == 0).all()


def test_a_mask_is_one_byte_a_point():
    mesh = make_mesh(np.zeros((3, 3)), np.zeros(0), np.zeros(1))
    weights = np.array([0, 0.5, 1], np.float32)
    assert encode(mesh, np.zeros(3), np.ones(3), NO_COLOUR, weights).mask.tolist() == [0, 128, 255]
    everywhere = encode(mesh, np.zeros(3), np.ones(3), NO_COLOUR, np.ones(1, np.float32))
    assert everywhere.mask.tolist() == [255, 255, 255]


def frame_of(made, **options):
    drawn = Evaluator().drawn(made, Request("p"))
    return read_frame(pack_frame("p", drawn, FrameOptions(0.0, **options)))


def test_facets_get_points_that_are_not_quantised():
    smooth = study(BALL)
    facets = study(BALL, looks=surface(shading="flat"))
    assert "exact" not in frame_of(smooth)[1]
    header, blocks = frame_of(facets)
    assert header["look"]["flat"] is True
    assert np.array_equal(blocks["exact"], mesh_of(BALL).points)


def test_a_fixed_colour_needs_no_gradient():
    header, blocks = frame_of(study(BALL, looks=surface(colour="#112233")))
    (look,) = header["look"]["looks"]
    assert look["colours"][0] == {"colour": "#112233", "channel": -1, "row": -1, "print": -1}
    assert "gradients" not in blocks


def test_blocks_of_any_kind_begin_at_multiples_of_four():
    blocks = {
        "a": np.arange(3, dtype=np.uint8),
        "b": np.arange(5, dtype=np.int16),
        "c": np.zeros((0, 4), np.uint16),
        "d": np.arange(6, dtype=np.float32).reshape(2, 3),
    }
    packed = Packed({"ä": "ö"}, {name: Room.of(array) for name, array in blocks.items()})
    packed.fill(blocks)
    header, found = read_frame(packed.data)
    assert header["ä"] == "ö"
    for name, array in blocks.items():
        assert np.array_equal(found[name], array)
        assert found[name].dtype == array.dtype


def test_a_pieces_key_leaves_out_only_what_no_frame_shows():
    def key(**piece):
        return piece_key(study(BALL, **piece), "p", False)

    assert key() == key(name="Another name")
    assert key() == key(visible=False)
    assert key() != key(looks=surface(glow=5.0))
    assert key() != key(place={"move": [1, 0, 0]})
    assert key() != piece_key(study(BALL), "p", True)
    assert key() != piece_key(study(BALL, frames=25), "p", False)

"""Formulas: what they may say, what they may not, and what they give."""

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.conftest import document, study
from zygomorph.core.document.study import check_document
from zygomorph.core.errors import DocumentError
from zygomorph.core.evaluation.evaluate import Evaluator, Request
from zygomorph.core.geometry.mesh import MASK
from zygomorph.core.values.formula.errors import FormulaError
from zygomorph.core.values.formula.functions import FUNCTIONS
from zygomorph.core.values.formula.parse import DEEPEST, read_formula
from zygomorph.core.values.formula.run import BLOCK, run_formulas

KNOWN = frozenset("xyzinqt")
X = np.linspace(-2, 3, 11, dtype=np.float32)


def value(text: str, **named) -> np.ndarray:
    given_ = {k: np.atleast_1d(np.asarray(v, np.float32)) for k, v in named.items()}
    count = max((len(v) for v in given_.values()), default=1)
    with np.errstate(all="ignore"):
        return run_formulas([read_formula(text, KNOWN)], given_, count)[0][0]


@pytest.mark.parametrize(
    ("text", "expected"),
    [
        ("1 + 2 * 3 ** 2", 19),
        ("7 / 2", 3.5),
        ("-7 // 2", -4),
        ("-7 % 3", 2),
        ("2 ** -1", 0.5),
        ("1 if 2 > 1 else 5", 1),
        ("1 < 2 < 3", 1),
        ("1 < 3 < 2", 0),
        ("not 0 and (0 or 4)", 1),
        ("sin(pi / 2) + cos(tau)", 2),
        ("log(e ** 2)", 2),
        ("log(8, 2) + log10(1000) + log2(4)", 8),
        ("root(-27, 3)", -3),
        ("cbrt(27) + sqrt(16)", 7),
        ("mix(2, 4, 0.25)", 2.5),
        ("clamp(7, 0, 1) + clamp(-7, 0, 1)", 1),
        ("smooth(0, 2, 1)", 0.5),
        ("remap(5, 0, 10, -1, 1)", 0),
        ("min(3, 1, 2) + max(3, 1, 2)", 4),
        ("hypot(3, 4) + atan2(0, 1)", 5),
        ("round(2.6) + floor(-0.5) + ceil(0.5) + sign(-9)", 2),
    ],
)
def test_arithmetic(text, expected):
    assert value(text)[0] == pytest.approx(expected, rel=1e-6, abs=1e-6)


def test_every_function_agrees_with_the_standard_library():
    # Where Python's math module has the same name, over places inside its domain.
    x = np.linspace(0.1, 0.9, 9, dtype=np.float32)
    one = [n for n, f in FUNCTIONS.items() if f.least == 1 and hasattr(math, n)]
    assert len(one) > 15
    for name in one:
        expected = [getattr(math, name)(float(v)) for v in x]
        assert value(f"{name}(x)", x=x) == pytest.approx(expected, rel=3e-6), name


def test_waves_by_index_depend_on_the_count():
    # sin(i) over 50 points has 49 / 2π = 7.8 waves, over 150 points 23.7 (derived).
    for count, waves in ((50, 7.8), (150, 23.7)):
        index = np.arange(count)
        crossings = np.count_nonzero(np.diff(np.sign(value("sin(i)", i=index))))
        assert crossings / 2 == pytest.approx(waves, abs=0.6)


@pytest.mark.parametrize("text", ["1 / 0", "log(-1)", "sqrt(-1)", "(-8) ** 0.5", "9e30 ** 9e30"])
def test_an_undefined_result_becomes_nothing_and_is_counted(text):
    found, undefined = run_formulas([read_formula(text, KNOWN)], {}, 3)
    assert np.array_equal(found, np.zeros((1, 3)))
    assert undefined == 3


def test_blocks_join_without_a_seam():
    i = np.arange(2 * BLOCK + 17, dtype=np.float32)
    assert np.array_equal(value("i * 2 + 1", i=i), i * 2 + 1)


def test_chance_is_even_and_always_the_same():
    # Mean and variance of an even spread, 1/2 and 1/12 (textbook); no index follows another.
    i = np.arange(100_000)
    found = value("chance(i, 3)", i=i).astype(float)
    assert found.mean() == pytest.approx(0.5, abs=0.005)
    assert found.var() == pytest.approx(1 / 12, rel=0.01)
    assert abs(np.corrcoef(found[1:], found[:-1])[0, 1]) < 0.01
    assert np.array_equal(found, value("chance(i, 3)", i=i))
    assert abs(np.corrcoef(found, value("chance(i, 4)", i=i))[0, 1]) < 0.01
    assert 0 <= found.min() < found.max() < 1


def test_noise_is_smooth_and_keeps_its_range():
    found = value("noise(x, 0.3, 2)", x=np.linspace(0, 50, 5001))
    assert np.abs(np.diff(found)).max() < 0.05
    assert 0.3 < np.abs(found).max() <= 1


@pytest.mark.parametrize(
    "text",
    [
        "x.real",
        "().__class__",
        "__import__('os')",
        "(lambda: 1)()",
        "[i for i in x]",
        "{1: 2}",
        "x[0]",
        "'a' * 9",
        "f'{x}'",
        "(x := 3)",
        "sin(*x)",
        "sin(x=1)",
        "sin(sin)",
        "sin.func(1)",
        "exec('1')",
        "x()",
        "3(4)",
        "True",
        "None",
        "...",
        "1j",
        "b'1'",
        "x @ y",
        "x | y",
        "x ^ 2",
        "~x",
        "x in y",
        "x is y",
        "await x",
        "yield",
        "x, y",
        "x; y",
        "import os",
        "x = 1",
        "x\ny",
        "\x00",
        "",
        "  ",
        "((x",
        "x))",
        "1e999",
        "9" * 500,
        "sin()",
        "sin(1, 2)",
        "unknown",
        "tua",
        "sine(x)",
        "(" * 300 + "x" + ")" * 300,
        "-" * 900 + "x",
        "x" + "+x" * 2000,
        "**".join(["9"] * 400),
    ],
)
def test_what_is_not_arithmetic_is_refused_at_its_place(text):
    with pytest.raises(FormulaError) as caught:
        read_formula(text, KNOWN)
    error = caught.value
    assert len(error.message) > 10
    assert 0 <= error.column <= max(len(text), 1)
    assert error.length >= 1


def test_the_place_of_a_mistake_is_marked():
    for text, marked in (
        ("1 + tua * 2", "tua"),
        ("  sin(x, y) + 1", "sin(x, y)"),
        ("1 + x.real", "x.real"),
        ("x + 'ä' + unknown", "'ä'"),
    ):
        with pytest.raises(FormulaError) as caught:
            read_formula(text, KNOWN)
        error = caught.value
        assert text[error.column : error.column + error.length] == marked
    with pytest.raises(FormulaError, match="Did you mean tau"):
        read_formula("tua", KNOWN)
    with pytest.raises(FormulaError, match=r"\*\*"):
        read_formula("x ^ 2", KNOWN)


def test_limits_allow_what_is_within_them():
    nested = "sin(" * (DEEPEST - 2) + "x" + ")" * (DEEPEST - 2)
    assert np.isfinite(value(nested, x=X)).all()


@given(st.text(alphabet="xyz0123456789.+-*/()<>= ,%sincoabrtpe_'[]{}:", max_size=60))
def test_any_text_is_a_number_or_an_error(text):
    try:
        formula = read_formula(text, KNOWN)
    except FormulaError:
        return
    found, _ = run_formulas([formula], dict.fromkeys(KNOWN, X), len(X))
    assert np.isfinite(found).all()


def step(**values) -> dict:
    return {"step": "formula", "values": values}


def points(*steps, frame: float = 0.0) -> np.ndarray:
    return Evaluator().evaluate(study(*steps), Request("p", frame)).mesh.points


def test_the_step_writes_a_position_and_leaves_the_rest_alone():
    ball = {"step": "icosphere"}
    plain = points(ball)
    moved = points(ball, step(writes="position", to_y="y + a * f", a=0.5), frame=3.0)
    assert np.allclose(moved[:, 1], plain[:, 1] + 1.5, atol=1e-6)
    assert np.allclose(moved[:, [0, 2]], plain[:, [0, 2]], atol=1e-6)


def test_the_step_writes_an_offset_along_the_normals():
    ball = {"step": "icosphere", "values": {"radius": 1.0}}
    grown = points(ball, step(offset="0.5"))
    assert np.allclose(np.linalg.norm(grown, axis=1), 1.5, atol=1e-3)


def test_time_is_seconds_frames_and_the_share_of_the_loop():
    # 24 frames a second: frame 6 of 24 is 0.25 s and a quarter of the loop (derived).
    for text in ("t", "f / 24", "p"):
        moved = points({"step": "icosphere"}, step(writes="position", to_y=text), frame=6.0)
        assert np.allclose(moved[:, 1], 0.25)


def test_a_formula_without_time_is_computed_once():
    evaluator = Evaluator()
    still = study({"step": "icosphere"}, step(offset="0.1 * x"))
    moving = study({"step": "icosphere"}, step(offset="0.1 * p"))
    reused = [
        [evaluator.evaluate(s, Request("p", f)).steps[-1].reused for f in (0.0, 1.0)]
        for s in (still, moving)
    ]
    assert reused == [[False, True], [False, False]]


def test_a_named_value_is_found_by_later_masks():
    stored = {"id": "l", "layer": "stored", "values": {"name": "mine"}}
    push = {"step": "inflate", "values": {"amount": 0.5}, "where": {"layers": [stored]}}
    ball = {"step": "icosphere"}
    named = step(writes="value", value="1 if y > 0 else 0", name="mine")
    found = Evaluator().evaluate(study(ball, named, push), Request("p")).mesh
    upper = points(ball)[:, 1] > 0
    moved = np.linalg.norm(found.points - points(ball), axis=1)
    assert moved[upper].min() > 0.4
    assert moved[~upper].max() < 1e-6
    assert set(np.unique(found.get("point", MASK + "mine"))) == {0.0, 1.0}


def test_uvs_are_read_where_the_form_has_them():
    sheet = {"step": "sheet"}
    moved = points(sheet, step(writes="position", to_y="u"))
    assert moved[:, 1].min() == 0
    assert moved[:, 1].max() == 1


def test_a_document_with_a_wrong_formula_is_refused_at_its_place():
    with pytest.raises(DocumentError) as caught:
        check_document(document({"step": "icosphere"}, step(offset="sin(")))
    path, message = caught.value.problems[0]
    assert path == "/pieces/0/recipe/1/values/offset"
    assert "character" in message

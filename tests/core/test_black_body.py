"""The colour of a glowing body."""

import pytest

from zygomorph.core.values.black_body import chromaticity, colour_of_kelvin, matching_functions
from zygomorph.core.values.gradients import parse_hex

# CIE 1931 chromaticities of Planckian radiators (CIE 15:2018, illuminant A at 2856 K; others from
# tables of the Planckian locus, from memory).
LOCUS = [
    (2000, 0.5267, 0.4133),
    (2856, 0.4476, 0.4074),
    (4000, 0.3805, 0.3768),
    (6500, 0.3135, 0.3237),
    (10000, 0.2807, 0.2884),
]


@pytest.mark.parametrize(("kelvin", "x", "y"), LOCUS)
def test_a_black_body_lies_on_its_locus(kelvin, x, y):
    # The fit of the observer that is used differs from the tables by this much.
    assert chromaticity(kelvin) == pytest.approx((x, y), abs=0.003)


def test_the_observer_sees_as_much_of_each_of_equal_energy():
    """The integrals of x, y and z are equal by definition; the fit's within half a percent."""
    total = matching_functions().sum(axis=1)
    assert total / total.mean() == pytest.approx([1, 1, 1], abs=0.005)


def test_candles_are_orange_noon_is_nearly_white_and_shade_is_blue():
    candle, noon, shade = (parse_hex(colour_of_kelvin(k)) for k in (1900.0, 6500.0, 12000.0))
    assert candle[0] == 1
    assert candle[0] > candle[1] > candle[2]
    assert noon.min() > 0.95
    assert shade[2] == 1
    assert shade[2] > shade[1] > shade[0]

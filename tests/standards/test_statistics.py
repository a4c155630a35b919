"""Student's factor against its own integral, and on the safe side between the rows of its table."""

from __future__ import annotations

import math

import pytest
from scipy import integrate, stats

from elbrix.quantities.errors import ShopError
from elbrix.standards.statistics import student_95


@pytest.mark.parametrize("freedom", [*range(1, 31), 40, 60, 120])
def test_the_factor_holds_nineteen_in_twenty(freedom: int) -> None:
    """The density integrated from minus to plus the factor."""
    scale = math.gamma((freedom + 1) / 2) / (math.sqrt(freedom * math.pi) * math.gamma(freedom / 2))
    share, _ = integrate.quad(lambda t: scale * (1 + t * t / freedom) ** (-(freedom + 1) / 2), 0, student_95(freedom).value)
    assert 2 * share == pytest.approx(0.95, abs=1e-8)


@pytest.mark.parametrize("freedom", [31, 39, 45, 59, 61, 119, 121, 5000])
def test_between_the_rows_the_band_is_never_too_narrow(freedom: int) -> None:
    exact = stats.t.ppf(0.975, freedom)
    assert exact <= student_95(freedom).value <= exact * 1.012


def test_no_freedom_left_is_refused() -> None:
    with pytest.raises(ShopError, match="Make more trials"):
        student_95(0)

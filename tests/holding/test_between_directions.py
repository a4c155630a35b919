"""The least over a few directions of the cut is the least over all: with sixty-four, brute force found up to 4 % worse."""

from __future__ import annotations

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from elbrix.holding.cut import WAYS, cutting_of
from elbrix.holding.directions import _least_between
from elbrix.holding.limit import LimitSolver
from elbrix.shop.shop import Shop
from holding_record import layouts
from layouts_tools import solve_recorded

FACTORS = st.floats(0.05, 50)


@given(FACTORS, FACTORS, st.sampled_from([math.pi / 4, math.pi / 8, math.pi / 16]))
def test_the_bound_is_the_crest_of_the_mixture(a: float, b: float, apart: float) -> None:
    turn = np.linspace(0, apart, 2001)
    shares = (np.sin(apart - turn) / a + np.sin(turn) / b) / math.sin(apart)
    assert _least_between(a, b, apart) == pytest.approx(1 / shares.max(), rel=1e-5)
    assert _least_between(a, b, apart) == pytest.approx(_least_between(b, a, apart))


def test_a_side_that_stands_everything_takes_nothing_off_the_other() -> None:
    assert _least_between(2.0, math.inf, math.pi / 4) == pytest.approx(2.0)
    assert _least_between(math.inf, math.inf, math.pi / 4) == math.inf
    assert _least_between(0.0, 3.0, math.pi / 4) == 0.0


LAYOUTS = list(layouts())


@pytest.mark.parametrize("number", range(len(LAYOUTS)))
def test_no_direction_is_worse_than_the_least(number: int, demo_shop: Shop) -> None:
    hold = solve_recorded(number, LAYOUTS[number], demo_shop)
    fine = cutting_of(hold.values, demo_shop, hold.piece, 28, 64)
    solver = LimitSolver(hold.held)
    if fine.each != 64 or not solver.rests or not hold.margin.rests:
        return
    every = [math.inf if x.factor is None else x.factor for x in solver.solve(list(fine.loads), tight=1e-4)]
    assert fine.each == 8 * WAYS
    assert hold.margin.least <= min(every) * 1.003 + 1e-4

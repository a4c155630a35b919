"""Patterns of holes against scipy, against seeded errors, and against how often a good hole is blamed."""

import itertools
import math

import numpy as np
import pytest
from scipy.optimize import least_squares

from elbrix.metrology.hole_patterns import LengthOverPins, best_fit, over_pins
from elbrix.quantities.errors import ShopError

WANTED = np.array([[0, 0], [60, 0], [60, 40], [0, 40], [30, 20]], dtype=float)


def _moved(turn, shift, noise=0.0, seed=0):
    c, s = math.cos(turn), math.sin(turn)
    rng = np.random.default_rng(seed)
    return WANTED @ np.array([[c, s], [-s, c]]) + shift + rng.normal(0, noise, WANTED.shape)


def test_the_fit_is_that_of_scipy():
    measured = _moved(0.3, [4, -7], 0.004, 5)

    def left(p):
        c, s = math.cos(p[2]), math.sin(p[2])
        return (WANTED @ np.array([[c, s], [-s, c]]) + p[:2] - measured).ravel()

    other = least_squares(left, [0, 0, 0], xtol=1e-15, ftol=1e-15, gtol=1e-15)
    found = best_fit(WANTED.tolist(), measured.tolist(), 0.004)
    assert found.wrong == ()
    assert [*found.shift_mm, found.turn] == pytest.approx(other.x, abs=1e-8)
    assert np.array(found.residual_mm).ravel() == pytest.approx(-left(other.x), abs=1e-8)


@pytest.mark.parametrize("hole", range(5))
@pytest.mark.parametrize("turn", [0.0, 1.0, -2.9])
def test_the_hole_that_is_out_is_named_with_its_error(hole, turn):
    measured = _moved(turn, [100, -3], 0.004, 20 + hole)
    measured[hole] += [0.06, -0.05]
    found = best_fit(WANTED.tolist(), measured.tolist(), 0.004)
    assert found.wrong == (hole,)
    assert found.residual_mm[hole] == pytest.approx((0.06, -0.05), abs=0.02)


def test_two_that_are_out_do_not_blame_the_others():
    measured = _moved(0.0, [0, 0], 0.002, 3)
    measured[1] += [0.2, 0.0]
    measured[3] += [0.0, 0.1]
    assert best_fit(WANTED.tolist(), measured.tolist(), 0.002).wrong == (1, 3)


def test_a_good_pattern_is_blamed_once_in_a_hundred():
    blamed = sum(bool(best_fit(WANTED.tolist(), _moved(0.1, [1, 1], 0.01, 100 + s).tolist(), 0.01).wrong) for s in range(1500))
    assert 0.003 < blamed / 1500 < 0.016


def test_two_holes_cannot_say_which_is_out():
    found = best_fit([[0, 0], [50, 0]], [[0, 0], [50.1, 0]], 0.005)
    assert (found.wrong, found.undecided) == ((), True)
    three = best_fit([[0, 0], [50, 0], [0, 50]], [[0, 0], [50.0, 0], [0.02, 50.2]], 0.005)
    assert (three.wrong, three.undecided) == ((2,), False)


def _spans(places, pins, noise=0.0, seed=0):
    rng = np.random.default_rng(seed)
    return [
        LengthOverPins(a, b, float(math.dist(places[a], places[b]) + (pins[a] + pins[b]) / 2 + rng.normal(0, noise)))
        for a, b in itertools.combinations(range(len(places)), 2)
    ]


PINS = [6.0, 8.0, 6.0, 5.99, 10.0]


def test_exact_lengths_give_the_places_back():
    real = WANTED + [[0, 0], [0.02, 0.01], [0, 0], [-0.01, 0.01], [0, -0.02]]
    found = over_pins(WANTED.tolist(), PINS, _spans(real, PINS), 0.01)
    got = np.array(found.positions_mm)
    for a, b in itertools.combinations(range(5), 2):
        assert math.dist(got[a], got[b]) == pytest.approx(math.dist(real[a], real[b]), abs=1e-9)
    left = got - WANTED
    turned = (WANTED - WANTED.mean(axis=0)) * [1, 1]
    assert left.sum(axis=0) == pytest.approx([0, 0], abs=1e-9), "laid on without a shift"
    assert (turned[:, 0] * left[:, 1] - turned[:, 1] * left[:, 0]).sum() == pytest.approx(0, abs=1e-3), "and without a turn"


def test_the_network_is_that_of_scipy():
    spans = _spans(WANTED + 0.01, PINS, 0.01, 8)

    def left(p):
        places = p.reshape(-1, 2)
        lengths = [math.dist(places[s.a], places[s.b]) + (PINS[s.a] + PINS[s.b]) / 2 - s.over_mm for s in spans]
        return [*lengths, *(1e-6 * (places - WANTED)).ravel()]  # a spring too weak to matter holds it still

    other = least_squares(left, WANTED.ravel(), xtol=1e-15, ftol=1e-15, gtol=1e-15)
    found = over_pins(WANTED.tolist(), PINS, spans, 0.01)
    assert found.wrong_spans == ()
    assert np.array(found.span_left_mm) == pytest.approx(-np.array(other.fun[: len(spans)]), abs=1e-6)


def test_a_hole_that_is_out_and_a_length_that_is_wrong_are_told_apart():
    real = WANTED.copy()
    real[2] += [0.15, 0.0]
    found = over_pins(WANTED.tolist(), PINS, _spans(real, PINS, 0.005, 1), 0.005)
    assert (found.wrong, found.wrong_spans) == ((2,), ())
    spans = _spans(WANTED, PINS, 0.005, 2)
    spans[4] = LengthOverPins(spans[4].a, spans[4].b, spans[4].over_mm + 0.2)
    found = over_pins(WANTED.tolist(), PINS, spans, 0.005)
    assert (found.wrong, found.wrong_spans) == ((), (4,))


@pytest.mark.parametrize(
    ("spans", "why"),
    [
        ([LengthOverPins(0, 1, 66.0)], "do not fix"),
        ([LengthOverPins(0, 9, 66.0)] * 7, "numbered"),
        ([LengthOverPins(0, 1, 2.0)] * 7, "less than the pins"),
        (
            [
                LengthOverPins(0, 1, 67),
                LengthOverPins(1, 2, 47),
                LengthOverPins(2, 3, 66),
                LengthOverPins(3, 0, 46),
                LengthOverPins(0, 2, 79),
                LengthOverPins(1, 3, 79),
                LengthOverPins(0, 1, 67),
            ],
            "move",
        ),
    ],
)
def test_lengths_that_fix_nothing_are_refused(spans, why):
    with pytest.raises(ShopError, match=why):
        over_pins(WANTED.tolist(), PINS, spans, 0.01)

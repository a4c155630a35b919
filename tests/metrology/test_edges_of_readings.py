"""Readings at the edge of what carries an answer: refused or taken, and the verdicts just beside their limits."""

from __future__ import annotations

import math
import random
from collections.abc import Callable, Sequence

import numpy as np
import pytest
from scipy import stats

from elbrix.metrology.hole_patterns import LengthOverPins, best_fit, over_pins
from elbrix.metrology.readings_in import MAX_READINGS, table
from elbrix.metrology.repeats import as_made, repeat, stop_scale, student_95
from elbrix.metrology.reversal import jaw_yaw, reversed_square
from elbrix.metrology.runouts import runout
from elbrix.metrology.sweeps import centre_moves, tram
from elbrix.metrology.zones import fit_line, fit_plane
from elbrix.quantities.errors import ShopError
from elbrix.results.checks import Verdict

SQUARE = [(0.0, 0.0), (40.0, 0.0), (40.0, 30.0), (0.0, 30.0)]


@pytest.mark.parametrize(
    ("call", "says"),
    [
        (lambda: table("t", [], 1, 1), "0 readings are too few"),
        (lambda: table("t", [[1.0]] * 3, 1, 4), "3 readings are too few"),
        (lambda: table("t", [[1.0]] * (MAX_READINGS + 1), 1, 1), "too many"),
        (lambda: table("t", [[1.0]] * 6, 1, 1, 5), "6 readings are too many"),
        (lambda: table("t", [[1.0, 2.0], [1.0]], 2, 1), "too few or too many numbers"),
        (lambda: table("t", [[math.nan]], 1, 1), "no finite number"),
        (lambda: table("t", [[-math.inf]], 1, 1), "no finite number"),
        (lambda: table("t", [[1.1e6]], 1, 1), "beyond a kilometre"),
        (lambda: repeat([1.0]), "1 readings are too few"),
        (lambda: as_made(10.0, 9.0, [9.5], 0.01), "above the upper"),
        (lambda: as_made(9.0, 10.0, [9.5], -0.01), "negative uncertainty"),
        (lambda: as_made(9.0, 10.0, [], 0.01), "0 readings are too few"),
        (lambda: stop_scale([(1.0, 2.0)]), "too few"),
        (lambda: stop_scale([(1.0, 2.0), (1.0, 3.0)]), "one setting"),
        (lambda: stop_scale([(1.0, 2.0), (2.0, 2.0), (3.0, 2.0)]), "does not follow"),
        (lambda: jaw_yaw(0.0, 0.0, 1.0, 50.0), "a travel of 0"),
        (lambda: jaw_yaw(100.0, 0.0, 1.0, -1.0), "beyond the end"),
        (lambda: tram(0, 0, 0, 0, 0.0), "a sweep of Ø0"),
        (lambda: runout([0.0, 1.0], [0.0]), "2 angles and 1 readings"),
        (lambda: runout([0.0, 1.0], [0.0, 0.1]), "too few"),
        (lambda: runout([0.5, 0.5, 2.0, 2.0], [0.0, 0.1, 0.2, 0.1]), "three different angles"),
        (lambda: centre_moves(0, 0, 0, 0, "cone"), "cannot be swept"),
        (lambda: fit_plane([(0, 0, 0), (1, 1, 0), (2, 2, 0.1)]), "lie on one line"),
        (lambda: fit_plane([(0, 0, 0), (1, 1, 0)]), "2 readings are too few"),
        (lambda: fit_line([(1, 0), (1, 0.2)]), "at one place"),
        (lambda: best_fit(SQUARE, SQUARE[:3], 0.01), "4 wanted and 3 measured"),
        (lambda: best_fit(SQUARE, SQUARE, 0.0), "a sigma of 0"),
        (lambda: best_fit([(1.0, 1.0)] * 3, SQUARE[:3], 0.01), "wanted in one place"),
        (lambda: best_fit([(float(i), 0.0) for i in range(301)], [(float(i), 0.0) for i in range(301)], 0.01), "too many"),
        (lambda: over_pins(SQUARE, [6.0] * 4, [LengthOverPins(0, 9, 46.0)], 0.01), ""),
        (lambda: over_pins(SQUARE, [6.0] * 3, [LengthOverPins(0, 1, 46.0)], 0.01), ""),
        (lambda: over_pins(SQUARE, [6.0] * 4, [LengthOverPins(0, 1, 46.0), LengthOverPins(1, 2, 36.0)], 0.01), ""),
    ],
)
def test_what_carries_no_answer_is_refused(call: Callable[[], object], says: str) -> None:
    with pytest.raises(ShopError) as refused:
        call()
    assert says in str(refused.value) and refused.value.do


def test_what_is_just_enough_is_taken() -> None:
    assert table("t", [[1.0]] * 4, 1, 4).shape == (4, 1)
    assert len(table("t", [[1.0]] * 5, 1, 1, 5)) == 5
    assert table("t", [[1e6], [-1e6]], 1, 1).max() == 1e6
    assert repeat([1.0, 1.2]).count == 2
    assert jaw_yaw(100.0, 0.0, 0.1, 0.0) == (pytest.approx(math.atan(0.001)), 0.0)
    assert as_made(10.0, 10.0, [10.0], 0.0) == (10.0, Verdict.GO)
    assert fit_line([(0, 1), (10, 3)]).slope == pytest.approx(0.2)


@pytest.mark.parametrize("count", [3, 4, 5, 7, 10, 20])
@pytest.mark.parametrize("side", [1, -1])
def test_the_odd_one_is_odd_at_the_limit_of_the_book(count: int, side: int) -> None:
    """Grubbs, two-sided 5 %, from the t of another library: just inside it is none, just outside it is that one.

    One reading off by d and the others ±1 about nothing: d is moved till its share of the standard deviation is the limit.
    """
    t = stats.t.ppf(1 - 0.05 / (2 * count), count - 2)
    limit = (count - 1) / math.sqrt(count) * math.sqrt(t**2 / (count - 2 + t**2))
    rest = [(-1.0) ** i * 0.001 * (1 if i + 1 < count or count % 2 else 0) for i in range(count - 1)]

    def ratio(d: float) -> float:
        values = np.array([*rest, d])
        return abs(d - values.mean()) / values.std(ddof=1)

    low, high = 0.001, 10.0
    for _ in range(200):
        middle = (low + high) / 2
        low, high = (middle, high) if ratio(middle) < limit else (low, middle)
    assert ratio(low) == pytest.approx(limit, rel=1e-6)
    assert repeat([side * v for v in (*rest, low * 0.99)]).outlier is None
    assert repeat([side * v for v in (*rest, low * 1.01)]).outlier == count - 1


@pytest.mark.parametrize("seed", range(5))
def test_mean_scatter_and_its_half_width_are_those_of_another_library(seed: int) -> None:
    chance = random.Random(seed)
    values = [chance.gauss(12.0, 0.01) for _ in range(chance.randint(3, 12))]
    found, n = repeat(values), len(values)
    assert found.mean == pytest.approx(np.mean(values)) and found.median == pytest.approx(np.median(values))
    assert found.stdev == pytest.approx(stats.tstd(values)) and found.count == n
    low, high = stats.t.interval(0.95, n - 1, loc=np.mean(values), scale=stats.sem(values))
    assert found.half_width_95 == pytest.approx((high - low) / 2)
    assert found.half_width(2.0) == pytest.approx(2 * stats.sem(values))
    assert student_95(n - 1) == pytest.approx(stats.t.ppf(0.975, n - 1))


def verdict(low: float, high: float, readings: Sequence[float], u: float) -> Verdict:
    """The rule in other words: surely out, surely in, or neither."""
    mean = sum(readings) / len(readings)
    if mean < low - u - 1e-9 or mean > high + u + 1e-9:
        return Verdict.NO_GO
    within = low + u - 1e-9 <= mean <= high - u + 1e-9
    none_out = all(low - u - 1e-9 <= r <= high + u + 1e-9 for r in readings)
    return Verdict.GO if within and none_out else Verdict.MARGINAL


@pytest.mark.parametrize("u", [0.0, 0.002, 0.01, 0.03])
def test_a_size_is_judged_with_what_its_measurement_is_worth(u: float) -> None:
    """Every size across both limits, in steps of a micron, single and with a taper the mean would hide."""
    seen = set()
    for micron in range(-60, 121, 1):
        for taper in (0.0, 0.015, 0.05):
            readings = [10 + micron / 1000 - taper, 10 + micron / 1000 + taper]
            mean, found = as_made(10.0, 10.06, readings, u)
            assert mean == pytest.approx(10 + micron / 1000)
            assert found is verdict(10.0, 10.06, readings, u), (micron, taper)
            seen.add(found)
    assert Verdict.NO_GO in seen and (Verdict.GO in seen or u >= 0.03)


@pytest.mark.parametrize("seed", range(4))
def test_the_next_stop_lies_where_the_line_of_another_library_says(seed: int) -> None:
    """The prediction band of a straight line, by the covariance of its two numbers."""
    chance = random.Random(seed)
    pairs = [(s, 0.98 * s + 0.4 + chance.gauss(0, 0.01)) for s in (chance.uniform(0, 50) for _ in range(8))]
    found = stop_scale(pairs)
    x, y = np.array(pairs).T
    (slope, offset), cov = np.polyfit(x, y, 1, cov="unscaled")
    sigma2 = float(((y - slope * x - offset) ** 2).sum() / 6)
    assert (found.factor, found.offset, found.sigma) == (
        pytest.approx(slope),
        pytest.approx(offset),
        pytest.approx(math.sqrt(sigma2)),
    )
    for wanted in (0.0, 20.0, 70.0):
        at = found.setting(wanted)
        assert slope * at + offset == pytest.approx(wanted)
        row = np.array([at, 1.0])
        band = stats.t.ppf(0.975, 6) * math.sqrt(sigma2 * (1 + row @ cov @ row))
        assert found.half_width_95(wanted) == pytest.approx(band)
    assert math.isnan(stop_scale(pairs[:2]).half_width_95(20.0))


@pytest.mark.parametrize(("work", "square"), [(0.02, -0.01), (0.0, 0.03), (-0.04, 0.0)])
def test_a_square_turned_about_parts_work_from_square(work: float, square: float) -> None:
    assert reversed_square(work + square, square - work) == (pytest.approx(work), pytest.approx(square))


@pytest.mark.parametrize(("e", "n"), [(0.03, 0.0), (0.0, 0.05), (0.02, -0.04)])
def test_a_face_mill_dishes_along_its_feed(e: float, n: float) -> None:
    """Fed along X the ring's lean toward X hollows the pass, along Y that toward Y, else both together."""
    found = tram(e, -e, n, -n, 200.0)
    assert abs(found.about_y) == pytest.approx(math.atan(abs(e) / 100)) and abs(found.about_x) == pytest.approx(
        math.atan(abs(n) / 100)
    )
    assert found.dish_mm(80.0, "x") == pytest.approx(40 * math.sin(math.atan(abs(e) / 100)))
    assert found.dish_mm(80.0, "y") == pytest.approx(40 * math.sin(math.atan(abs(n) / 100)))
    assert found.dish_mm(80.0) == pytest.approx(40 * math.sin(math.atan(math.hypot(e, n) / 100)))
    assert found.closure_mm == pytest.approx(0.0)
    assert tram(0.01, 0.01, -0.01, -0.01, 200.0).closure_mm == pytest.approx(0.02)


@pytest.mark.parametrize("turn", [0.3, 2.0, 4.5])
def test_what_centring_cannot_take_away_stays(turn: float) -> None:
    """An axis off by 0.04 and three lobes of ±0.005: the dial shows both, centring leaves the lobes."""
    angles = [math.tau * k / 36 for k in range(36)]
    readings = [0.04 * math.cos(a - turn) + 0.005 * math.cos(3 * a) + 1.2 for a in angles]
    found = runout(angles, readings)
    assert found.eccentricity_mm == pytest.approx(0.04) and found.high_at == pytest.approx(turn)
    assert found.left_mm == pytest.approx(0.01) and found.tir_mm == pytest.approx(max(readings) - min(readings))


@pytest.mark.parametrize("on", ["bore", "plug"])
def test_moved_as_told_every_reading_is_the_same(on: str) -> None:
    """A true round off centre by (x, y), swept from the spindle: the wall is near where the centre is not."""
    x, y, r = 0.06, -0.11, 20.0
    sign = 1.0 if on == "plug" else -1.0

    def readings(dx: float, dy: float) -> list[float]:
        return [sign * (math.hypot(r, 0) + dx * math.cos(a) + dy * math.sin(a)) for a in (0, math.pi / 2, math.pi, 1.5 * math.pi)]

    moved = centre_moves(*readings(x, y), on)
    after = readings(x + moved[0], y + moved[1])
    assert max(after) - min(after) == pytest.approx(0.0, abs=1e-12)

"""Fits against other roads: normal equations of scipy, brute force over supporting planes, and worked figures."""

import itertools
import math

import numpy as np
import pytest
from scipy.optimize import least_squares

from elbrix.metrology.repeats import as_made, repeat, stop_scale
from elbrix.metrology.reversal import jaw_yaw, reversed_square
from elbrix.metrology.runouts import runout
from elbrix.metrology.sweeps import centre_moves, tram
from elbrix.metrology.zones import fit_line, fit_plane
from elbrix.quantities.errors import ShopError
from elbrix.results.checks import Verdict


def _zone_by_brute_force(places: np.ndarray, heights: np.ndarray) -> float:
    """Every pair of parallel planes (lines) that could be the narrowest: three (two) points on one side and one
    on the other, or two and two."""
    count, best = len(heights), math.inf
    unknowns = places.shape[1]
    for chosen in itertools.combinations(range(count), unknowns + 2):
        for upper in itertools.product((0.0, 1.0), repeat=len(chosen)):
            rows = np.array([[*places[i], 1.0, u] for i, u in zip(chosen, upper, strict=True)])
            try:
                found = np.linalg.solve(rows, heights[list(chosen)])
            except np.linalg.LinAlgError:
                continue
            off = heights - places @ found[:unknowns]
            best = min(best, off.max() - off.min())
    return best


@pytest.mark.parametrize("seed", range(6))
def test_the_zone_is_the_narrowest_of_all_supporting_planes(seed):
    rng = np.random.default_rng(seed)
    points = np.column_stack([rng.uniform(-200, 900, (8, 2)), rng.normal(0, 0.01, 8)])
    fit = fit_plane(points.tolist())
    assert fit.zone_mm == pytest.approx(_zone_by_brute_force(points[:, :2], points[:, 2]), rel=1e-6)
    assert fit.zone_mm <= fit.flatness_mm
    edge = points[:, [0, 2]]
    assert fit_line(edge.tolist()).zone_mm == pytest.approx(_zone_by_brute_force(edge[:, :1], edge[:, 1]), rel=1e-6)


def test_the_plane_is_that_of_scipy_and_turns_with_the_data():
    rng = np.random.default_rng(4)
    points = np.column_stack([rng.uniform(0, 500, (30, 2)), rng.normal(0, 0.02, 30)])
    other = least_squares(lambda p: points[:, :2] @ p[:2] + p[2] - points[:, 2], [0, 0, 0], xtol=1e-15, ftol=1e-15, gtol=1e-15)
    fit = fit_plane(points.tolist())
    assert [fit.slope_x, fit.slope_y, fit.height_mm] == pytest.approx(other.x, abs=1e-9)
    leaned = points.copy()
    leaned[:, 2] += 0.003 * points[:, 0] - 0.007 * points[:, 1] + 12
    again = fit_plane(leaned.tolist())
    assert again.slope_x - fit.slope_x == pytest.approx(0.003, abs=1e-12)
    assert again.zone_mm == pytest.approx(fit.zone_mm, rel=1e-7)
    assert (again.high_point, again.low_point) == (fit.high_point, fit.low_point)


def test_a_grid_hollow_in_the_middle_by_hand():
    # Corners of a square at 0, the middle 0.02 low: any plane through the corners has it 0.02 below.
    fit = fit_plane([[0, 0, 0], [100, 0, 0], [0, 100, 0], [100, 100, 0], [50, 50, -0.02]])
    assert (fit.slope_x, fit.slope_y) == pytest.approx((0, 0), abs=1e-15)
    assert fit.zone_mm == pytest.approx(0.02, abs=1e-12)
    assert fit.low_point == 4


@pytest.mark.parametrize(
    "points", [[[0, 0, 1], [10, 0, 2]], [[0.1 * i, 0.3 * i, 1] for i in range(9)], [[0, 0, 0], [1, 1, float("nan")], [2, 0, 0]]]
)
def test_places_that_carry_no_plane_are_refused(points):
    with pytest.raises(ShopError, match=r"line|few|finite"):
        fit_plane(points)


def _swept(about_x: float, about_y: float, radius: float) -> dict[str, float]:
    """Readings on a level table of a stylus on a head turned by small rotations: pressed where the plane is low."""
    normal = np.array([math.sin(about_y), -math.sin(about_x) * math.cos(about_y), math.cos(about_x) * math.cos(about_y)])
    places = {"east": (radius, 0), "west": (-radius, 0), "north": (0, radius), "south": (0, -radius)}
    return {k: (normal[0] * x + normal[1] * y) / normal[2] for k, (x, y) in places.items()}


@pytest.mark.parametrize(("x_deg", "y_deg"), [(0.01, 0.0), (0.0, 0.02), (-0.013, 0.007)])
def test_a_leaning_head_is_found_with_its_sign(x_deg, y_deg):
    readings = _swept(math.radians(x_deg), math.radians(y_deg), 90)
    found = tram(**readings, sweep_d_mm=180)
    assert math.degrees(found.about_x) == pytest.approx(x_deg, abs=1e-8)
    assert math.degrees(found.about_y) == pytest.approx(y_deg, abs=1e-8)
    assert found.closure_mm == pytest.approx(0, abs=1e-12)


def test_the_dish_is_what_a_leaning_ring_mills():
    found = tram(0.1, 0, 0, 0, 200)
    # Fed along X with a lean about Y: at each y the lowest tooth that passes is at x = −√(R² − y²).
    radius, lean = 40.0, found.about_y
    turn = np.linspace(0, math.tau, 20001)
    y, z = radius * np.sin(turn), -radius * np.cos(turn) * math.sin(lean)
    floor = [z[np.abs(y - at) < 0.1].min() for at in (0.0, radius - 1e-3)]
    assert found.dish_mm(2 * radius, "x") == pytest.approx(floor[1] - floor[0], rel=0.08)
    assert found.dish_mm(2 * radius, "y") == 0
    assert found.dish_mm(2 * radius) == pytest.approx(found.dish_mm(2 * radius, "x"), rel=1e-9)


def test_run_out_against_a_circle_off_centre():
    angles = np.radians(np.arange(0, 360, 15.0))
    readings = 5 + 0.08 * np.cos(angles - math.radians(217)) + 0.01 * np.cos(3 * angles)
    found = runout(angles.tolist(), readings.tolist())
    assert found.eccentricity_mm == pytest.approx(0.08, abs=1e-12)
    assert math.degrees(found.high_at) == pytest.approx(217, abs=1e-9)
    assert found.left_mm == pytest.approx(0.02, abs=1e-12)
    assert found.tir_mm == pytest.approx(readings.max() - readings.min())
    with pytest.raises(ShopError, match="three different"):
        runout([0, math.pi, math.tau], [0, 1, 0])


@pytest.mark.parametrize("on", ["bore", "plug"])
def test_the_moves_bring_the_spindle_onto_the_centre(on):
    centre, wall = np.array([0.31, -0.17]), 20.0

    def swept(centre):
        out = []
        for deg in (0, 90, 180, 270):
            way = np.array([math.cos(math.radians(deg)), math.sin(math.radians(deg))])
            along = centre @ way
            reach = along + math.sqrt(wall**2 - (centre @ centre - along**2))  # from the spindle to the wall
            out.append(-reach if on == "bore" else reach)
        return out

    for _ in range(4):
        centre = centre + np.array(centre_moves(*swept(centre), on=on))
    assert centre == pytest.approx([0, 0], abs=1e-9)


def test_reversal_tells_the_work_from_the_square():
    work, square = 0.03, -0.012
    assert reversed_square(work + square, -work + square) == pytest.approx((work, square))


def test_a_jaw_by_its_worked_figure():
    angle, tap = jaw_yaw(150, 0.0, 0.03, 200)
    assert tap == pytest.approx(0.04)
    assert math.degrees(angle) == pytest.approx(0.011459, abs=1e-6)
    with pytest.raises(ShopError):
        jaw_yaw(0, 0, 1, 10)


def test_repeats_by_the_book():
    # Student's 2.776 for four degrees of freedom; Grubbs' limit 1.887 for six readings.
    found = repeat([10.0, 10.1, 9.9, 10.05, 9.95])
    assert found.half_width_95 == pytest.approx(2.776445 * found.stdev / math.sqrt(5), rel=1e-6)
    assert found.stdev == pytest.approx(math.sqrt(0.025 / 4))
    six = [0.0, 0.0, 0.1, 0.1, 0.05, 1.0]
    spread = np.std(six, ddof=1)
    assert (1.0 - np.mean(six)) / spread > 1.887
    assert repeat(six).outlier == 5
    assert repeat([1.0, 2.0, 3.0, 4.0, 5.0, 6.0]).outlier is None
    assert repeat([5.0, 5.0, 5.0]).outlier is None


def test_the_half_width_covers_the_truth_in_95_of_100():
    rng = np.random.default_rng(11)
    hits = sum(abs((r := repeat(rng.normal(7, 0.02, 4).tolist())).mean - 7) <= r.half_width_95 for _ in range(4000))
    assert 0.94 < hits / 4000 < 0.96


def test_as_made_with_its_guard_band():
    def said(*values):
        return as_made(11.9, 12.0, list(values), 0.01)[1]

    assert said(11.95) is Verdict.GO
    assert said(11.99) is Verdict.GO
    assert said(11.991) is Verdict.MARGINAL
    assert said(12.01) is Verdict.MARGINAL
    assert said(12.0101) is Verdict.NO_GO
    assert said(11.88) is Verdict.NO_GO
    assert said(11.85, 12.05) is Verdict.MARGINAL, "the mean of a taper hides both of its ends"
    with pytest.raises(ShopError):
        as_made(12, 11, [11.5], 0)


def test_a_stop_scale_is_the_line_of_numpy():
    rng = np.random.default_rng(3)
    scale = np.linspace(2, 40, 12)
    readout = 0.9871 * scale - 3.2 + rng.normal(0, 0.01, 12)
    found = stop_scale(np.column_stack([scale, readout]).tolist())
    (slope, offset), cov = np.polyfit(scale, readout, 1, cov=True)
    assert (found.factor, found.offset) == pytest.approx((slope, offset), abs=1e-10)
    assert found.sigma / math.sqrt(found.spread) == pytest.approx(math.sqrt(cov[0, 0]), rel=1e-9)
    assert found.factor * found.setting(20.0) + found.offset == pytest.approx(20.0)
    assert found.half_width_95(60) > found.half_width_95(20) > 2 * found.sigma
    assert math.isnan(stop_scale([[1, 1], [2, 2]]).half_width_95(1.5))


def test_straightness_by_hand():
    # Ends at 0, the middle 0.03 high: the line of least squares lies 0.01 up, and everything within 0.03 of it.
    fit = fit_line([[0, 0.0], [50, 0.03], [100, 0.0]])
    assert fit.slope == pytest.approx(0, abs=1e-15)
    assert fit.height_mm == pytest.approx(0.01)
    assert fit.off_mm == pytest.approx((-0.01, 0.02, -0.01))
    assert fit.straightness_mm == pytest.approx(0.03)
    assert fit.zone_mm == pytest.approx(0.03)
    # A bent bar: between the second and the third the line is free to lie where it likes.
    bent = fit_line([[0, 0.0], [10, 0.01], [20, 0.0], [30, 0.01], [40, 0.02]])
    assert bent.straightness_mm > bent.zone_mm > 0
    assert sum(bent.off_mm) == pytest.approx(0, abs=1e-15)


def test_what_a_plane_or_line_goes_through_exactly_has_no_zone():
    assert fit_plane([[0, 0, 1], [100, 0, 2], [0, 100, 5]]).zone_mm == 0
    assert fit_line([[0, 3], [10, 8]]).zone_mm == 0
    tilted = [[x, y, 5 + 0.01 * x - 0.02 * y] for x in (0, 50, 300) for y in (0, 70, 200)]
    fit = fit_plane(tilted)
    assert fit.zone_mm == pytest.approx(0, abs=1e-12)
    assert fit.flatness_mm == pytest.approx(0, abs=1e-12)
    assert (fit.slope_x, fit.slope_y, fit.height_mm) == pytest.approx((0.01, -0.02, 5))


def test_one_raised_corner_of_a_square_by_hand():
    # Four corners, one 0.04 up: the least-squares plane leaves ±0.01, and no other plane does better.
    fit = fit_plane([[0, 0, 0.04], [100, 0, 0], [0, 100, 0], [100, 100, 0]])
    assert sorted(fit.off_mm) == pytest.approx([-0.01, -0.01, 0.01, 0.01])
    assert fit.flatness_mm == pytest.approx(0.02)
    assert fit.zone_mm == pytest.approx(0.02)
    assert fit.slope_x == pytest.approx(-0.0002)


def test_four_readings_that_are_no_plane_say_by_how_much():
    found = tram(0.03, 0.01, 0.0, 0.0, 150)
    assert found.closure_mm == pytest.approx(0.02)
    assert math.degrees(found.about_y) == pytest.approx(math.degrees(0.02 / 150), rel=1e-6)
    assert found.about_x == 0
    assert math.degrees(found.lean) == pytest.approx(math.degrees(found.about_y))


@pytest.mark.parametrize(("east", "south"), [(0.05, 0.0), (0.0, 0.05), (0.03, 0.04)])
def test_the_lean_is_both_tilts_together(east, south):
    found = tram(east, 0, 0, south, 100)
    assert math.tan(found.lean) == pytest.approx(0.05 / 100 if east and south else 0.0005, rel=1e-9)
    assert found.dish_mm(60) == pytest.approx(30 * math.sin(found.lean))

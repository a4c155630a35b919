"""Angles by hand, by turning the formula round, and by rotation matrices."""

from __future__ import annotations

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from elbrix.angles import circles, compound, over_pins
from elbrix.angles.sine import SinePlate
from elbrix.cli import calc
from elbrix.quantities.errors import ShopError

DEG = math.radians
PLATE = SinePlate(centres_mm=127.0)
UNLIKE = SinePlate(centres_mm=100.0, roll_pivot_mm=20.0, roll_stack_mm=20.006)


# --- sine -----------------------------------------------------------------------------------------------------------


@pytest.mark.parametrize(
    ("centres", "angle_deg", "stack"),
    [
        pytest.param(100, 0, 0, id="flat"),
        pytest.param(100, 30, 50, id="half-the-centres"),
        pytest.param(127, 53 + 14 / 60, 101.7371, id="gnomon-53d14m"),  # 127 × 0.8010797
        pytest.param(200, 45, 141.42136, id="forty-five"),
    ],
)
def test_stack_by_hand(centres: float, angle_deg: float, stack: float) -> None:
    assert SinePlate(centres_mm=centres).stack_mm(DEG(angle_deg)) == pytest.approx(stack, abs=5e-5)


def test_unlike_rolls_by_drawing_it() -> None:
    """Rolls 20.000 and 20.006 at 100: at 30° the centre line needs 50 mm of rise, less the difference of the radii."""
    assert UNLIKE.stack_mm(DEG(30)) == pytest.approx(100 * 0.5 + (20 - 20.006) / 2)
    # The line under the rolls falls behind the centre line by asin(0.003/100).
    behind = math.asin(0.003 / 100)
    assert UNLIKE.under_rolls_rad == pytest.approx(behind)
    assert UNLIKE.stack_mm(DEG(30), to_centres=False) == pytest.approx(100 * math.sin(DEG(30) + behind) - 0.003)
    apart = UNLIKE.stack_mm(DEG(30), to_centres=False) - UNLIKE.stack_mm(DEG(30))
    assert 0.002 < apart < 0.003  # a few microns: the two conventions


def test_bottoms_parallel_by_geometry() -> None:
    """Build the standing plate from points: the common tangent under both rolls must have the asked slope."""
    angle = DEG(20)
    plate = SinePlate(centres_mm=80.0, roll_pivot_mm=16.0, roll_stack_mm=18.0)
    height = plate.stack_mm(angle, to_centres=False)
    pivot = np.array([0.0, 8.0])
    rise = height + 9.0 - 8.0
    stack = np.array([math.sqrt(80.0**2 - rise**2), 8.0 + rise])
    normal = np.array([math.sin(angle), -math.cos(angle)])  # out of the underside of a face at the angle
    touch_pivot, touch_stack = pivot + 8.0 * normal, stack + 9.0 * normal
    along = touch_stack - touch_pivot
    assert math.atan2(along[1], along[0]) == pytest.approx(angle, abs=1e-12)


@given(st.floats(0, 1.5), st.floats(20, 500), st.floats(5, 40), st.floats(-0.5, 0.5), st.booleans())
def test_angle_is_the_inverse_of_stack(angle: float, centres: float, roll: float, unlike: float, to_centres: bool) -> None:
    plate = SinePlate(centres_mm=centres, roll_pivot_mm=roll, roll_stack_mm=roll + unlike)
    try:
        stack = plate.stack_mm(angle, to_centres=to_centres)
    except ShopError:
        return
    if stack > 0:
        assert plate.angle_rad(stack, to_centres=to_centres) == pytest.approx(angle, abs=1e-6)


@given(st.floats(0.01, 1.4), st.floats(50, 300))
def test_sensitivities_are_slopes(angle: float, centres: float) -> None:
    plate, step = SinePlate(centres_mm=centres), 1e-5
    stack = plate.stack_mm(angle)
    by_stack = (plate.angle_rad(stack + step) - plate.angle_rad(stack - step)) / (2 * step)
    longer, shorter = SinePlate(centres_mm=centres + step), SinePlate(centres_mm=centres - step)
    by_centres = (longer.angle_rad(stack) - shorter.angle_rad(stack)) / (2 * step)
    assert plate.per_mm_stack_rad(angle) == pytest.approx(by_stack, rel=1e-4)
    assert plate.per_mm_centres_rad(angle) == pytest.approx(by_centres, rel=1e-3, abs=1e-9)
    assert plate.per_mm_centres_rad(angle) < 0


@pytest.mark.parametrize(
    "refused",
    [
        lambda: PLATE.stack_mm(DEG(90)),
        lambda: PLATE.stack_mm(DEG(-1)),
        lambda: PLATE.stack_mm(math.nan),
        lambda: PLATE.angle_rad(127.0),
        lambda: PLATE.angle_rad(-1.0),
        lambda: SinePlate(centres_mm=0),
        lambda: SinePlate(centres_mm=10, roll_pivot_mm=5, roll_stack_mm=40),
        lambda: SinePlate(centres_mm=100, roll_pivot_mm=10, roll_stack_mm=12).stack_mm(0.0),
    ],
)
def test_what_no_plate_sets(refused: object) -> None:
    with pytest.raises(ShopError) as error:
        refused()  # type: ignore[operator]
    assert error.value.do


# --- compound -------------------------------------------------------------------------------------------------------


def rot_x(a: float) -> np.ndarray:
    return np.array([[1, 0, 0], [0, math.cos(a), -math.sin(a)], [0, math.sin(a), math.cos(a)]])


def rot_y(b: float) -> np.ndarray:
    return np.array([[math.cos(b), 0, math.sin(b)], [0, 1, 0], [-math.sin(b), 0, math.cos(b)]])


@given(st.floats(-1.5, 1.5), st.floats(-1.5, 1.5))
def test_tilts_against_rotation_matrices(a: float, b: float) -> None:
    up = np.array([0.0, 0.0, 1.0])
    fixed, own = compound.tilt_fixed_axes(a, b), compound.tilt_own_axes(a, b)
    assert np.allclose(fixed.normal, rot_y(b) @ rot_x(a) @ up)
    assert np.allclose(own.normal, rot_x(a) @ rot_y(b) @ up)
    assert fixed.true_rad == pytest.approx(own.true_rad, abs=1e-7)
    assert math.cos(fixed.true_rad) == pytest.approx(math.cos(a) * math.cos(b))


def test_the_order_of_axes_turns_the_direction() -> None:
    fixed, own = compound.tilt_fixed_axes(DEG(30), DEG(20)), compound.tilt_own_axes(DEG(30), DEG(20))
    assert abs(fixed.downhill_rad - own.downhill_rad) > DEG(2)


@given(st.floats(-1.4, 1.4), st.floats(-1.4, 1.4))
def test_projected_slopes_are_seen_again(a: float, b: float) -> None:
    tilt, uphill = compound.from_projections(a, b)
    steep = math.tan(tilt)
    assert steep * math.cos(uphill) == pytest.approx(math.tan(a), abs=1e-9)
    assert steep * math.sin(uphill) == pytest.approx(math.tan(b), abs=1e-9)


@given(st.floats(0.001, 1.5), st.floats(-3.14, 3.14))
def test_two_plates_reach_the_asked_plane(tilt: float, downhill: float) -> None:
    x, y = compound.onto_two_plates(tilt, downhill)
    found = compound.tilt_own_axes(x, y)
    wanted = (math.sin(tilt) * math.cos(downhill), math.sin(tilt) * math.sin(downhill), math.cos(tilt))
    assert np.allclose(found.normal, wanted, atol=1e-7)


def test_angle_between_planes() -> None:
    assert compound.between_planes_rad(DEG(30), 0, DEG(30), DEG(180)) == pytest.approx(DEG(60))
    assert compound.between_planes_rad(DEG(30), 0, DEG(30), 0) == pytest.approx(0, abs=1e-12)
    assert compound.between_planes_rad(DEG(90), 0, DEG(90), DEG(90)) == pytest.approx(DEG(90))


# --- over pins ------------------------------------------------------------------------------------------------------


def test_ninety_degree_v_by_hand() -> None:
    """A 90° V 20 wide is 10 deep; a 14.142 pin touches half-way down and its middle is 10 above the vertex."""
    found = over_pins.v_over_pin(DEG(90), 20, 10 * math.sqrt(2))
    assert found.vertex_depth_mm == pytest.approx(10)
    assert found.pin_top_above_face_mm == pytest.approx(5 * math.sqrt(2))
    assert found.contact_width_mm == pytest.approx(10) and found.contact_on_flanks


def test_a_pin_too_thick_rests_on_the_edges() -> None:
    assert not over_pins.v_over_pin(DEG(90), 10, 20).contact_on_flanks
    with pytest.raises(ShopError, match="thinner pin"):
        over_pins.v_width_mm(DEG(90), 20, 20)


@given(st.floats(0.3, 2.8), st.floats(4, 60), st.floats(0.2, 1.0))
def test_v_measured_both_ways(included: float, width: float, share: float) -> None:
    pin = share * width / math.cos(included / 2) * 0.999
    top = over_pins.v_over_pin(included, width, pin).pin_top_above_face_mm
    assert over_pins.v_width_mm(included, pin, top) == pytest.approx(width, rel=1e-9)
    small = pin * 0.6
    other = over_pins.v_over_pin(included, width, small).pin_top_above_face_mm
    assert over_pins.v_angle_rad(pin, top, small, other) == pytest.approx(included, rel=1e-9)


@pytest.mark.parametrize("pins", [(10, 5, 10, 5), (10, 5, 8, 9), (10, 5, 8, 4.5), (0, 1, 2, 3)])
def test_heights_that_fit_no_v(pins: tuple[float, float, float, float]) -> None:
    with pytest.raises(ShopError):
        over_pins.v_angle_rad(*pins)


@given(st.floats(0.6, 1.5), st.floats(20, 100), st.floats(3, 12), st.floats(2, 8))
def test_dovetail_rods_touch_floor_and_flank(flank: float, width: float, height: float, rod: float) -> None:
    """Place the rod by its distances instead: r above the floor and r from the flank line."""
    over, wide = over_pins.dovetail_male(width, height, flank, rod)
    middle = over / 2 - rod / 2
    # The male flank leaves the root corner (width/2, 0) outwards and upwards; its rod lies outside, on the floor.
    away = (middle - width / 2) * math.sin(flank) - rod / 2 * math.cos(flank)
    assert away == pytest.approx(rod / 2, rel=1e-9)
    along = (middle - width / 2) * math.cos(flank) + rod / 2 * math.sin(flank)  # up the flank to the foot of the perpendicular
    assert over_pins.rod_touch_mm(flank, rod) == pytest.approx(along * math.sin(flank))
    assert wide == pytest.approx(width + 2 * height / math.tan(flank))
    try:
        between, narrow = over_pins.dovetail_female(width, height, flank, rod)
    except ShopError:
        return
    assert over + between == pytest.approx(2 * width)  # the same rods, in and out
    assert wide + narrow == pytest.approx(2 * width)


def test_tilted_cut_is_a_right_triangle() -> None:
    step, length = over_pins.tilted_cut(8, DEG(53))
    assert math.hypot(step, 8) == pytest.approx(length)
    assert math.degrees(math.atan2(8, step)) == pytest.approx(53)


# --- circles --------------------------------------------------------------------------------------------------------


@given(st.integers(1, 60), st.floats(1, 500), st.floats(-7, 7))
def test_bolt_circle_closes(holes: int, diameter: float, start: float) -> None:
    points = circles.bolt_circle(holes, diameter, start, (3.0, -4.0))
    assert len(points) == holes
    for x, y in points:
        assert math.hypot(x - 3, y + 4) == pytest.approx(diameter / 2)
    chord = circles.chord_mm(diameter, 2 * math.pi / holes)
    for p, q in zip(points, [*points[1:], points[0]], strict=True):
        assert math.dist(p, q) == pytest.approx(chord, abs=1e-6 * diameter)


def test_chord_and_angle_are_inverse() -> None:
    assert circles.angle_of_chord_rad(100, circles.chord_mm(100, 1.1)) == pytest.approx(1.1)
    with pytest.raises(ShopError):
        circles.angle_of_chord_rad(100, 101)


# --- the contract ---------------------------------------------------------------------------------------------------


@pytest.mark.parametrize(
    ("asked", "expected"),
    [
        ({"calc": "sine_stack", "centres_mm": 127, "angle_dms": "53-14-0"}, {"stack_mm": 101.7371}),
        (
            {"calc": "sine_stack", "centres_mm": 100, "angle_deg": 30, "roll_pivot_mm": 20, "roll_stack_mm": 20.006},
            {"stack_face_parallel_to_centres_mm": 49.997},
        ),
        ({"calc": "sine_angle", "centres_mm": 100, "stack_mm": 50}, {"angle_deg": 30}),
        (
            {"calc": "sine_sensitivity", "centres_mm": 100, "angle_deg": 60, "u_stack_um": 1},
            {"arcsec_per_um_stack": 4.12530, "arcsec_per_um_centres": -3.57261, "u_angle_arcsec": 4.12530},
        ),
        (
            {"calc": "compound_tilt", "tilt_x_deg": 30, "then_tilt_y_deg": 0},
            {"true_tilt_deg": 30, "downhill_azimuth_fixed_axes_deg": -90},
        ),
        (
            {"calc": "projected_angles", "slope_seen_in_xz_deg": 45, "slope_seen_in_yz_deg": 45},
            {"true_tilt_deg": 54.7356, "uphill_azimuth_deg": 45},
        ),
        (
            {
                "calc": "double_sine",
                "true_tilt_deg": 30,
                "downhill_azimuth_deg": 0,
                "centres_base_mm": 100,
                "centres_top_mm": 100,
            },
            {"tilt_x_deg": 0, "then_own_y_deg": 30, "stack_top_mm": 50},
        ),
        (
            {"calc": "angle_between_planes", "tilt1_deg": 10, "azimuth1_deg": 0, "tilt2_deg": 10, "azimuth2_deg": 180},
            {"angle_between_normals_deg": 20},
        ),
        (
            {"calc": "v_over_pin", "included_angle_deg": 60, "width_at_top_mm": 20, "pin_d_mm": 12},
            {"pin_top_above_face_mm": 18 - 10 / math.tan(DEG(30)), "contact_width_mm": 12 * math.cos(DEG(30))},
        ),
        (
            {
                "calc": "v_width_from_pin",
                "included_angle_deg": 60,
                "pin_d_mm": 12,
                "pin_top_above_face_mm": 18 - 10 / math.tan(DEG(30)),
            },
            {"width_at_top_mm": 20},
        ),
        (
            {"calc": "dovetail_male", "narrow_width_at_root_mm": 40, "height_mm": 10, "flank_angle_deg": 60, "rod_d_mm": 6},
            {
                "over_rods_mm": 40 + 6 * (1 + math.sqrt(3)),
                "wide_width_mm": 40 + 20 / math.sqrt(3),
                "contact_height_mm": 4.5,
                "contact_on_flanks": True,
            },
        ),
        (
            {"calc": "dovetail_male", "narrow_width_at_root_mm": 30, "height_mm": 5, "flank_angle_deg": 60, "rod_d_mm": 12},
            {"contact_height_mm": 9, "contact_on_flanks": False},
        ),
        (
            {"calc": "dovetail_female", "wide_width_at_floor_mm": 60, "height_mm": 10, "flank_angle_deg": 60, "rod_d_mm": 6},
            {"between_rods_mm": 60 - 6 * (1 + math.sqrt(3))},
        ),
        ({"calc": "tilted_cut", "thickness_mm": 10, "angle_from_face_deg": 45}, {"step_over_mm": 10, "cut_length_mm": 14.14214}),
        ({"calc": "bolt_circle", "holes": 4, "pitch_circle_d_mm": 100, "start_angle_deg": 0}, {"chord_next_mm": 70.71068}),
        (
            {"calc": "two_pins_on_circle", "pitch_circle_d_mm": 100, "angle_between_deg": 60, "pin1_d_mm": 6, "pin2_d_mm": 8},
            {"chord_mm": 50, "over_pins_mm": 57, "between_pins_mm": 43},
        ),
        (
            {"calc": "two_holes_xy", "hole1_mm": [0, 0], "hole2_mm": [30, 40], "pin1_d_mm": 6, "pin2_d_mm": 6},
            {"distance_mm": 50, "angle_deg": 53.13010, "over_pins_mm": 56},
        ),
        ({"calc": "angle_from_chord", "pitch_circle_d_mm": 100, "chord_mm": 50}, {"angle_deg": 60}),
    ],
    ids=lambda v: v["calc"] if isinstance(v, dict) and "calc" in v else "",
)
def test_calc_contract(asked: dict[str, object], expected: dict[str, float]) -> None:
    answer = calc.answer(asked)
    assert "error" not in answer, answer
    for key, value in expected.items():
        assert answer[key] == pytest.approx(value, abs=6e-5), key


def test_unlike_rolls_give_no_single_stack() -> None:
    assert "stack_mm" not in calc.answer(
        {"calc": "sine_stack", "centres_mm": 100, "angle_deg": 30, "roll_pivot_mm": 20, "roll_stack_mm": 20.1}
    )


@pytest.mark.parametrize(
    "asked",
    [
        {"calc": "sine_stack", "centres_mm": 100, "angle_deg": 90},
        {"calc": "sine_stack", "centres_mm": "long", "angle_deg": 9},
        {"calc": "sine_stack", "angle_deg": 9},
        {"calc": "sine_angle", "centres_mm": 100, "stack_mm": 101},
        {"calc": "bolt_circle", "holes": 2.5, "pitch_circle_d_mm": 10},
        {"calc": "two_holes_xy", "hole1_mm": [1], "hole2_mm": [2, 3], "pin1_d_mm": 1, "pin2_d_mm": 1},
        {"calc": "v_over_pin", "included_angle_deg": 0, "width_at_top_mm": 5, "pin_d_mm": 5},
        {"calc": "dovetail_male", "narrow_width_at_root_mm": 40, "height_mm": -1, "flank_angle_deg": 60, "rod_d_mm": 6},
    ],
)
def test_calc_refusals(asked: dict[str, object]) -> None:
    assert "error" in calc.answer(asked)

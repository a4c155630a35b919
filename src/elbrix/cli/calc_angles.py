"""The angle calculations of `elbrix calc`: degrees and mm in, degrees and mm out."""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping
from typing import Any

from elbrix.angles import circles, compound, over_pins
from elbrix.angles.sine import SinePlate
from elbrix.quantities.angles import parse_angle
from elbrix.quantities.errors import ShopError

Asked = Mapping[str, Any]
_ARCSEC_PER_RAD = math.degrees(1) * 3600


def number(asked: Asked, key: str, default: float | None = None) -> float:
    """A finite number by key.

    Raises:
        ShopError: Missing, or no number.
    """
    value = asked.get(key, default)
    if isinstance(value, bool) or not isinstance(value, int | float) or not math.isfinite(value):
        raise ShopError(
            str(asked.get("calc", "calc")),
            f"“{key}” is missing or no number",
            "The calculation needs it",
            f"Give “{key}” as a number",
        )
    return float(value)


def degrees(asked: Asked, key: str) -> float:
    return math.radians(number(asked, key))


def _plate(asked: Asked) -> SinePlate:
    pivot = number(asked, "roll_pivot_mm", number(asked, "roll_stack_mm", 0.0))
    return SinePlate(
        centres_mm=number(asked, "centres_mm"), roll_pivot_mm=pivot, roll_stack_mm=number(asked, "roll_stack_mm", pivot)
    )


def sine_stack(asked: Asked) -> dict[str, Any]:
    plate = _plate(asked)
    angle = (
        parse_angle(str(asked["angle_dms"]), "angle_dms") if asked.get("angle_dms") is not None else degrees(asked, "angle_deg")
    )
    to_centres, to_bottoms = plate.stack_mm(angle), plate.stack_mm(angle, to_centres=False)
    found: dict[str, Any] = {
        "stack_face_parallel_to_centres_mm": to_centres,
        "stack_face_parallel_to_roll_bottoms_mm": to_bottoms,
    }
    return found | ({"stack_mm": to_centres} if plate.roll_pivot_mm == plate.roll_stack_mm else {})


def sine_angle(asked: Asked) -> dict[str, Any]:
    plate, stack = _plate(asked), number(asked, "stack_mm")
    to_centres, to_bottoms = math.degrees(plate.angle_rad(stack)), math.degrees(plate.angle_rad(stack, to_centres=False))
    found: dict[str, Any] = {
        "angle_face_parallel_to_centres_deg": to_centres,
        "angle_face_parallel_to_roll_bottoms_deg": to_bottoms,
    }
    return found | ({"angle_deg": to_centres} if plate.roll_pivot_mm == plate.roll_stack_mm else {})


def sine_sensitivity(asked: Asked) -> dict[str, Any]:
    plate, angle = SinePlate(centres_mm=number(asked, "centres_mm")), degrees(asked, "angle_deg")
    plate.stack_mm(angle)  # refuses what cannot be set
    per_stack = plate.per_mm_stack_rad(angle) * _ARCSEC_PER_RAD / 1000
    per_centres = plate.per_mm_centres_rad(angle) * _ARCSEC_PER_RAD / 1000
    found: dict[str, Any] = {"arcsec_per_um_stack": per_stack, "arcsec_per_um_centres": per_centres}
    if "u_stack_um" in asked or "u_centres_um" in asked:
        found["u_angle_arcsec"] = math.hypot(
            per_stack * number(asked, "u_stack_um", 0.0), per_centres * number(asked, "u_centres_um", 0.0)
        )
    return found


def compound_tilt(asked: Asked) -> dict[str, Any]:
    x, y = degrees(asked, "tilt_x_deg"), degrees(asked, "then_tilt_y_deg")
    fixed, own = compound.tilt_fixed_axes(x, y), compound.tilt_own_axes(x, y)
    return {
        "true_tilt_deg": math.degrees(fixed.true_rad),
        "downhill_azimuth_fixed_axes_deg": math.degrees(fixed.downhill_rad),
        "downhill_azimuth_own_axes_deg": math.degrees(own.downhill_rad),
        "normal_fixed": list(fixed.normal),
        "normal_own": list(own.normal),
    }


def projected_angles(asked: Asked) -> dict[str, Any]:
    tilt, uphill = compound.from_projections(degrees(asked, "slope_seen_in_xz_deg"), degrees(asked, "slope_seen_in_yz_deg"))
    return {"true_tilt_deg": math.degrees(tilt), "uphill_azimuth_deg": math.degrees(uphill)}


def double_sine(asked: Asked) -> dict[str, Any]:
    x, y = compound.onto_two_plates(degrees(asked, "true_tilt_deg"), degrees(asked, "downhill_azimuth_deg"))
    base, top = number(asked, "centres_base_mm"), number(asked, "centres_top_mm")
    return {
        "tilt_x_deg": math.degrees(x),
        "then_own_y_deg": math.degrees(y),
        "stack_base_mm": SinePlate(centres_mm=base).stack_mm(abs(x)),
        "stack_top_mm": SinePlate(centres_mm=top).stack_mm(abs(y)),
    }


def angle_between_planes(asked: Asked) -> dict[str, Any]:
    angle = compound.between_planes_rad(*(degrees(asked, k) for k in ("tilt1_deg", "azimuth1_deg", "tilt2_deg", "azimuth2_deg")))
    return {"angle_between_normals_deg": math.degrees(angle)}


def v_over_pin(asked: Asked) -> dict[str, Any]:
    found = over_pins.v_over_pin(
        degrees(asked, "included_angle_deg"), number(asked, "width_at_top_mm"), number(asked, "pin_d_mm")
    )
    return {
        "pin_top_above_face_mm": found.pin_top_above_face_mm,
        "vertex_depth_mm": found.vertex_depth_mm,
        "contact_width_mm": found.contact_width_mm,
        "contact_on_flanks": "yes" if found.contact_on_flanks else "no",
    }


def v_width_from_pin(asked: Asked) -> dict[str, Any]:
    return {
        "width_at_top_mm": over_pins.v_width_mm(
            degrees(asked, "included_angle_deg"), number(asked, "pin_d_mm"), number(asked, "pin_top_above_face_mm")
        )
    }


def v_angle_from_two_pins(asked: Asked) -> dict[str, Any]:
    angle = over_pins.v_angle_rad(*(number(asked, k) for k in ("pin1_mm", "top1_mm", "pin2_mm", "top2_mm")))
    return {"included_angle_deg": math.degrees(angle)}


def dovetail_male(asked: Asked) -> dict[str, Any]:
    over, wide = over_pins.dovetail_male(
        number(asked, "narrow_width_at_root_mm"),
        number(asked, "height_mm"),
        degrees(asked, "flank_angle_deg"),
        number(asked, "rod_d_mm"),
    )
    return {"over_rods_mm": over, "wide_width_mm": wide, **_touching(asked)}


def _touching(asked: Asked) -> dict[str, Any]:
    touch = over_pins.rod_touch_mm(degrees(asked, "flank_angle_deg"), number(asked, "rod_d_mm"))
    return {"contact_height_mm": touch, "contact_on_flanks": touch <= number(asked, "height_mm")}


def dovetail_female(asked: Asked) -> dict[str, Any]:
    between, narrow = over_pins.dovetail_female(
        number(asked, "wide_width_at_floor_mm"),
        number(asked, "height_mm"),
        degrees(asked, "flank_angle_deg"),
        number(asked, "rod_d_mm"),
    )
    return {"between_rods_mm": between, "narrow_width_mm": narrow, **_touching(asked)}


def tilted_cut(asked: Asked) -> dict[str, Any]:
    step, length = over_pins.tilted_cut(number(asked, "thickness_mm"), degrees(asked, "angle_from_face_deg"))
    return {"step_over_mm": step, "cut_length_mm": length}


def _point(asked: Asked, key: str, default: list[float] | None = None) -> tuple[float, float]:
    value = asked.get(key, default)
    if not isinstance(value, list) or len(value) != 2:
        raise ShopError(str(asked.get("calc")), f"“{key}” is no point", "A point has x and y", f"Give “{key}” as [x, y]")
    return number({"x": value[0]}, "x"), number({"y": value[1]}, "y")


def bolt_circle(asked: Asked) -> dict[str, Any]:
    holes = number(asked, "holes")
    if holes != int(holes):
        raise ShopError("bolt_circle", f"{holes:g} holes", "Holes are counted", "Give a whole number")
    points = circles.bolt_circle(
        int(holes),
        number(asked, "pitch_circle_d_mm"),
        math.radians(number(asked, "start_angle_deg", 0.0)),
        _point(asked, "centre_mm", [0.0, 0.0]),
    )
    chord = circles.chord_mm(number(asked, "pitch_circle_d_mm"), 2 * math.pi / int(holes)) if holes > 1 else 0.0
    return {"points_mm": [list(p) for p in points], "chord_next_mm": chord}


def two_pins_on_circle(asked: Asked) -> dict[str, Any]:
    chord = circles.chord_mm(number(asked, "pitch_circle_d_mm"), degrees(asked, "angle_between_deg"))
    over, between = circles.over_two_pins(chord, number(asked, "pin1_d_mm"), number(asked, "pin2_d_mm"))
    return {"chord_mm": chord, "over_pins_mm": over, "between_pins_mm": between}


def two_holes_xy(asked: Asked) -> dict[str, Any]:
    (x1, y1), (x2, y2) = _point(asked, "hole1_mm"), _point(asked, "hole2_mm")
    distance = math.hypot(x2 - x1, y2 - y1)
    over, _ = circles.over_two_pins(distance, number(asked, "pin1_d_mm"), number(asked, "pin2_d_mm"))
    return {"distance_mm": distance, "angle_deg": math.degrees(math.atan2(y2 - y1, x2 - x1)), "over_pins_mm": over}


def angle_from_chord(asked: Asked) -> dict[str, Any]:
    return {"angle_deg": math.degrees(circles.angle_of_chord_rad(number(asked, "pitch_circle_d_mm"), number(asked, "chord_mm")))}


ANGLE_CALCS: dict[str, Callable[[Asked], dict[str, Any]]] = {
    f.__name__: f
    for f in (
        sine_stack,
        sine_angle,
        sine_sensitivity,
        compound_tilt,
        projected_angles,
        double_sine,
        angle_between_planes,
        v_over_pin,
        v_width_from_pin,
        v_angle_from_two_pins,
        dovetail_male,
        dovetail_female,
        tilted_cut,
        bolt_circle,
        two_pins_on_circle,
        two_holes_xy,
        angle_from_chord,
    )
}

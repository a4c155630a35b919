"""The measuring calculations of `elbrix calc`."""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping
from typing import Any

from elbrix.cli.calc_angles import number
from elbrix.metrology.hole_patterns import LengthOverPins, best_fit, over_pins
from elbrix.metrology.repeats import as_made, repeat, stop_scale
from elbrix.metrology.reversal import jaw_yaw, reversed_square
from elbrix.metrology.runouts import runout
from elbrix.metrology.sweeps import centre_moves, tram
from elbrix.metrology.zones import fit_line, fit_plane
from elbrix.quantities.errors import ShopError

Asked = Mapping[str, Any]


def _wrong(asked: Asked, key: str, wanted: str) -> ShopError:
    return ShopError(str(asked.get("calc")), f"“{key}” is missing or not {wanted}", "The calculation needs it", "Give all of it")


def _is_number(value: object) -> bool:
    return isinstance(value, int | float) and not isinstance(value, bool) and math.isfinite(value)


def _list(asked: Asked, key: str) -> list[float]:
    value = asked.get(key)
    if not isinstance(value, list) or not all(_is_number(v) for v in value):
        raise _wrong(asked, key, "a list of numbers")
    return [float(v) for v in value]


def _rows(asked: Asked, key: str, columns: int) -> list[list[float]]:
    value = asked.get(key)
    fits = isinstance(value, list) and all(
        isinstance(row, list) and len(row) == columns and all(_is_number(v) for v in row) for row in value
    )
    if not fits or not isinstance(value, list):
        raise _wrong(asked, key, f"a list of rows of {columns} numbers")
    return [[float(v) for v in row] for row in value]


def _named(asked: Asked, key: str, names: tuple[str, ...]) -> list[float]:
    value = asked.get(key)
    if not isinstance(value, dict) or not all(_is_number(value.get(name)) for name in names):
        raise _wrong(asked, key, f"readings by name: {', '.join(names)}")
    return [float(value[name]) for name in names]


def flatness(asked: Asked) -> dict[str, Any]:
    fit = fit_plane(_rows(asked, "points", 3))
    return {
        "tilt_x_mm_per_m": fit.slope_x * 1000,
        "tilt_y_mm_per_m": fit.slope_y * 1000,
        "flatness_lsq_mm": fit.flatness_mm,
        "flatness_zone_mm": fit.zone_mm,
        "high_point": fit.high_point,
        "low_point": fit.low_point,
    }


def straightness(asked: Asked) -> dict[str, Any]:
    fit = fit_line(_rows(asked, "points", 2))
    return {"slope_mm_per_m": fit.slope * 1000, "straightness_lsq_mm": fit.straightness_mm, "straightness_zone_mm": fit.zone_mm}


def head_tram(asked: Asked) -> dict[str, Any]:
    east, west, north, south = _named(asked, "readings", ("east", "west", "north", "south"))
    found = tram(east, west, north, south, number(asked, "sweep_d_mm"))
    told = {
        "head_tilt_about_x_deg": math.degrees(found.about_x),
        "head_tilt_about_y_deg": math.degrees(found.about_y),
        "closure_mm": found.closure_mm,
    }
    if asked.get("cutter_d_mm") is None:
        return told
    cutter = number(asked, "cutter_d_mm")
    if not cutter > 0:
        raise ShopError("tram", f"a cutter of Ø{cutter:g}", "The dish grows with it", "Give its diameter over the teeth")
    return told | {
        "dish_mm": found.dish_mm(cutter),
        "dish_fed_along_x_mm": found.dish_mm(cutter, "x"),
        "dish_fed_along_y_mm": found.dish_mm(cutter, "y"),
    }


def run_out(asked: Asked) -> dict[str, Any]:
    found = runout([math.radians(a) for a in _list(asked, "angles_deg")], _list(asked, "readings_mm"))
    return {
        "eccentricity_mm": found.eccentricity_mm,
        "high_at_deg": math.degrees(found.high_at),
        "tir_mm": found.tir_mm,
        "left_after_centring_mm": found.left_mm,
    }


def squareness(asked: Asked) -> dict[str, Any]:
    height = number(asked, "height_mm")
    if not height > 0:
        raise ShopError("squareness", f"a height of {height:g}", "The deviation is over that height", "Measure it")
    work, square = reversed_square(number(asked, "first_mm"), number(asked, "reversed_mm"))
    return {
        "work_mm": work,
        "square_mm": square,
        "work_deg": math.degrees(math.atan2(work, height)),
        "square_deg": math.degrees(math.atan2(square, height)),
    }


def yaw(asked: Asked) -> dict[str, Any]:
    readings = _list(asked, "readings_mm")
    if len(readings) != 2:
        raise _wrong(asked, "readings_mm", "two numbers: at the start, at the end")
    angle, tap = jaw_yaw(number(asked, "travel_mm"), readings[0], readings[1], number(asked, "pivot_to_end_mm"))
    return {"yaw_deg": math.degrees(angle), "tap_mm": tap}


def repeats(asked: Asked) -> dict[str, Any]:
    found = repeat(_list(asked, "readings"))
    told = {
        "mean": found.mean,
        "stdev": found.stdev,
        "half_width_95": found.half_width_95,
        "outlier": found.outlier,
        "median": found.median,
    }
    if asked.get("wanted_k") is None:
        return told
    factor = number(asked, "wanted_k")
    if not factor > 0:
        raise ShopError("repeat", f"a coverage factor of {factor:g}", "It multiplies the spread of the mean", "Give 2, or 3")
    return told | {"half_width_k": found.half_width(factor)}


def best_fit_holes(asked: Asked) -> dict[str, Any]:
    found = best_fit(_rows(asked, "wanted_mm", 2), _rows(asked, "measured_mm", 2), number(asked, "sigma_mm"))
    return {
        "shift_mm": list(found.shift_mm),
        "turn_deg": math.degrees(found.turn),
        "residual_mm": [list(r) for r in found.residual_mm],
        "wrong": list(found.wrong),
        "undecided": found.undecided,
    }


def holes_over_pins(asked: Asked) -> dict[str, Any]:
    listed = asked.get("over_mm")
    if not isinstance(listed, list) or not all(isinstance(s, dict) for s in listed):
        raise _wrong(asked, "over_mm", "a list of {a, b, value}")
    spans = []
    for row in listed:
        ends = [row.get("a"), row.get("b")]
        if not all(isinstance(e, int) and not isinstance(e, bool) for e in ends) or not _is_number(row.get("value")):
            raise _wrong(asked, "over_mm", "a list of {a, b, value}, a and b the indices of holes")
        spans.append(LengthOverPins(ends[0], ends[1], float(row["value"])))
    found = over_pins(_rows(asked, "wanted_mm", 2), _list(asked, "pins_mm"), spans, number(asked, "sigma_mm"))
    return {
        "positions_mm": [list(p) for p in found.positions_mm],
        "residual_mm": [list(r) for r in found.residual_mm],
        "wrong": list(found.wrong),
        "over_left_mm": list(found.span_left_mm),
        "over_wrong": list(found.wrong_spans),
        "undecided": found.undecided,
    }


def made(asked: Asked) -> dict[str, Any]:
    limits = number(asked, "lower_mm"), number(asked, "upper_mm")
    mean, verdict = as_made(*limits, _list(asked, "readings_mm"), number(asked, "u_mm"))
    return {"mean_mm": mean, "verdict": verdict.value}


def centre_rotary(asked: Asked) -> dict[str, Any]:
    at_0, at_90, at_180, at_270 = _named(asked, "readings", ("0", "90", "180", "270"))
    x, y = centre_moves(at_0, at_90, at_180, at_270, str(asked.get("on", "bore")))
    return {"move_x_mm": x, "move_y_mm": y}


def trip_stop(asked: Asked) -> dict[str, Any]:
    found = stop_scale(_rows(asked, "pairs", 2))
    told: dict[str, Any] = {
        "factor": found.factor,
        "offset": found.offset,
        "sigma": None if math.isnan(found.sigma) else found.sigma,
    }
    if asked.get("wanted_mm") is None:
        return told
    wanted = number(asked, "wanted_mm")
    half = found.half_width_95(wanted)
    return told | {"setting": found.setting(wanted), "half_width_95": None if math.isnan(half) else half}


INSPECT_CALCS: dict[str, Callable[[Asked], dict[str, Any]]] = {
    "flatness": flatness,
    "straightness": straightness,
    "tram": head_tram,
    "runout": run_out,
    "squareness": squareness,
    "jaw_yaw": yaw,
    "repeat": repeats,
    "best_fit_holes": best_fit_holes,
    "holes_over_pins": holes_over_pins,
    "as_made": made,
    "centre_rotary": centre_rotary,
    "trip_stop": trip_stop,
}

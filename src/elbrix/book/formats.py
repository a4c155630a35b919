"""Items of older formats, lifted to today's: what was renamed since, kind by kind.

Format 1 (0.1.0) spoke a dialect of its own; format 2 has the names of docs/glossary.md. Values mean the same. Used on every item
of an older book when it is opened to write, and on every item of an older export when it is read.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import Any, Final

#: The format books and exports are written in.
FORMAT: Final = 2

_KINDS: Final = {"hold": "layout"}

#: Fields of the shop's items, renamed.
_FIELDS: Final[dict[str, dict[str, str]]] = {
    "vise": {"most_nm": "max_torque_nm", "jaw_screw_above_mm": "jaw_screw_height_mm"},
    "support": {"low_mm": "min_height_mm", "high_mm": "max_height_mm"},
    "bore": {"least_mm": "smallest_mm", "most_mm": "largest_mm", "deep_mm": "depth_mm"},
    "hold": {"things": "elements"},
}

_SLIT: Final = {"slit": "slit_width", "clamp": "clamp_screw"}
_SQUARE: Final = {"square_over": "square_length", "square_to": "squareness"}
_JAW_SCREWS: Final = {"screw": "jaw_screw", "spacing": "screw_spacing", "above": "screw_height"}

#: Parameters of the families, renamed.
FAMILY_PARAMETERS: Final[dict[str, dict[str, str]]] = {
    "depth_stop": {
        "where": "casting_bore",
        "bore_deep": "bore_depth",
        "sleeve_out": "sleeve_pressed",
        "inner": "sleeve_bore",
        "ring": "slider_bore",
        "front": "front_length",
        "back": "rear_length",
        "tip_at": "tip_distance",
        "way": "stack_place",
        "tip_out": "tip_protrusion",
        "push": "feed_force",
        **_SLIT,
    },
    "fixture_plate": {
        "over": "centred_over",
        "ring": "ring_radius",
        "centre": "centre_hole",
        "held": "fastening",
        "pin_at": "pin_positions",
        "pin": "pin_diameter",
        "play": "pin_clearance",
        "pins_when": "pin_holes",
        "taken": "old_holes",
        "taken_d": "old_hole_diameter",
        "path": "cutter_path",
        "cutter": "cutter_diameter",
    },
    "locator": {
        "where": "measured_bore",
        "deep": "hole_depth",
        "size": "locating_diameter",
        "tall": "locating_length",
        "plate": "plate_thickness",
        "shank": "shank_diameter",
        "shank_long": "shank_length",
        "land": "land_width",
        "other_play": "round_pin_clearance",
        "apart": "pin_spacing",
        "float": "end_float",
        "head": "head_diameter",
        "head_high": "head_height",
        "inner": "bush_bore",
    },
    "riser": {
        "wanted": "riser_height",
        "within": "height_tolerance",
        "lower_within": "lower_tolerance",
        "upper_within": "upper_tolerance",
        "over": "centred_over",
        "join": "joining_screw",
        "joins": "joining_positions",
        "joins_when": "joining_holes",
        "top_at": "top_positions",
        "register": "register_diameter",
        "register_deep": "register_depth",
        "plug": "plug_diameter",
    },
    "sine_plate": {
        "finest": "angle_tolerance",
        "steepest": "max_angle",
        "centres": "roll_centres",
        "roll": "roll_diameter",
        "flat": "roll_flat",
        "uneven": "taper",
        "centres_within": "centres_tolerance",
        "rolls_alike": "roll_match",
        "face_within": "face_parallelism",
        "strip": "stop_strip",
    },
    "soft_jaw": {
        "work_high": "work_height",
        "work_wide": "work_length",
        "work_deep": "work_width",
        "grip": "grip_height",
        "width": "length",
        "ledge": "ledge_depth",
        "pin": "pin_diameter",
        "pins_apart": "pin_spacing",
        "pin_out": "pin_protrusion",
        "pin_error": "pin_height_error",
        "v_mouth": "v_width",
        "over": "nest_clearance",
        "clearance": "outline_clearance",
        "cutter": "cutter_diameter",
        "force_per": "force_per_nm",
        **_SQUARE,
        **_JAW_SCREWS,
    },
    "table_key": {
        "host": "vise_slot",
        "host_deep": "vise_slot_depth",
        "table_high": "table_height",
        "vise_high": "vise_height",
        "spacing": "key_spacing",
        "jaw": "jaw_length",
        "wanted": "squareness",
        "out": "misalignment",
        "out_again": "misalignment_check",
        "read_to": "reading_resolution",
    },
    "table_stop": {
        "tongue": "tongue_width",
        "tongue_high": "tongue_height",
        "way": "stopping_face",
        "push": "stop_force",
        "meets": "contact_height",
        **_SQUARE,
    },
    "tilting_plate": {
        "jaw_high": "jaw_height",
        "jaw_thick": "jaw_thickness",
        "wanted": "tilt",
        "bar_size": "bar_diameter",
        "bar_long": "bar_length",
        "below": "axis_depth",
        "notch": "notch_width",
        "notch_deep": "notch_depth",
        "front": "front_length",
        "back": "rear_length",
        "screws_apart": "screw_spacing",
        "reads_to": "reading_resolution",
    },
    "trip_stop": {
        "slot": "slot_width",
        "end": "end_wall",
        "nose": "nose_length",
        "wanted": "wanted_travel",
        "within": "travel_tolerance",
    },
    "v_jaw": {
        "mouth": "v_width",
        "relief": "relief_width",
        "relief_deep": "relief_depth",
        "bolts_apart": "bolt_spacing",
        "bolts_at": "bolt_position",
        "keys": "keyways",
        "keyway": "keyway_width",
        "keyway_deep": "keyway_depth",
        "pin": "pin_diameter",
        "push": "clamping_force",
        **_JAW_SCREWS,
    },
    "vise_stop": {
        "jaw_thick": "jaw_thickness",
        "jaw_high": "jaw_height",
        "high": "height",
        "screw": "mounting_screw",
        "low_screw": "lower_screw",
        "high_screw": "upper_screw",
        "rod": "rod_diameter",
        "rod_out": "rod_offset",
        "rod_up": "rod_height",
        "reach": "rod_reach",
        "push": "rod_force",
        "give": "deflection",
        **_SLIT,
    },
}

#: Parameters of a layout's work and cut, and of its clamping elements, renamed.
LAYOUT_PARAMETERS: Final = {
    "turn": "angle",
    "path": "cutter_path",
    "at": "places",
    "deep": "depth_below_top",
    "depth": "depth_of_cut",
    "wide": "width_of_cut",
    "mu": "friction",
    "oil": "lubrication",
}
ELEMENT_PARAMETERS: Final[dict[str, dict[str, str]]] = {
    "strap": {"turn": "direction", "tip": "stud_to_tip", "tip_mu": "tip_friction"},
    "vise": {"along": "offset", "jaw_mu": "jaw_friction"},
    "stop": {"turn": "direction"},
    "toe": {"turn": "direction"},
    "support": {"high": "height"},
    "plate": {
        "thick": "thickness",
        "screws": "screw_positions",
        "pin_at": "pin_positions",
        "pin": "pin_diameter",
        "play": "pin_clearance",
    },
}

_BOXES: Final = {"box": "block_set", "second": "second_set", "parallels": "parallel", "rank": "ranking"}

#: Parameters of the angle setups, renamed.
ANGLE_PARAMETERS: Final[dict[str, dict[str, str]]] = {
    "sine": {"turned": "orientation", "way": "method", "surface_um": "surface_flatness_um", "reader": "instrument", **_BOXES},
    "two_tilts": {"base": "lower_centres", "top": "upper_centres", "box": "block_set"},
    "v_over_pin": {
        "included": "v_angle",
        "width": "v_width",
        "pin": "pin_diameter",
        "read": "over_pin",
        "pin2": "second_pin",
        "read2": "over_second_pin",
    },
    "dovetail": {
        "width": "corner_width",
        "flank": "flank_angle",
        "rod": "rod_diameter",
        "read": "over_rods",
        "slack": "side_play",
        "gib": "gib_thickness",
    },
    "tilted_cut": {"angle": "cut_angle", "flat": "flat_width", "travel": "table_travel", "edge": "edge_length"},
    "circle": {
        "circle": "circle_diameter",
        "start": "start_angle",
        "hole": "hole_diameter",
        "pin": "pin_diameter",
        "read": "over_pins",
    },
    "height": _BOXES,
}

#: Sizes that are measured while cutting.
MEASURED: Final = {"bar_across": "bar_width", "bar_high": "bar_height"}


def _renamed(values: Mapping[str, Any], names: Mapping[str, str]) -> dict[str, Any]:
    return {names.get(name, name): value for name, value in values.items()}


def _machine(item: dict[str, Any]) -> None:
    item["axes"] = {k: _renamed(a, {"slack_mm": "backlash_mm"}) for k, a in item.get("axes", {}).items()}


def _design(item: dict[str, Any]) -> None:
    names = FAMILY_PARAMETERS.get(item.get("family", ""), {})
    item["chosen"] = _renamed(item.get("chosen", {}), names)
    item["revisions"] = [r | {"values": _renamed(r.get("values", {}), names)} for r in item.get("revisions", [])]
    item["as_made"] = [m | {"figure": names.get(m["figure"], m["figure"])} for m in item.get("as_made", [])]


def _job(item: dict[str, Any]) -> None:
    item["measured"] = _renamed(item.get("measured", {}), MEASURED)


def _angle(item: dict[str, Any]) -> None:
    item["chosen"] = _renamed(item.get("chosen", {}), ANGLE_PARAMETERS.get(item.get("kind", ""), {}))


def _layout(item: dict[str, Any]) -> None:
    item["chosen"] = _renamed(item.get("chosen", {}), LAYOUT_PARAMETERS)
    elements = item.get("elements", [])
    names = [ELEMENT_PARAMETERS.get(e.get("kind", ""), {}) for e in elements]
    item["elements"] = [e | {"chosen": _renamed(e.get("chosen", {}), n)} for e, n in zip(elements, names, strict=True)]


_LIFT: Final[dict[str, Callable[[dict[str, Any]], None]]] = {
    "machine": _machine,
    "design": _design,
    "job": _job,
    "angle": _angle,
    "hold": _layout,
}


def lift_item(kind: str, item: Mapping[str, Any], version: int) -> tuple[str, dict[str, Any]]:
    """An item of a format as this version writes it.

    Args:
        kind: As the older format called it.
        item: The JSON object; not changed.
        version: The format it was written in.

    Returns:
        (kind, item) of format `FORMAT`; what is not understood is left for the reader to refuse.
    """
    found = dict(item)
    if version >= FORMAT:
        return kind, found
    found = _renamed(found, _FIELDS.get(kind, {}))
    if (lift := _LIFT.get(kind)) is not None:
        lift(found)
    return _KINDS.get(kind, kind), found


def lift_kind(kind: str, version: int) -> str:
    """What an older format's kind is called now."""
    return _KINDS.get(kind, kind) if version < FORMAT else kind

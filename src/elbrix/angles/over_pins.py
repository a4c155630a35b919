"""Vs and dovetails measured over pins and rods, both ways; tilted cuts."""

from __future__ import annotations

import math

from msgspec import Struct

from elbrix.quantities.errors import ShopError
from elbrix.results.length_text import LENGTH_UNIT, length


def _angle(name: str, angle_rad: float, most_rad: float = math.pi) -> None:
    if not 0 < angle_rad < most_rad:
        raise ShopError(
            name,
            f"{math.degrees(angle_rad):.4g}° cannot be",
            f"It is between 0° and {math.degrees(most_rad):g}°",
            "Check which angle was measured",
        )


def _positive(name: str, **sizes_mm: float) -> None:
    for what, size in sizes_mm.items():
        if not (size > 0 and math.isfinite(size)):
            raise ShopError(
                name, f"{what.replace('_', ' ')} {length(size)} {LENGTH_UNIT}", "It is more than nothing", "Measure it again"
            )


class VOverPinSizes(Struct, frozen=True):
    """A V with a pin in it, mm."""

    pin_top_above_face_mm: float
    vertex_depth_mm: float
    contact_width_mm: float  #: between the two lines of contact
    contact_on_flanks: bool  #: False: the pin rests on the edges, or above them


def v_over_pin(included_rad: float, width_at_top_mm: float, pin_mm: float) -> VOverPinSizes:
    """A pin laid in a V.

    Top of pin above the face: (P/2)·(1 + 1/sin(A/2)) − g, vertex depth g = (M/2)/tan(A/2); contact P·cos(A/2) apart.
    """
    _angle("V", included_rad)
    _positive("V", width_at_the_top=width_at_top_mm, pin=pin_mm)
    half = included_rad / 2
    depth = width_at_top_mm / 2 / math.tan(half)
    contact = pin_mm * math.cos(half)
    return VOverPinSizes(pin_mm / 2 * (1 + 1 / math.sin(half)) - depth, depth, contact, contact <= width_at_top_mm)


def v_width_mm(included_rad: float, pin_mm: float, pin_top_above_face_mm: float) -> float:
    """Width of the V at the face, from the height over a pin.

    Raises:
        ShopError: The pin stands so high that it does not touch both flanks.
    """
    _angle("V", included_rad)
    _positive("V", pin=pin_mm)
    half = included_rad / 2
    width = 2 * math.tan(half) * (pin_mm / 2 * (1 + 1 / math.sin(half)) - pin_top_above_face_mm)
    if width < pin_mm * math.cos(half) - 1e-9:
        raise ShopError(
            "V, pin",
            f"a pin of {length(pin_mm)} {LENGTH_UNIT} misses the flanks",
            f"It would touch {pin_mm * math.cos(half):.3f} mm apart and the V is {max(width, 0):.3f} mm wide",
            "Use a thinner pin",
        )
    return width


def v_angle_rad(pin1_mm: float, top1_mm: float, pin2_mm: float, top2_mm: float) -> float:
    """Included angle of a V from the heights over two pins.

    Centre heights differ by (P1 − P2)/2/sin(A/2).

    Raises:
        ShopError: Equal pins, or heights no V gives.
    """
    _positive("V", first_pin=pin1_mm, second_pin=pin2_mm)
    radii = (pin1_mm - pin2_mm) / 2
    rise = (top1_mm - pin1_mm / 2) - (top2_mm - pin2_mm / 2)
    if radii == 0 or not 0 < radii / rise < 1 if rise else True:
        raise ShopError(
            "V, two pins",
            "these heights fit no V",
            "The thicker pin must stand higher by more than half the difference",
            "Measure both again with pins that differ more",
        )
    return 2 * math.asin(radii / rise)


def rod_touch_mm(flank_rad: float, rod_mm: float) -> float:
    """How high above the floor a rod in the corner of a dovetail touches the flank: (P/2)·(1 + cos α).

    Where the flank ends lower, the rod rests on its edge and a size over rods says nothing.
    """
    return rod_mm / 2 * (1 + math.cos(flank_rad))


def dovetail_male(root_mm: float, height_mm: float, flank_rad: float, rod_mm: float) -> tuple[float, float]:
    """(over rods, wide width) of a male dovetail, narrow at the root: W + P·(1 + cot(α/2)), α from the floor."""
    _angle("Dovetail", flank_rad, math.pi / 2)
    _positive("Dovetail", width=root_mm, height=height_mm, rod=rod_mm)
    return root_mm + rod_mm * (1 + 1 / math.tan(flank_rad / 2)), root_mm + 2 * height_mm / math.tan(flank_rad)


def dovetail_female(floor_mm: float, height_mm: float, flank_rad: float, rod_mm: float) -> tuple[float, float]:
    """(between rods, narrow width) of a female dovetail, wide at the floor: W − P·(1 + cot(α/2)).

    Raises:
        ShopError: Rods that do not both go in, or flanks that meet.
    """
    _angle("Dovetail", flank_rad, math.pi / 2)
    _positive("Dovetail", width=floor_mm, height=height_mm, rod=rod_mm)
    between, narrow = floor_mm - rod_mm * (1 + 1 / math.tan(flank_rad / 2)), floor_mm - 2 * height_mm / math.tan(flank_rad)
    if between <= 0 or narrow <= 0:
        raise ShopError(
            "Dovetail",
            "the rods meet, or the flanks do",
            "Both rods lie in the corners with room between",
            "Use thinner rods or check the sizes",
        )
    return between, narrow


def tilted_cut(thickness_mm: float, from_face_rad: float) -> tuple[float, float]:
    """(step over, cut length) of a cut through a thickness at an angle from the face: T/tan α, T/sin α."""
    _angle("Tilted cut", from_face_rad, math.pi / 2)
    _positive("Tilted cut", thickness=thickness_mm)
    return thickness_mm / math.tan(from_face_rad), thickness_mm / math.sin(from_face_rad)

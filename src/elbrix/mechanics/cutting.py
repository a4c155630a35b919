"""What a cutter does to the work and asks of the spindle, from the material's book values or a plain guess. N, mm, N·mm, W.

Book values of cutting force scatter by a quarter, and a worn edge adds as much: the milling force is taken with that on top.
"""

from __future__ import annotations

import math
from typing import Final

from msgspec import Struct

from elbrix.mechanics.drilling import HALF_POINT_RAD
from elbrix.quantities.errors import ShopError
from elbrix.results.figures import Derivation, format_number
from elbrix.standards.materials import Material

#: A worn edge, and the outward force of a tooth as a share of that along its way.
WORN: Final = 1.3
OUTWARD: Final = 0.4
#: Places of a tooth's pitch at which the forces are added up.
_TURN_STEPS: Final = 90
#: An end mill's helix pulls up by this share of the sideways force.
PULLS_UP: Final = 0.3
_POINT_SIN: Final = math.sin(HALF_POINT_RAD)
#: A tap whose flutes are full of chips takes so many times the torque.
TAP_FULL: Final = 2.0
#: Where it breaks through, a drill's lips grab and lift the work by this share of its thrust.
GRABS_UP: Final = 0.5
#: Of a motor's power so much arrives at the edge through belts, gears and bearings. Source: shop practice, small machines.
ARRIVES: Final = 0.7
#: Sideways force when nobody knows the cut, N.
GUESSES: Final = {"light": 150.0, "medium": 500.0, "heavy": 1500.0}


class CutForce(Struct, frozen=True):
    """How hard one cut pushes."""

    sideways_n: float
    up_n: float  #: on the work, + is up
    torque_nmm: float  #: about the spindle
    derivation: Derivation


def milling_force(
    material: Material, diameter_mm: float, teeth: int, depth_mm: float, width_mm: float, feed_mm: float
) -> CutForce:
    """Sideways and upward force of a milling cut: the peak over a turn of the teeth's forces, added as vectors.

    Args:
        depth_mm: Along the cutter.
        width_mm: Across it; taken as the diameter at the most.
        feed_mm: Per tooth.

    Raises:
        ShopError: A cut of nothing.

    Source: each tooth pushes kc1.1·h^(−mc)·ap·h along its way with the chip h = f·sin φ it has there, and a share of it outward.
    """
    if min(diameter_mm, depth_mm, width_mm, feed_mm) <= 0 or teeth < 1:
        raise ShopError("Cut", "a cut of nothing", "It has a depth, a width and a feed", "Check them")
    arc = math.acos(1 - 2 * min(width_mm, diameter_mm) / diameter_mm)
    peak, torque, at = 0.0, 0.0, 0.0
    pitch = 2 * math.pi / teeth
    # Where a tooth comes out its chip is thickest in a thin cut, and so short an arc lies between two even steps.
    for first in (arc % pitch, *(pitch * k / _TURN_STEPS for k in range(_TURN_STEPS))):
        x = y = turning = 0.0
        for tooth in range(teeth):
            phi = (first + pitch * tooth) % (2 * math.pi)
            chip = feed_mm * math.sin(phi)
            if not 0 < phi <= arc + 1e-9 or chip <= 1e-9:
                continue
            push = material.kc11_mpa * chip ** (1 - material.mc) * depth_mm
            # Along the tooth's way, and outward by a share of it.
            x += push * (math.cos(phi) + OUTWARD * math.sin(phi))
            y += push * (-math.sin(phi) + OUTWARD * math.cos(phi))
            turning += push
        if math.hypot(x, y) > peak:
            peak, at = math.hypot(x, y), first
        torque = max(torque, turning)
    force = peak * WORN
    derivation = Derivation(
        "the most over a turn of Σ kc1.1·h^(−mc)·ap·h of each tooth in the cut, as vectors · worn",
        f"{format_number(peak, 1)} · {WORN:g}",
        f"{material.name}: kc1.1 {format_number(material.kc11_mpa, 0)}, chip to {format_number(feed_mm * _most_sine(arc), 4)},"
        f" {format_number(depth_mm)} deep, {format_number(math.degrees(arc), 0)}° in the cut, worst at"
        f" {format_number(math.degrees(at), 0)}°; book values scatter by a quarter",
    )
    return CutForce(force, PULLS_UP * force, torque * WORN * diameter_mm / 2, derivation)


def _most_sine(arc: float) -> float:
    return 1.0 if arc >= math.pi / 2 else math.sin(arc)


def drilling_force(material: Material, diameter_mm: float, feed_mm: float) -> CutForce:
    """Thrust and torque of a drill: kc·f·D/4·sin κ of its pair of lips; kc·f·D²/8.

    Args:
        feed_mm: Per turn.

    Raises:
        ShopError: A hole of nothing.
    """
    if min(diameter_mm, feed_mm) <= 0:
        raise ShopError("Drill", "a hole of nothing", "It has a diameter and a feed", "Check them")
    kc = material.kc11_mpa * (feed_mm / 2 * _POINT_SIN) ** -material.mc
    torque, thrust = kc * feed_mm * diameter_mm**2 / 8 * WORN, kc * feed_mm * diameter_mm / 4 * _POINT_SIN * WORN
    derivation = Derivation(
        "thrust kc·f·D/4·sin 59°, torque kc·f·D²/8, worn",
        f"{format_number(kc, 0)} MPa · {format_number(feed_mm)} mm · {format_number(diameter_mm)} mm: {thrust:.0f} N,"
        f" {torque:.0f} N·mm",
        material.name,
    )
    return CutForce(0.0, -thrust, torque, derivation)


def cutting_power_w(material: Material, removed_mm3_min: float, chip_mm: float) -> float:
    """What a cut asks of the spindle on the average over a turn, W: kc1.1·h^(−mc)·Q/60,000, of a worn edge.

    Args:
        removed_mm3_min: Metal that goes, mm³/min.
        chip_mm: Its mean thickness.
    """
    if removed_mm3_min <= 0 or chip_mm <= 0:
        return 0.0
    pressure: float = material.kc11_mpa * chip_mm**-material.mc * WORN
    return pressure * removed_mm3_min / 60000


def tapping_force(material: Material, diameter_mm: float, pitch_mm: float) -> CutForce:
    """Torque of a tap, kc·P²·d/8, of a worn one; it neither presses nor pulls by itself.

    Args:
        diameter_mm: Of the thread.
        pitch_mm: Of the thread.

    Raises:
        ShopError: A thread of nothing.

    Source: the usual estimate of tapping torque, the flutes full of chips doubling it at worst; here it is doubled.
    """
    if min(diameter_mm, pitch_mm) <= 0:
        raise ShopError("Tap", "a thread of nothing", "It has a diameter and a pitch", "Check them")
    torque = material.kc11_mpa * pitch_mm**2 * diameter_mm / 8 * WORN * TAP_FULL
    derivation = Derivation(
        "kc1.1·P²·d/8 · worn · full of chips",
        f"{format_number(material.kc11_mpa, 0)} · {format_number(pitch_mm)}² · {format_number(diameter_mm)}/8 · {WORN:g} ·"
        f" {TAP_FULL:g}",
        material.name,
    )
    return CutForce(0.0, 0.0, torque, derivation)


def guessed_force(pick: str) -> CutForce:
    """A light, medium or heavy cut.

    Raises:
        ShopError: No such cut.
    """
    if pick not in GUESSES:
        raise ShopError("Cut", f"“{pick}”", "A cut is light, medium or heavy", "Pick one")
    force = GUESSES[pick]
    return CutForce(
        force,
        PULLS_UP * force,
        force * 10,
        Derivation("a guess", f"{force:g} N sideways, {PULLS_UP:g} of it up", "give depth, width and feed for a better one"),
    )

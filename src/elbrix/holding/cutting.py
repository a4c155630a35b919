"""What a cutter does to the work: forces for milling and drilling from the material's book values, or a plain guess. N, mm, N·mm.

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

#: A worn edge, and what the radial force adds to the tangential one.
WORN: Final = 1.3
RADIAL: Final = 1.08
#: An end mill's helix pulls up by this share of the sideways force.
PULLS_UP: Final = 0.3
_POINT_SIN: Final = math.sin(HALF_POINT_RAD)
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
    """Sideways and upward force of a milling cut.

    Args:
        depth_mm: Along the cutter.
        width_mm: Across it; taken as the diameter at the most.
        feed_mm: Per tooth.

    Raises:
        ShopError: A cut of nothing.

    Source: kc = kc1.1·h^(−mc) over the mean chip h = 2·f·ae/(D·φ), φ = acos(1 − 2·ae/D); F = kc·ap·h for each tooth in the cut.
    """
    if min(diameter_mm, depth_mm, width_mm, feed_mm) <= 0 or teeth < 1:
        raise ShopError("Cut", "a cut of nothing", "It has a depth, a width and a feed", "Check them")
    ae = min(width_mm, diameter_mm)
    arc = math.acos(1 - 2 * ae / diameter_mm)
    chip = 2 * feed_mm * ae / (diameter_mm * arc)
    kc = material.kc11_mpa * chip**-material.mc
    cutting = max(1.0, teeth * arc / (2 * math.pi))
    force = kc * depth_mm * chip * cutting * WORN * RADIAL
    derivation = Derivation(
        "kc1.1·h^(−mc)·ap·h · teeth in the cut · worn · radial",
        f"{format_number(material.kc11_mpa, 0)}·{format_number(chip, 4)}^(−{format_number(material.mc)}) ·"
        f" {format_number(depth_mm)} · {format_number(chip, 4)} · {format_number(cutting, 2)} · {WORN:g} · {RADIAL:g}",
        f"{material.name}; book values scatter by a quarter",
    )
    return CutForce(force, PULLS_UP * force, force * diameter_mm / 2, derivation)


def drilling_force(material: Material, diameter_mm: float, feed_mm: float) -> CutForce:
    """Thrust and torque of a drill: kc·f·D/4·sin κ on each lip, twice; kc·f·D²/8.

    Args:
        feed_mm: Per turn.

    Raises:
        ShopError: A hole of nothing.
    """
    if min(diameter_mm, feed_mm) <= 0:
        raise ShopError("Drill", "a hole of nothing", "It has a diameter and a feed", "Check them")
    kc = material.kc11_mpa * (feed_mm / 2 * _POINT_SIN) ** -material.mc
    torque, thrust = kc * feed_mm * diameter_mm**2 / 8 * WORN, kc * feed_mm * diameter_mm / 4 * _POINT_SIN * 2 * WORN
    derivation = Derivation(
        "thrust kc·f·D/2·sin 59°, torque kc·f·D²/8, worn",
        f"{format_number(kc, 0)} MPa · {format_number(feed_mm)} mm · {format_number(diameter_mm)} mm: {thrust:.0f} N,"
        f" {torque:.0f} N·mm",
        material.name,
    )
    return CutForce(0.0, -thrust, torque, derivation)


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

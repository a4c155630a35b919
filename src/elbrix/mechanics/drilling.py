"""The point of a 118° drill, the spot it is led by, and how deep a tapped hole wants its thread. mm."""

from __future__ import annotations

import math
from typing import Final

from elbrix.quantities.errors import ShopError
from elbrix.standards.materials import material

#: Half the point angle of a common twist drill.
HALF_POINT_RAD: Final = math.radians(59)
#: Height of the point over the drill's diameter: 1/(2·tan 59°), 0.3004.
POINT: Final = 0.5 / math.tan(HALF_POINT_RAD)
#: A tap cuts so many turns before its thread is full: a blind hole is drilled that much deeper than its full thread.
TAP_LEAD_PITCHES: Final = 3.0
#: A thread shorter than this share of the depth wanted strips.
MIN_SHARE: Final = 0.6


_UNKNOWN: Final = 1.5
#: Depth of a spot in diameters of the drill it leads, and of the spot drill, whose point is 90°.
_SPOT_SHARE: Final = 0.4
_SPOT_MAX: Final = 0.45
#: A spot stays so far above the bottom of its hole.
_SPOT_SPARE: Final = 0.05


def point_mm(drill_mm: float) -> float:
    """Height of the point of a drill: d/(2·tan 59°)."""
    return drill_mm * POINT


def tapped_mm(full_thread_mm: float, pitch_mm: float) -> float:
    """How deep a blind hole is drilled to its full diameter for so much full thread. Source: shop practice, plug tap."""
    return full_thread_mm + TAP_LEAD_PITCHES * pitch_mm


def spot_mm(drill_mm: float, spot_drill_mm: float, bottom_mm: float) -> float:
    """How deep the spot for a drill goes: the drill takes the whole of it away, and nothing below the work is met.

    Args:
        bottom_mm: Depth of the drill's point, or of the far side of the work.
    """
    return min(_SPOT_SHARE * drill_mm, _SPOT_MAX * spot_drill_mm, max(0.1, bottom_mm - _SPOT_SPARE))


def thread_depth_wanted(material_name: str) -> float:
    """Full thread wanted in a tapped hole, in diameters of the screw: 1 in steel, 1½ in softer metals. Source: shop practice.

    A material the tables do not know is taken as soft: too deep a thread harms nobody.
    """
    try:
        return material(material_name).thread_depth
    except ShopError:
        return _UNKNOWN

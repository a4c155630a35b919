"""The point of a 118° drill, and how deep a tapped hole wants its thread. mm."""

from __future__ import annotations

import math
from typing import Final

from elbrix.quantities.errors import ShopError
from elbrix.standards.materials import material

#: Half the point angle of a common twist drill.
HALF_POINT_RAD: Final = math.radians(59)
#: Height of the point over the drill's diameter: 1/(2·tan 59°), 0.3004.
POINT: Final = 0.5 / math.tan(HALF_POINT_RAD)
#: A thread shorter than this share of the depth wanted strips.
LEAST_SHARE: Final = 0.6


_UNKNOWN: Final = 1.5


def point_mm(drill_mm: float) -> float:
    """Height of the point of a drill: d/(2·tan 59°)."""
    return drill_mm * POINT


def thread_depth_wanted(material_name: str) -> float:
    """Full thread wanted in a tapped hole, in diameters of the screw: 1 in steel, 1½ in softer metals. Source: shop practice.

    A material the tables do not know is taken as soft: too deep a thread harms nobody.
    """
    try:
        return material(material_name).thread_depth
    except ShopError:
        return _UNKNOWN

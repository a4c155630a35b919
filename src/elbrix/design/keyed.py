"""How deep a key or a tongue stands in what guides it."""

from __future__ import annotations

from typing import Final

from elbrix.results.checks import Check, Limits, Points, judged
from elbrix.results.formulas import worked

#: Broken edges of key and groove, mm: where they touch no more.
EDGES_MM: Final = 0.5
#: Of what is left: it climbs out under, it is sound from. Source: shop practice.
_DEEP: Final = Limits(1.0, 2.0)


def bearing_height_check(key: str, label: str, depth_mm: float, points: Points) -> Check:
    """What of a key or tongue bears when it is pushed sideways.

    Args:
        label: "Bearing height of the tongue".
        depth_mm: How far it stands in the groove.
    """
    return judged(
        key,
        label,
        worked("depth in the groove − broken edges", depth_mm, EDGES_MM),
        _DEEP,
        (
            "it takes a push sideways",
            "little to take a push with: it bruises its edges",
            "it climbs out of its groove when it is pushed",
        ),
        step=0.1,
        points=points,
    )

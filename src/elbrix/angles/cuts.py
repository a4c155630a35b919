"""Tilted cuts while they are made: how far in for how wide a flat, and chamfers in steps a short edge can reach."""

from __future__ import annotations

import math

from msgspec import Struct

from elbrix.angles.over_pins import tilted_cut
from elbrix.quantities.errors import ShopError


class FlatAt(Struct, frozen=True):
    """The flat after an infeed, mm."""

    infeed_mm: float  #: square to the face that was touched
    along_face_mm: float  #: what is gone from that face
    flat_mm: float  #: width of the cut


def flat_table(from_face_rad: float, thickness_mm: float, rows: int = 10) -> list[FlatAt]:
    """Infeed against flat for a square corner, up to the whole thickness.

    An infeed s below the corner, square to the cut: along the face s/sin α, across the thickness s/cos α, flat 2s/sin 2α.

    Raises:
        ShopError: An angle or thickness that is none.
    """
    tilted_cut(thickness_mm, from_face_rad)
    whole = thickness_mm * math.cos(from_face_rad)
    found = []
    for i in range(1, rows + 1):
        s = whole * i / rows
        found.append(FlatAt(s, s / math.sin(from_face_rad), 2 * s / math.sin(2 * from_face_rad)))
    return found


class ChamferSizes(Struct, frozen=True):
    """A chamfer from a face, mm."""

    leg_mm: float
    other_leg_mm: float
    face_mm: float
    steps: int  #: overlapping cuts when the cutter's edge is shorter than the face; 0: edge not known


def chamfer(from_face_rad: float, leg_mm: float, edge_mm: float = 0.0, overlap: float = 0.2) -> ChamferSizes:
    """Other leg c·tan α and cut face c/cos α of a chamfer at an angle from the face the leg lies in.

    Args:
        edge_mm: Length of the cutter's edge; 0: not known.
        overlap: Share of the edge each step laps over the last.

    Raises:
        ShopError: An angle or leg that is none.
    """
    if not 0 < from_face_rad < math.pi / 2 or not leg_mm > 0 or edge_mm < 0:
        raise ShopError("Chamfer", "an angle or leg of nothing", "A chamfer takes off a corner", "Check both")
    face = leg_mm / math.cos(from_face_rad)
    steps = 0 if edge_mm == 0 else 1 if face <= edge_mm else 1 + math.ceil((face - edge_mm) / (edge_mm * (1 - overlap)) - 1e-9)
    return ChamferSizes(leg_mm, leg_mm * math.tan(from_face_rad), face, steps)

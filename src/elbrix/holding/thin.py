"""Thin work: bowed up by the jaws, ringing above them, sagging between what it lies on. N, mm, MPa.

Strips by beam theory, on the safe side: hinged edges where jaws press, a load that spreads by its own arm and no more, no help
from the other direction of a plate.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import Final

from elbrix.geometry.shapes import Point, Ring, bounds, distance, inside, nearest
from elbrix.holding.cut import CuttingLoad
from elbrix.holding.layout import Piece, Squeeze
from elbrix.mechanics.strength import youngs_mpa
from elbrix.results.checks import Check, Limits
from elbrix.results.figures import Derivation, format_number
from elbrix.results.length_text import length

#: Between jaws so many times wider than high, work is asked whether it bows.
_WIDE: Final = 6.0
#: Above the jaws so many times higher than thick, whether it rings; between supports, whether it sags.
_TALL: Final = 2.0
_LONG: Final = 4.0
#: Bent by the cut: seen in the finish, spoils the size. mm.
_SEEN_MM: Final = 0.02
_SPOILS_MM: Final = 0.1
#: Width over thickness of a strip as stiff as a round of that Ø: b·d³/12 is π·d⁴/64.
_ROUND_AS_STRIP: Final = 12 * math.pi / 64
#: Sheet is never flat: load at which it bows over what the jaws press with.
_BOWS: Final = (1.5, 3.0)  #: no below, marginal below
_STOUT: Final = 20.0  #: beyond it nobody asks


def squeeze_checks(held: Squeeze, piece: Piece, cutting: CuttingLoad) -> list[Check]:
    """Of work in jaws; none for stout work."""
    return [c for c in (_bowing(held, piece), _ringing(held, piece, cutting)) if c is not None]


def buckling_n(young_mpa: float, along_mm: float, thickness_mm: float, gap_mm: float) -> float:
    """Euler's load of a strip with hinged edges: π²·E·I/w², I = l·t³/12."""
    return math.pi**2 * young_mpa * along_mm * thickness_mm**3 / 12 / gap_mm**2


def tip_shift_mm(force_n: float, young_mpa: float, arm_mm: float, thickness_mm: float, along_mm: float) -> float:
    """A sheet standing in jaws, pushed at its top: F·a³/(3·E·I), the load spread over its arm at the most."""
    wide = min(along_mm, max(arm_mm, thickness_mm))
    return force_n * arm_mm**3 / (3 * young_mpa * wide * thickness_mm**3 / 12)


def sag_mm(force_n: float, young_mpa: float, one_mm: float, other_mm: float, width_mm: float, thickness_mm: float) -> float:
    """A strip loaded between supports so far to both sides: F·a²·b²/(3·E·I·(a + b)); one infinite: a cantilever's."""
    inertia = width_mm * thickness_mm**3 / 12
    near, far = sorted((one_mm, other_mm))
    if math.isinf(far):
        return force_n * near**3 / (3 * young_mpa * inertia)
    return force_n * near**2 * far**2 / (3 * young_mpa * inertia * (near + far)) if near > 0 else 0.0


def _bowing(held: Squeeze, piece: Piece) -> Check | None:
    if held.gap_mm < _WIDE * piece.height_mm or held.force_n <= 0 or held.along_mm <= 0:
        return None
    young = youngs_mpa(piece.material)
    bows = buckling_n(young, held.along_mm, piece.height_mm, held.gap_mm)
    share = bows / held.force_n
    if share > _STOUT:
        return None
    return Check(
        key=f"bows {held.name}",
        label=f"Bowing, {held.name}",
        value=min(share, 99.0),
        unit="×",
        limits=Limits(no_below=_BOWS[0], marginal_below=_BOWS[1]),
        step=0.1,
        features=(held.name, "work"),
        figures=(held.torque, "height"),
        remedies=(held.torque,),
        reason=(
            "the jaws do not bow it"
            if share >= _BOWS[1]
            else "the jaws bow the sheet up, and it springs back bent: less torque, or straps on a backing bar"
        ),
        derivation=Derivation(
            "π²·E·(l·t³/12)/w² over the jaws' force",
            f"{bows:.0f} N/{held.force_n:.0f} N",
            f"{format_number(held.gap_mm, 1)} wide, {format_number(piece.height_mm, 2)} thick; edges hinged",
        ),
    )


def _ringing(held: Squeeze, piece: Piece, cutting: CuttingLoad) -> Check | None:
    firm = max(held.jaw_top_mm, held.backed_to_mm)
    force = cutting.force.sideways_n
    over = piece.top_mm - held.jaw_top_mm
    if over < _TALL * held.gap_mm or force <= 0 or held.gap_mm <= 0 or (held.along_mm <= 0 and piece.shape != "round"):
        return None
    height = max((load.at[2] for load in cutting.loads), default=piece.top_mm)
    arm = max(0.0, height - firm)
    # A round touches the jaws along a line, and bends as a strip as stiff as itself.
    along = max(held.along_mm, _ROUND_AS_STRIP * held.gap_mm) if piece.shape == "round" else held.along_mm
    shift = tip_shift_mm(force, youngs_mpa(piece.material), arm, held.gap_mm, along) if arm > 0 else 0.0
    backed = held.backed_to_mm > held.jaw_top_mm
    climb = "climb mill only, so that the cutter presses it against its backing"
    return Check(
        key=f"rings {held.name}",
        label=f"Bending above the jaws, {held.name}",
        value=shift,
        unit="mm",
        limits=Limits(marginal_above=-1.0 if backed and shift <= _SPOILS_MM else _SEEN_MM, no_above=_SPOILS_MM),
        step=0.001,
        features=(held.name, "work"),
        figures=(held.backing, "height"),
        remedies=(held.backing, "depth_of_cut"),
        reason=(
            climb
            if backed
            else "stiff enough above the jaws"
            if shift <= _SEEN_MM
            else "it bends and rings under the cutter: a tall parallel behind it, and a light cut"
        ),
        derivation=Derivation(
            "F·a³/(3·E·b·t³/12)",
            f"{force:.0f} N, {format_number(arm, 1)} above what holds it, {format_number(held.gap_mm, 2)} thick",
            "the load spreads over its arm and no more",
        ),
    )


def sag_check(seats: Sequence[Ring], piece: Piece, cutting: CuttingLoad) -> Check | None:
    """How far the cut bends work down between what it lies on; None where it is stout or lies on a whole face."""
    force = max((-load.force_n[2] for load in cutting.loads), default=0.0)
    force = max(force, max((load.force_n[2] for load in cutting.loads), default=0.0))
    rings = [s for s in seats if len(s) >= 3]
    if force <= 0 or not rings or not cutting.path:
        return None
    worst, at, reach = 0.0, cutting.path[0], 0.0
    for middle in cutting.path:
        place = middle if inside(piece.outline, middle) else nearest(piece.outline, middle)
        if any(inside(s, place) for s in rings):
            continue
        sides = _reaches(rings, place)
        spans = [(a, b) for a, b in sides if not math.isinf(min(a, b))] or [(min(distance(s, place) for s in rings), math.inf)]
        young = youngs_mpa(piece.material)
        bent, span = min(
            (sag_mm(force, young, a, b, _strip(piece, a), piece.height_mm), a + (0.0 if math.isinf(b) else b)) for a, b in spans
        )
        if span > _LONG * piece.height_mm and bent > worst:
            worst, at, reach = bent, place, span
    if worst <= 0.001:
        return None
    return Check(
        key="sags",
        label="Work bent between its supports",
        value=worst,
        unit="mm",
        limits=Limits(marginal_above=_SEEN_MM, no_above=_SPOILS_MM),
        step=0.001,
        features=("work", "cutter_path"),
        figures=("height",),
        reason=(
            "stiff enough between what it lies on"
            if worst <= _SEEN_MM
            else f"the cut bends it at X {length(at[0], 0)}, Y {length(at[1], 0)}: a backing bar under it there"
        ),
        derivation=Derivation(
            "F·a²·b²/(3·E·I·(a + b)), or F·a³/(3·E·I) with nothing beyond",
            f"{force:.0f} N over {format_number(reach, 1)} mm, {format_number(piece.height_mm, 2)} thick",
            "a strip as wide as it is long from its support",
        ),
    )


def _strip(piece: Piece, near_mm: float) -> float:
    left, low, right, high = bounds(piece.outline)
    return min(right - left, high - low, max(2 * near_mm, piece.height_mm))


def _reaches(rings: Sequence[Ring], place: Point) -> list[tuple[float, float]]:
    """(toward minus, toward plus) along X, then along Y: how far to the nearest seat there; infinite: none."""
    found = []
    for axis in (0, 1):
        back = ahead = math.inf
        for ring in rings:
            left, low, right, high = bounds(ring)
            ends, across = ((left, right), (low, high)) if axis == 0 else ((low, high), (left, right))
            if not across[0] <= place[1 - axis] <= across[1]:
                continue
            if ends[1] <= place[axis]:
                back = min(back, place[axis] - ends[1])
            if ends[0] >= place[axis]:
                ahead = min(ahead, ends[0] - place[axis])
        found.append((min(back, ahead), max(back, ahead)))
    return found

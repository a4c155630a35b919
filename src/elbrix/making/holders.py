"""What a cutter is held in on a machine, from what the shop owns."""

from __future__ import annotations

from typing import Final

from msgspec import Struct

from elbrix.results.figures import format_number
from elbrix.shop.machines import Machine
from elbrix.shop.shop import Shop
from elbrix.shop.tooling import Cutter, CutterKind, HolderKind
from elbrix.standards.near_miss import size_near_misses

#: A shank this near to a collet's size is held by it, mm.
_COLLET_MM: Final = 0.1
_IN_A_CHUCK: Final = (CutterKind.DRILL, CutterKind.SPOT_DRILL, CutterKind.COUNTERSINK, CutterKind.REAMER, CutterKind.TAP)
_ON_AN_ARBOR: Final = (CutterKind.SIDE_AND_FACE, CutterKind.SLITTING_SAW, CutterKind.FACE_MILL)


class Held(Struct, frozen=True):
    """What a cutter goes in, and whether the shop says so."""

    words: str
    certain: bool


def held_in(cutter: Cutter, machine: Machine, shop: Shop) -> Held:
    """The collet, chuck or arbor of a cutter; a shop that lists none of a sort is taken to have it, and that is said."""
    if cutter.kind is CutterKind.DIE:
        return Held("a die holder", True)
    holders = [h for h in shop.holders if h.machine in ("", machine.id)]
    if cutter.kind in _IN_A_CHUCK and not cutter.shank_mm:  # not recorded
        return Held("a drill chuck", True)
    if cutter.kind in _ON_AN_ARBOR or not cutter.shank_mm:
        kind = HolderKind.ARBOR
        found = next((h for h in holders if h.kind is kind), None)
        if found is not None or machine.horizontal:
            return Held(found.title if found is not None else "the machine's arbor", True)
        return Held("an arbor", not any(h.kind is kind for h in shop.holders))
    collets = [c for c in shop.collets if c.machine in ("", machine.id)]
    right = next((c for c in collets if abs(c.size_mm - cutter.shank_mm) <= _COLLET_MM), None)
    if right is not None:
        return Held(f"{right.name} collet", True)
    chucks = [h for h in holders if h.kind is HolderKind.DRILL_CHUCK]
    if cutter.kind in _IN_A_CHUCK:
        chuck = next((h for h in chucks if h.least_mm <= cutter.shank_mm <= h.most_mm), None)
        if chuck is not None:
            return Held(chuck.title, True)
        if not chucks:
            return Held("a drill chuck", True)
        return Held(f"no chuck takes its {format_number(cutter.shank_mm)} mm shank", False)
    if not collets:
        return Held("a collet", True)
    close = size_near_misses(
        f"{format_number(cutter.shank_mm)} mm shank", cutter.shank_mm, [(f"{c.name} collet", c.size_mm) for c in collets]
    )
    return Held(close[0].sentence if close else f"no collet for its {format_number(cutter.shank_mm)} mm shank", False)

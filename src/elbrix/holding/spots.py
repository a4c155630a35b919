"""Where a fresh strap stands: stud in a slot, tip on the work, heel on the table and not over its edge. mm, radians."""

from __future__ import annotations

import math
from collections.abc import Iterator, Mapping, Sequence
from typing import Final

from elbrix.geometry.shapes import Point, Ring, bounds, inside, outside_by, overlap, placed, ray, rectangle
from elbrix.holding.layout import Piece, slot_near
from elbrix.holding.slot_runs import runs
from elbrix.holding.straps import NOSE_MM, heel_arm_mm, heel_for
from elbrix.parameters.parameter import ParameterValue
from elbrix.results.figures import format_number
from elbrix.shop.machines import Machine
from elbrix.shop.shop import Shop
from elbrix.shop.workholding import Clamp, SupportBlock

#: How far the tip goes onto the work.
_ONTO_MM: Final = 9.0

_Spot = tuple[str, float, float]


def first_standing(
    shop: Shop, machine: Machine, piece: Piece, chosen: Mapping[str, ParameterValue], clamps: Sequence[Clamp], side: float
) -> tuple[str, float, float, Clamp]:
    """(slot, x, direction, clamp) of the first spot where tip, stud and heel all stand; the plainest when none does."""
    picked = [c for c in clamps if "clamp" in chosen and c.id == chosen["clamp"].value]
    tried = picked or [clamps[0], *(c for c in clamps[1:] if c.slot_width_mm >= clamps[0].slot_width_mm)]
    there = {r.label: r for r in runs(machine, rings=True)}
    spots = list(_spots(machine, piece, chosen, side))
    for clamp in tried:
        for slot, x, turn in spots:
            run = there.get(slot)
            reaches = run is None or run.reaches(x)
            if reaches and stands(shop, machine, piece, (x, run.y(x) if run is not None else 0.0), turn, clamp):
                return slot, x, turn, clamp
    return (*spots[0], tried[0])


def _spots(
    machine: Machine, piece: Piece, chosen: Mapping[str, ParameterValue], side: float
) -> Iterator[tuple[str, float, float]]:
    """(slot, stud x in mm, direction in rad) to try, the plainest first.

    Square to the nearest slot; then leaned, so that the heel runs along the table and not over its edge; then the same
    from the slots further away.
    """
    left, low, right, high = bounds(piece.outline)
    first, *_ = slot_near(machine, piece, chosen, rings=True)
    middle = piece.middle[0]
    there = {r.label: r for r in runs(machine, rings=True)}
    if side < 0 and "slot" not in chosen and first in there and there[first].side:
        # The second strap of a pair stands across the ring from the first.
        first = next(r.label for r in there.values() if r.slot is there[first].slot and r.side == -there[first].side)
    others = [] if "slot" in chosen else sorted(there, key=lambda label: abs(there[label].y(middle) - piece.middle[1]))
    for slot in dict.fromkeys((first, *others)):
        run = there.get(slot)
        offset = run.y(middle) if run is not None else 0.0
        beside = low <= offset <= high
        x = (right + 24 if side > 0 else left - 24) if beside else piece.middle[0] + side * 0.25 * (right - left)
        x = _number(chosen, "x", x)
        yield slot, x, _number(chosen, "direction", _towards(piece, (x, run.y(x) if run is not None else 0.0)))
        if beside or "direction" in chosen:
            continue
        up, gap = (1.0, low - offset) if offset < low else (-1.0, offset - high)
        for lean in (math.pi / 12, math.pi / 6, math.pi / 4, math.pi / 3, 2 * math.pi / 5):
            for way in (side, -side):
                stud = x + way * (gap + _ONTO_MM) * math.tan(lean) if "x" not in chosen else x
                yield slot, stud, up * (math.pi / 2 + way * lean)
        if "x" not in chosen:  # past the work's end, its tip on the corner
            for out in (24.0, 36.0, 48.0):
                for end, way in ((right, 1.0), (left, -1.0)) if side > 0 else ((left, -1.0), (right, 1.0)):
                    tip = end - way * _ONTO_MM, (low + 0.4 * (high - low) if up > 0 else high - 0.4 * (high - low))
                    stud = end + way * out
                    yield slot, stud, math.atan2(tip[1] - (run.y(stud) if run is not None else 0.0), tip[0] - stud)


def _towards(piece: Piece, root: tuple[float, float]) -> float:
    """The right angle that points most nearly at the work's middle."""
    left, low, right, high = bounds(piece.outline)
    if left <= root[0] <= right:
        return math.pi / 2 if root[1] < low else -math.pi / 2
    if low <= root[1] <= high:
        return 0.0 if root[0] < left else math.pi
    return round(math.atan2(piece.middle[1] - root[1], piece.middle[0] - root[0]) / (math.pi / 4)) * math.pi / 4


def stands(shop: Shop, machine: Machine, piece: Piece, root: Point, turn: float, clamp: Clamp) -> bool:
    """Whether a strap so placed meets the work with its tip and the table with its heel."""
    arm, way = reach_onto(piece, root, turn, clamp), (math.cos(turn), math.sin(turn))
    heel_arm, block = heel_arm_mm(clamp, arm), heel_for(shop, piece.top_mm)
    heel = (root[0] - heel_arm * way[0], root[1] - heel_arm * way[1])
    on_work = inside(piece.outline, (root[0] + arm * way[0], root[1] + arm * way[1]))
    if heel_arm <= 0 or not on_work or inside(piece.outline, root) or abs(root[0]) > machine.table_length_mm / 2 > 0:
        return False
    return block.block is None or not heel_problem(machine, piece, heel_foot(block.block, heel, way, turn))


def reach_onto(piece: Piece, root: tuple[float, float], turn: float, clamp: Clamp) -> float:
    """The shortest arm whose tip is well on the work, within the clamp's slot."""
    low, high = max(8.0, clamp.slot_from_mm - NOSE_MM), max(9.0, clamp.slot_to_mm - NOSE_MM)
    met = ray(piece.outline, root, (math.cos(turn), math.sin(turn)))
    return float(round(min(max(low, (met[0] if met else high) + _ONTO_MM), high)))


def heel_foot(block: SupportBlock, heel: Point, way: Point, turn: float) -> Ring:
    """Where the heel's block stands: mostly behind the heel, so that the strap cannot tip off it."""
    back = block.length_mm * 0.3
    return placed(rectangle(block.length_mm, block.width_mm), heel[0] - way[0] * back, heel[1] - way[1] * back, turn)


def heel_problem(machine: Machine, piece: Piece, foot: Ring) -> str:
    """What is wrong with where the heel's block stands; empty for nothing."""
    if overlap(foot, piece.outline) and piece.bottom_mm < 0.5:
        return "its heel would stand in the work: turn it, or bring the stud out"
    table = rectangle(machine.table_length_mm, machine.table_width_mm)
    if machine.table_length_mm and machine.table_width_mm:
        over = max(outside_by(table, p) for p in foot)
        if over > 0.5:
            return f"its heel stands {format_number(over, 0)} mm over the table's edge"
    return ""


def _number(chosen: Mapping[str, ParameterValue], name: str, usual: float) -> float:
    value = chosen[name].value if name in chosen else usual
    assert isinstance(value, float)
    return value

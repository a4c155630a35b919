"""Every number an axis is set to where something is touched, against the metal that is there at that moment.

A lathe's cross-slide was to be set to the raw bar's Ø where the piece had long been turned down: every later number was wrong by
the difference. The rehearsal cannot see that; it cuts in the frame the plan means.
"""

from __future__ import annotations

import re

import numpy as np
import pytest

from elbrix.book.documents import shop_of
from elbrix.demo import documents
from elbrix.making.grooves import EDGE_DEPTH_MM
from elbrix.making.options import Options
from elbrix.making.plan import Move, Plan, Position, Setup
from elbrix.making.planner import plan_work
from elbrix.quantities.errors import ShopError
from elbrix.rehearsal.section import extent, metal
from kinds_of_family import on_id, on_machines, solved

SHOP = shop_of(documents())
#: As near as the metal is known, mm.
NEAR = 0.03
_AXES = "XYZ"


def _plan(kind: tuple[str, str, str], on: str) -> Plan | None:
    family, design = solved(*kind)
    try:
        plan = plan_work(kind[0], family.work(design, SHOP), SHOP, Options(machine=on))
    except ShopError:
        return None
    return plan if plan.blank is not None else None


def _lines(plan: Plan, setup: Setup, axis: int, levels: list[float], fine: float = 0.0) -> np.ndarray:
    """Places across an axis: at some levels, or all over where it is Z."""
    low, high = extent(plan, setup)
    third = 1 - axis if axis != 2 else 0
    across = np.linspace(low[third] + 0.4, high[third] - 0.4, 11)[:: 1 if fine == 0 else 5]
    inset = 0.4 if fine == 0 else 0.002
    count = 11 if fine == 0 else round((high[1] - low[1]) / fine)
    other = levels if axis != 2 else np.linspace(low[1] + inset, high[1] - inset, count)
    found = np.zeros((len(across) * len(other), 3))
    grid = np.array(np.meshgrid(across, other)).reshape(2, -1).T
    found[:, third], found[:, 2 if axis != 2 else 1] = grid[:, 0], grid[:, 1]
    return found


def _begins(
    plan: Plan, setup: Setup, upto: str, axis: int, at: float, way: int, levels: list[float], clear: float, fine: float = 0.0
) -> bool:
    """Whether the metal begins at a place as one comes along an axis, and nothing stands before it.

    Args:
        way: Into the metal, +1 or −1.
        clear: So far before it nothing may stand, mm: what touches has a body.
        fine: How near the lines are to one another, mm, to meet an edge; 0: as usual.
    """
    lines = _lines(plan, setup, axis, levels, fine)
    steps = [at + way * NEAR, at - way * NEAR, *(at - way * d for d in np.linspace(0.3, clear, 8))]
    points = np.repeat(lines[None], len(steps), axis=0)
    points[:, :, axis] = np.array(steps)[:, None]
    inside = metal(plan, setup, points.reshape(-1, 3), upto).reshape(len(steps), -1) < 0
    return bool((inside[0] & ~inside[1:].any(axis=0)).any())


def _highest(plan: Plan, setup: Setup, upto: str) -> float:
    """The top of the metal, to a quarter."""
    low, high = extent(plan, setup)
    lines = _lines(plan, setup, 2, [])
    heights = np.arange(float(low[2]), float(high[2]) + 0.3, 0.25)
    points = np.repeat(lines[None], len(heights), axis=0)
    points[:, :, 2] = heights[:, None]
    inside = (metal(plan, setup, points.reshape(-1, 3), upto) < 0).reshape(len(heights), -1).any(axis=1)
    return float(heights[np.flatnonzero(inside)[-1]])


def _before(plan: Plan, setup: Setup, move: Move) -> str:
    ids = [m.id for m in setup.moves]
    n = ids.index(move.id)
    return ids[n - 1] if n else ""


def _touches(plan: Plan):  # type: ignore[no-untyped-def]
    for setup in plan.setups:
        for move in setup.moves:
            if setup.pose is not None and move.zeroes and not re.search("jaws|near jaw|plug|swing|reads alike", move.words):
                for position in move.positions:
                    if position.axis in move.zeroes:
                        yield setup, move, position


def _there(plan: Plan, setup: Setup, move: Move, position: Position) -> bool:
    upto = move.id if move.strokes else _before(plan, setup, move)
    value = position.value_mm
    if setup.fixture == "chuck" and position.axis == "X":
        radius = value * position.per_mm
        turn = np.linspace(0.0, 2 * np.pi, 361)[:, None]
        found = []
        for z in (-0.8, -1.5, -2.5):
            for r, inside in ((radius - NEAR, True), (radius + NEAR, False)):
                ring = np.hstack([r * np.cos(turn), r * np.sin(turn), np.full_like(turn, z)])
                off = metal(plan, setup, ring, upto)
                found.append(bool((off < 0).any()) is inside)
        return all(found)
    if setup.fixture == "chuck":
        return not move.strokes or _begins(plan, setup, upto, 2, value, -1, [], 5.0)
    if position.axis == "Z":
        edge = "edge" in move.words or "corner" in move.words
        return _begins(plan, setup, upto, 2, value - 0.05, -1, [], 40.0, 0.02 if edge else 0.0)
    axis, finder = _AXES.index(position.axis), float(re.search(r"Ø([\d.]+)", move.words)[1]) / 2  # type: ignore[index]
    if "high edge" in move.words:  # the side beside it leans: it is met by the end of the finder, so deep
        return _begins(plan, setup, upto, axis, value - finder, -1, [-EDGE_DEPTH_MM], 2 * finder)
    if "lower edge" in move.words:  # the side under it leans back: the edge itself is met
        return _begins(plan, setup, upto, axis, value + finder, 1, [-0.02], 2 * finder)
    low, _ = extent(plan, setup)
    top = _highest(plan, setup, upto)
    # The finder comes no deeper than the jaws; a round is touched at its middle.
    deepest = -setup.jaws_mm + 0.2 if setup.fixture == "vise" and setup.jaws_mm else float(low[2]) + 0.4
    levels = [v for v in (*np.linspace(top - 0.3, min(deepest, top - 0.3), 9), (float(low[2]) + top) / 2) if v >= deepest - 1e-9]
    if "before the work goes in" in move.words:  # the stop, against which the work lies then
        return _begins(plan, setup, upto, axis, value - finder, 1, levels, 2 * finder)
    return _begins(plan, setup, upto, axis, value + finder, 1, levels, 2 * finder) or _begins(
        plan, setup, upto, axis, value - finder, -1, levels, 2 * finder
    )


@pytest.mark.parametrize(("kind", "on"), on_machines(("", "pip", "margaret")), ids=on_id)
def test_what_is_touched_is_where_its_number_says(kind: tuple[str, str, str], on: str) -> None:
    plan = _plan(kind, on)
    if plan is None:
        return
    for setup, move, position in _touches(plan):
        assert _there(plan, setup, move, position), (setup.id, move.words, position.axis, position.value_mm)

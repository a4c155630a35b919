"""How long an operation takes: its strokes at their feed, and the hands' share. Guidance, rounded up."""

from __future__ import annotations

import math
from typing import Final

from elbrix.making.plan import Move, Operation, Plan, Setup

#: Back to the beginning of a level stroke over its feed, and by hand where there is none, minutes and mm/min.
_BACK: Final = 0.4
_HAND_FEED: Final = 120.0
#: For the hands, minutes: to set a number, touch a side, do a thing by hand, measure, change a tool, hold work anew.
_NUMBER, _TOUCH, _BY_HAND, _MEASURE, _TOOL, _HOLD = 0.3, 1.0, 3.0, 1.0, 2.0, 4.0


def _cutting(operation: Operation, move: Move) -> float:
    feed = operation.speed.feed_mm_min if operation.speed is not None and operation.speed.feed_mm_min > 0 else _HAND_FEED
    total = 0.0
    for stroke in move.strokes:
        long = sum(math.dist(a, b) for a, b in zip(stroke.path, stroke.path[1:], strict=False))
        total += long / feed * (1 + _BACK)
    return total


def operation_minutes(operation: Operation, pieces: int = 1) -> float:
    """Of one tool's work in a setup.

    Args:
        pieces: How many times it is done.
    """
    found = _TOOL if operation.cutter is not None else 0.0
    for move in operation.moves:
        each = _cutting(operation, move) + _NUMBER * len(move.positions)
        if move.zeroes:
            each += _TOUCH
        elif not move.strokes:
            each += _BY_HAND
        if move.asked is not None:
            each += _MEASURE
        found += each * pieces
    return found


def setup_minutes(setup: Setup, pieces: int) -> float:
    """Of a whole setup, holding included."""
    times = pieces if setup.each else 1
    held = _HOLD * times if setup.pose is not None else 0.0
    return held + sum(operation_minutes(o, times) for o in setup.operations)


def plan_minutes(plan: Plan) -> float:
    """Of a whole plan."""
    return sum(setup_minutes(s, max(1, len(plan.pieces))) for s in plan.setups)

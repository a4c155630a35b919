"""Where a cutter's middle goes to clear a width: tracks no wider than nine tenths of it, the walls always to their number."""

from __future__ import annotations

import math
from typing import Final

#: Of the cutter's diameter, from one track to the next at the most.
SHARE: Final = 0.9
#: And at the least, on a ledge.
MIN_STEP: Final = 0.2


def tracks(low: float, high: float, d: float, *, over: bool = False) -> tuple[float, ...]:
    """Middles of the tracks between two walls, from the low one to the high one, mm.

    Args:
        d: Of the cutter.
        over: There are no walls: it may run over both edges, so one track in the middle does when it is wide enough.

    Raises:
        ValueError: The cutter does not go between the walls.
    """
    wide = high - low
    if over:
        if d >= 1.05 * wide:
            return ((low + high) / 2,)
        low, high = low - 0.05 * d, high + 0.05 * d
        wide = high - low
    room = wide - d
    if room < -1e-6:
        raise ValueError(f"a cutter of {d:g} between walls {wide:g} apart")
    if room <= 1e-6:
        return ((low + high) / 2,)
    n = math.ceil(room / (SHARE * d) - 1e-9)
    return tuple(low + d / 2 + room * i / n for i in range(n + 1))


def tracks_to_wall(wall: float, edge: float, d: float) -> tuple[float, ...]:
    """Middles of the tracks of a ledge that is open to one side, from the outside in; the last one is at the wall."""
    sign = 1.0 if edge > wall else -1.0
    wide = abs(edge - wall)
    more = max(0, math.ceil((wide - d) / (SHARE * d) - 1e-9))
    # A track close beside the last would cut into what is left there for finishing: over the open edge there is room.
    step = max((wide - d) / more, MIN_STEP * d) if more else 0.0
    return tuple(wall + sign * (d / 2 + step * i) for i in range(more, -1, -1))

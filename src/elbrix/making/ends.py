"""Which end of a turned piece each step is cut from."""

from __future__ import annotations

from collections.abc import Sequence

from msgspec.structs import replace

from elbrix.design.work import TurnedBore, TurnedGroove, TurnedKnurl, TurnedPart, TurnedTaper, TurnedThread

Step = TurnedPart | TurnedTaper | TurnedBore | TurnedGroove | TurnedThread | TurnedKnurl


def sides(steps: Sequence[Step], length: float) -> tuple[list[Step], list[Step]]:
    """What is turned from the free end, and what only from the second end, counted from there.

    From the free end diameters can only grow; what lies behind the widest is reached from the other end.
    """
    parts = sorted((s for s in steps if isinstance(s, TurnedPart)), key=lambda s: s.length_mm)
    widest = max(range(len(parts)), key=lambda i: (parts[i].size_mm, i)) if parts else -1
    first: list[Step] = list(parts[: widest + 1])
    reach = parts[widest].length_mm if parts else length
    second: list[Step] = []
    for i in range(widest + 1, len(parts)):
        begins = parts[i - 1].length_mm
        second.append(replace(parts[i], length_mm=length - begins))
    for step in steps:
        if isinstance(step, TurnedBore):
            first.append(step)
        elif isinstance(step, TurnedTaper):
            if step.from_mm < reach - 1e-9 and step.from_size_mm <= step.to_size_mm:
                first.append(step)
            else:
                second.append(
                    replace(
                        step,
                        from_mm=length - step.to_mm,
                        to_mm=length - step.from_mm,
                        from_size_mm=step.to_size_mm,
                        to_size_mm=step.from_size_mm,
                    )
                )
        elif isinstance(step, TurnedGroove | TurnedThread | TurnedKnurl):
            if step.to_mm <= reach + 1e-9:
                first.append(step)
            else:
                second.append(replace(step, from_mm=length - step.to_mm, to_mm=length - step.from_mm))
    return first, second

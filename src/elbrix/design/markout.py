"""Marking out: lines of the height gauge and radii of the dividers, to catch a wrong hole before it is drilled, independent of the dials."""

from __future__ import annotations

import math
from collections.abc import Iterable
from dataclasses import dataclass
from itertools import pairwise

from elbrix.design.bores import Bored
from elbrix.quantities.figures import num


@dataclass(frozen=True, slots=True)
class MarkOut:
    """What is scribed on a plate, from its lower left corner, mm."""

    along: tuple[tuple[float, tuple[str, ...]], ...]  #: height with the left end down, and whose line it is
    across: tuple[tuple[float, tuple[str, ...]], ...]  #: height with the near side down
    radii: tuple[tuple[str, str, float], ...]  #: dividers from one hole to the next

    @property
    def words(self) -> str:
        """In one line for the route card."""
        ends = ", ".join(f"{num(h, 2)} ({' '.join(n)})" for h, n in self.along)
        sides = ", ".join(f"{num(h, 2)} ({' '.join(n)})" for h, n in self.across)
        steps = ", ".join(f"{a} to {b} {num(r, 2)}" for a, b, r in self.radii)
        return f"Height gauge, left end down: {ends}. Near side down: {sides}." + (f" Then dividers, to prove it: {steps}." if steps else "")


def mark_out(holes: Iterable[Bored], length: float, width: float) -> MarkOut:
    """The lines of a plate whose holes count from its middle.

    Args:
        holes: x along the length, y across, from the middle, mm.
    """
    listed = list(holes)

    def lines(heights: list[tuple[float, str]]) -> tuple[tuple[float, tuple[str, ...]], ...]:
        found: dict[float, list[str]] = {}
        for h, name in heights:
            found.setdefault(round(h, 3), []).append(name)
        return tuple((h, tuple(found[h])) for h in sorted(found))

    along = lines([(h.x + length / 2, h.name) for h in listed])
    across = lines([(h.y + width / 2, h.name) for h in listed])
    radii = tuple((a.name, b.name, math.dist((a.x, a.y), (b.x, b.y))) for a, b in pairwise(listed))
    return MarkOut(along, across, radii[:12])

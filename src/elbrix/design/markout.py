"""Marking out: lines of the height gauge and radii of the dividers.

To catch a wrong hole before it is drilled, independent of the dials.
"""

from __future__ import annotations

import math
from collections.abc import Iterable
from itertools import pairwise
from typing import Final

from msgspec import Struct

from elbrix.results.length_text import LENGTH_UNIT, length

#: Divider steps that are worth scribing; more prove nothing more.
MAX_STEPS: Final = 12
#: A place to be marked: name, x and y from any one origin, mm.
Marked = tuple[str, float, float]


class MarkOut(Struct, frozen=True):
    """What is scribed on a face, from its lower left corner, mm."""

    length: tuple[tuple[float, tuple[str, ...]], ...]  #: height with the left end down, and whose line it is
    width: tuple[tuple[float, tuple[str, ...]], ...]  #: height with the near side down
    radii: tuple[tuple[str, str, float], ...]  #: dividers from one hole to the next

    @property
    def words(self) -> str:
        """In one line for the route card."""
        ends = ", ".join(f"{length(h, 2)} ({' '.join(n)})" for h, n in self.length)
        sides = ", ".join(f"{length(h, 2)} ({' '.join(n)})" for h, n in self.width)
        steps = ", ".join(f"{a} to {b} {length(r, 2)}" for a, b, r in self.radii)
        return f"Height gauge in {LENGTH_UNIT}, left end down: {ends}. Near side down: {sides}." + (
            f" Then dividers, to prove it: {steps}." if steps else ""
        )


def mark_out(places: Iterable[Marked], left: float, low: float) -> MarkOut:
    """The lines of a face.

    Args:
        left: Where its left end lies, low where its near side lies, in the same coordinates as the places, mm.
    """
    listed = list(places)

    def lines(heights: list[tuple[float, str]]) -> tuple[tuple[float, tuple[str, ...]], ...]:
        found: dict[float, list[str]] = {}
        for h, name in heights:
            found.setdefault(round(h, 3), []).append(name)
        return tuple((h, tuple(found[h])) for h in sorted(found))

    along = lines([(x - left, name) for name, x, _ in listed])
    across = lines([(y - low, name) for name, _, y in listed])
    radii = tuple((a[0], b[0], math.dist(a[1:], b[1:])) for a, b in pairwise(listed))
    return MarkOut(along, across, radii[:MAX_STEPS])

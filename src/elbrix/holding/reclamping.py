"""When a clamp stands in the cutter's way: which comes off when, and how well the others hold meanwhile."""

from __future__ import annotations

import math
from collections.abc import Sequence

from msgspec import Struct
from msgspec.structs import replace

from elbrix.geometry.shapes import Ring
from elbrix.holding.contacts import HeldPart
from elbrix.holding.cut import CuttingLoad
from elbrix.holding.layout import Piece, PlacedElement
from elbrix.holding.margin import held_by, margin_of, times
from elbrix.holding.reach import Clash
from elbrix.results.length_text import LENGTH_UNIT, length


class Reclamping(Struct, frozen=True):
    """One state of a cut in several holds."""

    words: str
    factor: float  #: infinite for a line that is no state
    off: str = ""  #: the thing that is taken off in it


def reclampings(
    piece: Piece, seats: tuple[Ring, ...], placed: Sequence[PlacedElement], mu: float, cutting: CuttingLoad, met: Sequence[Clash]
) -> list[Reclamping]:
    """Two holds: which clamp comes off when, and the margin in each state; empty when none stands in the way."""
    in_way: dict[str, set[int]] = {}
    for clash in met:
        in_way.setdefault(clash.what.partition(",")[0], set()).add(clash.index)
    movable = [p for p in placed if p.forces and p.name in in_way and p.behaviour.moves_aside]
    if not movable:
        return []
    blocked = {c.index for c in met}
    free = [i for i in range(len(cutting.path)) if i not in blocked]
    first, factor = _margin_words(held_by(piece, seats, placed, mu), cutting, free)
    lines = [
        Reclamping(
            f"First hold: everything as drawn; cut {len(free)} of {len(cutting.path)} places, leave those beside"
            f" {', '.join(p.name for p in movable)}. {first}",
            factor,
        )
    ]
    for p in movable:
        here = sorted(in_way[p.name])
        words, factor = _margin_words(held_by(piece, seats, placed, mu, without=p.name), cutting, here)
        lines.append(
            Reclamping(
                f"Then {p.name} comes off, the others stay tight; set an indicator against the work before and read it after: not"
                f" {length(0.01)} {LENGTH_UNIT} moved. Cut the places it stood in ({len(here)}). {words}",
                factor,
                p.name,
            )
        )
        lines.append(Reclamping(f"Put {p.name} back where the cut is finished, before the next one comes off", math.inf))
    return lines


def _margin_words(held: HeldPart, cutting: CuttingLoad, places: Sequence[int]) -> tuple[str, float]:
    loads = tuple(x for i in places for x in cutting.loads[i * cutting.each : (i + 1) * cutting.each])
    if not loads:
        return "Nothing is cut then", math.inf
    found = margin_of(held, replace(cutting, loads=loads, path=tuple(cutting.path[i] for i in places)), whole=False)
    return (
        (f"It holds by {times(found.least)}", found.least)
        if found.rests
        else ("It does not rest then: put another clamp on first", 0.0)
    )

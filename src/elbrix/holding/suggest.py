"""Where to put the owned clamps: places on the real slots tried, judged by margin and reach, and the best three that differ.

The search begins with what is there and with plain arrangements (at both ends, in front and behind), tries every owned clamp in
every place, and never offers less than what is there without saying so.
"""

from __future__ import annotations

import math
import random
from collections.abc import Mapping, Sequence
from typing import Final

from msgspec import Struct

from elbrix.geometry.shapes import bounds
from elbrix.holding.layout import ChosenElement, find_element
from elbrix.holding.margin import times
from elbrix.holding.solve import LayoutResult, solve_layout
from elbrix.parameters.parameter import ParameterValue
from elbrix.quantities.errors import ShopError
from elbrix.results.figures import Origin
from elbrix.results.progress import Watch, unwatched
from elbrix.shop.machines import Machine
from elbrix.shop.shop import Shop
from elbrix.shop.slots import TSlot

#: Tries of a search, and how many of the best go on to be changed a little.
_TRIES: Final = 240
_KEPT: Final = 8
_BESIDE_MM: Final = 26.0
#: Two suggestions differ when a stud of one is this far from every stud of the other, mm.
_APART_MM: Final = 35.0
_TURNS: Final = tuple(k * math.pi / 4 for k in range(8))


class Suggestion(Struct, frozen=True, kw_only=True):
    """One answer: values for the straps of the layout, by their number, and why."""

    values: Mapping[int, Mapping[str, str]]  #: thing → parameter → text in mm and degrees
    margin: float
    clashes: int
    sentence: str


class SuggestStraps(Struct, frozen=True):
    """A call of plain values, so another process can make it."""

    shop: Shop
    machine: Machine
    chosen: Mapping[str, ParameterValue]
    asked: tuple[ChosenElement, ...]
    seed: int = 1

    def __call__(self, watch: Watch = unwatched) -> tuple[Suggestion, ...]:
        return suggest(self.shop, self.machine, self.chosen, self.asked, watch, self.seed)


_Spot = tuple[str, float, float, str]  # slot, x, turn, clamp


def suggest(
    shop: Shop,
    machine: Machine,
    chosen: Mapping[str, ParameterValue],
    asked: Sequence[ChosenElement],
    watch: Watch = unwatched,
    seed: int = 1,
) -> tuple[Suggestion, ...]:
    """The three best places of the layout's straps that differ, best first; everything else stays where it is.

    Raises:
        ShopError: No strap to place, or no slot to place it in.
        Stopped: When `watch` says so.
    """
    straps = [i for i, a in enumerate(asked) if find_element(a.kind).behaviour.placed_by_search]
    slots = [s for s in machine.slots if s.straight]
    if not straps or not slots:
        raise ShopError(
            "Suggest",
            "there is no strap to place" if not straps else f"{machine.name} has no straight slot",
            "Straps stand on studs in slots",
            "Add a strap, or measure the slots in Shop",
        )
    chance = random.Random(seed)
    base = solve_layout(shop, machine, chosen, asked, quick=True)
    left, low, right, high = bounds(base.piece.outline)
    clamps = _choices(asked[straps[0]], shop, machine)
    present = tuple(
        (v.word("slot"), v.number("x"), v.number("direction"), v.word("clamp") if clamps else "")
        for v in (base.elements[i][1] for i in straps)
    )

    def spot() -> _Spot:
        slot = chance.choice(slots)
        if low <= slot.offset_mm <= high:
            side = chance.choice((-1, 1))
            x = (right if side > 0 else left) + side * chance.uniform(12, _BESIDE_MM + 14)
        else:
            x = chance.uniform(left - 10, right + 10)
        middle = base.piece.middle
        to = math.atan2(middle[1] - slot.offset_mm, middle[0] - x)
        turn = min(_TURNS, key=lambda t: abs(math.remainder(t - to, 2 * math.pi)))
        return slot.label, float(round(x)), turn, chance.choice(clamps) if clamps else ""

    def moved(old: _Spot) -> _Spot:
        if chance.random() < 0.35:
            return spot()
        clamp = chance.choice(clamps) if clamps and chance.random() < 0.3 else old[3]
        return old[0], float(round(old[1] + chance.gauss(0, 12))), old[2], clamp

    def judged(spots: Sequence[_Spot]) -> tuple[float, LayoutResult | None]:
        try:
            hold = solve_layout(shop, machine, chosen, _with(asked, straps, spots), quick=True)
        except ShopError:
            return -math.inf, None
        bad = sum(c.verdict.rank == 2 for c in hold.checks if not c.key.startswith(("margin", "reach")))
        share = len({c.index for c in hold.clashes}) / max(1, len(hold.cutting.path))
        return min(hold.margin.least, 20.0) - 6.0 * bad - 8.0 * share, hold

    kept: list[tuple[float, int, tuple[_Spot, ...], LayoutResult]] = []
    plain = [present, *_plain(slots, (left, low, right, high), len(straps), clamps)]
    for n in range(_TRIES):
        watch(n / _TRIES)
        old = chance.choice(kept)[2] if kept and n > _TRIES // 3 else None
        if n < len(plain):
            spots = plain[n]
        else:
            spots = tuple(moved(s) if chance.random() < 0.6 else s for s in old) if old else tuple(spot() for _ in straps)
        score, hold = judged(spots)
        if hold is None:
            continue
        kept.append((score, n, spots, hold))
        kept.sort(key=lambda k: (-k[0], k[1]))
        kept = _varied(kept)[: 3 * _KEPT]
    watch(1.0)
    now = solve_layout(shop, machine, chosen, asked)
    found = []
    for _, _, spots, _ in _varied(kept, most=3):
        # What is there keeps all that was chosen for it, the reach of its straps too.
        whole = now if spots == present else solve_layout(shop, machine, chosen, _with(asked, straps, spots))
        values = {
            i: {"slot": slot, "x": f"{x:g}", "direction": f"{math.degrees(turn):g}", **({"clamp": clamp} if clamp else {})}
            for i, (slot, x, turn, clamp) in zip(straps, spots, strict=True)
        }
        better = _rank(whole) > _rank(now)
        found.append(
            Suggestion(
                values=values,
                margin=whole.margin.least,
                clashes=len({c.index for c in whole.clashes}),
                sentence=_sentence(whole, spots) if better else f"No better than what is there. {_sentence(whole, spots)}",
            )
        )
    return tuple(sorted(found, key=lambda s: (s.clashes, -s.margin)))


def _rank(hold: LayoutResult) -> tuple[int, int, float]:
    """Better layouts rank higher: fewer places the cutter cannot go to, fewer checks that are no-go, a larger margin."""
    bad = sum(c.verdict.rank == 2 for c in hold.checks)
    return -len({c.index for c in hold.clashes}), -bad, round(hold.margin.least, 3)


def _choices(asked: ChosenElement, shop: Shop, machine: Machine) -> list[str]:
    """Clamps that are owned, where the element has a choice of them."""
    parameter = next((p for p in find_element(asked.kind).parameters(shop, machine) if p.name == "clamp"), None)
    return [value for value, _ in parameter.choices if value] if parameter is not None else []


def _plain(
    slots: Sequence[TSlot], box: tuple[float, float, float, float], count: int, clamps: Sequence[str]
) -> list[tuple[_Spot, ...]]:
    """What anybody would try first: alternately at both ends, and alternately in front and behind, with each of the clamps."""
    left, low, right, high = box
    middle = min(slots, key=lambda s: abs(s.offset_mm - (low + high) / 2))
    front = max((s for s in slots if s.offset_mm < low), key=lambda s: s.offset_mm, default=None)
    rear = min((s for s in slots if s.offset_mm > high), key=lambda s: s.offset_mm, default=None)
    found: list[tuple[_Spot, ...]] = []
    for clamp in clamps or [""]:
        for off in (18.0, 24.0, 32.0):
            ends = ((middle.label, right + off, math.pi, clamp), (middle.label, left - off, 0.0, clamp))
            found.append(tuple(ends[i % 2] if i < 2 else _inward(middle, i, box, clamp) for i in range(count)))
        if front is not None and rear is not None:
            sides = []
            for i in range(count):
                x = left + (right - left) * (i // 2 + 0.5) / math.ceil(count / 2)
                slot, turn = (front, math.pi / 2) if i % 2 == 0 else (rear, -math.pi / 2)
                sides.append((slot.label, float(round(x)), turn, clamp))
            found.append(tuple(sides))
    return found


def _inward(slot: TSlot, number: int, box: tuple[float, float, float, float], clamp: str) -> _Spot:
    """A third and further clamp at an end, a little outside the first."""
    left, _, right, _ = box
    return (slot.label, right + 30.0, math.pi, clamp) if number % 2 == 0 else (slot.label, left - 30.0, 0.0, clamp)


def _with(asked: Sequence[ChosenElement], straps: Sequence[int], spots: Sequence[_Spot]) -> tuple[ChosenElement, ...]:
    there = dict(zip(straps, spots, strict=True))
    found = []
    for i, a in enumerate(asked):
        if i in there:
            slot, x, turn, clamp = there[i]
            # The tip follows the place: a reach chosen for the old one would miss the work.
            own = {k: v for k, v in a.chosen.items() if k != "stud_to_tip"}
            a = ChosenElement(  # noqa: PLW2901
                kind=a.kind,
                chosen={
                    **own,
                    "slot": ParameterValue(slot, Origin.CHOSEN),
                    "x": ParameterValue(x, Origin.CHOSEN),
                    "direction": ParameterValue(turn, Origin.CHOSEN),
                    **({"clamp": ParameterValue(clamp, Origin.CHOSEN)} if clamp else {}),
                },
            )
        found.append(a)
    return tuple(found)


def _varied(
    kept: Sequence[tuple[float, int, tuple[_Spot, ...], LayoutResult]], most: int = 3 * _KEPT
) -> list[tuple[float, int, tuple[_Spot, ...], LayoutResult]]:
    """Best first, leaving out what is nearly one that is there already."""
    found: list[tuple[float, int, tuple[_Spot, ...], LayoutResult]] = []
    apart = _APART_MM if most <= 3 else 6.0
    for one in kept:
        if all(_differ(one[2], other[2], apart) for other in found):
            found.append(one)
        if len(found) == most:
            break
    return found


def _differ(one: Sequence[_Spot], other: Sequence[_Spot], apart: float) -> bool:
    """Whether some stud of one stands far from every stud of the other."""
    return any(all(a[0] != b[0] or abs(a[1] - b[1]) > apart for b in other) for a in one)


def _sentence(hold: LayoutResult, spots: Sequence[_Spot]) -> str:
    places = len({c.index for c in hold.clashes})
    where = ", ".join(f"{slot} at {x:g}" for slot, x, _, _ in spots)
    reach = (
        "the cutter goes everywhere" if not places else f"the cutter meets a clamp at {places} of {len(hold.cutting.path)} places"
    )
    return f"Holds by {times(hold.margin.least)}, {reach}; studs in the {where}"

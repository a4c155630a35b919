"""How far each drawn size may be off: so far that no check of the design gets worse, alone or with all the others.

A size that says nothing may be off by `GENERAL_MM` either way, as the drawing's block says. Where that would turn a verdict the
size gets limits of its own. They are found by solving the family with the size at the limit, so they hold for any family and
agree with what Inspect says of a piece as made.
"""

from __future__ import annotations

import math
import re
from collections import deque
from collections.abc import Iterator, Mapping
from itertools import product
from typing import Final, Protocol, runtime_checkable

from msgspec import Struct

from elbrix.design.family import Design, Family, HoleLine
from elbrix.parameters.parameter import Kind, ParameterValue, Values
from elbrix.quantities.errors import ShopError
from elbrix.quantities.lengths import MM_PER_INCH, UnitStyle, step_shown
from elbrix.results.checks import Check, Verdict
from elbrix.results.figures import Origin
from elbrix.results.length_text import said_in
from elbrix.shop.shop import Shop

#: What a size without limits of its own may be off, mm either way.
GENERAL_MM: Final = 0.1
#: Limits that are written on drawings, mm, widest first. Below the last nobody measures in a workshop.
STEPS: Final = (GENERAL_MM, 0.05, 0.03, 0.02, 0.01, 0.005, 0.003, 0.002, 0.001, 0.0)
#: Of so many sizes that a check depends on every corner is tried.
_ALL_CORNERS: Final = 5
#: A size with closer limits is written to a thousandth.
_CLOSE_MM: Final = 0.01
#: Given to a size that has no room either way, the first at which nothing fails: nobody can make ±0.
_NO_ROOM: Final = (0.01, 0.005, 0.002, 0.001)
#: Share of its remaining room that a check which is marginal as drawn may lose.
_MARGINAL_SHARE: Final = 0.1
#: The views that a drawing shows; "in place" is a picture of use.
DRAWN: Final = ("front", "top", "side")


class SizeLimits(Struct, frozen=True):
    """How much smaller and how much larger than drawn a size may be, mm, both from 0 up."""

    under: float
    over: float
    fails_under: float = 3 * GENERAL_MM  #: off by no more than this it fails no check, whatever it turns marginal
    fails_over: float = 3 * GENERAL_MM

    @property
    def general(self) -> bool:
        """Whether the block of the drawing says it already."""
        return self.under >= GENERAL_MM and self.over >= GENERAL_MM

    def text(self, style: UnitStyle) -> str:
        """As written behind the size: "±0.05", "+0.02/−0.01"; empty where the general limits do. Never wider than it is."""
        if self.general:
            return ""
        over, under = _written(self.over, style), _written(self.under, style)
        return f"±{over}" if over == under else f"+{over}/−{under}"


#: The designs looked at last: a plan is made anew with every size that is typed at the machine, and a design solved anew for it.
_LAST: Final[deque[tuple[Family, Values, Shop, dict[str, SizeLimits]]]] = deque(maxlen=32)


def limited_text(value: float, limits: SizeLimits, style: UnitStyle, step_mm: float | None) -> str:
    """A size and its limits as written. The limits are counted from the number that stands there, rounded as it is."""
    step_mm = step_shown(value, step_mm)
    if limits.general:
        return style.show(value, "mm", step_mm)
    closest = min(limits.under or GENERAL_MM, limits.over or GENERAL_MM)
    if closest >= _CLOSE_MM:
        text = style.show(value, "mm", step_mm)
    elif style.length == "mm":
        text = style.show(value, "mm", min(step_mm or 0.001, 0.001))
    else:
        text = f"{value / MM_PER_INCH:.5f}"
    shown = float(text) * (1.0 if style.length == "mm" else MM_PER_INCH)
    off = value - shown
    under, over = (
        limit if limit >= GENERAL_MM else max(0.0, limit + by) for limit, by in ((limits.under, -off), (limits.over, off))
    )
    return f"{text} {SizeLimits(under, over).text(style)}"


def hole_words(hole: HoleLine, design: Design, style: UnitStyle, limits: Mapping[str, SizeLimits]) -> str:
    """What a hole is, its Ø with the limits that were found for it."""
    text = said_in(hole.words, style)
    own = limits.get(hole.size)
    if own is None or own.general:
        return text
    return re.sub(r"Ø[\d.]+", "Ø" + limited_text(design.values.number(hole.size), own, style, 0.001), text, count=1)


def _written(limit_mm: float, style: UnitStyle) -> str:
    if style.length == "mm":
        return f"{math.floor(limit_mm * 10000 + 1e-6) / 10000:g}"
    inches = limit_mm / MM_PER_INCH
    step = 0.0001 if inches >= 0.0005 else 0.00005  # down, so that the limit is never wider
    return f"{math.floor(inches / step + 1e-6) * step:.5f}".rstrip("0").rstrip(".")


def size_limits(family: Family, design: Design, shop: Shop) -> dict[str, SizeLimits]:
    """Limits of every size the views show that somebody can type, by its parameter.

    Each alone, and all together at their worst for each check, leave every verdict as it is or better.
    """
    for of, values, owner, known in tuple(_LAST):  # plans are made beside the window, too
        if of is family and values == design.values and owner == shop:
            return known
    sizes = _Sizes(family, design, shop)
    names = dict.fromkeys(name for part in _parts(family, design, shop) for name in drawn_sizes(family, part))
    steps = {name: [sizes.widest(name, way) for way in (-1, 1)] for name in names}
    for check in design.checks:
        if check.verdict is not Verdict.NO_GO:
            _together(sizes, check, steps)
    found = {name: SizeLimits(STEPS[under], STEPS[over]) for name, (under, over) in steps.items()}
    found = {name: sizes.with_ends(name, own if own.under or own.over else sizes.least(name)) for name, own in found.items()}
    if isinstance(family, StatesLimits):
        for name, stated in family.states_limits(design).items():
            tried = found.get(name, stated)
            found[name] = SizeLimits(
                min(tried.under, stated.under), min(tried.over, stated.over), tried.fails_under, tried.fails_over
            )
    _LAST.append((family, design.values, shop, found))
    return found


@runtime_checkable
class StatesLimits(Protocol):
    """A family that asks for closer limits on a size than its checks do."""

    def states_limits(self, design: Design) -> Mapping[str, SizeLimits]:
        """By parameter, or by the key of a dimension that is none."""


def drawn_sizes(family: Family, design: Design) -> list[str]:
    """The lengths that stand on the drawing's views or in its hole table and are parameters."""
    lengths = {p.name for p in family.parameters if p.kind is Kind.LENGTH}
    shown = [d.entry for scene in family.scenes(design) if scene.name in DRAWN for d in scene.dimensions]
    return list(dict.fromkeys(entry for entry in (*shown, *(h.size for h in design.holes)) if entry in lengths))


def _parts(family: Family, design: Design, shop: Shop) -> Iterator[Design]:
    """The design with each of its parts drawn in turn: what they are off adds up where they meet."""
    yield design
    part = next((p for p in family.parameters if p.name == "part" and p.kind is Kind.CHOICE), None)
    for value, _ in part.choices if part is not None and part.name in design.values else ():
        if value != design.values.word("part"):
            try:
                yield family.solve(design.values.having(part=ParameterValue(value, Origin.CHOSEN)), shop)
            except ShopError:
                continue  # a part that this kind does not have


class _Sizes:
    """The design solved with its sizes off."""

    def __init__(self, family: Family, design: Design, shop: Shop) -> None:
        self._family, self._design, self._shop = family, design, shop
        self._before = {c.key: c for c in design.checks}
        self._known: dict[tuple[tuple[str, float], ...], dict[str, Check] | None] = {}

    def checks(self, off: Mapping[str, float]) -> dict[str, Check] | None:
        """The checks with sizes off by so many mm; None: refused."""
        key = tuple(sorted((n, by) for n, by in off.items() if by))
        if key not in self._known:
            values = self._design.values
            moved = {n: ParameterValue(values.number(n) + by, Origin.CHOSEN) for n, by in key}
            try:
                self._known[key] = {c.key: c for c in self._family.solve(values.having(**moved), self._shop).checks}
            except ShopError:
                self._known[key] = None
        return self._known[key]

    def as_good(self, off: Mapping[str, float], only: str = "") -> bool:
        """Whether no check, or not this one, is worse than as drawn."""
        found = self.checks(off)
        return found is not None and all(
            k not in found or _as_good(before, found[k]) for k, before in self._before.items() if not only or k == only
        )

    def least(self, name: str) -> SizeLimits:
        """What is written on a size without room."""
        for limit in _NO_ROOM:
            ends = [self.checks({name: way * limit}) for way in (-1, 1)]
            if all(e is not None and not any(self._fails(c) for c in e.values()) for e in ends):
                return SizeLimits(limit, limit)
        return SizeLimits(_NO_ROOM[-1], _NO_ROOM[-1])

    def value(self, check: Check, off: Mapping[str, float]) -> float:
        """A check's number with sizes off; as drawn when they make no part."""
        found = self.checks(off)
        after = found.get(check.key) if found is not None else None
        return check.value if after is None else after.value

    def changes(self, check: Check, off: Mapping[str, float]) -> bool:
        """Whether a check's number depends on them."""
        return self.checks(off) is None or abs(self.value(check, off) - check.value) > 1e-12

    def loss(self, check: Check, off: Mapping[str, float]) -> float:
        """By how much they take a check's number nearer to where its verdict ends."""
        return _room(check, check.value) - _room(check, self.value(check, off))

    def with_ends(self, name: str, own: SizeLimits) -> SizeLimits:
        """Limits that are not the general ones, with how far off the size fails no check."""
        return own if own.general else SizeLimits(own.under, own.over, self._stands(name, -1, own), self._stands(name, 1, own))

    def _stands(self, name: str, way: int, own: SizeLimits) -> float:
        """The farthest step, one by one outwards, at which no check fails that did not as drawn."""
        best = own.over if way > 0 else own.under
        for step in (*reversed(STEPS[:-1]), 2 * GENERAL_MM, 3 * GENERAL_MM):
            if step <= best:
                continue
            after = self.checks({name: way * step})
            if after is None or any(self._fails(c) for c in after.values()):
                break
            best = step
        return best

    def _fails(self, after: Check) -> bool:
        before = self._before.get(after.key)
        return after.verdict is Verdict.NO_GO and before is not None and before.verdict is not Verdict.NO_GO

    def widest(self, name: str, way: int) -> int:
        """The first step that is good, and the next narrower one with it: a verdict may come back further out."""
        for i, step in enumerate(STEPS):
            narrower = STEPS[min(i + 1, len(STEPS) - 1)]
            if self.as_good({name: way * step}) and self.as_good({name: way * narrower}):
                return i
        return len(STEPS) - 1


def _as_good(before: Check, after: Check) -> bool:
    """Not a worse verdict; what is marginal as drawn does not come much nearer to no-go either."""
    if before.verdict is Verdict.MARGINAL and after.verdict is Verdict.MARGINAL:
        room = _room(before, before.value)
        return _room(before, after.value) >= (1 - _MARGINAL_SHARE) * room - 1e-9
    return after.verdict.rank <= before.verdict.rank


def _together(sizes: _Sizes, check: Check, steps: dict[str, list[int]]) -> None:
    """Narrow limits until one check stands with all sizes it depends on at their ends, whichever way each is off."""
    for _ in range(2 * len(steps) * len(STEPS)):
        ends = {name: (-STEPS[under], STEPS[over]) for name, (under, over) in steps.items()}
        involved = [name for name in ends if any(sizes.changes(check, {name: off}) for off in ends[name])]
        bad = next((c for c in _corners(sizes, check, {n: ends[n] for n in involved}) if not sizes.as_good(c, check.key)), None)
        if bad is None:
            return
        name = max(bad, key=lambda n: (sizes.loss(check, {n: bad[n]}), abs(bad[n])))
        way = int(bad[name] > 0)
        steps[name][way] = min(steps[name][way] + 1, len(STEPS) - 1)


def _corners(sizes: _Sizes, check: Check, ends: Mapping[str, tuple[float, float]]) -> Iterator[dict[str, float]]:
    """Every size at one end or the other; of many sizes those corners to which the check's number goes down, up and nearest."""
    if len(ends) < 2:
        return
    if len(ends) <= _ALL_CORNERS:
        for offs in product(*ends.values()):
            yield {n: off for n, off in zip(ends, offs, strict=True) if off}
        return
    for towards in (sizes.value, lambda c, off: -sizes.value(c, off), sizes.loss):
        yield {n: max(pair, key=lambda off, n=n: towards(check, {n: off})) for n, pair in ends.items()}  # type: ignore[misc]


def _room(check: Check, value: float) -> float:
    """From a number to the nearest end of the verdict the check has."""
    limits = check.limits
    if check.verdict is Verdict.GO:
        return min(value - limits.marginal_below, limits.marginal_above - value)
    return min(value - limits.no_below, limits.no_above - value)

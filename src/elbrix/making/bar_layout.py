"""Several jobs cut from the bars on the rack with the least waste, proved by an integer program.

Waste is all metal that becomes neither part nor a useful rest: what is milled or turned away, saw cuts, and rests too short for
another job. Its unknowns are which job comes off which bar; lengths add up along a bar with a saw cut between two jobs.
"""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from typing import TYPE_CHECKING, Any, Final

from msgspec import Struct

from elbrix.making.stock_choice import USEFUL_LEFT, BarCutting, StockOption
from elbrix.shop.stock import Bar, Form

if TYPE_CHECKING:
    from numpy.typing import NDArray

#: How much worse a later goal may make the waste, cm³; far below a saw cut.
_PROOF: Final = 1e-6
#: A rest this long is counted as useful although the solver's last digit says otherwise, mm.
_ROUNDING: Final = 1e-6


class BarCut(Struct, frozen=True, kw_only=True):
    """What one job takes off a bar."""

    job: str
    at_mm: float  #: from the bar's end
    length_mm: float


class BarUse(Struct, frozen=True, kw_only=True):
    """One bar and what is cut from it."""

    bar: Bar
    lengths: tuple[BarCut, ...]
    left_mm: float

    @property
    def useful(self) -> bool:
        """Whether the rest goes back to the rack."""
        return self.left_mm >= USEFUL_LEFT - _ROUNDING


class BarLayout(Struct, frozen=True, kw_only=True):
    """Where every job comes from."""

    bars: tuple[BarUse, ...]
    missing: tuple[str, ...]  #: jobs no bar is left for
    waste_cm3: float

    def bar_of(self, job: str) -> Bar | None:
        """The bar a job is cut from."""
        return next((u.bar for u in self.bars if any(c.job == job for c in u.lengths)), None)


def section_mm2(bar: Bar) -> float:
    """Area of a bar's section."""
    if bar.form is Form.ROUND:
        return math.pi / 4 * bar.width_mm**2
    return math.sqrt(3) / 2 * bar.width_mm**2 if bar.form is Form.HEXAGON else bar.width_mm * bar.height_mm


def waste_cm3(uses: Sequence[tuple[Bar, Sequence[StockOption]]], kerf_mm: float = BarCutting().kerf_mm) -> float:
    """What a layout wastes, counted from its bars: metal removed, a saw cut for each job, rests too short for another.

    Args:
        uses: Each bar with the options cut from it.
    """
    total = 0.0
    for bar, options in uses:
        left = max(0.0, bar.length_mm - sum(o.cut_mm + kerf_mm for o in options))
        scrap = left if left < USEFUL_LEFT - _ROUNDING else 0.0
        total += sum(o.removed_cm3 for o in options) + (len(options) * kerf_mm + scrap) * section_mm2(bar) / 1000
    return total


def lay_on_bars(jobs: Mapping[str, Sequence[StockOption]], kerf_mm: float = BarCutting().kerf_mm) -> BarLayout:
    """Take every job off a bar: as many jobs as can be, then the least waste, the fewest bars begun, the shortest of them.

    Args:
        jobs: For each job the bars it could be cut from, as judged for it alone.
        kerf_mm: Saw cut that parts two jobs.

    Returns:
        The longest job of each bar first, so that the rest lies at its end.
    """
    pairs = [(job, o) for job, options in jobs.items() for o in options if o.fits]
    bars = {o.bar.id: o.bar for _, o in pairs}
    taken: list[tuple[str, StockOption]] = []
    if pairs:
        taken = _solved(list(jobs), pairs, list(bars.values()), kerf_mm)
    uses = []
    for bar in bars.values():
        mine = sorted(((j, o) for j, o in taken if o.bar.id == bar.id), key=lambda p: (-p[1].cut_mm, p[0]))
        if not mine:
            continue
        lengths, at = [], 0.0
        for job, option in mine:
            lengths.append(BarCut(job=job, at_mm=at, length_mm=option.cut_mm))
            at += option.cut_mm + kerf_mm
        uses.append(BarUse(bar=bar, lengths=tuple(lengths), left_mm=max(0.0, bar.length_mm - at)))
    there = {job for job, _ in taken}
    counted = [(u.bar, [o for _, o in taken if o.bar.id == u.bar.id]) for u in uses]
    return BarLayout(bars=tuple(uses), missing=tuple(j for j in jobs if j not in there), waste_cm3=waste_cm3(counted, kerf_mm))


def _solved(jobs: list[str], pairs: list[tuple[str, StockOption]], bars: list[Bar], kerf: float) -> list[tuple[str, StockOption]]:
    """Unknowns in this order: a job off a bar, a bar begun, its rest useful (0 or 1 each), its scrap in mm."""
    import numpy as np  # not needed to start
    from scipy.optimize import Bounds, LinearConstraint, milp

    n, m = len(pairs), len(bars)
    size = n + 3 * m
    rows: list[NDArray[Any]] = []
    low: list[float] = []
    high: list[float] = []

    def bound(row: NDArray[Any], least: float, most: float) -> None:
        rows.append(row)
        low.append(least)
        high.append(most)

    for job in jobs:
        row = np.zeros(size)
        row[[k for k, (j, _) in enumerate(pairs) if j == job]] = 1
        bound(row, 0, 1)
    for b, bar in enumerate(bars):
        begun, useful, scrap = (n + i * m + b for i in range(3))
        mine = [k for k, (_, o) in enumerate(pairs) if o.bar.id == bar.id]
        along = np.zeros(size)
        along[mine] = [pairs[k][1].cut_mm + kerf for k in mine]
        for k in mine:  # a bar is begun when something comes off it
            row = np.zeros(size)
            row[k], row[begun] = 1, -1
            bound(row, -np.inf, 0)
        # Σ(cut + kerf) ≤ L + kerf, the last cut falls off the end; with a useful rest Σ(cut + kerf) + 60 ≤ L.
        row = along.copy()
        row[useful] = USEFUL_LEFT + kerf
        bound(row, -np.inf, bar.length_mm + kerf)
        # The rest of a bar that is begun and not useful is scrap: scrap ≥ L − Σ − L·useful − L·(1 − begun).
        row = along.copy()
        row[scrap], row[useful], row[begun] = 1, bar.length_mm, -bar.length_mm
        bound(row, 0, np.inf)

    area = np.array([section_mm2(bar) / 1000 for bar in bars])
    by_bar = {bar.id: b for b, bar in enumerate(bars)}
    nothing = np.zeros(m)
    goals = (
        (np.r_[-np.ones(n), nothing, nothing, nothing], 0.5),  # as many jobs as can be
        (np.r_[[o.removed_cm3 + kerf * area[by_bar[o.bar.id]] for _, o in pairs], nothing, nothing, area], _PROOF),
        (np.r_[np.zeros(n), np.ones(m), nothing, nothing], 0.5),  # the fewest bars begun
        (np.r_[np.zeros(n), [bar.length_mm for bar in bars], nothing, nothing], 0.0),  # what is short goes first
    )
    bounds = Bounds(np.zeros(size), np.r_[np.ones(n + 2 * m), [bar.length_mm for bar in bars]])
    whole = np.r_[np.ones(n + 2 * m), np.zeros(m)]
    found: NDArray[Any] = np.zeros(size)
    for goal, slack in goals:
        answer = milp(
            goal,
            constraints=LinearConstraint(np.array(rows), np.array(low), np.array(high)),
            bounds=bounds,
            integrality=whole,
            options={"mip_rel_gap": 0.0},
        )
        if answer.x is None:
            break  # a proof that fails for rounding keeps what the goal before it found
        found = answer.x
        bound(goal, -np.inf, float(goal @ found) + slack)
    return [pairs[k] for k in range(n) if found[k] > 0.5]

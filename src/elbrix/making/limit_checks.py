"""Checks before the first cut: are dials and measuring tools fine enough for the limits of what they make?"""

from __future__ import annotations

from collections.abc import Iterator
from typing import Final

from elbrix.making.dial_limits import band_mm
from elbrix.making.plan import AskedSize, Plan
from elbrix.results.checks import Check, Limits, judged
from elbrix.results.formulas import worked
from elbrix.results.length_text import LENGTH_UNIT, length

#: Of the width of the limits: up to here nobody need look twice, %.
_EASY: Final = 50.0
#: Over this no number need lie within, %.
_NONE_WITHIN: Final = 100.0
_COMPARE: Final = "Compare it with gauge blocks or a pin of nearly that size, and keep to the middle of the limits"


def limit_checks(plan: Plan) -> Iterator[Check]:
    """Of the size that is hardest to hit, and of the one that is hardest to measure; neither is more than marginal.

    What no dial can be set to is brought off by an indicator or by hand, a size no tool can tell is compared with blocks.
    """
    asked = [m.asked for _, _, m in plan.moves if m.asked is not None]
    sizes = [(s, band_mm(s.limits)) for s in asked if s.limits is not None and not s.limits.general]
    if made := [(s, band) for s, band in sizes if s.division_mm > 0 and band > 0]:
        yield _by_dial(max(made, key=lambda pair: pair[0].division_mm / pair[1])[0])
    if read := [(s, band) for s, band in sizes if s.trusted_mm > 0 and band > 0]:
        yield _by_tool(max(read, key=lambda pair: pair[0].trusted_mm / pair[1])[0])


def _by_dial(size: AskedSize) -> Check:
    by = size.by.axis if size.by is not None else ""
    share = worked("division/(over + under)", size.division_mm, *_limits(size), source="handwheel or readout, drawing")
    here = f"{size.words}: {_shown(size)}; a division of {by} changes it by {length(size.division_mm)} {LENGTH_UNIT}"
    none_within = share.value * 100 > _NONE_WITHIN
    return judged(
        "dial limits",
        "Dial against limits",
        share,
        Limits(marginal_above=_EASY),
        (
            "every limit is at least two divisions wide",
            f"{here}. "
            + (
                "No number lies within: the last of it comes off by an indicator or by hand, as its step says"
                if none_within
                else "Measure before the last cut, and set the number once"
            ),
            "",
        ),
        unit="%",
    )


def _by_tool(size: AskedSize) -> Check:
    off = f"the {size.tool} may be {length(size.trusted_mm)} {LENGTH_UNIT} off"
    return judged(
        "measuring limits",
        "Measuring tool against limits",
        worked("2·trust/(over + under)", size.trusted_mm, *_limits(size), source="measuring tools in Shop, drawing"),
        Limits(marginal_above=_EASY),
        ("what a reading may be off is less than half of every limit", f"{size.words}: {_shown(size)}; {off}. {_COMPARE}", ""),
        unit="%",
    )


def _limits(size: AskedSize) -> tuple[float, float]:
    assert size.limits is not None
    return size.limits.over, size.limits.under


def _shown(size: AskedSize) -> str:
    assert size.limits is not None
    under, over = length(size.limits.under), length(size.limits.over)
    return f"{length(size.expected_mm)} {LENGTH_UNIT}, {under} under and {over} {LENGTH_UNIT} over allowed"

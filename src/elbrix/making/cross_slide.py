"""What a lathe's cross-slide is set to: a diameter, or its half where the dial reads the radius."""

from __future__ import annotations

from msgspec.structs import replace

from elbrix.making.context import Context
from elbrix.making.plan import Position, SizedBy, Term


def across(ctx: Context, terms: list[Term]) -> Position:
    """The number of the dial; the slide itself stands on the radius."""
    radius = ctx.machine.dial_reads == "radius"
    if radius:
        terms = [Term(f"half of: {t.words}", t.value_mm / 2) for t in terms]
    return replace(ctx.at("X", terms), per_mm=1.0 if radius else 0.5)


def sized_across(ctx: Context, *, inside: bool = False) -> SizedBy:
    """A diameter that the cross-slide makes."""
    return SizedBy("X", 2.0 if ctx.machine.dial_reads == "radius" else 1.0, inside)

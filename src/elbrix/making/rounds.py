"""Holes across a round bar: in V-blocks on the mill, its free end for X, its own side for the middle."""

from __future__ import annotations

from elbrix.design.work import RoundHoles
from elbrix.making.context import Context
from elbrix.making.holes import Drilling, HolePlace
from elbrix.making.plan import Operation, Setup, Term
from elbrix.making.pose import Lie


def round_holes(ctx: Context, work: RoundHoles) -> Setup:
    """All the holes of one line along the round, straight down through its axis."""
    ctx.request("V-block with clamp", True)
    ctx.request("square", True)
    r = ctx.blank.round_mm / 2
    lie = Lie(up="A", away="B", zero=(0.0, 0.0, 0.0))
    x_move, x_zero = ctx.touch_side(f"{work.id}.zero.X", "X", "the free end, E", 0.0, "")
    y_move, y_zero = ctx.touch_side(f"{work.id}.zero.Y", "Y", "the near side of the round", -r, "half the Ø")
    z_move, z_zero = ctx.touch_top(f"{work.id}.zero.Z", "the top of the round")
    spots = tuple(
        HolePlace(name=str(i), hole=h, x=(Term("ordinate from the free end", h.x_mm),), y=(Term("through the axis", 0.0),))
        for i, h in enumerate(work.holes, 1)
    )
    start = Operation(title="Find zero", tool=x_zero.tool, moves=(x_move, y_move, z_move))
    return ctx.setup(
        work.id,
        work.name,
        lie,
        (start, *Drilling(ctx, work.id, ctx.blank.round_mm, work.feature).all(spots)),
        holding="in V-blocks on the table, clamped between the holes",
        datum="X zero at the free end; Y zero on the axis, from the near side; Z zero on the top of the round",
        zeroes=(x_zero, y_zero, z_zero),
        fixture="V-block",
        stands="is a round bar",
        each=True,
        cautions=("A drill that starts on a round wanders: a centre drill first, straight over the axis.",),
    )

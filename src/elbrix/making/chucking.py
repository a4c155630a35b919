"""What round work is held in on the lathe: a collet of its own size, the three-jaw, the four-jaw, a plug for thin walls."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Final

from elbrix.design.work import TurnedBore, TurnedPart
from elbrix.making.context import Context

#: How a shop may want round work held.
LATHE_HOLDS: Final = (
    ("", "in a collet that fits, else the chuck"),
    ("four-jaw", "in the four-jaw chuck"),
    ("centres", "between centres"),
)
#: A collet grips along its length what is its own size; anything else only at its mouth, mm. Source: shop practice.
OWN_SIZE_MM: Final = 0.05
#: A wall thinner than this, or than so much of its Ø, comes out three-cornered from three jaws, mm. Source: shop practice.
THIN_MM, THIN_SHARE = 2.5, 0.08
#: A plug goes into its bore with so much less, on the diameter, mm.
PLUG_LESS_MM: Final = 0.01


def collet_for(ctx: Context, size_mm: float) -> str:
    """The name of a collet of this lathe that is of the work's own size; empty: none."""
    if ctx.blank.hex_mm or not ctx.machine.id:
        return ""
    own = [c for c in ctx.shop.collets if c.machine == ctx.machine.id]  # one for "any" machine holds shanks in a mill
    found = min(own, key=lambda c: abs(c.size_mm - size_mm), default=None)
    if found is None or abs(found.size_mm - size_mm) > OWN_SIZE_MM + 1e-9:
        return ""
    return f"{found.name} collet"


def bar_in(ctx: Context, size_mm: float) -> str:
    """What holds the bar."""
    if ctx.options.lathe == "four-jaw":
        ctx.request("four-jaw chuck", True)
        return f"in the four-jaw chuck, the bar set true to {ctx.say(0.02)} by the indicator, jaw against jaw"
    collet = collet_for(ctx, size_mm)
    if collet:
        ctx.request(collet, True)
        return f"in the {collet}"
    return "in the three-jaw chuck"


def finished_in(ctx: Context, size_mm: float) -> str:
    """What holds a piece by a finished diameter."""
    if ctx.blank.hex_mm:
        return f"in the chuck on its flats, close up; it runs true to {ctx.say(0.05)} by the indicator"
    if ctx.options.lathe == "four-jaw":
        return (
            "in the four-jaw chuck on the finished Ø, a strip of brass under each jaw,"
            f" set true to {ctx.say(0.01)} by the indicator"
        )
    collet = collet_for(ctx, size_mm)
    if collet:
        ctx.request(collet, True)
        return f"in the {collet} on the finished Ø; look with the indicator that it runs true to {ctx.say(0.02)}"
    return f"in the chuck on the finished Ø, a strip of brass between; it runs true to {ctx.say(0.02)} by the indicator"


def thin_bore(steps: Sequence[object], length_mm: float) -> TurnedBore | None:
    """The through bore that leaves a wall jaws would bend; None: there is none.

    Args:
        steps: Of the first end.
        length_mm: Of the piece.
    """
    bores = [s for s in steps if isinstance(s, TurnedBore) and not s.thread and (not s.depth_mm or s.depth_mm >= length_mm)]
    outside = max((s.size_mm for s in steps if isinstance(s, TurnedPart)), default=0.0)
    bore = max(bores, key=lambda b: b.size_mm, default=None)
    if bore is None or not outside:
        return None
    return bore if (outside - bore.size_mm) / 2 < max(THIN_MM, THIN_SHARE * outside) else None

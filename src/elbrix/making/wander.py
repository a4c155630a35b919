"""How far a drilled hole stands off where it was wanted, and what that asks of the boring that follows. mm."""

from __future__ import annotations

from typing import Final

from elbrix.making.context import Context, asked
from elbrix.making.plan import AskedSize

#: A drill that ran off further than this is said; a shop's usual drill stays inside it.
_USUAL_MM: Final = 0.1
#: A boring cut is no lighter than this on the diameter.
_MIN_MM: Final = 0.3
#: Metal all round after the last of the hole's old wall is gone, on the diameter.
_CLEANED_MM: Final = 0.1


def wander_asked(id: str, on: str) -> AskedSize:
    """Asked for after drilling.

    Args:
        on: What the indicator turns with or stands on.
    """
    words = f"how far the drilled hole stands off, half of what the indicator swings in it: {on}"
    return asked(f"{id}.wander", words, 0.0, _USUAL_MM, drawn=False)


def wandered(ctx: Context, id: str) -> float:
    """As measured; 0 where it was not."""
    return abs(ctx.measured.get(f"{id}.wander", 0.0))


def cleans_from(ctx: Context, id: str, drilled_mm: float) -> float:
    """The Ø from which a bore is cut all round."""
    return drilled_mm + 2 * wandered(ctx, id)


def roughing(ctx: Context, id: str, rough_mm: float) -> float:
    """The roughing cut on the diameter that is no deeper on the side the drill ran away from than the machine takes."""
    return max(_MIN_MM, rough_mm - 2 * wandered(ctx, id))


def said(ctx: Context, id: str, name: str, drilled_mm: float, size_mm: float) -> str:
    """What the reading changes, for the first boring cut; a bore that does not clean up is a problem of the plan."""
    off = wandered(ctx, id)
    if not off:
        return ""
    clean = cleans_from(ctx, id, drilled_mm)
    if size_mm < clean + _CLEANED_MM:
        ctx.problems.append(
            f"{name}: drilled {ctx.say(off, 3)} off, it is cut all round only from Ø{ctx.say(clean)} on and Ø{ctx.say(size_mm)}"
            f" is wanted. Bore it to Ø{ctx.say(clean + _CLEANED_MM)} and fit what goes in, or begin the next with a smaller drill"
        )
    return (
        f"The drill stands {ctx.say(off, 3)} off: cut all round from Ø{ctx.say(clean)} on; until then deeper on one side by"
        f" {ctx.say(off, 3)}"
    )

"""Round work from its bar to its second end: in the chuck, or between centres."""

from __future__ import annotations

from collections.abc import Sequence

from elbrix.making.centres import between_centres
from elbrix.making.context import Context
from elbrix.making.ends import Step
from elbrix.making.plan import Setup
from elbrix.making.turning import Turning
from elbrix.shop.tooling import HolderKind


def turned(ctx: Context, steps: Sequence[Step]) -> list[Setup]:
    """First end with everything on it, parted, then the second end faced to length."""
    posts = [h for h in ctx.shop.holders if h.kind is HolderKind.TOOL_POST and h.machine in ("", ctx.machine.id)]
    ctx.request("turning tool", True, "" if posts or not ctx.shop.holders else "no tool post listed")
    turning = Turning(ctx, steps)
    if ctx.cutting.sawn_each:
        return between_centres(turning)
    return [turning.first(), turning.second()]

"""A bar much wider than its part, sawn lengthwise first: hours of chips saved, and a strip for the rack."""

from __future__ import annotations

from typing import Final

from msgspec.structs import replace

from elbrix.design.work import Blank
from elbrix.making.context import Context
from elbrix.making.plan import Move, Operation, Setup
from elbrix.making.stock_choice import SIDE_ALLOWANCE, StockOption
from elbrix.shop.stock import Finish, Form

#: From so much over the width on it is worth the saw's setting, mm. Source: shop practice.
WORTH_MM: Final = 12.0
#: A strip narrower than this is no bar any more, mm.
_STRIP_MM: Final = 5.0


def over_mm(option: StockOption, blank: Blank) -> float:
    """How much wider a bar is than the part and what both its sides are milled by when one of them was sawn."""
    return option.width_mm - blank.width_mm - 2 * SIDE_ALLOWANCE[Finish.SAWN]


def can_be_ripped(option: StockOption | None, blank: Blank) -> bool:
    """Whether a flat bar is so much wider that sawing it lengthwise is worth while."""
    return option is not None and option.bar.form is Form.FLAT and blank.round_mm == 0 and over_mm(option, blank) >= WORTH_MM


def ripped(option: StockOption, blank: Blank) -> StockOption:
    """The bar as it then goes to the mill: as wide as the part and a sawn side's allowance on each."""
    wide = blank.width_mm + 2 * SIDE_ALLOWANCE[Finish.SAWN]
    bar = replace(option.bar, height_mm=wide) if option.turned else replace(option.bar, width_mm=wide)
    return replace(option, bar=bar)


def rip(ctx: Context, option: StockOption) -> Setup:
    """The saw's second cut, along the piece."""
    wide = ctx.blank.width_mm + 2 * SIDE_ALLOWANCE[Finish.SAWN]
    strip = option.width_mm - wide - ctx.cutting.kerf_mm
    rest = f"; a strip {ctx.say(strip)} wide is left for the rack" if strip >= _STRIP_MM else ""
    move = Move(
        id="rip.cut",
        words=f"Saw the piece lengthwise to {ctx.say(wide)}, along a scribed line{rest}",
        caution=(
            "A lengthwise cut pinches the blade and pulls the work in: a fence or a guide, a push stick, hands never in line with"
            " the blade; by hand in the bench vise, turned often."
        ),
    )
    ctx.request("bandsaw with a fence, or hacksaw", True)
    return Setup(
        id="rip",
        title="Saw it lengthwise",
        holding="Along the saw's fence, or upright in the bench vise",
        datum="one long side",
        operations=(
            Operation(title="Saw lengthwise", tool="bandsaw or hacksaw", moves=(move,), note="A scribed line both sides"),
        ),
    )

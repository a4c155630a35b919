"""Make or buy: minutes at a rate, stock and tools against a price, and which assumption decides it. Money in the shop's own."""

from __future__ import annotations

import math

from msgspec import Struct

from elbrix.making.costs import Costs
from elbrix.making.minutes import plan_minutes
from elbrix.making.plan import Plan
from elbrix.results.checks import Check, Limits
from elbrix.results.figures import Derivation, format_number


class MakeOrBuy(Struct, frozen=True, kw_only=True):
    """Making one against buying one."""

    made: float  #: costs of one
    price: float
    minutes: float  #: for one
    decides: str  #: the assumption that turns it soonest
    turns_at: float  #: value of that assumption from which on it is the other way about

    @property
    def make(self) -> bool:
        return self.made <= self.price


def compared(minutes: float, pieces: int, costs: Costs) -> MakeOrBuy | None:
    """Both sides for one piece; None without a price or without a rate.

    Args:
        minutes: Of the whole batch.
    """
    if costs.price <= 0 or costs.rate <= 0:
        return None
    each = minutes / pieces
    labour, tools = each / 60 * costs.rate, costs.tools / pieces
    made = labour + costs.stock + tools
    left = costs.price - made
    # By how much of itself each assumption has to be wrong to turn it round; the least decides.
    parts = (
        ("minutes for one", labour, each),
        ("stock for one", costs.stock, costs.stock),
        ("tools to buy", tools, costs.tools),
        ("price asked", -costs.price, costs.price),
    )
    turning = [(abs(left / s), words, value * (1 + left / s)) for words, s, value in parts if s and 1 + left / s >= 0]
    _, words, at = min(turning, default=(math.inf, "minutes for one", each))
    return MakeOrBuy(made=made, price=costs.price, minutes=each, decides=words, turns_at=at)


def make_or_buy(plan: Plan, costs: Costs) -> Check | None:
    """As a check of a plan; None where nothing can be compared."""
    pieces = max(1, len(plan.pieces))
    minutes = plan_minutes(plan)
    found = compared(minutes, pieces, costs)
    if found is None:
        return None
    n = format_number
    missing = [k.words for k in plan.kit if not k.owned]
    tools = f"; not in the shop: {', '.join(missing[:3])}" if missing and not costs.tools else ""
    word = "make" if found.make else "buy"
    return Check(
        key="make_or_buy",
        label="Made over bought",
        value=found.made / found.price,
        unit="×",
        limits=Limits(marginal_above=1.0),
        text=f"{word}: {n(found.made, 2)} against {n(found.price, 2)}",
        reason=(
            f"{word}: one made costs {n(found.made, 2)}, one bought {n(found.price, 2)}; it hangs on the {found.decides}: from"
            f" {n(found.turns_at, 1)} on it is the other way about{tools}"
        ),
        derivation=Derivation(
            "(minutes/pieces/60·rate + stock + tools/pieces)/price",
            f"({n(minutes, 1)}/{pieces}/60·{n(costs.rate)} + {n(costs.stock)} + {n(costs.tools)}/{pieces})/{n(costs.price)}",
            "minutes as planned, hands included; guidance",
        ),
    )

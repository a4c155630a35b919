"""What making and buying cost, kept in the book, so it stands apart from the plan it is weighed against."""

from __future__ import annotations

from msgspec import Struct


class Costs(Struct, frozen=True, kw_only=True):
    """Amounts in the shop's own money, as typed; 0: not said."""

    price: float = 0.0  #: asked for one bought
    rate: float = 0.0  #: of an hour at the machine
    stock: float = 0.0  #: metal for one
    tools: float = 0.0  #: that would have to be bought for it, all together

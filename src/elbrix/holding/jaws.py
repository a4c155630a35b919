"""What every vise asks, of whatever build: which one, parallels under the work, how its moving jaw grips."""

from __future__ import annotations

from collections.abc import Sequence

from elbrix.holding.layout import Piece
from elbrix.parameters.parameter import Kind, Parameter, ParameterValue, Values
from elbrix.results.figures import Derivation, Origin, format_number
from elbrix.results.length_text import length
from elbrix.shop.gauges import Parallel
from elbrix.shop.shop import Shop
from elbrix.shop.workholding import Vise


def vise_parameter(owned: Sequence[Vise]) -> Parameter:
    return Parameter(name="vise", label="Vise", kind=Kind.CHOICE, unit="", choices=tuple((v.id, v.title) for v in owned))


def vise_named(values: Values, owned: Sequence[Vise]) -> Vise:
    """The chosen one, or the first."""
    return next((v for v in owned if v.id == values.word("vise")), owned[0])


def parallels_parameter(shop: Shop, without: str, usually: str = "") -> Parameter:
    """Pairs of parallels, and what it is without them."""
    pairs = (
        ("", f"none: {without}"),
        *((p.id, f"{length(p.height_mm)} high, {length(p.thickness_mm)} thick") for p in shop.parallels if p.count > 1),
    )
    return Parameter(name="parallels", label="Parallels", kind=Kind.CHOICE, unit="", choices=pairs, usually=usually)


def parallels_named(values: Values, shop: Shop) -> Parallel | None:
    """The chosen pair; None without."""
    return next((p for p in shop.parallels if p.id == values.word("parallels")), None)


def jaw_friction_parameter() -> Parameter:
    return Parameter(name="jaw_friction", label="Moving jaw friction", kind=Kind.NUMBER, unit="", low=0, high=0.5, step=0.05)


def usual_jaw_friction() -> ParameterValue:
    return ParameterValue(0.1, Origin.ASSUMED, derivation=Derivation("", "", "a plain ground jaw, on the careful side"))


def grip_derivation(jaw_top_mm: float, piece: Piece) -> Derivation:
    """How much of the work's height is between the jaws: what they reach up past its underside, or all of it."""
    if piece.top_mm < jaw_top_mm:
        return Derivation("work height, all of it between the jaws", format_number(piece.height_mm, 2))
    return Derivation("jaw top − underside", f"{format_number(jaw_top_mm, 2)} − {format_number(piece.bottom_mm, 2)}")

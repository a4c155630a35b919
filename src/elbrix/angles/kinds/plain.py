"""What the plainer kinds share: assumed values, live sizes."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from elbrix.angles.setup import AngleSetup
from elbrix.parameters.parameter import Parameter, ParameterValue, Values, figure_of, merge_choices
from elbrix.quantities.errors import EntryError, ShopError
from elbrix.results.figures import Derivation, Figure, Origin
from elbrix.shop.shop import Shop


class PlainKind:
    """A kind whose sizes settle on their own steps."""

    def settle(self, setting: AngleSetup, shop: Shop, name: str, value: float, holder: str = "") -> str:
        return f"{value:.6f}".rstrip("0").rstrip(".")


def assumed(value: float | str | int, why: str = "type what the drawing says") -> ParameterValue:
    """A value nobody gave yet."""
    return ParameterValue(value, Origin.ASSUMED, derivation=Derivation("", "", why))


def propose_plain(chosen: Mapping[str, ParameterValue], defaults: Mapping[str, float | str | int]) -> Values:
    """Defaults with what was chosen laid over them."""
    return Values(merge_choices(chosen, {name: assumed(value) for name, value in defaults.items()}))


def parameter_figures(parameters: Sequence[Parameter], values: Values) -> list[Figure]:
    """Every value as a figure of the card."""
    return [figure_of(p, values[p.name]) for p in parameters]


def beside(error: ShopError, entry: str) -> EntryError:
    """The same message beside an entry."""
    return EntryError(error.where, error.what, error.why, error.do, entry)

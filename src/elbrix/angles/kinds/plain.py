"""What the plainer kinds share: assumed values, live sizes."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from elbrix.angles.setup import Setting
from elbrix.parameters.parameter import Given, Parameter, Values, figure_of, settled
from elbrix.quantities.errors import EntryError, ShopError
from elbrix.results.figures import Figure, Origin, Working
from elbrix.shop.shop import Shop


class PlainKind:
    """A kind whose sizes settle on their own steps."""

    def settle(self, setting: Setting, shop: Shop, name: str, value: float, holder: str = "") -> str:
        return f"{value:.6f}".rstrip("0").rstrip(".")


def assumed(value: float | str | int, why: str = "type what the drawing says") -> Given:
    """A value nobody gave yet."""
    return Given(value, Origin.ASSUMED, working=Working("", "", why))


def propose_plain(chosen: Mapping[str, Given], defaults: Mapping[str, float | str | int]) -> Values:
    """Defaults with what was chosen laid over them."""
    return Values(settled(chosen, {name: assumed(value) for name, value in defaults.items()}))


def parameter_figures(parameters: Sequence[Parameter], values: Values) -> list[Figure]:
    """Every value as a figure of the card."""
    return [figure_of(p, values[p.name]) for p in parameters]


def beside(error: ShopError, entry: str) -> EntryError:
    """The same message beside an entry."""
    return EntryError(error.where, error.what, error.why, error.do, entry)

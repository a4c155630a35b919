"""What a family proposes.

One value after the other, each with where it came from; what was chosen wins, and what follows uses it.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from typing import TypeVar, cast

from elbrix.parameters.parameter import Parameter, ParameterValue, Values
from elbrix.quantities.readings import Readings
from elbrix.results.figures import Derivation, Origin

T = TypeVar("T", float, str, int, Readings)


class Proposal:
    """Gathers the values of a design. Every call gives the value in force: the chosen one, else the proposed one."""

    def __init__(self, chosen: Mapping[str, ParameterValue]) -> None:
        self._chosen = chosen
        self._given: dict[str, ParameterValue] = {}

    def assume(self, name: str, value: T, note: str = "") -> T:
        """Nothing is known: a usual value, marked as assumed."""
        return self._settle(name, value, ParameterValue(value, Origin.ASSUMED, note=note))

    def measure(self, name: str, value: T, note: str, *, known: bool = True) -> T:
        """As measured in Shop; assumed after all when it is not `known`."""
        return self._settle(name, value, ParameterValue(value, Origin.MEASURED if known else Origin.ASSUMED, note=note))

    def choose(self, name: str, value: T, note: str = "") -> T:
        """Somebody's choice, not a size."""
        return self._settle(name, value, ParameterValue(value, Origin.CHOSEN, note=note))

    def work(self, name: str, value: T, formula: str, numbers: str, why: str = "") -> T:
        """Worked out from what is known."""
        return self._settle(name, value, ParameterValue(value, Origin.CALCULATED, derivation=Derivation(formula, numbers, why)))

    def now(self, name: str) -> float | str:
        """A value settled before."""
        value = self._given[name].value
        assert not isinstance(value, Readings)
        return value

    def _settle(self, name: str, value: T, given: ParameterValue) -> T:
        self._given[name] = self._chosen.get(name, given)
        now = self._given[name].value
        return cast(T, float(now) if isinstance(value, float) and isinstance(now, int) else now)

    def values(self, parameters: Iterable[Parameter]) -> Values:
        """Everything gathered, in the order of asking."""
        return Values({p.name: self._given[p.name] for p in parameters})

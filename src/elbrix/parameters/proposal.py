"""What a family proposes.

One value after the other, each with where it came from; what was chosen wins, and what follows uses it.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Mapping
from typing import TypeVar, cast

from msgspec.structs import replace

from elbrix.parameters.parameter import Parameter, ParameterValue, Values
from elbrix.quantities.errors import ShopError
from elbrix.quantities.lengths import fine_step, round_down, round_to_step, round_up
from elbrix.quantities.readings import Readings
from elbrix.quantities.sentences import sentence
from elbrix.results.figures import Derivation, FormulaLine, Origin, format_number
from elbrix.results.formulas import Worked, shown_as

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
        """Found by no formula: a name of a list, places, what a search found. How, in words, and the same with numbers."""
        return self._settle(name, value, ParameterValue(value, Origin.CALCULATED, derivation=Derivation(formula, numbers, why)))

    def torque(self, name: str, by: Worked, step: float, *, unit: str = "N·m") -> float:
        """What may be tightened, N·m: never rounded up. Where little is allowed the step is a tenth.

        Args:
            unit: "" where the formula comes to N·m and not to N·mm.
        """
        return self.reckon(name, by, unit=unit, down=fine_step(shown_as(by, unit), step), least=step / 20)

    def rounded(self, name: str, value: float, by: Worked) -> float:
        """By its formula, rounded and kept within bounds elsewhere, by a rule that others use too."""
        return self._settle(name, value, _calculated(value, by, by.value))

    def reckon(
        self,
        name: str,
        by: Worked,
        *,
        unit: str = "mm",
        up: float = 0.0,
        down: float = 0.0,
        near: float = 0.0,
        least: float = -math.inf,
        most: float = math.inf,
    ) -> float:
        """By its formula, rounded, and within bounds; both are said where they change anything.

        Args:
            unit: "N·m" where the formula comes to N·mm.
            up, down, near: Step it is rounded to, one of them.
            least, most: Bounds.

        Raises:
            ShopError: The formula comes to no number, and nothing was chosen.
        """
        exact = value = shown_as(by, unit)
        if not math.isfinite(exact):
            if name not in self._chosen:
                raise ShopError(
                    sentence(name.replace("_", " ")),
                    "what was typed leaves no size to propose",
                    f"{by.derivation.formula} is {by.derivation.with_numbers}",
                    "Change one of these, or type the size itself",
                    name,
                )
            exact = value = 0.0  # nothing is proposed beside what was chosen
        if up:
            value = round_up(value, up)
        elif down:
            value = round_down(value, down)
        elif near:
            value = round_to_step(value, near)
        value = max(least, min(most, value))
        return self._settle(name, value, _calculated(value, by, exact))

    def now(self, name: str) -> float | str:
        """A value settled before."""
        value = self._given[name].value
        assert not isinstance(value, Readings)
        return value

    def so_far(self) -> dict[str, ParameterValue]:
        """What is settled by now."""
        return dict(self._given)

    def _settle(self, name: str, value: T, given: ParameterValue) -> T:
        self._given[name] = self._chosen.get(name, given)
        now = self._given[name].value
        return cast(T, float(now) if isinstance(value, float) and isinstance(now, int) else now)

    def values(self, parameters: Iterable[Parameter]) -> Values:
        """Everything gathered, in the order of asking."""
        return Values({p.name: self._given[p.name] for p in parameters})


def _calculated(value: float, by: Worked, exact: float) -> ParameterValue:
    """What was made of a formula: "0.65·6 = 3.9, up to 4"."""
    how, middle, made = by.derivation, format_number(exact), format_number(value)
    if made != middle and isinstance(how.line, FormulaLine):
        same = "" if how.line.template == "{0}" else f" = {middle}"
        how = replace(how, line=replace(how.line, then=f"{same}, {'up' if value > exact else 'down'} to {made}"))
    return ParameterValue(value, Origin.CALCULATED, derivation=how)

"""Readings by place, and how far a sum of them may be off."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from typing import Final

from msgspec import Struct

from elbrix.drawing.scene import Point
from elbrix.instruments.lines import Quantity
from elbrix.metrology.repeats import repeat, student_95
from elbrix.results.figures import format_number

#: Of a normal distribution, two-sided.
K_95: Final = 1.96
#: So many readings more than places, and their scatter says something about the noise of one.
_ENOUGH: Final = 4
#: Readings that are all alike tell of the last digit, not of no error: no place is surer against another than this share of
#: a tool's uncertainty, whose steps are a third of it as a rule.
_STEP: Final = 0.3
#: At one place.
MAX_TIMES: Final = 20


class Taken(Struct, frozen=True, kw_only=True):
    """One reading: mm, or degrees of an angle, or °C; its uncertainty at 95 % in the same unit, 0 when it did not say."""

    value: float
    u: float = 0.0
    tool: str = ""
    on: str = ""  #: ISO date and time


Readings = Mapping[str, tuple[Taken, ...]]


class Place(Struct, frozen=True, kw_only=True):
    """Where to touch. `low` and `high` are what makes sense there, in the unit of its readings."""

    key: str
    label: str
    quantity: Quantity
    at: Point  #: in the picture
    times: int = 1
    low: float = -1e4
    high: float = 1e4
    axis: str = ""  #: of a readout
    unit: str = "mm"  #: "mm", "deg" or "°C"
    spot: tuple[float, ...] = ()  #: where it is on the thing, mm or degrees


class Odd(Struct, frozen=True, kw_only=True):
    """A reading that does not belong with the others of its place."""

    place: Place
    number: int  #: from 1
    value: float


class Sheet:
    """The readings of an inspection as far as they have come."""

    def __init__(self, places: Sequence[Place], readings: Readings, reading_u: float) -> None:
        """Lay readings out.

        Args:
            places: In measuring order.
            readings: By place; of places that are not there they wait.
            reading_u: 95 % uncertainty of a reading that came without its own.
        """
        self.places = tuple(places)
        self.readings = {p.key: readings.get(p.key, ()) for p in self.places}
        self.reading_u = reading_u
        self._noise = self._pooled()

    # --- how far it has come -----------------------------------------------------------------------------------------

    @property
    def missing(self) -> tuple[Place, ...]:
        """Places with fewer readings than they need."""
        return tuple(p for p in self.places if len(self.readings[p.key]) < p.times)

    @property
    def complete(self) -> bool:
        return not self.missing

    @property
    def taken(self) -> int:
        return sum(len(r) for r in self.readings.values())

    @property
    def wanted(self) -> int:
        return sum(max(p.times, len(self.readings[p.key])) for p in self.places)

    @property
    def tools(self) -> tuple[str, ...]:
        """Everything that was measured with, by name."""
        return tuple(sorted({t.tool for r in self.readings.values() for t in r if t.tool}))

    # --- values ------------------------------------------------------------------------------------------------------

    def has(self, key: str) -> bool:
        return bool(self.readings.get(key))

    def values(self, key: str) -> tuple[float, ...]:
        return tuple(t.value for t in self.readings[key])

    def mean(self, key: str) -> float:
        """Of a place that was read."""
        values = self.values(key)
        return math.fsum(values) / len(values)

    def means(self) -> list[float]:
        return [self.mean(p.key) for p in self.places]

    def odd(self) -> tuple[Odd, ...]:
        """Readings that differ from the others of their place by more than chance and the tool's own steps explain."""
        found = []
        for place in self.places:
            taken = self.readings[place.key]
            if len(taken) < 3:
                continue
            which = repeat([t.value for t in taken]).outlier
            if which is None:
                continue
            others = [t.value for i, t in enumerate(taken) if i != which]
            off = abs(taken[which].value - math.fsum(others) / len(others))
            if off > 2 * self._u(taken[which]):  # grains of the last digit alone are no fault
                found.append(Odd(place=place, number=which + 1, value=taken[which].value))
        return tuple(found)

    # --- uncertainty -------------------------------------------------------------------------------------------------

    def u_of(self, parts: Mapping[str, float]) -> float:
        """95 % half width of Σ c·mean(place).

        A reading's uncertainty is part its tool's own fixed error, which a difference of two readings of that tool
        does not feel and a mean of many does not lose, and part noise, of which it is the other way about. The noise
        is taken from readings repeated at one place when there are enough of them; otherwise whichever split is worse.

        Args:
            parts: Coefficient of each place; places without a reading count nothing.
        """
        by_tool: dict[str, list[tuple[float, tuple[Taken, ...]]]] = {}
        for key, share in parts.items():
            taken = self.readings.get(key, ())
            if taken and share:
                by_tool.setdefault(taken[0].tool, []).append((share, taken))
        total = 0.0
        for terms in by_tool.values():
            variance = max((self._u(t) / K_95) ** 2 for _, taken in terms for t in taken)
            shared = sum(share for share, _ in terms) ** 2
            if self._noise is None:  # nothing says that more readings at one place are worth more than one
                total += variance * max(sum(share * share for share, _ in terms), shared)
            else:
                noise, sure = self._noise
                fixed = variance - noise**2 if noise**2 <= variance else variance / 4
                total += sum(share**2 * max((noise * sure) ** 2 / len(taken), _STEP**2 * variance) for share, taken in terms)
                total += fixed * shared
        return K_95 * math.sqrt(total)

    @property
    def sigma(self) -> float:
        """Standard deviation of the mean of a place against the other places; for fits."""
        counts = [len(self.readings[p.key]) for p in self.places if self.has(p.key)]
        worst = max((self._u(t) for r in self.readings.values() for t in r), default=self.reading_u) / K_95
        if self._noise is None:
            return worst
        return max(self._noise[0] * self._noise[1] / math.sqrt(min(counts, default=1)), _STEP * worst)

    def _u(self, taken: Taken) -> float:
        return taken.u or self.reading_u

    def _pooled(self) -> tuple[float, float] | None:
        """Standard deviation of one reading from the scatter within places, and what few of them cost; None from too few."""
        squares, free = 0.0, 0
        for taken in self.readings.values():
            if len(taken) > 1:
                mean = math.fsum(t.value for t in taken) / len(taken)
                squares += math.fsum((t.value - mean) ** 2 for t in taken)
                free += len(taken) - 1
        return (math.sqrt(squares / free), student_95(free) / K_95) if free >= _ENOUGH else None


def signed(value: float, places: int = 3) -> str:
    """A deviation with its sign: "+0.012"."""
    text = format_number(value, places)
    return text if text.startswith("-") or text == "0" else f"+{text}"

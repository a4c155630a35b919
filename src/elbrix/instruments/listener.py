"""Who listens: every line is a reading, is set aside with its reason, or is asked about. Nothing is invented, nothing lost.

The listener knows neither sockets nor windows: it is fed lines, and says what became of them.
"""

from __future__ import annotations

from collections import deque
from enum import StrEnum
from typing import Final

from msgspec import Struct

from elbrix.instruments.lines import Identity, Quantity, Reading, Trouble, parse_line
from elbrix.quantities.errors import ShopError

#: Lines kept for looking back at; older ones go.
_KEPT: Final = 1000
#: An identified instrument that reads further over its range than this share of it is out of order.
_OVER: Final = 0.02


class Fate(StrEnum):
    """What became of a line."""

    TAKEN = "taken"  #: it is in the field that asked
    ASKED = "asked about"  #: it came for the field, but is the wrong kind, or absurd there
    UNASKED = "unasked"  #: no field asked; it is kept, and lands nowhere
    REFUSED = "refused"  #: no reading, or one that was there before
    NOTED = "noted"  #: what an instrument says of itself


class Asking(Struct, frozen=True, kw_only=True):
    """What a field wants: a kind of reading, and between which values it makes sense (mm or degrees)."""

    quantity: Quantity
    low: float = -1e9
    high: float = 1e9
    axis: str = ""
    name: str = ""  #: of the place, for messages


class Heard(Struct, frozen=True, kw_only=True):
    """A line and what became of it."""

    line: str
    fate: Fate
    words: str
    reading: Reading | None = None
    trouble: bool = False  #: an instrument says that it cannot measure

    @staticmethod
    def flood(lines: int) -> Heard:
        """More came than can be heard."""
        return Heard(
            line="", fate=Fate.REFUSED, words=f"{lines:,} lines came faster than they can be heard; none of them is taken"
        )


class Listener:
    """Takes lines of any number of instruments."""

    def __init__(self) -> None:
        self.asking: Asking | None = None
        self.instruments: dict[str, Identity] = {}
        self.troubles: dict[str, str] = {}
        self._last: dict[tuple[str, str], int] = {}
        self._owner: dict[str, str] = {}
        self._log: deque[Heard] = deque(maxlen=_KEPT)

    @property
    def log(self) -> tuple[Heard, ...]:
        """The newest lines and what became of them, oldest first."""
        return tuple(self._log)

    def hear(self, line: str, source: str = "") -> Heard:
        """One line.

        Args:
            line: As it came.
            source: Which connection it came over: two instruments of one name are told apart by it.
        """
        heard = self._judge(line, source)
        self._log.append(heard)
        return heard

    def gone(self, source: str) -> None:
        """A connection ended; another instrument may have its name now, and counts from the beginning."""
        for name in [n for n, s in self._owner.items() if s == source]:
            del self._owner[name]
            for key in [k for k in self._last if k[0] == name]:
                del self._last[key]

    def _judge(self, line: str, source: str) -> Heard:
        try:
            record = parse_line(line)
        except ShopError as error:
            return Heard(line=line[:240], fate=Fate.REFUSED, words=str(error))
        owner = self._owner.setdefault(record.instrument, source)
        if owner != source:
            return Heard(
                line=line,
                fate=Fate.REFUSED,
                words=f"two instruments are called {record.instrument}: give one of them another name",
            )
        if isinstance(record, Identity):
            self.instruments[record.instrument] = record
            self.troubles.pop(record.instrument, None)
            return Heard(line=line, fate=Fate.NOTED, words=f"{record.instrument} is a {record.kind}")
        if isinstance(record, Trouble):
            self.troubles[record.instrument] = record.words
            return Heard(line=line, fate=Fate.NOTED, words=f"{record.instrument}: {record.words}", trouble=True)
        return self._reading(line, record)

    def _reading(self, line: str, reading: Reading) -> Heard:
        # A readout counts all its axes with one number.
        last = self._last.get((reading.instrument, reading.axis), -1)
        if reading.number <= last:
            why = "came twice" if reading.number == last else f"came late: number {last} was heard already"
            return Heard(line=line, fate=Fate.REFUSED, words=f"{reading.instrument}: reading {reading.number} {why}")
        self._last[reading.instrument, reading.axis] = reading.number
        known = self.instruments.get(reading.instrument)
        if known is not None:
            spare = _OVER * (known.high - known.low)
            if not known.low - spare <= reading.value <= known.high + spare:
                return Heard(
                    line=line, fate=Fate.REFUSED, words=f"{reading.instrument} reads {reading.shown}, beyond its own range"
                )
        asking = self.asking
        if asking is None:
            return Heard(line=line, fate=Fate.UNASKED, words="no field asks for a reading: it is kept here", reading=reading)
        place = asking.name or "this place"
        if reading.quantity is not asking.quantity or (asking.axis and reading.axis != asking.axis):
            wanted = f"axis {asking.axis}" if asking.axis else asking.quantity.value
            return Heard(
                line=line,
                fate=Fate.ASKED,
                words=f"{place} wants {wanted}, and {reading.instrument} sends {reading.quantity.value} {reading.axis}".strip(),
                reading=reading,
            )
        if not asking.low <= reading.value <= asking.high:
            return Heard(
                line=line,
                fate=Fate.ASKED,
                words=(
                    f"{reading.shown} {reading.unit} is absurd for {place}: between {asking.low:g} and {asking.high:g} makes"
                    " sense"
                ),
                reading=reading,
            )
        return Heard(line=line, fate=Fate.TAKEN, words=f"{reading.shown} {reading.unit} for {place}", reading=reading)

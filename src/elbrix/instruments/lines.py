"""The line protocol, version 1: one record a line, readable in a terminal. docs/instruments.md has it for strangers.

    caliper-1 length 12.053 mm ±0.02 17          id, quantity, value, unit, its own uncertainty (95 %), running number
    dial-1 deviation -0.012 mm ±0.004 3          signed, from where it was zeroed
    level-1 angle 32.50 deg ±0.05 9
    thermometer-1 temperature 21.4 C ±0.3 2
    readout-1 axis X -43.210 mm ±0.005 120       position of one axis
    caliper-1 is caliper 0.01 mm 0 150 v1        identification: kind, resolution, unit, range, protocol
    caliper-1 battery 12                         percent
    caliper-1 fault unplugged                    anything that keeps it from measuring

Commands to an instrument: `?` (identify), `zero`, `unit mm` or `unit in`.
"""

from __future__ import annotations

import math
from enum import StrEnum
from typing import Final

from msgspec import Struct

from elbrix.quantities.errors import ShopError
from elbrix.quantities.grammar import clip
from elbrix.quantities.patterns import Pattern

VERSION: Final = 1
LONGEST_LINE: Final = 200
ID: Final = Pattern(r"[a-z][a-z0-9]*(?:-[a-z0-9]+)*")
_NUMBER: Final = Pattern(r"[+-]?(?:[0-9]{1,9})(?:\.[0-9]{1,9})?")
_COUNT: Final = Pattern(r"[0-9]{1,12}")
_MM_PER: Final = {"mm": 1.0, "in": 25.4, "µm": 0.001}
_DEG_PER: Final = {"deg": 1.0, "rad": 180.0 / math.pi}
_C_PER: Final = {"C": 1.0}
_AXES: Final = frozenset("XYZABCW")
#: Beyond this nothing of a shop reads, mm or degrees.
_MAX: Final = 100_000.0


class Quantity(StrEnum):
    """What an instrument measures."""

    LENGTH = "length"
    DEVIATION = "deviation"
    ANGLE = "angle"
    AXIS = "axis"
    TEMPERATURE = "temperature"

    @property
    def units(self) -> dict[str, float]:
        """What it may be sent in → how many mm, degrees or °C each is."""
        return {Quantity.ANGLE: _DEG_PER, Quantity.TEMPERATURE: _C_PER}.get(self, _MM_PER)


class Reading(Struct, frozen=True, kw_only=True):
    """One reading.

    Attributes:
        instrument: Id.
        quantity: What it measures.
        value: mm, or degrees of an angle, or °C.
        u: Its own uncertainty, 95 %, in the same unit.
        number: Running number of the instrument.
        axis: Of a readout.
        unit: As it was sent: "mm", "in", "deg" …
        shown: The number as it was sent.
    """

    instrument: str
    quantity: Quantity
    value: float
    u: float
    number: int
    axis: str = ""
    unit: str = "mm"
    shown: str = ""

    @property
    def typed(self) -> str:
        """As it would be typed."""
        return f"{self.shown}°" if self.quantity is Quantity.ANGLE else f"{self.shown} {self.unit}"


class Identity(Struct, frozen=True, kw_only=True):
    """What an instrument says it is; resolution and range in mm, degrees or °C."""

    instrument: str
    kind: str
    resolution: float
    low: float
    high: float
    unit: str

    @property
    def quantity(self) -> Quantity:
        """What an instrument of its kind measures."""
        return QUANTITY_OF.get(self.kind, Quantity.LENGTH)


class Trouble(Struct, frozen=True, kw_only=True):
    """A flat battery or a fault."""

    instrument: str
    what: str  #: "battery" or "fault"
    words: str


#: What the known kinds measure; any other kind is taken for one of lengths until it sends something else.
QUANTITY_OF: Final = {
    "dial": Quantity.DEVIATION,
    "level": Quantity.ANGLE,
    "protractor": Quantity.ANGLE,
    "readout": Quantity.AXIS,
    "thermometer": Quantity.TEMPERATURE,
}

Record = Reading | Identity | Trouble


def quantity_in(line: str) -> Quantity | None:
    """What a line seems to be a reading of, before it is judged."""
    words = line.split(maxsplit=2)
    return next((q for q in Quantity if len(words) > 1 and words[1] == q.value), None)


def _refuse(line: str, why: str) -> ShopError:
    return ShopError("Instrument", f"{clip(line, 60)} is no reading", why, "Look at the instrument, and send again")


def parse_line(line: str) -> Record:
    """Read one line.

    Raises:
        ShopError: It is none of the protocol; nothing is taken from half a line.
    """
    text = line.rstrip("\r\n")
    if len(text) > LONGEST_LINE:
        raise _refuse(text, f"A line has {LONGEST_LINE} characters at most")
    words = text.split()
    if len(words) < 3:
        raise _refuse(text, "It is half a line, or an empty one")
    name, what, rest = words[0], words[1], words[2:]
    if ID.fullmatch(name) is None:
        raise _refuse(text, "It does not begin with an instrument's name, such as caliper-1")
    if what == "is":
        return _identity(text, name, rest)
    if what in ("battery", "fault"):
        return _trouble(text, name, what, rest)
    return _reading(text, name, what, rest)


def _trouble(text: str, name: str, what: str, rest: list[str]) -> Trouble:
    if what == "fault":
        return Trouble(instrument=name, what="fault", words=" ".join(rest))
    if len(rest) != 1 or _COUNT.fullmatch(rest[0]) is None or int(rest[0]) > 100:
        raise _refuse(text, "A battery has 0 to 100 percent")
    return Trouble(instrument=name, what="battery", words=f"battery at {int(rest[0])} %")


def _reading(text: str, name: str, what: str, rest: list[str]) -> Reading:
    if what not in {q.value for q in Quantity}:
        raise _refuse(text, f"It measures “{what[:20]}”, which this version does not know")
    quantity = Quantity(what)
    axis = ""
    if quantity is Quantity.AXIS:
        axis, rest = rest[0], rest[1:]
        if axis not in _AXES:
            raise _refuse(text, f"There is no axis “{axis[:8]}”")
    if len(rest) != 4:
        raise _refuse(text, "It has value, unit, uncertainty and running number, in this order")
    value, unit, spread, number = rest
    per = quantity.units.get(unit)
    if per is None:
        raise _refuse(text, f"{quantity.value} is not measured in “{unit[:8]}”")
    if _NUMBER.fullmatch(value) is None or abs(float(value)) * per > _MAX:
        raise _refuse(text, "Its value is no number an instrument shows")
    if not spread.startswith("±") or _NUMBER.fullmatch(spread[1:]) is None or float(spread[1:]) < 0:
        raise _refuse(text, "Its uncertainty is missing: ±0.02")
    if _COUNT.fullmatch(number) is None:
        raise _refuse(text, "Its running number is missing")
    return Reading(
        instrument=name,
        quantity=quantity,
        value=float(value) * per,
        u=float(spread[1:]) * per,
        number=int(number),
        axis=axis,
        unit=unit,
        shown=value,
    )


def _identity(text: str, name: str, rest: list[str]) -> Identity:
    if len(rest) != 6 or rest[5] != f"v{VERSION}":
        raise _refuse(text, f"It identifies itself as kind, resolution, unit, range and v{VERSION}")
    kind, resolution, unit, low, high, _ = rest
    per = {**_MM_PER, **_DEG_PER, **_C_PER}.get(unit)
    if per is None or any(_NUMBER.fullmatch(n) is None for n in (resolution, low, high)):
        raise _refuse(text, "Its resolution or range is no number")
    if float(resolution) <= 0 or float(low) >= float(high):
        raise _refuse(text, "Its resolution or range is nothing")
    return Identity(
        instrument=name, kind=kind, resolution=float(resolution) * per, low=float(low) * per, high=float(high) * per, unit=unit
    )


def format_line(record: Record) -> str:
    """A record as a line; values are written as they were shown.

    Raises:
        ShopError: It could not be read again.
    """
    if isinstance(record, Trouble):
        words = record.words.removeprefix("battery at ").removesuffix(" %") if record.what == "battery" else record.words
        line = f"{record.instrument} {record.what} {words}"
    elif isinstance(record, Identity):
        per = {**_MM_PER, **_DEG_PER, **_C_PER}[record.unit]
        numbers = [f"{n / per:.9f}".rstrip("0").rstrip(".") for n in (record.resolution, record.low, record.high)]
        line = f"{record.instrument} is {record.kind} {numbers[0]} {record.unit} {numbers[1]} {numbers[2]} v{VERSION}"
    else:
        per = record.quantity.units[record.unit]
        value = record.shown or f"{record.value / per:.9f}".rstrip("0").rstrip(".")
        spread = f"{record.u / per:.9f}".rstrip("0").rstrip(".")
        axis = f"{record.axis} " if record.axis else ""
        line = f"{record.instrument} {record.quantity.value} {axis}{value} {record.unit} ±{spread} {record.number}"
    parse_line(line)
    return line

"""What a family asks for, and what it was given: each value with where it came from."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable, Iterator, Mapping
from enum import StrEnum
from typing import Any, Final

from msgspec import Struct
from msgspec.structs import replace

from elbrix.parameters.places import Places, places_said, places_text, read_pairs, read_places
from elbrix.quantities.angles import angle_text, parse_angle, show_angle
from elbrix.quantities.counts import parse_count
from elbrix.quantities.dates import read_date
from elbrix.quantities.errors import EntryError, ShopError
from elbrix.quantities.grammar import LONGEST_ENTRY, clip
from elbrix.quantities.lengths import Length, entry_text, step_shown
from elbrix.quantities.names import parse_thread
from elbrix.quantities.readings import Readings
from elbrix.results.figures import Derivation, Figure, Origin, format_number
from elbrix.results.length_text import LENGTH_UNIT, length, plain
from elbrix.standards.threads import find_thread

#: In one list of whole numbers.
MAX_COUNTS: Final = 60
#: Characters of a text.
LONGEST_TEXT: Final = 2000
#: What the arithmetic of a size may leave over a limit.
_ROUNDING: Final = 1e-6


class Kind(StrEnum):
    """What sort of value a parameter takes, and what type it has in Python."""

    LENGTH = "length"  #: float, mm
    READINGS = "readings"  #: Readings, mm
    COUNT = "count"  #: int
    NUMBER = "number"  #: float in `unit`
    CHOICE = "choice"  #: str, one of `choices`
    THREAD = "thread"  #: str, a standard thread's name
    ANGLE = "angle"  #: float, radians; limits in degrees
    TEXT = "text"  #: str, as typed
    PLACES = "places"  #: str: "grid 20", or "x,y; x,y" in mm
    OUTLINE = "outline"  #: str: its corners, "x,y; x,y; x,y" in mm
    PAIRS = "pairs"  #: str: two sizes each, "20,20.06; 40,40.11" in mm; the same pair may come again
    DATE = "date"  #: str: an ISO date, or empty
    COUNTS = "counts"  #: str: some whole numbers, "80, 120, 180"


#: Lists of sizes, and how each is read.
LISTS: Final[dict[Kind, Callable[[str, str, str], Places]]] = {
    Kind.PLACES: read_places,
    Kind.OUTLINE: read_places,
    Kind.PAIRS: read_pairs,
}


class Parameter(Struct, frozen=True, kw_only=True):
    """One thing a family asks for. Order in the family is the order of asking."""

    name: str
    label: str  #: plain words, sentence case: "Neck width"
    kind: Kind
    unit: str = "mm"
    low: float = 0.0
    high: float = 1000.0
    choices: tuple[tuple[str, str], ...] = ()  #: value, words
    usually: str = ""  #: where the value normally comes from
    words: tuple[str, str] = ("larger", "smaller")  #: "wider", "narrower"
    step: float = 0.1  #: what a drag or a fix settles on, in `unit`
    feature: str = ""  #: what lights up on the plate

    def read(self, text: str, length_unit: str = "mm") -> ParameterValue:
        """Turn typed text into a value.

        Raises:
            EntryError: Unreadable, out of range, or not one of the choices; the value before it stays.
        """
        try:
            return self._read(text, length_unit)
        except ShopError as error:
            raise EntryError(error.where, error.what, error.why, error.do, self.name) from None

    def _read(self, text: str, length_unit: str) -> ParameterValue:
        if self.kind is Kind.LENGTH:
            return ParameterValue(
                Length.parse(text, length_unit, self.label, self.low, self.high).mm, Origin.CHOSEN, text.strip()
            )
        if self.kind is Kind.READINGS:
            parts = [p for p in text.split(";") if p.strip()] or [""] if len(text) < 20 * LONGEST_ENTRY else [text]
            values = tuple(Length.parse(p, length_unit, self.label, self.low, self.high).mm for p in parts)
            return ParameterValue(Readings(values_mm=values), Origin.MEASURED, text.strip())
        if self.kind is Kind.THREAD:
            return ParameterValue(find_thread(parse_thread(text, self.label), self.label).name, Origin.CHOSEN, text.strip())
        if self.kind is Kind.ANGLE:
            return ParameterValue(parse_angle(text, self.label, self.low, self.high), Origin.CHOSEN, text.strip())
        if self.kind in LISTS:
            return ParameterValue(places_text(LISTS[self.kind](text, length_unit, self.label)), Origin.CHOSEN, text.strip())
        if self.kind is Kind.COUNTS:
            return ParameterValue(self._read_counts(text), Origin.CHOSEN, text.strip())
        if self.kind is Kind.DATE:
            return ParameterValue(read_date(text, self.label), Origin.CHOSEN, text.strip())
        if self.kind is Kind.TEXT:
            if len(text) > LONGEST_TEXT:
                raise EntryError(self.label, f"{len(text):,} characters", f"{LONGEST_TEXT:,} are kept at most", "Shorten it")
            return ParameterValue(" ".join(text.split()), Origin.CHOSEN, text.strip())
        if self.kind is Kind.CHOICE:
            wanted = " ".join(text.lower().split()) if len(text) <= LONGEST_ENTRY else ""
            for value, words in self.choices:
                if wanted in (value.lower(), plain(words).lower()):
                    return ParameterValue(value, Origin.CHOSEN, text.strip())
            raise EntryError(
                self.label,
                f"{clip(text)} is none of the choices",
                "Only these have their rules worked out",
                "Pick one of: " + ", ".join(w for _, w in self.choices),
            )
        return self._read_number(text)

    def _read_counts(self, text: str) -> str:
        parts = [p for p in text.replace(";", ",").split(",") if p.strip()]
        if len(parts) > MAX_COUNTS:
            raise EntryError(self.label, f"{len(parts)} numbers", f"{MAX_COUNTS} are kept at most", "Leave some away")
        example = "Write for example 80, 120, 180, 270"
        return ", ".join(map(str, sorted({parse_count(p, self.label, int(self.low), int(self.high), example) for p in parts})))

    def _read_number(self, text: str) -> ParameterValue:
        plain = text.strip().removesuffix(self.unit).strip()
        try:
            if len(plain) > 20 or not set(plain) <= set("0123456789.-+"):
                raise ValueError
            value = int(plain) if self.kind is Kind.COUNT else float(plain)
        except ValueError:
            kind = "a whole number" if self.kind is Kind.COUNT else "a number"
            raise EntryError(
                self.label,
                f"{clip(text)} is not {kind}",
                f"It is {kind} of {self.unit}" if self.unit else f"It is {kind}",
                f"Type {kind}, without words",
            ) from None
        if not self.low <= value <= self.high:
            raise EntryError(
                self.label,
                f"{value:g} is out of range",
                f"It must be from {self.low:g} to {self.high:g} {self.unit}".rstrip(),
                "Check the digits",
            )
        return ParameterValue(value, Origin.CHOSEN, text.strip())

    def refuse_worked_out(self, given: ParameterValue) -> None:
        """A value that came of other values keeps the limits of a typed one.

        Raises:
            ShopError: It is outside them; beside its own entry.
        """
        if isinstance(given.value, str):
            return
        values = given.value.values_mm if isinstance(given.value, Readings) else (float(given.value),)
        angle, is_length = self.kind is Kind.ANGLE, self.kind in (Kind.LENGTH, Kind.READINGS)
        for value in map(math.degrees, values) if angle else values:
            if self.low - _ROUNDING <= value <= self.high + _ROUNDING:
                continue
            unit = "°" if angle else f" {LENGTH_UNIT}" if is_length else f" {self.unit}".rstrip()
            found, low, high = (length(v) if is_length else format_number(v) for v in (value, self.low, self.high))
            raise ShopError(
                self.label,
                f"{found}{unit} comes of the other sizes",
                f"It must be from {low} to {high}{unit}",
                f"Type {self.label} here, or change the sizes it comes from",
                entry=self.name,
            )

    def entry_text(self, given: ParameterValue, length_unit: str = "mm") -> str:
        """What an entry field holds when it opens: reads back as the same value."""
        if isinstance(given.value, Readings):
            return "; ".join(entry_text(v, length_unit) for v in given.value.values_mm)
        if self.kind is Kind.LENGTH:
            return entry_text(float(given.value), length_unit)
        if self.kind is Kind.ANGLE:
            return angle_text(float(given.value))
        if self.kind in LISTS:
            return places_text(LISTS[self.kind](str(given.value), "mm", self.label), length_unit)
        return f"{given.value:g}" if isinstance(given.value, float) else str(given.value)

    def shown_choice(self, value: str) -> str:
        """The words of a choice."""
        return dict(self.choices).get(value, value)


def parameter_named(parameters: Iterable[Parameter], name: str, of: str) -> Parameter:
    """A parameter by name, dashes and blanks allowed.

    Raises:
        ShopError: `of` asks for no such thing.
    """
    wanted = name.strip().lower().replace("-", "_").replace(" ", "_")
    known = tuple(parameters)
    for parameter in known:
        if parameter.name == wanted:
            return parameter
    raise ShopError(
        of, f"there is nothing called “{name}”", "It asks for: " + ", ".join(p.name for p in known), "Pick one of those"
    )


class Group(Struct, frozen=True):
    """A numbered group of the card: parameter names and figure keys in the order of asking."""

    title: str
    rows: tuple[str, ...]
    hint: str = ""
    id: str = ""  #: for whoever adds something to it; titles are only words


class ParameterValue(Struct, frozen=True):
    """One value and where it came from."""

    value: float | int | str | Readings
    origin: Origin
    text: str = ""  #: as typed
    note: str = ""  #: "Hazel, middle slot, 3 places"
    derivation: Derivation | None = None


def merge_choices(chosen: Mapping[str, ParameterValue], proposed: Mapping[str, ParameterValue]) -> dict[str, ParameterValue]:
    """What was proposed, with what was chosen laid over it."""
    return {name: chosen.get(name, given) for name, given in proposed.items()}


def figure_of(parameter: Parameter, given: ParameterValue) -> Figure:
    """A parameter's value as a figure of the card."""
    value = given.value
    if isinstance(value, Readings):
        return Figure(
            key=parameter.name,
            label=parameter.label,
            value=value.min,
            unit=parameter.unit,
            origin=given.origin,
            note=given.note,
            features=(parameter.feature,),
        )
    text = parameter.shown_choice(value) if isinstance(value, str) else ""
    if parameter.kind in LISTS:
        text = places_said(LISTS[parameter.kind](str(value), "mm", parameter.label)) or "none"
    if value == "" and not text:
        text = "none"
    number = 0.0 if isinstance(value, str) else float(value)
    if parameter.kind is Kind.ANGLE:
        whole = abs(math.degrees(number) - round(math.degrees(number))) < 1e-9
        text, number = show_angle(number, "decimal" if whole or parameter.step >= 1 else "dms"), math.degrees(number)
    absent = parameter.kind is Kind.LENGTH and number == 0 and parameter.usually.startswith("0:")
    if absent:
        text = "none"
    return Figure(
        key=parameter.name,
        label=parameter.label,
        value=number,
        unit="" if absent else parameter.unit,
        origin=given.origin,
        derivation=given.derivation,
        text=text,
        note=given.note,
        features=(parameter.feature,) if parameter.feature else (),
        step=step_shown(number, parameter.step) if parameter.kind is Kind.LENGTH else None,
    )


class Values(Mapping[str, ParameterValue]):
    """The values of a design by parameter name; immutable."""

    def __init__(self, given: Mapping[str, ParameterValue]) -> None:
        self._given = dict(given)

    def __getitem__(self, name: str) -> ParameterValue:
        return self._given[name]

    def __iter__(self) -> Iterator[str]:
        return iter(self._given)

    def __len__(self) -> int:
        return len(self._given)

    def number(self, name: str) -> float:
        value = self._given[name].value
        if isinstance(value, str | Readings):
            raise TypeError(f"{name} is no number")  # a family asking for the wrong kind is our bug
        return float(value)

    def word(self, name: str) -> str:
        return str(self._given[name].value)

    def readings(self, name: str) -> Readings:
        value = self._given[name].value
        if not isinstance(value, Readings):
            raise TypeError(f"{name} was not read at places")
        return value

    def having(self, **changed: Any) -> Values:
        """The same values with some replaced; a plain value keeps its origin."""
        given = dict(self._given)
        for name, value in changed.items():
            given[name] = value if isinstance(value, ParameterValue) else replace(given[name], value=value, text="")
        return Values(given)

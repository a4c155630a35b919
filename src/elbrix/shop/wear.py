"""What wears: readings of one size of one thing over time, how fast it goes, and when it is at its limit."""

from __future__ import annotations

from collections.abc import Iterable
from datetime import date, timedelta
from enum import StrEnum
from typing import Any, Final

from msgspec import Struct

from elbrix.quantities.errors import ShopError
from elbrix.results.checks import Check, Limits
from elbrix.results.figures import Derivation, format_number
from elbrix.results.length_text import length

#: Share of the allowed wear from which it is said, and days before the limit in which it is said.
_SHARE: Final = 0.7
_SOON_DAYS: Final = 60
#: A date further off than this is no forecast.
_FAR_DAYS: Final = 3650
#: Rounding of a limit that is met to the last digit, mm.
_EXACT_MM: Final = 1e-9
#: What Shop says of a size may differ so much from the newest reading, mm.
_SAME_MM: Final = 0.001


class After(StrEnum):
    """What was done before the reading."""

    FOUND = "as found"
    NEW = "new"
    GROUND = "reground or resharpened"


class WearReading(Struct, frozen=True, kw_only=True):
    """One size of one thing on one day."""

    id: str
    thing: str  #: its name or id
    size: str  #: which size: "Diameter"
    value_mm: float
    on: str  #: ISO date
    wanted_mm: float = 0.0  #: as it ought to be; 0: as in the readings before
    limit_mm: float = 0.0  #: how far off it may be; 0: as in the readings before
    after: After = After.FOUND

    def __post_init__(self) -> None:
        if not self.thing.strip() or not self.size.strip():
            raise ShopError(
                "Wear reading",
                "it does not say of what",
                "Readings of one size of one thing make a series",
                "Name the thing and the size",
                "thing" if not self.thing.strip() else "size",
            )

    @property
    def title(self) -> str:
        return f"{self.thing}, {self.size.lower()}"

    @property
    def series(self) -> tuple[str, str]:
        """What it belongs to."""
        return (self.thing.strip().casefold(), self.size.strip().casefold())

    @property
    def day(self) -> date | None:
        try:
            return date.fromisoformat(self.on)
        except ValueError:
            return None


class Wear(Struct, frozen=True, kw_only=True):
    """A series up to one of its readings, since it was last new or reground."""

    readings: tuple[WearReading, ...]  #: in order; the last is the one looked at
    wanted_mm: float
    limit_mm: float  #: 0: nobody said

    @property
    def off_mm(self) -> float:
        """Of the last reading."""
        return self.readings[-1].value_mm - self.wanted_mm

    @property
    def per_day_mm(self) -> float:
        """By the line through all readings, least squares; 0 with one, or all on one day."""
        days = [(d - self._days[0]).days for d in self._days]
        if len(days) < 2 or days[-1] == days[0]:
            return 0.0
        values = [r.value_mm for r in self.readings]
        mean_day, mean = sum(days) / len(days), sum(values) / len(values)
        spread = sum((d - mean_day) ** 2 for d in days)
        return sum((d - mean_day) * (v - mean) for d, v in zip(days, values, strict=True)) / spread

    @property
    def _days(self) -> list[date]:
        return [d for r in self.readings if (d := r.day) is not None]

    @property
    def past(self) -> bool:
        """Whether it is off by its limit already."""
        return self.limit_mm > 0 and abs(self.off_mm) >= self.limit_mm - _EXACT_MM

    def limit_on(self) -> date | None:
        """The day it is off by its limit, if it goes on like that; None where it does not get there in ten years.

        Past it, the day of the reading that said so.
        """
        rate = self.per_day_mm
        if self.past:
            return self._days[-1] if self._days else None
        if not self.limit_mm or not rate:
            return None
        goes_to = self.limit_mm if rate > 0 else -self.limit_mm
        left = (goes_to - self.off_mm) / rate
        return self._days[-1] + timedelta(days=int(left)) if 0 <= left <= _FAR_DAYS else None


def wear_of(reading: WearReading, all_readings: Iterable[WearReading]) -> Wear:
    """The series a reading belongs to, up to it."""
    own = [
        r for r in all_readings if r.series == reading.series and r.day is not None and r.on <= reading.on and r.id != reading.id
    ]
    ordered = [*sorted(own, key=lambda r: (r.on, r.id)), reading]
    wanted = next((r.wanted_mm for r in reversed(ordered) if r.wanted_mm), ordered[0].value_mm)
    limit = next((r.limit_mm for r in reversed(ordered) if r.limit_mm), 0.0)
    begins = max((i for i, r in enumerate(ordered) if r.after is not After.FOUND), default=0)
    return Wear(readings=tuple(ordered[begins:]), wanted_mm=wanted, limit_mm=limit)


def wear_checks(
    reading: WearReading, all_readings: Iterable[WearReading], said_mm: float | None = None, today: date | None = None
) -> list[Check]:
    """How far it is worn, how long it lasts, and whether Shop still says what it was.

    Args:
        said_mm: What Shop says of that size; None: Shop does not know the thing.
    """
    wear, now, n = wear_of(reading, all_readings), today or date.today(), format_number
    found: list[Check] = []
    if wear.limit_mm:
        found.append(_worn(wear))
        found.append(_lasts(wear, now))
    if said_mm is not None:
        off = reading.value_mm - said_mm
        found.append(
            Check(
                key="said",
                label="Against what Shop says",
                value=off,
                unit="mm",
                step=0.001,
                limits=Limits(marginal_below=-_SAME_MM, marginal_above=_SAME_MM),
                figures=("value_mm",),
                reason=(
                    "Shop says the same"
                    if abs(off) <= _SAME_MM
                    else f"Shop still says {length(said_mm, 4)}: correct it there, or every plan counts on it"
                ),
                derivation=Derivation("reading − Shop", f"{n(reading.value_mm, 4)} − {n(said_mm, 4)}"),
            )
        )
    return found


def _worn(wear: Wear) -> Check:
    n, share = format_number, abs(wear.off_mm) / wear.limit_mm * 100
    return Check(
        key="worn",
        label="Worn, of what is allowed",
        value=share,
        unit="%",
        limits=Limits(marginal_above=100 * _SHARE, no_above=100),
        figures=("value_mm", "wanted_mm", "limit_mm"),
        reason=(
            "well within what is allowed"
            if share <= 100 * _SHARE
            else "near its limit: regrind, resharpen or replace it soon"
            if share <= 100
            else "past its limit: regrind, resharpen or replace it before it is used where that counts"
        ),
        derivation=Derivation(
            "|reading − wanted|/limit", f"|{n(wear.readings[-1].value_mm, 4)} − {n(wear.wanted_mm, 4)}|/{n(wear.limit_mm, 4)}"
        ),
    )


def _lasts(wear: Wear, now: date) -> Check:
    on = wear.limit_on()
    days = -1 if wear.past else (on - now).days if on is not None else _FAR_DAYS
    if wear.past:
        text, reason = "past it", "it is off by what is allowed, or more: it lasts no longer"
    elif len(wear.readings) < 2 or not wear.per_day_mm:
        text, reason = "not known", "one reading tells no rate: read it again in some weeks"
    elif on is None:
        text, reason = "beyond ten years", "at this rate it does not get there"
    else:
        text = on.isoformat()
        reason = f"at {length(wear.per_day_mm * 365.25, 4)} a year, if it goes on like that"
    return Check(
        key="lasts",
        label="At its limit on",
        value=days,
        unit="",
        text=text,
        limits=Limits(0, _SOON_DAYS),
        figures=("value_mm", "on"),
        reason=reason,
        derivation=Derivation(
            "line through the readings since it was new or reground", f"{len(wear.readings)} readings", "a forecast, no promise"
        ),
    )


def said_of(reading: WearReading, things: Iterable[tuple[Any, dict[str, str]]]) -> float | None:
    """What Shop says of that size of that thing.

    Args:
        things: Each thing of the shop with its lengths: attribute by label.
    """
    name, size = reading.series
    for thing, lengths in things:
        names = {str(getattr(thing, a, "")).casefold() for a in ("id", "name", "title")}
        if name in names and size in lengths:
            return float(getattr(thing, lengths[size]))
    return None

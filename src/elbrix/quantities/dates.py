"""Dates as they are typed: year-month-day, or today."""

from __future__ import annotations

from datetime import date
from typing import Final

from elbrix.quantities.errors import EntryError
from elbrix.quantities.grammar import clip

#: Before that nothing in a shop was looked at that is still about.
_FIRST: Final = date(1900, 1, 1)


def read_date(text: str, label: str, today: date | None = None) -> str:
    """An ISO date; empty for none, "today" for today.

    Raises:
        EntryError: No date of the calendar, or one still to come.
    """
    said, now = text.strip().lower(), today or date.today()
    if not said:
        return ""
    if said == "today":
        return now.isoformat()
    do = f"Write {now.isoformat()}, or today"
    try:
        found = date.fromisoformat(said) if len(said) == len("2026-11-29") else None
    except ValueError:
        found = None
    if found is None:
        raise EntryError(label, f"{clip(text)} is no date", "Dates are written year-month-day", do)
    if not _FIRST <= found <= now:
        raise EntryError(label, f"{said} is not between {_FIRST.year} and today", "What is still to come was not done yet", do)
    return found.isoformat()

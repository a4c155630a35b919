"""What drifts or wears is looked at again: when it was last, how often, and when it is due."""

from __future__ import annotations

from datetime import date, timedelta
from typing import Final

from elbrix.results.checks import Check, Limits
from elbrix.results.figures import Derivation

#: Days before the date in which it is said beforehand.
SOON_DAYS: Final = 30


def due_on(checked_on: str, months: int) -> date | None:
    """The day a check is due: as many months on, on the same day of the month or its last; None without a date or a period.

    Args:
        checked_on: ISO date; empty: never.
        months: 0: not by the calendar.
    """
    if not months:
        return None
    try:
        on = date.fromisoformat(checked_on)
    except ValueError:
        return None
    year, month = divmod(on.month - 1 + months, 12)
    first = date(on.year + year, month + 1, 1)
    last = (first.replace(day=28) + timedelta(days=4)).replace(day=1) - timedelta(days=1)
    return min(first + timedelta(days=on.day - 1), last)


def overdue(checked_on: str, months: int, today: date | None = None) -> bool:
    """Whether a check that is wanted is past its day, or was never made."""
    due = due_on(checked_on, months)
    return bool(months) and (due is None or due < (today or date.today()))


def upkeep_checks(checked_on: str, months: int, what: str, today: date | None = None) -> list[Check]:
    """When it is due; nothing where no period was chosen.

    Args:
        what: What to do then: "against gauge blocks".
    """
    if not months:
        return []
    due, now = due_on(checked_on, months), today or date.today()
    days = (due - now).days if due is not None else -1
    reason = (
        f"no check is on record: compare it {what}, and enter the date"
        if due is None
        else f"overdue since {due.isoformat()}: compare it {what} before it is trusted"
        if days < 0
        else f"due on {due.isoformat()}: compare it {what}"
        if days < SOON_DAYS
        else f"not before {due.isoformat()}"
    )
    return [
        Check(
            key="upkeep",
            label="Days to the next check",
            value=days,
            unit="",
            limits=Limits(0, SOON_DAYS),
            text="never checked" if due is None else f"{days}" if days >= 0 else f"{-days} late",
            figures=("checked_on", "check_months"),
            reason=reason,
            derivation=Derivation(
                "last check + period − today",
                f"{checked_on or 'never'} + {months} months − {now.isoformat()}",
                "a period of the shop's own; the maker's and the standard's come first",
            ),
        )
    ]

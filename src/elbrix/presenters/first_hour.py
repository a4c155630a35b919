"""The first hour with a book of one's own: from a measured slot to a labelled drawer, and how far it has come."""

from __future__ import annotations

from msgspec import Struct

from elbrix.book.documents import DesignDoc, JobDoc
from elbrix.book.store import Book

#: What the book remembers when the tour was put away.
SETTING = "first_hour"
AWAY = "away"


class TourStep(Struct, frozen=True):
    """One thing to do, on the toolmaker's own work."""

    words: str
    bench: str  #: where
    done: bool


def first_hour(book: Book) -> tuple[TourStep, ...]:
    """The steps, none when all is done or it was put away."""
    if book.setting(SETTING) == AWAY:
        return ()
    steps = (
        TourStep("Measure a slot", "shop", any(s.measured for m in book.shop.machines for s in m.slots)),
        TourStep("Design what fits", "design", bool(book.ids(DesignDoc))),
        TourStep(
            "Tick the first cut", "make", any(job.done for job in book.each(JobDoc)) or any(d.made for d in book.each(DesignDoc))
        ),
        TourStep("Release it", "design", any(d.revisions for d in book.each(DesignDoc))),
        TourStep("Write its drawer", "catalogue", any(d.location for d in book.each(DesignDoc))),
    )
    return () if all(step.done for step in steps) else steps

"""What an accessory was used for: layouts it stands in, settings it is part of, its batches, and what was measured of it."""

from __future__ import annotations

from typing import Any, Final

from msgspec import Struct

from elbrix.book.documents import AngleDoc, DesignDoc, InspectionDoc, JobDoc, LayoutDoc, kind_of
from elbrix.book.finishing import possession_id
from elbrix.book.store import Book

#: The label of the edit that finished a batch: "6 made: T-nut for the long table".
_MADE: Final = " made: "


class DesignUse(Struct, frozen=True, kw_only=True):
    """One use, as the book knows it: nobody has to write it down."""

    on: str  #: ISO date of the last change of what it was used in
    words: str
    bench: str  #: where it can be looked at; empty for nowhere
    document: Any = None  #: what it was used in


def uses_of(doc: DesignDoc, book: Book) -> list[DesignUse]:
    """Every use of a design's pieces, the newest first."""
    owned = possession_id(doc.id)
    found = [
        _use(book, layout, f"{layout.title}: stands in the layout", "hold")
        for layout in book.all(LayoutDoc)
        if any(e.design == doc.id or _names(e.chosen, owned) for e in layout.elements)
    ]
    found += [
        _use(book, setting, f"{setting.title}: part of the setting", "angles")
        for setting in book.all(AngleDoc)
        if _names(setting.chosen, owned)
    ]
    found += [
        _use(book, layout, f"{layout.title}: held while it is made", "hold")
        for layout in book.all(LayoutDoc)
        if layout.design == doc.id
    ]
    found += [
        _use(book, seen, f"{seen.title}: {sum(map(len, seen.readings.values()))} readings", "inspect")
        for seen in book.all(InspectionDoc)
        if seen.about == doc.id
    ]
    found += [
        _use(book, job, f"being made: {len(job.done)} moves done", "make")
        for job in book.all(JobDoc)
        if job.design == doc.id and job.done
    ]
    found += [
        DesignUse(on=on[:10], words=label.partition(_MADE)[0] + " made", bench="")
        for on, label in book.history("design", doc.id)
        if _MADE in label
    ]
    return sorted(found, key=lambda use: use.on, reverse=True)


def _names(chosen: Any, id: str) -> bool:
    """Whether a thing of the shop was chosen somewhere."""
    return any(c.text == id for c in chosen.values())


def _use(book: Book, document: Any, words: str, bench: str) -> DesignUse:
    edits = book.history(kind_of(document), document.id)
    return DesignUse(on=max((on[:10] for on, _ in edits), default=""), words=words, bench=bench, document=document)

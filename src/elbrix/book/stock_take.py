"""Counting what lies in the drawers: place by place, what was found against what the book knows, and taking it over."""

from __future__ import annotations

from collections.abc import Iterable

from msgspec import Struct
from msgspec.structs import replace

from elbrix.book.documents import DesignDoc, StockTakeDoc
from elbrix.book.store import Book
from elbrix.quantities.counts import parse_count
from elbrix.shop.places import StoragePlace

#: There is one at a time; what was counted is kept as it is typed.
ID = "stock-take"
_MAX = 100_000


class CountLine(Struct, frozen=True, kw_only=True):
    """One item at its place."""

    doc: DesignDoc
    counted: int | None  #: None: not yet

    @property
    def off(self) -> int:
        """Found less known; 0 while nobody counted."""
        return self.counted - self.doc.made if self.counted is not None else 0


class PlaceLines(Struct, frozen=True, kw_only=True):
    """What lies at a place."""

    name: str  #: "" for items that are stored nowhere
    capacity: int  #: 0: not known
    lines: tuple[CountLine, ...]

    @property
    def pieces(self) -> int:
        """As counted, as known where nobody counted."""
        return sum(line.counted if line.counted is not None else line.doc.made for line in self.lines)


def stock_take(book: Book) -> StockTakeDoc:
    """The one that is under way, or a fresh one."""
    return book.get(StockTakeDoc, ID) or StockTakeDoc(id=ID)


def by_place(docs: Iterable[DesignDoc], places: Iterable[StoragePlace], counted: StockTakeDoc) -> list[PlaceLines]:
    """Every item that was made or is stored somewhere, by its place; places without items too."""
    known = sorted(places, key=lambda p: -len(p.name))  # "Drawer 12" before "Drawer 1"
    found: dict[str, list[CountLine]] = {p.name: [] for p in known}
    for doc in docs:
        if not (doc.made or doc.location or doc.id in counted.counted):
            continue
        place = next((p.name for p in known if p.holds(doc.location)), doc.location.split(",")[0].strip())
        found.setdefault(place, []).append(CountLine(doc=doc, counted=counted.counted.get(doc.id)))
    room = {p.name: p.capacity for p in known}
    return [
        PlaceLines(
            name=name,
            capacity=room.get(name, 0),
            lines=tuple(sorted(lines, key=lambda x: (x.doc.location.casefold(), x.doc.title.casefold()))),
        )
        for name, lines in sorted(found.items(), key=lambda pair: (not pair[0], pair[0].casefold()))
    ]


def count(now: StockTakeDoc, id: str, text: str, on: str) -> StockTakeDoc:
    """With one item counted; an empty text takes its count away.

    Raises:
        EntryError: No number of pieces.
    """
    others = {k: v for k, v in now.counted.items() if k != id}
    if not text.strip():
        return replace(now, counted=others)
    found = parse_count(text, "Pieces found", 0, _MAX, "Count what lies there, for example 4")
    return replace(now, counted={**others, id: found}, on=now.on or on)


def differing(places: Iterable[PlaceLines]) -> list[tuple[str, CountLine]]:
    """(place, line) of every item that was found in another number than the book knows."""
    return [(place.name, line) for place in places for line in place.lines if line.off]


def taken_over(places: Iterable[PlaceLines]) -> tuple[DesignDoc, ...]:
    """The designs with their pieces as they were counted."""
    return tuple(replace(line.doc, made=line.counted) for _, line in differing(places) if line.counted is not None)

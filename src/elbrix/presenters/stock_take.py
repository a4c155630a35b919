"""What the stock-take shows: a section for each place, a row for each item with what was found."""

from __future__ import annotations

from elbrix.book.documents import DesignDoc
from elbrix.book.stock_take import CountLine, PlaceLines, by_place, differing, stock_take
from elbrix.book.store import Book
from elbrix.items.kind import item_kinds
from elbrix.presenters.acts import Act, Verb
from elbrix.presenters.card import Button, CardView, Row, Section

#: Before the id of an item, in the key of its row.


def places_of(book: Book) -> list[PlaceLines]:
    """Everything that can be counted, by place."""
    return by_place(book.all(DesignDoc), item_kinds()["storage place"].of(book.shop), stock_take(book))


def stock_take_card(places: list[PlaceLines]) -> CardView:
    """The places in order; what differs stands out."""
    sections = [_section(place) for place in places]
    if not any(place.lines for place in places):
        sections = [
            Section(title="Nothing to count", text="No item was made or is stored anywhere yet.", numbered=False),
            *sections,
        ]
    off = len(differing(places))
    begun = any(line.counted is not None for place in places for line in place.lines)
    buttons = (
        Button(
            key="take over",
            text=f"Take over {off} difference{'' if off == 1 else 's'}" if off else "No differences",
            main=True,
            enabled=off > 0,
            tip="The book then knows what was counted, and a new stock-take begins; one undo",
        ),
        Button(key="list", text="Print differences", enabled=begun),
        Button(key="begin anew", text="Begin anew", enabled=begun, tip="Every count is forgotten; undo brings them back"),
    )
    return CardView(sections=tuple(sections), buttons=buttons)


def _section(place: PlaceLines) -> Section:
    room = f"{place.pieces} of {place.capacity}" if place.capacity else f"{place.pieces} pieces"
    over = f"▲ {place.pieces - place.capacity} more than it takes" if 0 < place.capacity < place.pieces else ""
    rows = tuple(
        Row(
            key=Act(Verb.COUNT, line.doc.id).key,
            label=f"{line.doc.title}   {_beside(line.doc, place.name)}".rstrip(),
            value=_found(line),
            placeholder=f"{line.doc.made} known",
            edit="text",
            entry_text="" if line.counted is None else str(line.counted),
            origin="measured" if line.counted is not None else "",
            strong=bool(line.off),
        )
        for line in place.lines
    )
    return Section(
        title=place.name or "Stored nowhere", hint=room if place.lines else "empty", text=over, rows=rows, numbered=False
    )


def _found(line: CountLine) -> str:
    if line.counted is None:
        return ""
    return f"{line.counted}  ({line.off:+d})".replace("-", "−") if line.off else str(line.counted)


def _beside(doc: DesignDoc, place: str) -> str:
    """Where in the place: "left" of "Drawer 3, left"."""
    return doc.location[len(place) :].strip(" ,") if place and doc.location.casefold().startswith(place.casefold()) else ""

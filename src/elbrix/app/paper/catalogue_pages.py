"""The catalogue on paper: every item with picture, use and place, and an index; and sheets of drawer labels."""

from __future__ import annotations

from msgspec import Struct
from PyQt6.QtGui import QPainter

from elbrix.app.paper.documents import drawer_label, file_name
from elbrix.app.paper.label import DrawerLabel, PlaceLabel
from elbrix.app.paper.pages import ACCENT, DISCLAIMER, LEFT, SOFT, WIDTH, Pen, page_head
from elbrix.book.designs import family_of, slot_fits, solve_doc
from elbrix.book.documents import DesignDoc
from elbrix.book.stock_take import PlaceLines
from elbrix.drawing.scene import Scene, without_words
from elbrix.quantities.errors import ShopError
from elbrix.quantities.lengths import UnitStyle
from elbrix.results.checks import Verdict
from elbrix.results.length_text import said_in
from elbrix.shop.shop import Shop

#: Items on a page, in two columns; lines of the index on a page, likewise.
_COLUMNS, _ROWS = 2, 5
_INDEX = 58
_TOP, _HIGH = 240.0, 505.0


class CatalogueItem(Struct, frozen=True, kw_only=True):
    """One item, already in words."""

    title: str
    state: str
    location: str
    lines: tuple[str, ...]
    scene: Scene | None


class CataloguePages(Struct, kw_only=True):
    """A4 upright."""

    name: str
    title: str
    items: tuple[CatalogueItem, ...]
    style: UnitStyle
    size_mm: tuple[float, float] = (210, 297)

    @property
    def _leaves(self) -> int:
        return max(1, -(-len(self.items) // (_COLUMNS * _ROWS)))

    @property
    def _entries(self) -> list[tuple[str, str, int]]:
        """(title, where it lies, page) by name."""
        pages = [(i.title, i.location, 1 + n // (_COLUMNS * _ROWS)) for n, i in enumerate(self.items)]
        return sorted(pages, key=lambda e: e[0].lower())

    @property
    def count(self) -> int:
        return self._leaves + max(1, -(-len(self.items) // (2 * _INDEX)))

    def paint(self, painter: QPainter, index: int) -> None:
        pen = Pen(painter, self.style)
        page_head(pen, self.title, f"{len(self.items)} items", "Catalogue" if index < self._leaves else "Index", self.style)
        if index < self._leaves:
            start = index * _COLUMNS * _ROWS
            for n, item in enumerate(self.items[start : start + _COLUMNS * _ROWS]):
                self._item(pen, item, LEFT + (n % _COLUMNS) * (WIDTH / 2 + 10), _TOP + (n // _COLUMNS) * _HIGH)
        else:
            self._index(pen, index - self._leaves)
        pen.line(LEFT, 2820, LEFT + WIDTH, 2820, 1)
        pen.words(LEFT, 2830, 1500, DISCLAIMER, 21, colour=SOFT)
        pen.words(LEFT + 1500, 2830, WIDTH - 1500, f"{index + 1} of {self.count}", 21, colour=SOFT, align="right")

    def _item(self, pen: Pen, item: CatalogueItem, x: float, y: float) -> None:
        wide = WIDTH / 2 - 30
        pen.line(x, y - 8, x + wide, y - 8, 1)
        if item.scene is not None:
            pen.scene(item.scene, x, y, 330, 300, lambda d: "", letters=1, stroke=1.6)
        at = y + pen.words(x + 350, y, wide - 350, item.title, 30, bold=True) + 4
        at += pen.words(x + 350, at, wide - 350, item.state, 23, colour=SOFT) + 2
        at += pen.words(x + 350, at, wide - 350, item.location or "no place written down", 25, bold=True, colour=ACCENT) + 6
        floor = y + _HIGH - 26
        for line in item.lines:
            left = at < y + 300  # beside the picture, then under it
            place, room = (x + 350, wide - 350) if left else (x, wide)
            if at + pen.height(room, line, 22) > floor:
                break
            at += pen.words(place, at, room, line, 22) + 3

    def _index(self, pen: Pen, number: int) -> None:
        lines = self._entries[number * 2 * _INDEX : (number + 1) * 2 * _INDEX]
        wide = WIDTH / 2 - 30
        for n, (title, location, page) in enumerate(lines):
            column, row = divmod(n, _INDEX)
            x, y = LEFT + column * (WIDTH / 2 + 10), _TOP + row * 43
            pen.words(x, y, 520, title if pen.fits(520, title, 24) else f"{title[:34]}…", 24)
            pen.words(
                x + 530, y, wide - 600, location if pen.fits(wide - 600, location, 20) else f"{location[:22]}…", 20, colour=SOFT
            )
            pen.words(x + wide - 60, y, 60, str(page), 24, bold=True, align="right")
            pen.line(x, y + 37, x + wide, y + 37, 1)


class LabelSheet(Struct, kw_only=True):
    """Drawer labels, many on an A4 sheet of 62 × 29 mm labels: three across, nine down."""

    name: str
    title: str
    labels: tuple[DrawerLabel | PlaceLabel, ...]
    size_mm: tuple[float, float] = (210, 297)

    @property
    def count(self) -> int:
        return max(1, -(-len(self.labels) // 27))

    def paint(self, painter: QPainter, index: int) -> None:
        for n, label in enumerate(self.labels[index * 27 : (index + 1) * 27]):
            painter.save()
            painter.translate(120 + (n % 3) * 620, 180 + (n // 3) * 290)
            label.paint(painter, 0)
            painter.restore()


def catalogue_pages(docs: list[DesignDoc], shop: Shop, style: UnitStyle, title: str) -> CataloguePages:
    """Every item by where it lies, then by name."""
    ordered = sorted(docs, key=lambda d: (not d.location, d.location.lower(), d.title.lower()))
    return CataloguePages(
        name=file_name(title, "catalogue"), title=title, items=tuple(_item(d, shop, style) for d in ordered), style=style
    )


def _item(doc: DesignDoc, shop: Shop, style: UnitStyle) -> CatalogueItem:
    state = (f"rev {doc.letter}" if doc.letter else "draft") + (f", {doc.made} in stock" if doc.made else "")
    lines: list[str] = []
    scene: Scene | None = None
    try:
        family, design = family_of(doc), solve_doc(doc, shop)
        first = next(iter(family.scenes(design)))
        scene = Scene(first.name, elements=without_words(first).elements)
        fits = [f"{f.machine}, {f.slot}" for f in slot_fits(doc, shop) if f.verdict is Verdict.GO]
        lines = [said_in(design.note_words, style), *(c.words for c in family.can_hold(design))]
        lines += [f"fits {'; '.join(fits[:4])}" + (f" and {len(fits) - 4} more" if len(fits) > 4 else "")] if fits else []
    except ShopError as error:
        lines = [f"does not solve: {error.what}"]
    lines += [doc.notes] if doc.notes else []
    lines += [f"{lesson.on}: {lesson.text}" for lesson in reversed(doc.lessons)]
    return CatalogueItem(title=doc.title, state=state, location=doc.location, lines=tuple(p for p in lines if p), scene=scene)


def label_sheet(docs: list[DesignDoc], shop: Shop, style: UnitStyle) -> LabelSheet:
    """A label for every item that solves, by drawer."""
    found = []
    for doc in sorted(docs, key=lambda d: (not d.location, d.location.lower(), d.title.lower())):
        try:
            found.append(drawer_label(doc, shop, style))
        except ShopError:
            continue  # it cannot be made either
    return LabelSheet(name=file_name("labels", "sheet"), title="Drawer labels", labels=tuple(found))


def place_sheet(places: list[PlaceLines]) -> LabelSheet:
    """A label for every drawer and box, with what lies in it."""
    labels = tuple(
        PlaceLabel(name=file_name(p.name, "label"), title=p.name, lines=tuple(line.doc.title for line in p.lines))
        for p in places
        if p.name
    )
    return LabelSheet(name=file_name("places", "sheet"), title="Labels of places", labels=labels)

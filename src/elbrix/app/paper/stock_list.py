"""The difference list of a stock-take: what was found against what the book knew, by place."""

from __future__ import annotations

from typing import Final

from msgspec import Struct
from PyQt6.QtGui import QPainter

from elbrix.app.paper.pages import DISCLAIMER, LEFT, SOFT, WIDTH, Pen
from elbrix.book.stock_take import PlaceLines, differing
from elbrix.quantities.lengths import METRIC

_ROWS: Final = 58
_LINE: Final = 42.0
_COLUMNS: Final = ((0.0, 460.0), (480.0, 820.0), (1320.0, 160.0), (1500.0, 160.0), (1680.0, 180.0))
_HEAD: Final = ("Place", "Item", "Known", "Found", "Off")


class StockList(Struct, kw_only=True):
    """A4 upright."""

    name: str
    title: str
    on: str
    lines: tuple[tuple[str, str, int, int], ...]  #: place, item, known, found
    left: int  #: items nobody counted yet
    size_mm: tuple[float, float] = (210, 297)

    @property
    def count(self) -> int:
        return max(1, -(-len(self.lines) // _ROWS))

    def paint(self, painter: QPainter, index: int) -> None:
        pen = Pen(painter, METRIC)
        pen.words(LEFT, 110, 1300, self.title, 48, bold=True)
        said = f"{len(self.lines)} differ" + (f", {self.left} not counted yet" if self.left else "")
        pen.words(LEFT, 178, 1300, f"{self.on}   ·   {said}".lstrip(" ·"), 26, colour=SOFT)
        pen.line(LEFT, 226, LEFT + WIDTH, 226, 3)
        y = 250.0
        self._row(pen, y, _HEAD, bold=True)
        for place, item, known, found in self.lines[index * _ROWS : (index + 1) * _ROWS]:
            y += _LINE
            self._row(pen, y, (place, item, str(known), str(found), f"{found - known:+d}".replace("-", "−")))
        if not self.lines:
            pen.words(LEFT, y + _LINE, WIDTH, "Everything that was counted is as the book knows it.", 26)
        pen.words(LEFT, 2735, 900, "Counted by", 23, colour=SOFT)
        pen.line(LEFT + 190, 2775, LEFT + 900, 2775, 1)
        pen.line(LEFT, 2820, LEFT + WIDTH, 2820, 1)
        pen.words(LEFT, 2830, 1500, DISCLAIMER, 21, colour=SOFT)
        pen.words(LEFT + 1500, 2830, WIDTH - 1500, f"{index + 1} of {self.count}", 21, colour=SOFT, align="right")

    def _row(self, pen: Pen, y: float, cells: tuple[str, ...], *, bold: bool = False) -> None:
        for n, ((x, wide), text) in enumerate(zip(_COLUMNS, cells, strict=True)):
            while len(text) > 4 and not pen.fits(wide, text, 24, bold=bold):
                text = text[:-2].rstrip("…") + "…"  # noqa: PLW2901 - shortened until it fits
            pen.words(LEFT + x, y, wide, text, 24, bold=bold, align="right" if n > 1 else "left")
        pen.line(LEFT, y + _LINE - 6, LEFT + WIDTH, y + _LINE - 6, 1)


def stock_list(places: list[PlaceLines], on: str) -> StockList:
    """The pages of what differs."""
    lines = tuple((place or "nowhere", line.doc.title, line.doc.made, line.counted or 0) for place, line in differing(places))
    left = sum(line.counted is None for place in places for line in place.lines)
    return StockList(name="stock-take", title="Stock-take, differences", on=on, lines=lines, left=left)

"""Pages as something that can be painted, in tenths of a millimetre, and a pen to write on them with."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from typing import Final, Protocol

from msgspec import Struct, field
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QFontMetricsF, QImage, QPainter, QPen

from elbrix.app.plate.painter import PaintStyle, View, fitted, paint_scene, paper_look, place_sizes
from elbrix.app.theme.type import font
from elbrix.drawing.scene import Dimension, Scene
from elbrix.presenters.words import said_scene
from elbrix.quantities.lengths import UnitStyle
from elbrix.results.length_text import said_in

#: The column of an upright card, tenths of a millimetre.
LEFT: Final = 120.0
WIDTH: Final = 1860.0
INK, SOFT, LINE, ACCENT = "#22252c", "#68645c", "#b9b3a4", "#a84a22"
#: Scales drawings are made at, largest first. Source: ISO 5455.
STANDARD_SCALES: Final = (10.0, 5.0, 2.0, 1.0, 0.5, 0.2, 0.1, 0.05, 0.02)
#: Every printed page says who decides.
DISCLAIMER: Final = (
    "Guidance from measured sizes and stated assumptions, no certificate. The machine maker's limits, local codes and qualified"
    " people take precedence."
)


class Pages(Protocol):
    """A document to print."""

    @property
    def size_mm(self) -> tuple[float, float]:
        """Width and height."""

    @property
    def name(self) -> str:
        """File name without ending."""

    @property
    def title(self) -> str:
        """What it is about, as its head says."""

    @property
    def count(self) -> int:
        """Number of pages."""

    def paint(self, painter: QPainter, index: int) -> None:
        """Paint one page; one unit is a tenth of a millimetre, origin top left."""


def text_height(width: float, text: str, size: float, *, bold: bool = False, italic: bool = False) -> float:
    """The height of a text wrapped to a width, tenths of a millimetre."""
    flags = int(Qt.TextFlag.TextWordWrap) | int(Qt.AlignmentFlag.AlignLeft)
    metrics = QFontMetricsF(font(size, bold=bold, italic=italic))
    return metrics.boundingRect(QRectF(0, 0, width, 10000), flags, text).height()


def standard_fit(scene: Scene, w: float, h: float, text: Callable[[Dimension], str], look: PaintStyle) -> View:
    """Where a scene lies in a box at the largest scale drawings are made at."""
    view = fitted(scene, w, h, text, look, margin=20, top=10, whole_notes=True)
    scale = next((r * 10 for r in STANDARD_SCALES if r * 10 <= view.scale), view.scale)
    return view.zoomed(scale / view.scale, QPointF(w / 2, h / 2))


class Pen:
    """Writes on a page. Sizes in tenths of a millimetre.

    Args:
        style: What lengths in its words are said in, whoever wrote them.
    """

    def __init__(self, painter: QPainter, style: UnitStyle) -> None:
        self.painter, self.style = painter, style
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)

    def words(
        self,
        x: float,
        y: float,
        width: float,
        text: str,
        size: float = 32,
        *,
        bold: bool = False,
        italic: bool = False,
        colour: str = INK,
        align: str = "left",
    ) -> float:
        """Write, wrapped to a width; returns the height used."""
        text = said_in(text, self.style)
        self.painter.setFont(font(size, bold=bold, italic=italic))
        self.painter.setPen(QColor(colour))
        flag = {
            "left": Qt.AlignmentFlag.AlignLeft,
            "right": Qt.AlignmentFlag.AlignRight,
            "centre": Qt.AlignmentFlag.AlignHCenter,
        }[align]
        flags = int(flag | Qt.AlignmentFlag.AlignTop) | int(Qt.TextFlag.TextWordWrap)
        box = QRectF(x, y, width, 10000)
        used = self.painter.boundingRect(box, flags, text)
        self.painter.drawText(box, flags, text)
        return used.height()

    def height(self, width: float, text: str, size: float = 32, *, bold: bool = False, italic: bool = False) -> float:
        """The height `words` would use."""
        return text_height(width, said_in(text, self.style), size, bold=bold, italic=italic)

    def fits(self, width: float, text: str, size: float, *, bold: bool = False) -> bool:
        """Whether a text stands in a width on one line."""
        return QFontMetricsF(font(size, bold=bold)).horizontalAdvance(said_in(text, self.style)) <= width

    def line(self, x1: float, y1: float, x2: float, y2: float, width: float = 2, colour: str = LINE) -> None:
        self.painter.setPen(QPen(QColor(colour), width))
        self.painter.drawLine(QPointF(x1, y1), QPointF(x2, y2))

    def circle(self, x: float, y: float, radius: float, width: float = 2.5, colour: str = INK) -> None:
        self.painter.setPen(QPen(QColor(colour), width))
        self.painter.setBrush(Qt.BrushStyle.NoBrush)
        self.painter.drawEllipse(QPointF(x, y), radius, radius)

    def box(self, x: float, y: float, w: float, h: float, width: float = 3, colour: str = INK) -> None:
        self.painter.setPen(QPen(QColor(colour), width))
        self.painter.setBrush(Qt.BrushStyle.NoBrush)
        self.painter.drawRect(QRectF(x, y, w, h))

    def scene(
        self,
        scene: Scene,
        x: float,
        y: float,
        w: float,
        h: float,
        label: object,
        value: object = None,
        letters: float = 26,
        stroke: float = 2.2,
        standard: bool = False,
    ) -> View:
        """Draw a scene with its sizes into a box; returns where its mm lie on the page (scale 10 is full size)."""
        look, scene = paper_look(letters, stroke), said_scene(scene, self.style)

        def text(d: Dimension) -> str:
            return str(label(d)) if callable(label) else f"{d.value:.2f}"

        view = (
            standard_fit(scene, w, h, text, look)
            if standard
            else fitted(scene, w, h, text, look, margin=20, top=10, whole_notes=True)
        )
        view = view.moved(x, y)
        placed = place_sizes(scene, view, text, look)
        paint_scene(self.painter, scene, view, look, placed, value=value if callable(value) else None)
        return view

    def full_size(self, scene: Scene, x: float, y: float, left: float, top: float) -> View:
        """Draw a scene at 1 : 1, its upper left corner (left, top) at (x, y); returns where its mm lie on the page."""
        look = paper_look(22, 2.0)
        view = View(10.0, x - 10 * left, y + 10 * top)
        paint_scene(self.painter, scene, view, look, place_sizes(scene, view, lambda _: "", look))
        return view


def shown_scale(units_per_mm: float) -> str:
    """ "2 : 1" on paper, where ten units are a millimetre."""
    ratio = units_per_mm / 10
    return f"{ratio:.2g} : 1" if ratio >= 1 else f"1 : {1 / ratio:.2g}"


def page_head(pen: Pen, title: str, subtitle: str, kind: str, style: UnitStyle) -> None:
    """The head of an upright card: what it is about, which kind of card, and the unit."""
    pen.words(LEFT, 90, 1400, title, 52, bold=True)
    pen.words(LEFT, 160, 1500, subtitle, 28, colour=SOFT)
    pen.words(1480, 96, 500, kind, 30, align="right", bold=True)
    pen.words(1480, 140, 500, unit_words(style), 24, colour=SOFT, align="right")
    pen.line(LEFT, 208, LEFT + WIDTH, 208, 3, ACCENT)


def unit_words(style: UnitStyle) -> str:
    return "Sizes in mm" if style.length == "mm" else "Sizes in inches"


Painting = Callable[["Pen", float], None]  #: paints something from a y on


class Block(Struct):
    """A block of a page that flows."""

    height: float  #: tenths of a millimetre
    draw: Painting
    heading: bool = False  #: never the last of a page: what it is over comes with it


#: Where the blocks of such a page begin and end, tenths of a millimetre.
FLOW_TOP, FLOW_BOTTOM = 230.0, 2790.0


def flowed(blocks: Callable[[Pen], Iterable[Block]], style: UnitStyle) -> list[list[tuple[float, Painting]]]:
    """Blocks in pages: (y, how it is painted) of each. They are measured first, and none is split over a page."""
    image = QImage(8, 8, QImage.Format.Format_RGB32)  # outlives its painter
    measuring = QPainter(image)
    pages: list[list[tuple[float, Painting]]] = []
    page: list[tuple[float, Painting]] = []
    y = FLOW_TOP
    listed = list(blocks(Pen(measuring, style)))
    for n, block in enumerate(listed):
        if y + block.height + _with_it(listed, n) > FLOW_BOTTOM and page:
            pages.append(page)
            page, y = [], FLOW_TOP
        page.append((y, block.draw))
        y += block.height
    pages.append(page)
    measuring.end()
    return pages


def _with_it(blocks: list[Block], n: int) -> float:
    """Height of what has to stand on the page of a heading: further headings, and the first block under them; else nothing."""
    found = 0.0
    while blocks[n].heading and n + 1 < len(blocks):
        n += 1
        found += blocks[n].height
    return found


class FlowedPages(Struct, kw_only=True):
    """A4 upright, as many pages as its blocks take: nothing of them is left for the screen."""

    name: str
    size_mm: tuple[float, float] = (210, 297)
    _pages: list[list[tuple[float, Painting]]] = field(default_factory=list)

    @property
    def count(self) -> int:
        return len(self._layout())

    def paint(self, painter: QPainter, index: int) -> None:
        style = self._style()
        pen = Pen(painter, style)
        title, subtitle, kind = self._head()
        page_head(pen, title, subtitle, f"{kind}   {index + 1}/{self.count}", style)
        for y, draw in self._layout()[index]:
            draw(pen, y)
        pen.line(LEFT, 2820, LEFT + WIDTH, 2820, 1)
        pen.words(LEFT, 2830, WIDTH, DISCLAIMER, 21, colour=SOFT)

    def _layout(self) -> list[list[tuple[float, Painting]]]:
        if not self._pages:
            self._pages = flowed(self._blocks, self._style())
        return self._pages

    def _style(self) -> UnitStyle:
        raise NotImplementedError

    def _head(self) -> tuple[str, str, str]:
        """Title, what stands under it, and what kind of sheet it is."""
        raise NotImplementedError

    def _blocks(self, pen: Pen) -> Iterable[Block]:
        """What stands on the pages, from top to bottom."""
        raise NotImplementedError

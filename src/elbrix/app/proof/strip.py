"""The proof strip widget: a tile per check with its bar, worst first when something fails, and the reason on a click."""

from __future__ import annotations

import math

from PyQt6.QtCore import QEvent, QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QFontMetrics, QKeyEvent, QPainter, QPaintEvent, QPen, QPolygonF
from PyQt6.QtWidgets import QFrame, QHBoxLayout, QPushButton, QScrollArea, QSizePolicy, QVBoxLayout, QWidget

from elbrix.app.pickable import Pickable
from elbrix.app.theme.palette import LIGHT, Palette
from elbrix.app.theme.type import font
from elbrix.app.words import Label, set_tip
from elbrix.presenters.proof import Tile, Why, bar_bands

TILE_HEIGHT, TILE_WIDTH, GAP = 42, 236, 8
_HEAD, _MAX_ROWS = 24, 3


_BESIDE = 44  # of label and value: sign, edges and the space between them


class TileWidget(Pickable):
    """Name, value and bar."""

    pointed = pyqtSignal(str)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__("", parent, Qt.FocusPolicy.TabFocus)
        self.tile: Tile | None = None
        self._palette = LIGHT
        self.lit = False
        self.setFixedHeight(TILE_HEIGHT)

    def show_tile(self, tile: Tile, palette: Palette) -> None:
        if (tile, palette) == (self.tile, self._palette):
            return
        self.tile, self._palette, self.key = tile, palette, tile.key
        self.setAccessibleName(f"{tile.label} {tile.value} {tile.verdict}. {tile.reason}")
        set_tip(self, tile.reason)
        self.update()

    def whole_width(self) -> int:
        """What its label and value take side by side."""
        if self.tile is None:
            return 0
        value = QFontMetrics(font(12, bold=True)).horizontalAdvance(self.tile.value)
        return value + QFontMetrics(font(12)).horizontalAdvance(self.tile.label) + _BESIDE

    def paintEvent(self, event: QPaintEvent | None) -> None:
        if self.tile is None:
            return
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        p, t = self._palette, self.tile
        box = QRectF(self.rect()).adjusted(0.5, 0.5, -0.5, -0.5)
        painter.setBrush(QColor(p.card))
        painter.setPen(QPen(QColor(p.accent), 2) if self.hasFocus() or self.lit else Qt.PenStyle.NoPen)
        painter.drawRoundedRect(box, 4, 4)
        colour = QColor(p.verdict(t.verdict))
        painter.setPen(colour)
        painter.setFont(font(11))
        painter.drawText(QRectF(8, 2, 14, 20), Qt.AlignmentFlag.AlignCenter, t.sign)
        painter.setFont(font(12, bold=True))
        value_width = QFontMetrics(painter.font()).horizontalAdvance(t.value)
        painter.drawText(
            QRectF(0, 3, self.width() - 10, 20), Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter, t.value
        )
        painter.setFont(font(12))
        painter.setPen(QColor(p.ink))
        room = self.width() - value_width - _BESIDE
        painter.drawText(
            QRectF(26, 3, room, 20),
            Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter,
            QFontMetrics(painter.font()).elidedText(t.label, Qt.TextElideMode.ElideRight, room),
        )
        if not t.scaled:
            painter.fillRect(QRectF(10, 31, self.width() - 20, 2), QColor(p.verdict_soft(t.verdict)))
            return
        bands, at = bar_bands(t.limits, t.number)
        left, width, y = 10.0, self.width() - 20.0, 29.0
        for start, end, verdict in bands:
            painter.fillRect(QRectF(left + start * width, y, (end - start) * width, 5), QColor(p.verdict_soft(verdict)))
        x = left + at * width
        painter.setPen(QPen(colour, 2))
        painter.drawLine(QPointF(x, y - 3), QPointF(x, y + 7))
        painter.setBrush(colour)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.drawPolygon(QPolygonF([QPointF(x, y + 5), QPointF(x - 4, y + 10), QPointF(x + 4, y + 10)]))

    def enterEvent(self, event: object) -> None:
        self.pointed.emit(self.key)

    def leaveEvent(self, event: object) -> None:
        self.pointed.emit("")

    def focusInEvent(self, event: object) -> None:
        self.pointed.emit(self.key)
        super().focusInEvent(event)


class WhyPanel(QFrame):
    """Floats above the strip: why, the working, what it hinges on, and the nearest fix on a button."""

    fix_pressed = pyqtSignal(str)
    closed = pyqtSignal()

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        self.setObjectName("why")
        self.key = ""
        self._title, self._reason, self._working, self._hinge = Label(), Label(), Label(), Label()
        self._title.setObjectName("groupTitle")
        self._working.setObjectName("working")
        self._hinge.setObjectName("rowLabel")
        for label in (self._title, self._reason, self._working, self._hinge):
            label.setWordWrap(True)
        self._working.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)
        self.fix = QPushButton()
        self.fix.setObjectName("main")
        self.fix.clicked.connect(lambda: self.fix_pressed.emit(self.key))
        close = QPushButton("Close")
        close.setObjectName("plain")
        close.clicked.connect(self.closed)
        line = QHBoxLayout()
        line.addWidget(self.fix)
        line.addStretch(1)
        line.addWidget(close)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(16, 12, 16, 10)
        layout.setSpacing(6)
        for part in (self._title, self._reason, self._working, self._hinge):
            layout.addWidget(part)
        layout.addLayout(line)
        self.hide()

    def show_why(self, why: Why) -> None:
        self.key = why.key
        self._title.setText(why.title)
        self._reason.setText(why.reason)
        self._working.setText(why.derivation)
        self._working.setVisible(bool(why.derivation))
        self._hinge.setText(why.critical)
        self._hinge.setVisible(bool(why.critical))
        self.fix.setText(why.fix)
        self.fix.setVisible(bool(why.fix))
        self.show()
        self.raise_()

    def words(self) -> str:
        """Everything it says, for those who listen and for tests."""
        return " ".join(label.text() for label in (self._title, self._reason, self._working, self._hinge))

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is not None and event.key() == Qt.Key.Key_Escape:
            self.closed.emit()
        elif event is not None:
            super().keyPressEvent(event)


class ProofStrip(QWidget):
    """The tiles in columns as the width allows."""

    pressed = pyqtSignal(str)
    pointed = pyqtSignal(str)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._palette = LIGHT
        self._most_rows = _MAX_ROWS
        self._title, self._count = Label("PROOF"), Label()
        self._title.setObjectName("stripTitle")
        self._count.setObjectName("stripCount")
        head = QHBoxLayout()
        head.setContentsMargins(4, 0, 4, 0)
        head.setSpacing(16)
        head.addWidget(self._title)
        head.addWidget(self._count)
        head.addStretch(1)
        self._area = QScrollArea()
        self._area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self._area.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self._page = QWidget()
        self._area.setWidget(self._page)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(4)
        layout.addLayout(head)
        layout.addWidget(self._area, 1)
        self.tiles: list[TileWidget] = []
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setFixedHeight(_HEAD + _MAX_ROWS * (TILE_HEIGHT + GAP))
        view = self._area.viewport()
        if view is not None:
            view.installEventFilter(self)

    def sizeHint(self) -> QSize:
        return QSize(600, self.height())

    def give_way(self, room: int) -> None:
        """Take a row less where the bench is low, so that the plate above keeps its drawing; the rest scrolls.

        Args:
            room: Height of plate and strip together, px.
        """
        rows = max(1, min(_MAX_ROWS, int(0.3 * room - _HEAD) // (TILE_HEIGHT + GAP)))
        if rows != self._most_rows:
            self._most_rows = rows
            self._arrange()

    def set_palette(self, palette: Palette) -> None:
        self._palette = palette

    def show_tiles(self, tiles: tuple[Tile, ...], title: str = "") -> None:
        """Show checks in the order given; the presenter puts the worst first when something fails."""
        self._title.setText(title or "PROOF")
        counts = {v: sum(t.verdict == v for t in tiles) for v in ("go", "marginal", "no-go")}
        self._count.setText("  ·  ".join(f"{n} {v}" for v, n in counts.items()) if tiles else "")
        while len(self.tiles) < len(tiles):
            widget = TileWidget(self._page)
            widget.picked.connect(self.pressed)
            widget.pointed.connect(self.pointed)
            self.tiles.append(widget)
        for index, widget in enumerate(self.tiles):
            widget.setVisible(index < len(tiles))
            if index < len(tiles):
                widget.show_tile(tiles[index], self._palette)
            else:
                widget.tile = None
        self._arrange()

    def _arrange(self) -> None:
        view = self._area.viewport()
        width = view.width() if view is not None else self.width()
        shown = [t for t in self.tiles if t.tile is not None]
        wanted = max((w.whole_width() for w in shown), default=0)  # one long name, and all are a little wider: none is cut off
        columns = max(1, (width + GAP) // (max(TILE_WIDTH, wanted) + GAP))
        each = (width - GAP * (columns - 1)) // columns
        for index, widget in enumerate(shown):
            row, column = divmod(index, columns)
            widget.setGeometry(column * (each + GAP), row * (TILE_HEIGHT + GAP), each, TILE_HEIGHT)
        rows = math.ceil(len(shown) / columns)
        self._page.resize(width, max(1, rows * (TILE_HEIGHT + GAP)))
        height = _HEAD + min(self._most_rows, max(1, rows)) * (TILE_HEIGHT + GAP)
        if height != self.height():
            self.setFixedHeight(height)  # few checks leave their room to the plate

    def eventFilter(self, watched: object, event: object) -> bool:
        if isinstance(event, QEvent) and event.type() == QEvent.Type.Resize:
            self._arrange()
        return False

    def light(self, keys: frozenset[str]) -> None:
        for widget in self.tiles:
            on = widget.tile is not None and widget.tile.key in keys
            if on != widget.lit:
                widget.lit = on
                widget.update()

    def tile(self, key: str) -> TileWidget:
        """The tile of a check; KeyError for none."""
        for widget in self.tiles:
            if widget.tile is not None and widget.tile.key == key:
                return widget
        raise KeyError(key)

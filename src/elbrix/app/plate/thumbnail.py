"""A small scribed picture with a name under it, to be picked."""

from __future__ import annotations

from PyQt6.QtCore import QRectF, QSize, Qt
from PyQt6.QtGui import QColor, QFontMetrics, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QWidget

from elbrix.app.pickable import Pickable
from elbrix.app.plate.painter import fitted, paint_scene, plate_look
from elbrix.app.theme.palette import LIGHT, Palette
from elbrix.app.theme.type import font
from elbrix.drawing.scene import Scene, without_words


class Thumbnail(Pickable):
    """Picture, title, lines under it. Reports a click or Enter with its key."""

    def __init__(
        self,
        key: str,
        scene: Scene | None,
        title: str,
        lines: tuple[str, ...],
        palette: Palette = LIGHT,
        *,
        sign: str = "",
        sign_colour: str = "",
        size: QSize | None = None,
        parent: QWidget | None = None,
    ) -> None:
        super().__init__(key, parent)
        self.title = title
        self._scene, self._lines, self._palette = scene, lines, palette
        self._sign, self._sign_colour = sign, sign_colour
        self._size = size or QSize(210, 186)
        self.setFixedSize(self._size)
        self.setAccessibleName(f"{title}. {' '.join(lines)}")

    def sizeHint(self) -> QSize:
        return self._size

    def show_scene(self, scene: Scene | None) -> None:
        """Another picture, or the one that was worked out meanwhile."""
        if scene != self._scene:
            self._scene = scene
            self.update()

    def title_lines(self) -> list[str]:
        """The title in one line, or in two when it is long; only what two cannot hold is cut."""
        metrics, room = QFontMetrics(font(13, bold=True)), self.width() - 20
        words, first = self.title.split(), ""
        while words and metrics.horizontalAdvance(f"{first} {words[0]}".strip()) <= room:
            first = f"{first} {words.pop(0)}".strip()
        rest = " ".join(words)
        if not first or not rest:
            return [metrics.elidedText(self.title, Qt.TextElideMode.ElideRight, room)]
        return [first, metrics.elidedText(rest, Qt.TextElideMode.ElideRight, room)]

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        p = self._palette
        box = QRectF(self.rect()).adjusted(1, 1, -1, -1)
        painter.setBrush(QColor(p.card))
        painter.setPen(QPen(QColor(p.accent), 2) if self.hasFocus() or self.on else Qt.PenStyle.NoPen)
        painter.drawRoundedRect(box, 5, 5)
        titles = self.title_lines()
        lines_height = 24 + 16 * (len(titles) - 1) + 16 * len(self._lines)
        picture = QRectF(7, 7, self.width() - 14, self.height() - lines_height - 14)
        painter.setBrush(QColor(p.plate))
        painter.setPen(Qt.PenStyle.NoPen)
        painter.drawRoundedRect(picture, 4, 4)
        if self._scene is not None and self._scene.elements:
            look = plate_look(p, 9)
            bare = Scene(self._scene.name, elements=without_words(self._scene).elements)
            view = fitted(bare, picture.width(), picture.height(), lambda d: "", look, margin=10, top=0).moved(
                picture.left(), picture.top()
            )
            painter.save()
            painter.setClipRect(picture)
            paint_scene(painter, bare, view, look)
            painter.restore()
        if self._sign:
            painter.setFont(font(14))
            painter.setPen(QColor(self._sign_colour))
            painter.drawText(QRectF(picture.right() - 24, picture.top() + 4, 20, 20), Qt.AlignmentFlag.AlignCenter, self._sign)
        y = picture.bottom() + 4
        painter.setFont(font(13, bold=True))
        painter.setPen(QColor(p.ink))
        for i, line in enumerate(titles):
            painter.drawText(
                QRectF(10, y + 16 * i, self.width() - 20, 20), Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter, line
            )
        y += 16 * (len(titles) - 1)
        painter.setFont(font(11))
        painter.setPen(QColor(p.soft))
        metrics = QFontMetrics(painter.font())
        for i, line in enumerate(self._lines):
            painter.drawText(
                QRectF(10, y + 20 + 16 * i, self.width() - 20, 16),
                Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter,
                metrics.elidedText(line, Qt.TextElideMode.ElideRight, self.width() - 20),
            )

"""A small scribed picture with a name under it, to be picked."""

from __future__ import annotations

from PyQt6.QtCore import QRectF, QSize, QSizeF, Qt
from PyQt6.QtGui import QColor, QFontMetrics, QPainter, QPaintEvent, QPen, QPixmap
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
        self._kept: tuple[tuple[object, ...], QPixmap] | None = None
        self._size = size or QSize(210, 186)
        self.setFixedSize(self._size)
        self._name()

    def _name(self) -> None:
        """For a screen reader: everything in words that is painted."""
        lines = " ".join(line for line in self._lines if line)
        self.setAccessibleName(f"{self.title}. {lines}" if lines else self.title)

    def sizeHint(self) -> QSize:
        return self._size

    def show_scene(self, scene: Scene | None) -> None:
        """Another picture, or the one that was worked out meanwhile."""
        if scene != self._scene:
            self._scene = scene
            self.update()

    def show_more(self, scene: Scene | None, lines: tuple[str, ...], sign: str, sign_colour: str) -> None:
        """What has become known: picture, lines and sign."""
        if (lines, sign, sign_colour) != (self._lines, self._sign, self._sign_colour):
            self._lines, self._sign, self._sign_colour = lines, sign, sign_colour
            self._name()
            self.update()
        self.show_scene(scene)

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

    def _drawn(self, scene: Scene, size: QSizeF) -> QPixmap:
        """The picture, kept until it, its room or the look changes: it is painted again at every touch of the pointer."""
        ratio = self.devicePixelRatioF()
        state = (id(scene), size.width(), size.height(), ratio, self._palette)
        if self._kept is None or self._kept[0] != state:
            pixmap = QPixmap((size * ratio).toSize())
            pixmap.setDevicePixelRatio(ratio)
            pixmap.fill(Qt.GlobalColor.transparent)
            look = plate_look(self._palette, 9)
            bare = Scene(scene.name, elements=without_words(scene).elements)
            painter = QPainter(pixmap)
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
            paint_scene(painter, bare, fitted(bare, size.width(), size.height(), lambda d: "", look, margin=10, top=0), look)
            painter.end()
            self._kept = (state, pixmap)
        return self._kept[1]

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
            painter.drawPixmap(picture.topLeft(), self._drawn(self._scene, picture.size()))
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

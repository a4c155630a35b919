"""A small scribed picture with a name under it, to be picked."""

from __future__ import annotations

import time
from typing import Final
from weakref import WeakSet

from PyQt6 import sip
from PyQt6.QtCore import QRectF, QSize, QSizeF, Qt, QTimer
from PyQt6.QtGui import QColor, QFontMetrics, QPainter, QPaintEvent, QPen, QPixmap
from PyQt6.QtWidgets import QWidget

from elbrix.app.pickable import Pickable
from elbrix.app.plate.painter import fitted, paint_scene, plate_look
from elbrix.app.theme.palette import LIGHT, Palette
from elbrix.app.theme.type import font
from elbrix.drawing.scene import Scene, without_words

#: Pictures are drawn for so long in one turn of the window's loop; the others wait for the next.
_TURN_S: Final = 0.015
_waiting: WeakSet[Thumbnail] = WeakSet()
_turn: list[float] = []  #: when this turn's drawing began; empty: nothing is drawn yet


def thumbnails_waiting() -> bool:
    """Whether pictures that are seen are still to be drawn."""
    return any(not sip.isdeleted(t) and t.isVisible() for t in tuple(_waiting))


def _may_draw() -> bool:
    """Whether this turn has time for one more picture."""
    if not _turn:
        _turn.append(time.monotonic())
        QTimer.singleShot(0, _turn.clear)
        return True
    return time.monotonic() - _turn[0] < _TURN_S


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
        state = self._state(scene, size)
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

    def _paint_picture(self, painter: QPainter, scene: Scene, room: QRectF) -> None:
        """The picture, or in a later turn: thirty of them drawn in one go are felt."""
        kept = self._kept is not None and self._kept[0] == self._state(scene, room.size())
        if kept or _may_draw():
            _waiting.discard(self)
            painter.drawPixmap(room.topLeft(), self._drawn(scene, room.size()))
        else:
            _waiting.add(self)
            QTimer.singleShot(1, self.update)

    def _state(self, scene: Scene, size: QSizeF) -> tuple[object, ...]:
        """What a kept picture was drawn from."""
        return (id(scene), size.width(), size.height(), self.devicePixelRatioF(), self._palette)

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
            self._paint_picture(painter, self._scene, picture)
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

"""Handwheels to turn, under the plate: with the mouse wheel, round with the mouse, or by keys."""

from __future__ import annotations

import math
from typing import Final

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QFontMetrics, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen, QWheelEvent
from PyQt6.QtWidgets import QHBoxLayout, QWidget

from elbrix.app.theme.palette import LIGHT, Palette
from elbrix.app.theme.type import font
from elbrix.app.words import set_tip
from elbrix.presenters.handwheels import WheelView

_RADIUS: Final = 60.0
_HIGH: Final = 168
#: Width of a ring without words.
_ALONE: Final = 2 * int(_RADIUS) + 24
#: Numbers on a ring, about; the steps they may have.
_NUMBERS, _STEPS = 10, (1, 2, 5, 10, 20, 25, 50, 100, 200, 250, 500)
#: Graduations nearer to each other than this run into one, px.
_NEAREST = 2.6
#: Keys → divisions; a turn is told by `math.inf`.
_KEYS: Final = {
    Qt.Key.Key_Right: 1.0,
    Qt.Key.Key_Left: -1.0,
    Qt.Key.Key_Up: 10.0,
    Qt.Key.Key_Down: -10.0,
    Qt.Key.Key_PageUp: math.inf,
    Qt.Key.Key_PageDown: -math.inf,
}


class WheelDial(QWidget):
    """One ring with its mark, its reading and what is told of it."""

    turned = pyqtSignal(str, float)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.view: WheelView | None = None
        self._palette = LIGHT
        self._grip: float | None = None  # where on the ring the mouse holds it, degrees
        self._part = 0.0  # of a division that the mouse has turned
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setFixedHeight(_HIGH)
        self.setMinimumWidth(_ALONE)
        self.setCursor(Qt.CursorShape.OpenHandCursor)
        set_tip(
            self,
            "Turn: mouse wheel a division, with Shift ten, with Ctrl a turn; or hold the ring; or arrows, Page Up, Page Down",
        )

    def sizeHint(self) -> QSize:
        return QSize(_ALONE, _HIGH)

    def show_wheel(self, view: WheelView, palette: Palette) -> None:
        self.view, self._palette = view, palette
        wanted = f", the card says {view.wanted}" if view.wanted else ""
        self.setAccessibleName(f"Handwheel {view.axis}: {view.reads}, slide at {view.stands}{wanted}. {view.told}")
        self.update()

    # --- turning -----------------------------------------------------------------------------------------------------

    def _turn(self, divisions: float) -> None:
        if self.view is not None and divisions:
            whole = math.copysign(self.view.divisions, divisions) if math.isinf(divisions) else divisions
            self.turned.emit(self.view.axis, whole)

    def wheelEvent(self, event: QWheelEvent | None) -> None:
        if event is None:
            return
        notches = (event.angleDelta().y() or event.angleDelta().x()) / 120
        keys = event.modifiers()
        by = math.inf if keys & Qt.KeyboardModifier.ControlModifier else 10 if keys & Qt.KeyboardModifier.ShiftModifier else 1
        self._turn(math.copysign(by, notches) if math.isinf(by) else by * notches)
        event.accept()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is None:
            return
        by = _KEYS.get(Qt.Key(event.key()))
        if by is None:
            super().keyPressEvent(event)
        else:
            self._turn(by)

    def _angle(self, at: QPointF) -> float:
        centre = self._centre
        return math.degrees(math.atan2(at.x() - centre.x(), centre.y() - at.y()))

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is not None and event.button() is Qt.MouseButton.LeftButton:
            self._grip, self._part = self._angle(event.position()), 0.0
            self.setCursor(Qt.CursorShape.ClosedHandCursor)

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if event is None or self._grip is None or self.view is None:
            return
        now = self._angle(event.position())
        way = (now - self._grip + 180) % 360 - 180
        self._grip = now
        self._part += way / 360 * self.view.divisions
        whole = math.trunc(self._part)  # it clicks from division to division
        self._part -= whole
        self._turn(float(whole))

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        self._grip = None
        self.setCursor(Qt.CursorShape.OpenHandCursor)

    # --- painting ----------------------------------------------------------------------------------------------------

    @property
    def _centre(self) -> QPointF:
        return QPointF(_RADIUS + 12, _HIGH / 2 + 2)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        if self.view is None:
            return
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        p, v, c = self._palette, self.view, self._centre
        box = QRectF(self.rect()).adjusted(0.5, 0.5, -0.5, -0.5)
        painter.setBrush(QColor(p.card))
        painter.setPen(QPen(QColor(p.accent), 2) if self.hasFocus() else Qt.PenStyle.NoPen)
        painter.drawRoundedRect(box, 4, 4)
        ink = QColor(p.ink if v.wanted else p.soft)
        painter.setBrush(QColor(p.paper))
        painter.setPen(QPen(ink, 1.4))
        painter.drawEllipse(c, _RADIUS, _RADIUS)
        painter.setBrush(QColor(p.card))
        painter.drawEllipse(c, _RADIUS * 0.52, _RADIUS * 0.52)
        self._ring(painter, v, c, ink)
        mark = QColor(p.accent)
        painter.setPen(QPen(mark, 2.2))
        painter.drawLine(QPointF(c.x(), c.y() - _RADIUS - 9), QPointF(c.x(), c.y() - _RADIUS + 1))
        painter.setPen(ink)
        painter.setFont(font(22, bold=True))
        painter.drawText(QRectF(c.x() - 30, c.y() - 20, 60, 40), Qt.AlignmentFlag.AlignCenter, v.axis)
        self._words(painter, v)

    @staticmethod
    def _ring(painter: QPainter, v: WheelView, c: QPointF, ink: QColor) -> None:
        """Graduations; turned clockwise the larger ones come to the mark from the left."""
        step = next((s for s in _STEPS if v.divisions / s <= _NUMBERS), _STEPS[-1])
        apart = 2 * math.pi * _RADIUS / v.divisions
        every = next((s for s in _STEPS if s * apart >= _NEAREST and step % s == 0), step)
        painter.setFont(font(9))
        for n in range(0, v.divisions, every):
            angle = math.radians((v.on_ring - n) / v.divisions * 360)
            x, y = math.sin(angle), -math.cos(angle)
            numbered = n % step == 0
            long = 11 if numbered else 8 if 2 * n % step == 0 else 5
            painter.setPen(QPen(ink, 1.4 if numbered else 0.9))
            painter.drawLine(
                QPointF(c.x() + _RADIUS * x, c.y() + _RADIUS * y),
                QPointF(c.x() + (_RADIUS - long) * x, c.y() + (_RADIUS - long) * y),
            )
            if numbered:
                at = QPointF(c.x() + (_RADIUS - 19) * x, c.y() + (_RADIUS - 19) * y)
                painter.drawText(QRectF(at.x() - 14, at.y() - 7, 28, 14), Qt.AlignmentFlag.AlignCenter, str(n))

    def _words(self, painter: QPainter, v: WheelView) -> None:
        """Beside the ring: what the dial says, where the slide is, the card's number, what is told of it."""
        p = self._palette
        left = 2 * _RADIUS + 30
        wide = self.width() - left - 8
        if wide < 40:
            return
        y = 12.0
        for text, size, bold, colour in (
            (v.reads, 14, True, p.ink),
            (f"slide {v.stands}", 12, False, p.soft),
            (f"card {v.wanted}" if v.wanted else "not in this move", 12, False, p.ink if v.wanted else p.soft),
            (v.told, 12, True, p.go if v.there else p.no_go if v.slip else p.accent),
        ):
            if not text:
                continue
            painter.setFont(font(size, bold=bold))
            painter.setPen(QColor(colour))
            flags = int(Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignTop) | int(Qt.TextFlag.TextWordWrap)
            high = QFontMetrics(painter.font()).boundingRect(0, 0, int(wide), 400, flags, text).height()
            painter.drawText(QRectF(left, y, wide, _HIGH - y), flags, text)
            y += high + 6


class WheelPanel(QWidget):
    """The handwheels of a machine side by side."""

    turned = pyqtSignal(str, float)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.dials: dict[str, WheelDial] = {}
        self._row = QHBoxLayout(self)
        self._row.setContentsMargins(0, 0, 0, 0)
        self._row.setSpacing(8)
        self.setFixedHeight(_HIGH)

    def show_wheels(self, views: tuple[WheelView, ...], palette: Palette) -> None:
        if set(self.dials) != {v.axis for v in views}:
            for old in self.dials.values():
                self._row.removeWidget(old)
                old.hide()
                old.deleteLater()
            self.dials = {}
            for v in views:
                dial = WheelDial(self)
                dial.turned.connect(self.turned)
                self.dials[v.axis] = dial
                self._row.addWidget(dial)
                dial.show()
        for n, v in enumerate(views):
            self.dials[v.axis].show_wheel(v, palette)
            # Room for words is given to the wheels that are set.
            self.dials[v.axis].setMaximumWidth(16777215 if v.wanted else _ALONE)
            self._row.setStretch(n, int(bool(v.wanted)))

"""Line icons of our own, one stroke weight, drawn on a 32 × 22 grid."""

from __future__ import annotations

from typing import Final

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QPainter, QPainterPath, QPen

#: Strokes of an icon, on a 32 × 22 grid.
Runs = tuple[tuple[tuple[float, float], ...], ...]
_SHAPES: Final[dict[str, Runs]] = {
    "caliper": (
        ((3, 7), (29, 7)),
        ((3, 12), (29, 12)),
        ((3, 7), (3, 20)),
        ((8, 12), (8, 17)),
        ((3, 20), (8, 17)),
        ((17, 12), (17, 17)),
        ((22, 12), (22, 20)),
        ((17, 17), (22, 20)),
        ((29, 7), (29, 12)),
        ((17, 4), (25, 4), (25, 12)),
        ((17, 4), (17, 12)),
    ),
    "undo": (((10, 4), (4, 9), (10, 14)), ((4, 9), (22, 9), (27, 13), (27, 19))),
    "redo": (((22, 4), (28, 9), (22, 14)), ((28, 9), (10, 9), (5, 13), (5, 19))),
    "print": (
        ((8, 8), (8, 2), (24, 2), (24, 8)),
        ((8, 16), (3, 16), (3, 8), (29, 8), (29, 16), (24, 16)),
        ((8, 13), (24, 13), (24, 20), (8, 20), (8, 13)),
    ),
    "lamp": (
        ((11, 15), (11, 12), (8, 8), (11, 3), (16, 2), (21, 3), (24, 8), (21, 12), (21, 15), (11, 15)),
        ((12, 19), (20, 19)),
    ),
}


def paint_icon(painter: QPainter, icon: str | Runs, box: QRectF, colour: QColor, width: float = 1.7) -> None:
    """Draw an icon, one of these by name or strokes of its own, inside a box, keeping its shape."""
    scale = min(box.width() / 32, box.height() / 22)
    painter.save()
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    painter.translate(box.center().x() - 16 * scale, box.center().y() - 11 * scale)
    painter.setPen(QPen(colour, width, Qt.PenStyle.SolidLine, Qt.PenCapStyle.RoundCap, Qt.PenJoinStyle.RoundJoin))
    for run in _SHAPES[icon] if isinstance(icon, str) else icon:
        path = QPainterPath(QPointF(run[0][0] * scale, run[0][1] * scale))
        for x, y in run[1:]:
            path.lineTo(x * scale, y * scale)
        painter.drawPath(path)
    painter.restore()


def paint_origin(painter: QPainter, origin: str, box: QRectF, colour: QColor) -> None:
    """Where a number came from, by form: caliper jaws, filled dot, equals, wave, book."""
    painter.save()
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    painter.setPen(QPen(colour, 1.3))
    c, r = box.center(), min(box.width(), box.height()) / 2
    if origin == "measured":
        for x in (-r * 0.8, r * 0.8):
            painter.drawLine(QPointF(c.x() + x, c.y() - r * 0.8), QPointF(c.x() + x, c.y() + r * 0.8))
        painter.drawLine(QPointF(c.x() - r * 0.8, c.y()), QPointF(c.x() + r * 0.8, c.y()))
    elif origin == "chosen":
        painter.setBrush(colour)
        painter.drawEllipse(c, r * 0.45, r * 0.45)
    elif origin == "calculated":
        for y in (-r * 0.3, r * 0.3):
            painter.drawLine(QPointF(c.x() - r * 0.6, c.y() + y), QPointF(c.x() + r * 0.6, c.y() + y))
    elif origin == "assumed":
        path = QPainterPath(QPointF(c.x() - r * 0.8, c.y() + r * 0.2))
        path.quadTo(c.x() - r * 0.4, c.y() - r * 0.7, c.x(), c.y())
        path.quadTo(c.x() + r * 0.4, c.y() + r * 0.7, c.x() + r * 0.8, c.y() - r * 0.2)
        painter.drawPath(path)
    else:
        painter.drawRect(QRectF(c.x() - r * 0.6, c.y() - r * 0.7, r * 1.2, r * 1.4))
        painter.drawLine(QPointF(c.x() - r * 0.25, c.y() - r * 0.7), QPointF(c.x() - r * 0.25, c.y() + r * 0.7))
    painter.restore()

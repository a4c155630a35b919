"""The solid as a shaded picture that can be turned."""

from __future__ import annotations

from typing import Any

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QImage, QPainter, QPen, QPolygonF

from elbrix.app.theme.palette import Palette
from elbrix.drawing.shading import shade, view_matrix


class SolidPicture:
    """A mesh from the kernel and where it is seen from."""

    def __init__(self, mesh: dict[str, Any], turn_deg: float = 45.0, tilt_deg: float = 30.0) -> None:
        self._triangles = mesh["triangles"].astype(np.float64)
        self._edges = [e.astype(np.float64) for e in mesh["edges"]]
        self.turn_deg, self.tilt_deg = turn_deg, tilt_deg

    def turn(self, by_deg: float, tilt_deg: float) -> None:
        """Turn it under the viewer's eye."""
        self.turn_deg = (self.turn_deg + by_deg) % 360
        self.tilt_deg = min(89.0, max(-89.0, self.tilt_deg + tilt_deg))

    def paint(self, painter: QPainter, box: QRectF, palette: Palette) -> None:
        """Shade it into a box, edges scribed over it. Drawn at the device's resolution up to a million pixels."""
        width, height = max(8, int(box.width())), max(8, int(box.height()))
        shaded = shade(self._triangles, self._edges, view_matrix(self.turn_deg, self.tilt_deg), width, height)
        body, ground = QColor(palette.body).lighter(150), QColor(palette.plate)
        light = shaded.light[..., None]
        colour = np.array([body.red(), body.green(), body.blue()]) * light
        pixels = np.where(light > 0, np.clip(colour, 0, 255), [ground.red(), ground.green(), ground.blue()])
        rgba = np.empty((height, width, 4), dtype=np.uint8)
        rgba[..., :3] = pixels
        rgba[..., 3] = np.where(shaded.light > 0, 255, 0)
        image = QImage(rgba.tobytes(), width, height, 4 * width, QImage.Format.Format_RGBA8888)
        painter.drawImage(box.topLeft(), image)
        painter.setPen(QPen(QColor(palette.scribed), 1.6, Qt.PenStyle.SolidLine, Qt.PenCapStyle.RoundCap))
        for run in shaded.edges:
            painter.drawPolyline(QPolygonF([QPointF(box.left() + x, box.top() + y) for x, y in run.tolist()]))

"""The solid as a shaded picture that can be turned."""

from __future__ import annotations

import math
from typing import Any, Final

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QImage, QPainter, QPen, QPolygonF

from elbrix.app.theme.palette import Palette
from elbrix.drawing.shading import shade, view_matrix

_MOST_PIXELS: Final = 500_000


class SolidPicture:
    """A mesh from the kernel and where it is seen from."""

    def __init__(self, mesh: dict[str, Any], turn_deg: float = 45.0, tilt_deg: float = 30.0) -> None:
        self._triangles = mesh["triangles"].astype(np.float64)
        self._edges = [e.astype(np.float64) for e in mesh["edges"]]
        self.turn_deg, self.tilt_deg = turn_deg, tilt_deg
        self._kept: tuple[tuple[Any, ...], QImage, list[QPolygonF]] | None = None

    def turn(self, by_deg: float, tilt_deg: float) -> None:
        """Turn it under the viewer's eye."""
        self.turn_deg = (self.turn_deg + by_deg) % 360
        self.tilt_deg = min(89.0, max(-89.0, self.tilt_deg + tilt_deg))

    def paint(self, painter: QPainter, box: QRectF, palette: Palette) -> None:
        """Shade it into a box, edges scribed over it. Kept until it is turned, the box has another size, or the look changes."""
        width, height = max(8, int(box.width())), max(8, int(box.height()))
        key = (self.turn_deg, self.tilt_deg, width, height, palette)
        if self._kept is None or self._kept[0] != key:
            self._kept = (key, *self._shaded(width, height, palette))
        _, image, runs = self._kept
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
        painter.drawImage(QRectF(box.left(), box.top(), width, height), image)
        painter.setPen(QPen(QColor(palette.scribed), 1.6, Qt.PenStyle.SolidLine, Qt.PenCapStyle.RoundCap))
        painter.save()
        painter.translate(box.topLeft())
        for run in runs:
            painter.drawPolyline(run)
        painter.restore()

    def _shaded(self, width: int, height: int, palette: Palette) -> tuple[QImage, list[QPolygonF]]:
        """(picture, edges) for a box: shaded at up to half a million points, so that no window waits for it; edges stay sharp."""
        share = min(1.0, math.sqrt(_MOST_PIXELS / (width * height)))
        wide, high = max(8, int(width * share)), max(8, int(height * share))
        shaded = shade(self._triangles, self._edges, view_matrix(self.turn_deg, self.tilt_deg), wide, high)
        body, ground = QColor(palette.body).lighter(150), QColor(palette.plate)
        light = shaded.light[..., None]
        colour = np.array([body.red(), body.green(), body.blue()]) * light
        pixels = np.where(light > 0, np.clip(colour, 0, 255), [ground.red(), ground.green(), ground.blue()])
        rgba = np.empty((high, wide, 4), dtype=np.uint8)
        rgba[..., :3] = pixels
        rgba[..., 3] = np.where(shaded.light > 0, 255, 0)
        image = QImage(rgba.tobytes(), wide, high, 4 * wide, QImage.Format.Format_RGBA8888).copy()
        across, down = width / wide, height / high
        return image, [QPolygonF([QPointF(x * across, y * down) for x, y in run.tolist()]) for run in shaded.edges]

"""The solid as a shaded picture that can be turned; it is shaded beside the window, which shows the last picture meanwhile."""

from __future__ import annotations

import math
from typing import Any, Final

import numpy as np
from msgspec import Struct
from PyQt6.QtCore import QObject, QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QImage, QPainter, QPen, QPolygonF

from elbrix.app.background import Later
from elbrix.app.theme.palette import Palette
from elbrix.drawing.shading import shade, view_matrix

_MAX_PIXELS: Final = 500_000


class _Seen(Struct, frozen=True):
    """From where it is seen, and how large."""

    turn_deg: float
    tilt_deg: float
    width: int
    height: int
    ratio: float  #: points of the screen for one of the box
    palette: Palette


class _Picture(Struct, frozen=True):
    """A finished one, edges and all: scribing hundreds of them anew at every paint would be felt."""

    seen: _Seen
    image: QImage


class SolidPicture(QObject):
    """A mesh from the kernel and where it is seen from."""

    ready = pyqtSignal()  #: there is a picture to show that was not there before

    def __init__(
        self,
        mesh: dict[str, Any],
        turn_deg: float = 45.0,
        tilt_deg: float = 30.0,
        parent: QObject | None = None,
        before: SolidPicture | None = None,
    ) -> None:
        """A mesh.

        Args:
            before: What stood there: its picture stays until the new one is there.
        """
        super().__init__(parent)
        self._triangles = mesh["triangles"].astype(np.float64)
        self._edges = [e.astype(np.float64) for e in mesh["edges"]]
        self.turn_deg, self.tilt_deg = turn_deg, tilt_deg
        self._kept: _Picture | None = before._kept if before is not None else None
        self._is_new = True
        self._shading = Later(self)
        self._shading.done.connect(self._shaded)

    def turn(self, by_deg: float, tilt_deg: float) -> None:
        """Turn it under the viewer's eye."""
        self.turn_deg = (self.turn_deg + by_deg) % 360
        self.tilt_deg = min(89.0, max(-89.0, self.tilt_deg + tilt_deg))

    def paint(self, painter: QPainter, box: QRectF, palette: Palette) -> None:
        """The newest picture in a box.

        One that fits how it is seen now is kept; else the last one stands there, and `ready` tells when the new one does.
        """
        width, height = max(8, int(box.width())), max(8, int(box.height()))
        device = painter.device()
        ratio = device.devicePixelRatioF() if device is not None else 1.0
        wanted = _Seen(self.turn_deg, self.tilt_deg, width, height, ratio, palette)
        kept = self._kept
        if (self._is_new or kept is None or kept.seen != wanted) and not self._shading.busy:
            self._shading.start(lambda: _pictured(self._triangles, self._edges, wanted))
        if kept is None:
            return
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
        painter.drawImage(QRectF(box.left(), box.top(), width, height), kept.image)

    def _shaded(self, picture: _Picture) -> None:
        self._kept, self._is_new = picture, False
        self.ready.emit()  # painting it asks for the next one, if it was turned in the meantime


def _pictured(triangles: Any, edges: list[Any], seen: _Seen) -> _Picture:
    """Shaded at up to half a million points; edges stay sharp."""
    share = min(1.0, math.sqrt(_MAX_PIXELS / (seen.width * seen.height)))
    wide, high = max(8, int(seen.width * share)), max(8, int(seen.height * share))
    shaded = shade(triangles, edges, view_matrix(seen.turn_deg, seen.tilt_deg), wide, high)
    body, ground = QColor(seen.palette.body).lighter(150), QColor(seen.palette.plate)
    light = shaded.light[..., None]
    colour = np.array([body.red(), body.green(), body.blue()]) * light
    pixels = np.where(light > 0, np.clip(colour, 0, 255), [ground.red(), ground.green(), ground.blue()])
    rgba = np.empty((high, wide, 4), dtype=np.uint8)
    rgba[..., :3] = pixels
    rgba[..., 3] = np.where(shaded.light > 0, 255, 0)
    image = QImage(rgba.tobytes(), wide, high, 4 * wide, QImage.Format.Format_RGBA8888).copy()
    across, down = seen.width / wide, seen.height / high
    whole = QImage(int(seen.width * seen.ratio), int(seen.height * seen.ratio), QImage.Format.Format_ARGB32_Premultiplied)
    whole.fill(Qt.GlobalColor.transparent)
    pen = QPainter(whole)
    pen.setRenderHints(QPainter.RenderHint.SmoothPixmapTransform | QPainter.RenderHint.Antialiasing)
    pen.scale(seen.ratio, seen.ratio)
    pen.drawImage(QRectF(0, 0, seen.width, seen.height), image)
    pen.setPen(QPen(QColor(seen.palette.scribed), 1.6, Qt.PenStyle.SolidLine, Qt.PenCapStyle.RoundCap))
    for run in shaded.edges:
        pen.drawPolyline(QPolygonF([QPointF(x * across, y * down) for x, y in run.tolist()]))
    pen.end()
    return _Picture(seen, whole)

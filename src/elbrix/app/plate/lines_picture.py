"""The lines of a drawing that has very many of them, painted beside the window into a picture of their own.

Numbers, notes and what is lit up are painted over it as ever. While a new picture is made the last one stands there, moved and
scaled to where its lines are now.
"""

from __future__ import annotations

from msgspec import Struct
from PyQt6.QtCore import QObject, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QImage, QPainter

from elbrix.app.background import Later
from elbrix.app.plate.painter import PaintStyle, View, paint_lines
from elbrix.drawing.scene import Note, Scene


class _Wanted(Struct, frozen=True):
    scene: Scene
    view: View
    look: PaintStyle
    size: QSize
    ratio: float


class _Picture(Struct, frozen=True):
    of: _Wanted
    image: QImage


class LinesPicture(QObject):
    """The lines of one picture of the plate."""

    ready = pyqtSignal()  #: there is a picture to show that was not there before

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._kept: _Picture | None = None
        self._asked: _Wanted | None = None
        self._painting = Later(self)
        self._painting.done.connect(self._painted)

    @property
    def busy(self) -> bool:
        return self._painting.busy

    def forget(self) -> None:
        """Another thing is shown: the old lines must not stand there for it."""
        self._kept = self._asked = None
        self._painting.drop()

    def paint(self, painter: QPainter, scene: Scene, view: View, look: PaintStyle, size: QSize) -> None:
        """The newest picture there is; a better one is begun when it is not of these lines as they are seen now."""
        device = painter.device()
        wanted = _Wanted(scene, view, look, size, device.devicePixelRatioF() if device is not None else 1.0)
        kept = self._kept
        if (kept is None or not _same(kept.of, wanted)) and not self._painting.busy:
            self._asked = wanted
            self._painting.start(lambda: _pictured(wanted))
        if kept is None:
            return
        if kept.of.view == view and kept.of.size == size:
            painter.drawImage(QRectF(0, 0, size.width(), size.height()), kept.image)
            return
        before, share = kept.of.view, view.scale / kept.of.view.scale
        at = QRectF(
            view.x - before.x * share, view.y - before.y * share, kept.of.size.width() * share, kept.of.size.height() * share
        )
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
        painter.drawImage(at, kept.image)

    def _painted(self, picture: _Picture) -> None:
        if picture.of is self._asked:
            self._kept = picture
        self.ready.emit()  # painting it asks for the next one, if the view was moved in the meantime


def _same(a: _Wanted, b: _Wanted) -> bool:
    """The same lines seen the same way; the scenes are compared last, they are long."""
    return (
        (a.view, a.size, a.ratio) == (b.view, b.size, b.ratio) and (a.look is b.look) and (a.scene.elements == b.scene.elements)
    )


def _pictured(of: _Wanted) -> _Picture:
    image = QImage(of.size * of.ratio, QImage.Format.Format_ARGB32_Premultiplied)
    image.setDevicePixelRatio(of.ratio)
    image.fill(Qt.GlobalColor.transparent)
    painter = QPainter(image)
    paint_lines(painter, of.scene, of.view, of.look)
    painter.end()
    return _Picture(of, image)


def without_lines(scene: Scene, lit: frozenset[str]) -> Scene:
    """What is painted over the picture: words, and the features that are lit up."""
    return scene.with_elements(e for e in scene.elements if isinstance(e, Note) or (e.feature and e.feature in lit))

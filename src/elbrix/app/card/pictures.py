"""Photographs on a card: small, side by side, pressed to be seen large."""

from __future__ import annotations

from collections.abc import Iterable
from functools import lru_cache
from typing import Final

from PyQt6.QtCore import QBuffer, QByteArray, QIODevice, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QIcon, QImage, QImageReader, QPixmap
from PyQt6.QtWidgets import QPushButton, QSizePolicy, QWidget

from elbrix.app.background import Later
from elbrix.app.plate.flow import FlowLayout
from elbrix.app.words import set_tip
from elbrix.presenters.card import Picture

_SIZE: Final = QSize(92, 69)


class Pictures(QWidget):
    """The photographs of one section."""

    pressed = pyqtSignal(str)

    def __init__(self, pictures: Iterable[Picture]) -> None:
        super().__init__()
        policy = QSizePolicy(QSizePolicy.Policy.Preferred, QSizePolicy.Policy.Fixed)
        policy.setHeightForWidth(True)
        self.setSizePolicy(policy)
        flow = FlowLayout(self, 6)
        shown = tuple(pictures)
        self._buttons = [QPushButton() for _ in shown]
        self._reading = Later(self)
        self._reading.done.connect(self._read)
        self._reading.start(lambda: [_small(picture.jpeg) for picture in shown])
        for picture, button in zip(shown, self._buttons, strict=True):
            button.setObjectName("plain")
            button.setIconSize(_SIZE)
            button.setFixedSize(_SIZE + QSize(8, 8))
            button.setCursor(Qt.CursorShape.PointingHandCursor)
            button.setAccessibleName(picture.label)
            set_tip(button, picture.label)
            button.clicked.connect(lambda _=False, key=picture.key: self.pressed.emit(key))
            flow.addWidget(button)

    def _read(self, images: list[QImage]) -> None:
        for button, image in zip(self._buttons, images, strict=True):
            button.setIcon(QIcon(QPixmap(_SIZE) if image.isNull() else QPixmap.fromImage(image)))


@lru_cache(maxsize=64)
def _small(jpeg: bytes) -> QImage:
    """Read at the size it is shown, beside the window: a photograph of twelve megapixels read whole would be felt."""
    bytes_ = QByteArray(jpeg)
    buffer = QBuffer(bytes_)
    buffer.open(QIODevice.OpenModeFlag.ReadOnly)
    reader = QImageReader(buffer)
    size = reader.size()
    if size.isValid():
        reader.setScaledSize(size.scaled(2 * _SIZE, Qt.AspectRatioMode.KeepAspectRatio))
    return reader.read()

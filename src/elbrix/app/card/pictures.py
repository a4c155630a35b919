"""Photographs on a card: small, side by side, pressed to be seen large."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Final

from PyQt6.QtCore import QBuffer, QByteArray, QIODevice, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QIcon, QImageReader, QPixmap
from PyQt6.QtWidgets import QPushButton, QSizePolicy, QWidget

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
        for picture in pictures:
            button = QPushButton()
            button.setObjectName("plain")
            button.setIcon(QIcon(_small(picture.jpeg)))
            button.setIconSize(_SIZE)
            button.setFixedSize(_SIZE + QSize(8, 8))
            button.setCursor(Qt.CursorShape.PointingHandCursor)
            button.setAccessibleName(picture.label)
            set_tip(button, picture.label)
            button.clicked.connect(lambda _=False, key=picture.key: self.pressed.emit(key))
            flow.addWidget(button)


def _small(jpeg: bytes) -> QPixmap:
    """Read at the size it is shown: a photograph of twelve megapixels read whole would be felt."""
    bytes_ = QByteArray(jpeg)
    buffer = QBuffer(bytes_)
    buffer.open(QIODevice.OpenModeFlag.ReadOnly)
    reader = QImageReader(buffer)
    size = reader.size()
    if size.isValid():
        reader.setScaledSize(size.scaled(2 * _SIZE, Qt.AspectRatioMode.KeepAspectRatio))
    image = reader.read()
    return QPixmap(_SIZE) if image.isNull() else QPixmap.fromImage(image)

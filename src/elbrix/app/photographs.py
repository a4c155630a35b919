"""Photographs from a camera or a telephone, made small enough to be kept in a book."""

from __future__ import annotations

from pathlib import Path
from typing import Final

from PyQt6.QtCore import QBuffer, QByteArray, QIODevice, QSize, Qt
from PyQt6.QtGui import QImage, QImageReader

from elbrix.book.documents import MAX_PHOTO
from elbrix.quantities.errors import ShopError

#: Longest side of what is kept, points.
_LONGEST: Final = 1280
#: A file larger than this is no photograph of a T-nut, bytes.
_MAX_FILE: Final = 60_000_000
_QUALITIES: Final = (84, 70, 55, 40)


def read_photo(path: Path) -> bytes:
    """A picture file as a JPEG small enough to be kept, turned as it was taken.

    Raises:
        ShopError: No picture, an empty or a huge one, or one that cannot be read.
    """
    try:
        size = path.stat().st_size
    except OSError as error:
        raise ShopError(
            "Photograph", f"{path.name} cannot be read ({error.strerror})", "The file is gone", "Pick it anew"
        ) from None
    if not 0 < size <= _MAX_FILE:
        what = f"{path.name} has {size / 1e6:.0f} MB" if size else f"{path.name} is empty"
        raise ShopError("Photograph", what, f"Up to {_MAX_FILE / 1e6:.0f} MB are read", "Save it smaller, and pick that")
    reader = QImageReader(str(path))
    reader.setAutoTransform(True)
    full = reader.size()
    if full.isValid() and max(full.width(), full.height()) > _LONGEST:
        reader.setScaledSize(full.scaled(QSize(_LONGEST, _LONGEST), Qt.AspectRatioMode.KeepAspectRatio))
    image = reader.read()
    if image.isNull():
        raise ShopError(
            "Photograph", f"{path.name} is no picture ({reader.errorString()})", "JPEG, PNG and the like are read", "Pick another"
        )
    if max(image.width(), image.height()) > _LONGEST:
        image = image.scaled(_LONGEST, _LONGEST, Qt.AspectRatioMode.KeepAspectRatio, Qt.TransformationMode.SmoothTransformation)
    return _as_jpeg(image)


def _as_jpeg(image: QImage) -> bytes:
    for quality in _QUALITIES:
        data = QByteArray()
        buffer = QBuffer(data)
        buffer.open(QIODevice.OpenModeFlag.WriteOnly)
        if image.convertToFormat(QImage.Format.Format_RGB888).save(buffer, "JPEG", quality) and data.size() <= MAX_PHOTO:
            return data.data()
    raise ShopError("Photograph", "it cannot be made small enough", f"{MAX_PHOTO:,} bytes are kept", "Take a plainer picture")

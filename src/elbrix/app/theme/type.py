"""The faces that ship with Elbrix. B612: legible at a distance, figures of even width."""

from __future__ import annotations

from functools import lru_cache
from pathlib import Path
from typing import Final

from PyQt6.QtGui import QFont, QFontDatabase

FAMILY: Final = "B612"


def load_fonts() -> None:
    """Register the shipped fonts; once per application."""
    folder = Path(__file__).parent / "fonts"
    for name in ("B612-Regular.otf", "B612-Bold.otf", "B612-Italic.otf"):
        QFontDatabase.addApplicationFont(str(folder / name))


def font(pixels: float, *, bold: bool = False, italic: bool = False) -> QFont:
    """A face by its height in pixels."""
    return QFont(_face(max(1, round(pixels)), bold, italic))  # a copy may be changed, and shares what was looked up for it


@lru_cache(maxsize=256)
def _face(pixels: int, bold: bool, italic: bool) -> QFont:
    found = QFont(FAMILY)
    found.setPixelSize(pixels)
    found.setBold(bold)
    found.setItalic(italic)
    return found

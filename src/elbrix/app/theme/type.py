"""The faces that ship with Elbrix. B612: legible at a distance, figures of even width."""

from __future__ import annotations

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
    found = QFont(FAMILY)
    found.setPixelSize(max(1, round(pixels)))
    found.setBold(bold)
    found.setItalic(italic)
    found.setStyleStrategy(QFont.StyleStrategy.PreferAntialias)
    return found

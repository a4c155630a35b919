"""Which file to read or write, asked in the window's own look; the desktop's dialogs are left out."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtWidgets import QFileDialog, QWidget


def file_to_read(parent: QWidget, title: str, kinds: str) -> Path | None:
    """A file that is there; None when it was left.

    Args:
        kinds: "Tables (*.csv)".
    """
    name, _ = QFileDialog.getOpenFileName(parent, title, str(Path.home()), kinds, options=QFileDialog.Option.DontUseNativeDialog)
    return Path(name) if name else None


def file_to_write(parent: QWidget, title: str, kinds: str, suggested: str = "") -> Path | None:
    """A file to be written; None when it was left.

    Args:
        kinds: "PDF (*.pdf)".
        suggested: Its name, in the user's own folder.
    """
    name, _ = QFileDialog.getSaveFileName(
        parent, title, str(Path.home() / suggested), kinds, options=QFileDialog.Option.DontUseNativeDialog
    )
    return Path(name) if name else None

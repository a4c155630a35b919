"""Menus that are made when they are opened."""

from __future__ import annotations

from PyQt6.QtCore import QPoint
from PyQt6.QtWidgets import QMenu


def open_once(menu: QMenu, at: QPoint) -> None:
    """Open a menu at a place of the screen; closed, it goes, and does not wait for its parent to go."""
    menu.aboutToHide.connect(menu.deleteLater)
    menu.popup(at)

"""Where this user's books and window state live, by the desktop's own rules."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtCore import QSettings, QStandardPaths


def data_folder() -> Path:
    """The folder of this user's books when nothing else is said."""
    return Path(QStandardPaths.writableLocation(QStandardPaths.StandardLocation.GenericDataLocation)) / "elbrix"


def cache_folder() -> Path:
    """The folder of what can be worked out again."""
    return Path(QStandardPaths.writableLocation(QStandardPaths.StandardLocation.GenericCacheLocation)) / "elbrix"


def window_settings() -> QSettings:
    """Where windows and their splitters stood: this user's on this machine, never the book's, which others open too."""
    return QSettings(QSettings.Format.IniFormat, QSettings.Scope.UserScope, "elbrix", "window")

"""Dialogs that are asked and then gone."""

from __future__ import annotations

from PyQt6.QtWidgets import QDialog


def asked(dialog: QDialog) -> bool:
    """Show it until it is answered; whether it was accepted.

    Then it goes: left alone it would stay with its parent, pictures and all, till the window closes. What was typed into it
    can be read until the window has its next turn.
    """
    try:
        return dialog.exec() == QDialog.DialogCode.Accepted
    finally:
        dialog.deleteLater()

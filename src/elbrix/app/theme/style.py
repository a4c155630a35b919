"""The style sheet, out of a palette."""

from __future__ import annotations

from elbrix.app.theme.palette import Palette


def style_sheet(p: Palette) -> str:
    """All of the window's style; widgets set only what is theirs alone."""
    return f"""
* {{ font-family: "B612"; font-size: 13px; color: {p.ink}; }}
QWidget#window, QWidget#bench {{ background: {p.paper}; }}
QWidget#cardPaper {{ background: {p.card}; border-radius: 6px; }}
QScrollArea, QScrollArea > QWidget > QWidget {{ background: transparent; border: none; }}
QLabel#title {{ font-size: 20px; font-weight: bold; }}
QLabel#subtitle, QLabel#hint, QLabel#rowLabel, QLabel#unit {{ color: {p.soft}; }}
QLabel#unit, QLabel#hint {{ font-size: 11px; }}
QLabel#groupTitle {{ font-size: 15px; font-weight: bold; }}
QLabel#result {{ font-size: 26px; font-weight: bold; color: {p.accent}; }}
QLabel#stripTitle {{ font-size: 12px; font-weight: bold; color: {p.soft}; letter-spacing: 1px; }}
QLabel#stripCount {{ font-size: 12px; color: {p.soft}; }}
QLabel#working {{ font-size: 12px; color: {p.ink}; background: {p.paper}; border-left: 3px solid {p.accent}; padding: 6px 8px; }}
QLabel#error {{ font-size: 12px; color: {p.no_go}; background: {p.card}; border-left: 3px solid {p.no_go}; padding: 5px 8px; }}
QLabel#trouble {{ font-size: 12px; color: {p.on_accent}; background: {p.no_go}; padding: 6px 12px; }}
QLabel#notice {{ font-size: 12px; color: {p.ink}; background: {p.marginal_soft}; padding: 6px 12px; }}
QPushButton {{ background: transparent; border: 1px solid {p.soft}; border-radius: 4px; padding: 6px 12px; }}
QPushButton:hover {{ border-color: {p.accent}; color: {p.accent}; }}
QPushButton:focus, QToolButton:focus {{ border: 2px solid {p.accent}; }}
QPushButton:disabled {{ color: {p.soft}; border-color: {p.line}; }}
QPushButton#main {{ background: {p.accent}; color: {p.on_accent}; border: 1px solid {p.accent}; font-size: 15px;
    font-weight: bold; padding: 9px 14px; }}
QPushButton#main:focus {{ border: 2px solid {p.ink}; }}
QPushButton#on {{ background: {p.accent}; color: {p.on_accent}; border-color: {p.accent}; }}
QPushButton#plain {{ border: none; color: {p.accent}; font-weight: bold; padding: 6px 4px; text-align: left; }}
QPushButton#plain:focus {{ border: none; text-decoration: underline; }}
QLineEdit, QPlainTextEdit {{ background: {p.card}; border: 1px solid {p.soft}; border-radius: 3px; padding: 3px 6px;
    selection-background-color: {p.accent}; selection-color: {p.on_accent}; }}
QLineEdit:focus, QPlainTextEdit:focus {{ border: 2px solid {p.accent}; padding: 2px 5px; }}
QLineEdit[wrong="true"] {{ border: 2px solid {p.no_go}; padding: 2px 5px; }}
QLineEdit#brass {{ background: {p.plate}; color: {p.brass}; border: 2px solid {p.brass}; border-radius: 4px;
    font-weight: bold; font-size: 15px; padding: 1px 4px; }}
QLineEdit#brass[wrong="true"] {{ border-color: {p.note}; }}
QMenu {{ background: {p.card}; border: 1px solid {p.soft}; padding: 4px; }}
QMenu::item {{ padding: 6px 22px 6px 14px; border-radius: 3px; }}
QMenu::item:selected {{ background: {p.accent}; color: {p.on_accent}; }}
QMenu::item:disabled {{ color: {p.soft}; }}
QToolTip {{ background: {p.card}; color: {p.ink}; border: 1px solid {p.soft}; padding: 5px; font-size: 12px; }}
QScrollBar:vertical {{ background: transparent; width: 9px; margin: 0; }}
QScrollBar::handle:vertical {{ background: {p.soft}; border-radius: 3px; min-height: 28px; margin: 0 2px; }}
QScrollBar:horizontal {{ background: transparent; height: 9px; margin: 0; }}
QScrollBar::handle:horizontal {{ background: {p.soft}; border-radius: 3px; min-width: 28px; margin: 2px 0; }}
QScrollBar::add-line, QScrollBar::sub-line, QScrollBar::add-page, QScrollBar::sub-page {{ background: transparent;
    border: none; width: 0; height: 0; }}
QFrame#why {{ background: {p.card}; border: 1px solid {p.soft}; border-radius: 6px; }}
QSplitter::handle {{ background: transparent; }}
"""

"""Random clicks, drags, keys, benches, sizes, undo and redo on the window; nothing may escape, and the book stays sound."""

from __future__ import annotations

import random
import time
from collections.abc import Callable
from functools import partial

from PyQt6 import sip
from PyQt6.QtCore import QEvent, QPoint, QPointF, Qt
from PyQt6.QtGui import QKeyEvent, QMouseEvent
from PyQt6.QtWidgets import QApplication, QDialog, QFileDialog, QWidget

from campaigns.window import demo_window, memory_mb, turn
from elbrix.app.benches.registry import all_benches
from elbrix.app.window import Window

_KEYS = (
    Qt.Key.Key_Tab, Qt.Key.Key_Return, Qt.Key.Key_Escape, Qt.Key.Key_Space, Qt.Key.Key_Up, Qt.Key.Key_Down, Qt.Key.Key_Left,
    Qt.Key.Key_Right, Qt.Key.Key_Backspace, Qt.Key.Key_Delete, Qt.Key.Key_F4, Qt.Key.Key_PageDown,
)  # fmt: skip
_TEXTS = ("12.5", "1/2", "-3", "M8", "banana", "0", "1e9", "45d", "tap drill M10", "")
_BUTTON, _NONE = Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier


#: A window that stands still for longer is felt.
_STALL_S = 0.1


#: What each event of the act in hand took: (clock, the thread's own time, what it was), s. Between two the window would draw
#: and listen.
_took: list[tuple[float, float, str]] = []


def timed(part: Callable[[], object], what: str = "") -> None:
    """Do something as one event of its own."""
    begun, own = time.monotonic(), time.thread_time()
    try:
        part()
    finally:
        _took.append((time.monotonic() - begun, time.thread_time() - own, what))


def _deliver(target: QWidget, event: QEvent) -> None:
    if not sip.isdeleted(target):
        timed(lambda: QApplication.sendEvent(target, event), f"{event.type().name} to {type(target).__name__}")


def _mouse(target: QWidget, kind: QEvent.Type, at: QPoint) -> None:
    if sip.isdeleted(target):
        return  # the press before took it away
    held = _BUTTON if kind is not QEvent.Type.MouseButtonRelease else Qt.MouseButton.NoButton
    event = QMouseEvent(kind, QPointF(at), QPointF(target.mapToGlobal(at)), _BUTTON, held, _NONE)
    _deliver(target, event)


def _spot(window: Window, chance: random.Random) -> tuple[QWidget, QPoint]:
    at = QPoint(chance.randrange(max(1, window.width())), chance.randrange(max(1, window.height())))
    target = window.childAt(at) or window
    return target, target.mapFrom(window, at)


def _key(target: QWidget, key: Qt.Key, text: str = "") -> None:
    for kind in (QEvent.Type.KeyPress, QEvent.Type.KeyRelease):
        _deliver(target, QKeyEvent(kind, key, _NONE, text))


def _one(window: Window, chance: random.Random) -> None:
    what = chance.random()
    if what < 0.35:
        target, at = _spot(window, chance)
        for kind in (QEvent.Type.MouseButtonPress, QEvent.Type.MouseButtonRelease):
            _mouse(target, kind, at)
    elif what < 0.5:
        target, at = _spot(window, chance)
        _mouse(target, QEvent.Type.MouseButtonPress, at)
        for _ in range(4):
            at += QPoint(chance.randint(-40, 40), chance.randint(-40, 40))
            _mouse(target, QEvent.Type.MouseMove, at)
        _mouse(target, QEvent.Type.MouseButtonRelease, at)
    elif what < 0.65:
        _key(QApplication.focusWidget() or window, chance.choice(_KEYS))
    elif what < 0.8:
        target = QApplication.focusWidget() or window
        for letter in chance.choice(_TEXTS):
            _key(target, Qt.Key(ord(letter.upper())), letter)
        _key(target, Qt.Key.Key_Return)
    elif what < 0.88:
        bench = chance.choice([*all_benches()])
        timed(lambda: window.open_bench(bench), f"open {bench}")
    elif what < 0.94:
        timed(window.undo if chance.random() < 0.6 else window.redo, "undo or redo")
    elif what < 0.97:
        unit = chance.choice(("mm", "in"))
        timed(lambda: window.session.set_unit(unit), f"unit {unit}")
    else:
        wide, high = chance.randint(300, 2200), chance.randint(200, 1400)
        timed(lambda: window.resize(wide, high), "resize")


def run(count: int, seed: int) -> dict[str, object]:
    """So many events."""
    chance = random.Random(seed)
    app = QApplication.instance()
    waited: list[tuple[float, str]] = []
    stood: list[tuple[float, str]] = []
    with demo_window() as (window, caught):
        app = QApplication.instance()
        assert app is not None
        # Dialogs would wait for somebody: they are left at once.
        QDialog.exec = lambda self: 0  # type: ignore[method-assign,assignment]
        # Qt runs these by itself: left open they would wait for ever for a hand.
        QFileDialog.getOpenFileName = QFileDialog.getSaveFileName = lambda *_, **__: ("", "")  # type: ignore[method-assign,assignment]
        begun_mb = memory_mb()
        for n in range(count):
            _took.clear()
            for part in (partial(_one, window, chance), partial(timed, turn, "turn")):
                try:
                    part()
                except Exception as error:  # noqa: BLE001 - that is what is looked for
                    caught.append(f"event {n}: {type(error).__name__}: {error}"[:200])
            for spent, own, what in _took:
                if spent > _STALL_S:
                    waited.append((round(spent, 3), f"event {n} on {window.front}: {what}"))
                if own > _STALL_S:
                    stood.append((round(own, 3), f"event {n} on {window.front}: {what}"))
            for popup in (QApplication.activePopupWidget(), QApplication.activeModalWidget()):
                if popup is not None:
                    popup.close()
        sound = window.session.book.integrity()
        ended_mb = memory_mb()
    return {
        "events": count,
        "lost": len(caught) + (sound != "ok"),
        "uncaught": caught[:10],
        "book": sound,
        "over_100_ms": len(waited),
        "longest": sorted(waited, reverse=True)[:12],
        # Of the window's own thread: what other programs and its own helpers take from it is the machine's matter.
        "own_over_100_ms": len(stood),
        "longest_own": sorted(stood, reverse=True)[:12],
        "memory_mb": [round(begun_mb), round(ended_mb)],
    }

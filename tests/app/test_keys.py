"""The list of keys: what is bound is in it, it can be changed, and what would not work is said."""

from __future__ import annotations

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtGui import QKeySequence
from PyQt6.QtTest import QTest

from elbrix.app.keys import keymap, known_keys
from elbrix.app.keys_dialog import KeysDialog
from elbrix.app.theme.palette import LIGHT
from elbrix.app.window import Window
from elbrix.quantities.errors import EntryError


def test_every_key_is_shipped_once() -> None:
    every = [k for key in known_keys().values() for k in key.usual]
    assert len(every) == len(set(every))
    assert all(QKeySequence(k).toString() == k for k in every)


def test_another_key_works_at_once_and_is_kept(window: Window) -> None:
    dialog = KeysDialog(LIGHT, window)
    row = dialog.card.rows["bench hold"]
    row.activate()
    assert row.editor is not None
    row.editor.selectAll()
    QTest.keyClicks(row.editor, "Ctrl+H; F6")
    QTest.keyClick(row.editor, Qt.Key.Key_Return)
    assert dialog.card.rows["bench hold"].row.value == "Ctrl+H or F6"
    dialog.close()
    QTest.keyClick(window, Qt.Key.Key_4, Qt.KeyboardModifier.AltModifier)
    assert window.front == "design"
    QTest.keyClick(window, Qt.Key.Key_F6)
    assert window.front == "hold"
    assert keymap().keys("bench hold") == ("Ctrl+H", "F6")
    keymap().change("bench hold", "")
    QTest.keyClick(window, Qt.Key.Key_2, Qt.KeyboardModifier.AltModifier)
    QTest.keyClick(window, Qt.Key.Key_4, Qt.KeyboardModifier.AltModifier)
    assert window.front == "hold"


@pytest.mark.parametrize(
    ("text", "says"), [("Ctrl+Z", "is taken"), ("K", "typed in every entry"), ("banana", "is no key"), ("Ctrl+K, X", "is no key")]
)
def test_a_key_that_cannot_be_is_refused_beside_its_line(window: Window, text: str, says: str) -> None:
    with pytest.raises(EntryError, match=says):
        keymap().change("ask", text)
    dialog = KeysDialog(LIGHT, window)
    dialog.card.typed.emit("ask", text)
    dialog.card.accepted.emit("ask")
    assert says in dialog.card.rows["ask"].error_text
    assert keymap().keys("ask") == ("F4",)


def test_all_as_shipped(window: Window) -> None:
    keymap().change("undo", "Ctrl+Backspace")
    keymap().change("ask", "Ctrl+K")
    dialog = KeysDialog(LIGHT, window)
    assert dialog.card.rows["undo"].row.origin == "chosen"
    dialog.card.button("shipped").click()
    assert all(keymap().keys(name) == key.usual for name, key in known_keys().items())


def test_the_rail_leads_to_the_list(window: Window, monkeypatch: pytest.MonkeyPatch) -> None:
    opened: list[KeysDialog] = []
    monkeypatch.setattr(KeysDialog, "exec", lambda dialog: opened.append(dialog) or 0)
    window.rail.keys.picked.emit("keys")
    QTest.keyClick(window, Qt.Key.Key_F1)
    assert len(opened) == 2

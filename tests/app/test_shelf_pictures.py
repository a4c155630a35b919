"""Pictures of a shelf: all of them come, none is drawn twice, and no turn of the loop draws more than it has time for."""

from __future__ import annotations

import time

import pytest
from PyQt6.QtCore import QSizeF
from PyQt6.QtGui import QPixmap
from PyQt6.QtWidgets import QApplication, QHBoxLayout, QWidget
from pytestqt.qtbot import QtBot

from elbrix.app.plate import thumbnail
from elbrix.app.plate.thumbnail import Thumbnail, thumbnails_waiting
from elbrix.drawing.scene import Scene, Style, box

_SLOW_S = 0.008


@pytest.fixture
def drawn(monkeypatch: pytest.MonkeyPatch) -> list[tuple[str, float]]:
    """(key, when) of each picture that is really drawn; each takes its time."""
    found: list[tuple[str, float]] = []
    before = Thumbnail._drawn

    def slow(self: Thumbnail, scene: Scene, size: QSizeF) -> QPixmap:
        if self._kept is None or self._kept[0] != self._state(scene, size):
            time.sleep(_SLOW_S)
            found.append((self.key, time.monotonic()))
        return before(self, scene, size)

    monkeypatch.setattr(Thumbnail, "_drawn", slow)
    return found


def scene(n: int) -> Scene:
    return Scene(f"s{n}", elements=(box(0, 0, 10 + n, 10, Style.VISIBLE, "a"),))


def shelf(qtbot: QtBot, count: int) -> tuple[QWidget, list[Thumbnail]]:
    holder = QWidget()
    qtbot.addWidget(holder)
    row = QHBoxLayout(holder)
    thumbs = [Thumbnail(f"t{n}", scene(n), f"Number {n}", ()) for n in range(count)]
    for t in thumbs:
        row.addWidget(t)
    return holder, thumbs


def test_thirty_pictures_come_over_several_turns_each_once(qtbot: QtBot, drawn: list[tuple[str, float]]) -> None:
    holder, thumbs = shelf(qtbot, 30)
    holder.show()
    longest, turns = 0.0, 0
    end = time.monotonic() + 20
    while (turns < 3 or thumbnails_waiting()) and time.monotonic() < end:
        had = len(drawn)
        QApplication.processEvents()
        turns += 1
        # A turn may begin one more picture than it has time for, and no further.
        longest = max(longest, (len(drawn) - had) * _SLOW_S)
    assert sorted(k for k, _ in drawn) == sorted(t.key for t in thumbs)
    assert longest <= thumbnail._TURN_S + 2 * _SLOW_S
    assert not thumbnails_waiting()
    had = len(drawn)
    for t in thumbs:
        t.update()
    QApplication.processEvents()
    assert len(drawn) == had  # kept: a touch of the pointer draws none anew


def test_what_is_hidden_or_gone_is_not_waited_for(qtbot: QtBot, drawn: list[tuple[str, float]]) -> None:
    holder, thumbs = shelf(qtbot, 12)
    holder.show()
    QApplication.processEvents()
    holder.hide()
    assert not thumbnails_waiting()
    for t in thumbs[6:]:
        t.deleteLater()
    holder.show()
    qtbot.waitUntil(lambda: not thumbnails_waiting(), timeout=5000)


def test_another_picture_takes_the_place_of_the_old(qtbot: QtBot, drawn: list[tuple[str, float]]) -> None:
    holder, thumbs = shelf(qtbot, 1)
    holder.show()
    qtbot.waitUntil(lambda: len(drawn) == 1, timeout=3000)
    thumbs[0].show_scene(scene(5))
    qtbot.waitUntil(lambda: len(drawn) == 2, timeout=3000)
    thumbs[0].show_scene(thumbs[0]._scene)
    QApplication.processEvents()
    assert len(drawn) == 2

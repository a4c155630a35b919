"""Whatever is made elsewhere meanwhile: widgets nobody holds are taken apart in the window's thread."""

from __future__ import annotations

import gc
import threading

import pytest
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QLineEdit

from elbrix.app.rubbish import Rubbish


class Ring(QLineEdit):
    """A widget that holds itself; it tells where it went."""

    def __init__(self, gone: list[int]) -> None:
        super().__init__()
        self.me, self.gone = self, gone

    def __del__(self) -> None:
        self.gone.append(threading.get_ident())


def busy_beside(seconds: float) -> None:
    """Another thread makes rings of its own as quickly as it can."""
    stop = threading.Event()

    def make() -> None:
        while not stop.is_set():
            ring: list[object] = []
            ring.append(ring)

    beside = threading.Thread(target=make)
    beside.start()
    QTest.qWait(int(1000 * seconds))
    stop.set()
    beside.join()


def test_rings_go_in_the_windows_thread(rubbish: Rubbish) -> None:
    gone: list[int] = []
    for _ in range(50):
        Ring(gone)
    busy_beside(1.5)
    rubbish.look()
    gc.collect()
    assert len(gone) == 50 and set(gone) == {threading.get_ident()}


def test_without_it_they_go_anywhere(rubbish: Rubbish) -> None:
    """What is prevented: Python by itself takes plain rings apart in whichever thread is busy."""

    class Plain:
        def __init__(self, gone: list[int]) -> None:
            self.me, self.gone = self, gone

        def __del__(self) -> None:
            self.gone.append(threading.get_ident())

    rubbish.stop()
    gone: list[int] = []
    for _ in range(50):
        Plain(gone)
    busy_beside(0.5)
    gc.collect()
    rubbish.start()
    assert set(gone) - {threading.get_ident()}


@pytest.mark.parametrize("started", [True, False])
def test_python_looks_by_itself_only_when_it_is_stopped(rubbish: Rubbish, started: bool) -> None:
    (rubbish.start if started else rubbish.stop)()
    assert gc.isenabled() is not started

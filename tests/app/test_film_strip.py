"""The film strip of Make: the setup in hand is in view, whichever move is, however the window opens and whatever its size."""

from __future__ import annotations

from collections.abc import Iterator
from pathlib import Path

import pytest
from PyQt6.QtCore import QRect
from PyQt6.QtWidgets import QApplication

from elbrix.app.benches.make.film import FilmStrip
from elbrix.app.benches.make.view import MakeBench
from elbrix.app.session import Session
from elbrix.app.window import Window
from elbrix.book.documents import JobDoc
from elbrix.book.store import Book
from elbrix.demo import write_demo


def in_view(film: FilmStrip, setup: str) -> bool:
    """Whether the whole frame of a setup stands in the strip."""
    frame = film.frames[setup]
    port = film.viewport()
    assert port is not None
    there = QRect(frame.mapTo(port, frame.rect().topLeft()), frame.size())
    return there.left() >= 0 and there.right() <= port.width() and there.width() > 100


def film_of(window: Window) -> tuple[MakeBench, FilmStrip]:
    bench = window.benches["make"]
    assert isinstance(bench, MakeBench)
    return bench, bench.film


@pytest.mark.parametrize("width", [980, 1280, 1920])
def test_every_move_brings_its_setup_into_view(window: Window, width: int) -> None:
    window.resize(width, 800)
    window.session.pick_design("t-nut-hazel")
    window.open_bench("make")
    bench, film = film_of(window)
    assert bench.presenter is not None and len(film.frames) > 8
    first: dict[str, str] = {}
    for setup, _, move in bench.presenter.moves:
        first.setdefault(setup.id, move.id)
    for setup_id, move_id in [*first.items(), *reversed(first.items())]:
        bench.moves.picked.emit(move_id)
        QApplication.processEvents()
        assert film.frames[setup_id].on and in_view(film, setup_id), (setup_id, width)


@pytest.fixture
def begun(tmp_path: Path) -> Iterator[Book]:
    """A job that was left in its last setup but one."""
    book = write_demo(tmp_path / "b.elbrix")
    book.remember("bench", "make")
    job = next(j for j in book.each(JobDoc) if j.design == "t-nut-hazel")
    assert job.done  # the demo's own is begun
    yield book
    book.close()


def test_a_window_that_opens_in_the_middle_of_a_job_shows_where_it_is(begun: Book) -> None:
    session = Session(begun)
    session.pick_design("t-nut-hazel")
    window = Window(session, starting=True)
    window.resize(1000, 700)
    window.show()
    QApplication.processEvents()
    bench, film = film_of(window)
    on = [key for key, frame in film.frames.items() if frame.on]
    assert len(on) == 1 and on[0] not in list(film.frames)[:4]  # not one that would be in view anyhow
    assert in_view(film, on[0])
    window.resize(1700, 900)
    QApplication.processEvents()
    assert in_view(film, on[0])
    bench.stop()
    window.close()
    window.deleteLater()

"""What was chosen for one plan is what the next begins with."""

from __future__ import annotations

from PyQt6.QtWidgets import QApplication
from pytestqt.qtbot import QtBot

from elbrix.app.benches.make.view import MakeBench
from elbrix.app.window import Window
from elbrix.book.documents import DesignDoc, JobDoc
from elbrix.making.options import Options


def test_the_next_plan_begins_as_the_last_was_chosen(window: Window, qtbot: QtBot) -> None:
    session = window.session
    riser = session.book.get(DesignDoc, "riser-vise")
    assert riser is not None
    session.take(DesignDoc, "plate-yoke")
    window.open_bench("make")
    bench = window.benches["make"]
    assert isinstance(bench, MakeBench)
    qtbot.waitUntil(lambda: bench.presenter is not None and bench.presenter.plan is not None, timeout=20_000)
    for name, value in (("datum", "corner"), ("climb", "no"), ("machine", "hazel")):
        bench._option(name, value)
        QApplication.processEvents()
    kept = next(j for j in session.book.each(JobDoc) if j.design == "plate-yoke").options
    assert (kept.datum, kept.climb, kept.machine) == ("corner", "no", "hazel")
    fresh = session.job_of(riser)
    assert (fresh.options.datum, fresh.options.climb, fresh.options.machine) == ("corner", "no", "")
    session.book.remember("habits of making", "{ nothing readable")
    assert session.job_of(riser).options == Options()

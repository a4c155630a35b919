"""Make: several accessories in one go, chosen over the moves, planned beside the window, kept, printed."""

from __future__ import annotations

import json
import subprocess
import sys

import pytest
from msgspec.structs import replace
from pytestqt.qtbot import QtBot

from elbrix.app.benches.make.view import MakeBench
from elbrix.app.paper.batch_sheet import BatchSheet
from elbrix.app.window import Window
from elbrix.book.batches import MAX_TOGETHER, batch_of
from elbrix.book.documents import Chosen, DesignDoc, JobDoc, shop_of
from elbrix.demo import documents
from elbrix.drawing.scene import Path
from elbrix.presenters.batch import BatchPresenter
from elbrix.quantities.errors import ShopError
from elbrix.quantities.lengths import INCH

DEMO = documents()
SHOP = shop_of(DEMO)
DESIGNS = {d.id: d for d in DEMO if isinstance(d, DesignDoc)}


@pytest.fixture
def bench(window: Window) -> MakeBench:
    window.session.pick_design("t-nut-hazel")
    window.open_bench("make")
    found = window.benches["make"]
    assert isinstance(found, MakeBench)
    return found


def choose(bench: MakeBench, *ids: str) -> None:
    for id_ in ids:
        bench.moves.option_picked.emit("together", id_)


def shown(bench: MakeBench, qtbot: QtBot) -> BatchPresenter:
    bench.moves.batch_button.click()
    qtbot.waitUntil(lambda: bench.batch.shown is not None, timeout=30_000)
    assert bench.batch.shown is not None
    return bench.batch.shown


def test_chosen_and_let_go_over_the_moves_and_kept_in_the_book(bench: MakeBench, window: Window) -> None:
    button = bench.moves.option_buttons["together"]
    assert button.text() == "made alone ▾" and bench.moves.batch_button.isHidden()
    choose(bench, "t-nut-tam", "v-jaws")
    assert button.text() == "made with 2 others ▾" and not bench.moves.batch_button.isHidden()
    doc = window.session.design
    assert doc is not None and window.session.job_of(doc).together == ("t-nut-tam", "v-jaws")
    choose(bench, "t-nut-tam")
    assert window.session.job_of(doc).together == ("v-jaws",)
    window.undo()
    assert window.session.job_of(doc).together == ("t-nut-tam", "v-jaws")
    window.session.book.remove("Deleted", DESIGNS["v-jaws"])
    bench.refresh()
    assert button.text() == "made with 1 other ▾"


def test_the_batch_is_shown_followed_and_left(bench: MakeBench, window: Window, qtbot: QtBot) -> None:
    choose(bench, "t-nut-tam", "v-jaws")
    batch = shown(bench, qtbot)
    assert bench.title()[0] == "T-nut for the long table and 2 more" and window.windowTitle().startswith(bench.title()[0])
    assert bench.right.currentWidget() is bench.card and not bench.film.isVisible()
    assert {t.tile.key for t in bench.strip.tiles if t.tile} >= {"bars", "kit", "order"}
    drawn = {e.feature for e in batch.scene().elements if isinstance(e, Path)}
    assert drawn >= {"t-nut-hazel", "t-nut-tam", "v-jaws"}
    assert bench.pages_title() == "Batch sheet" and isinstance(bench.pages(), BatchSheet)
    # A setup in the order leads to the moves of its own accessory.
    turn = next(t for t in batch.batch.turns if t.job == "v-jaws" and t.station == "Hazel")
    bench.card.picked.emit(f"turn v-jaws {turn.setup.id}", "")
    assert window.session.design_id == "v-jaws" and bench.right.currentWidget() is bench.moves
    assert bench.presenter is not None and bench.presenter.moves[bench.presenter.place_of(bench.current)][0].id == turn.setup.id
    assert window.windowTitle().startswith("V-jaws")


def test_what_it_is_planned_from_may_change_under_it(bench: MakeBench, window: Window, qtbot: QtBot) -> None:
    choose(bench, "t-nut-tam")
    batch = shown(bench, qtbot)
    window.session.set_unit("in")
    qtbot.waitUntil(lambda: bench.batch.shown is not None and bench.batch.shown is not batch, timeout=30_000)
    assert bench.batch.shown is not None and bench.batch.shown.style is INCH
    choose(bench, "t-nut-tam")  # nothing else in it any more
    assert bench.batch.shown is None and bench.right.currentWidget() is bench.moves
    assert bench.moves.batch_button.isHidden()


def test_a_design_that_does_not_solve_is_named() -> None:
    broken = replace(DESIGNS["t-nut-tam"], chosen={"head_width": Chosen(text="6"), "neck_width": Chosen(text="11")})
    with pytest.raises(ShopError) as met:
        batch_of([(DESIGNS["t-nut-hazel"], None), (broken, None)], SHOP)
    assert met.value.where == broken.title and met.value.do
    with pytest.raises(ShopError, match="in one go at most"):
        batch_of([(DESIGNS["t-nut-hazel"], None)] * (MAX_TOGETHER + 1), SHOP)


def test_a_bar_that_was_picked_stays() -> None:
    job = JobDoc(id="j", design="t-nut-hazel")
    alone = batch_of([(DESIGNS["t-nut-hazel"], job), (DESIGNS["t-nut-tam"], None)], SHOP)
    usual = alone.layout.bar_of("t-nut-hazel")
    other = next(o.bar.id for o in alone.plans["t-nut-hazel"].stock.fitting if usual is not None and o.bar.id != usual.id)
    picked = replace(job, options=replace(job.options, bar=other))
    found = batch_of([(DESIGNS["t-nut-hazel"], picked), (DESIGNS["t-nut-tam"], None)], SHOP)
    bar = found.layout.bar_of("t-nut-hazel")
    assert bar is not None and bar.id == other


def test_on_the_command_line() -> None:
    def run(*arguments: str) -> subprocess.CompletedProcess[str]:
        return subprocess.run(
            [sys.executable, "-m", "elbrix.cli.main", "together", *arguments], capture_output=True, text=True, check=False
        )

    ran = run("t-nut-hazel", "t-nut-tam", "--json")
    assert ran.returncode == 0, ran.stderr
    data = json.loads(ran.stdout)
    assert [b["lengths"][0]["design"] for b in data["bars"]] and data["proved"] and not data["buy"]
    orders = [o["setup"] for o in data["order"] if o["design"] == "t-nut-tam"]
    assert orders[0] == "saw" and len(orders) == len(set(orders))
    said = run("t-nut-hazel", "t-nut-tam")
    assert "No order changes less" in said.stdout and "\u2063" not in said.stdout
    wrong = run("t-nut-hazel", "nothing")
    assert wrong.returncode == 1 and "there is no design “nothing”" in wrong.stderr and "t-nut-tam" in wrong.stderr


def test_one_too_many_is_refused_and_none_is_dropped(bench: MakeBench, window: Window) -> None:
    doc = window.session.design
    assert doc is not None
    others = [d for d in DESIGNS if d != doc.id][: MAX_TOGETHER - 1]
    window.session.put("Many", replace(window.session.job_of(doc), together=tuple(others)))
    one_more = next(d for d in DESIGNS if d not in others and d != doc.id)
    said: list[str] = []
    window.session.refused.connect(said.append)
    choose(bench, one_more)
    assert window.session.job_of(doc).together == tuple(others)
    assert said and "in one go at most" in said[0] and "Leave some" in said[0]


def test_a_job_that_gets_another_bar_is_named_and_its_card_can_follow(bench: MakeBench, window: Window, qtbot: QtBot) -> None:
    """The bar both would take alone is cut down to where it is enough for one."""
    doc = window.session.design
    assert doc is not None
    alone = batch_of([(DESIGNS["t-nut-hazel"], None)], window.session.shop)
    bar = alone.layout.bar_of(doc.id)
    assert bar is not None and not alone.moved
    twin = replace(DESIGNS["t-nut-hazel"], id="twin", title="Its twin")
    window.session.put("Two of a kind", twin, replace(bar, length_mm=alone.plans[doc.id].cut_length.value + 40))
    choose(bench, "twin")
    batch = shown(bench, qtbot)
    assert len(batch.batch.moved) == 1
    tile = next(t for t in batch.tiles() if t.key == "cards")
    moved = batch.batch.moved[0]
    assert tile.verdict == "marginal" and batch.batch.titles[moved] in tile.reason
    given = batch.batch.layout.bar_of(moved)
    assert given is not None and given.id != bar.id
    bench.card.pressed.emit("keep bars")
    qtbot.waitUntil(lambda: bench.batch.shown is not None and not bench.batch.shown.batch.moved, timeout=30_000)
    kept = window.session.book.get(DesignDoc, moved)
    assert kept is not None and window.session.job_of(kept).options.bar == given.id

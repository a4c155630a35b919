"""Shop, Make, Catalogue, paper and the window itself."""

from __future__ import annotations

import time
from pathlib import Path

import pytest
from msgspec.structs import replace
from pypdf import PdfReader
from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QLineEdit
from pytestqt.qtbot import QtBot

from elbrix.app.benches.catalogue.view import CatalogueBench
from elbrix.app.benches.design.view import DesignBench
from elbrix.app.benches.make.view import MakeBench
from elbrix.app.benches.shop.view import ShopBench
from elbrix.app.opening import ProblemDialog, copy_of_backup
from elbrix.app.paper.files import write_files
from elbrix.app.paper.output import page_image, write_pdf
from elbrix.app.paper.preview import PagePreview
from elbrix.app.start import open_or_make
from elbrix.app.theme.palette import DIM, LIGHT
from elbrix.app.window import Window
from elbrix.book.documents import DesignDoc, JobDoc
from elbrix.book.opening import BookProblem
from elbrix.book.store import Book
from elbrix.presenters.proof import bar_bands
from elbrix.quantities.errors import ShopError
from elbrix.quantities.readings import Readings
from elbrix.results.checks import Limits
from elbrix.shop.machines import Machine
from elbrix.shop.stock import Bar


def shop_bench(window: Window) -> ShopBench:
    found = window.benches["shop"]
    assert isinstance(found, ShopBench)
    return found


def make_bench(window: Window) -> MakeBench:
    window.open_bench("make")
    found = window.benches["make"]
    assert isinstance(found, MakeBench)
    return found


def catalogue(window: Window) -> CatalogueBench:
    window.open_bench("catalogue")
    found = window.benches["catalogue"]
    assert isinstance(found, CatalogueBench)
    return found


def enter(line: QLineEdit, text: str) -> None:
    line.setText(text)
    QTest.keyClick(line, Qt.Key.Key_Return)


# --- from nothing to a printed label --------------------------------------------------------------------------------


def test_a_new_user_from_an_empty_shop_to_paper(empty_window: Window, tmp_path: Path, qtbot: QtBot) -> None:
    window = empty_window
    bench = shop_bench(window)
    assert (
        window.bench is bench and "Measure your first slot" in bench.plate.shown.message and bench.card.button("demo").isEnabled()
    )
    bench.add_machine("Gertie")
    assert bench.measuring.isVisible() and bench.measuring.line.hasFocus()
    sizes = {
        "neck": ("14.10", "14.20", "14.15"),
        "lip": ("9.6", "9.7", "9.6"),
        "head": ("23.4", "23.5", "23.4"),
        "depth": ("20.5", "20.6", "20.5"),
    }
    for place in range(3):
        for name in ("neck", "lip", "head", "depth"):
            enter(bench.measuring.line, sizes[name][place])
            assert bench.measuring.error_text == ""
    assert not bench.measuring.isVisible()
    slot = window.session.shop.machines[0].slots[0]
    assert (
        slot.places == 3
        and slot.neck is not None
        and slot.neck.min == 14.1
        and slot.neck.places == ("left end", "middle", "right end")
    )
    QTest.mouseClick(bench.card.button("design"), Qt.MouseButton.LeftButton)
    design = window.benches["design"]
    assert isinstance(design, DesignBench) and design.shelf.isVisible()
    QTest.mouseClick(design.shelf.families["t_nut"], Qt.MouseButton.LeftButton)
    assert design.presenter is not None and design.presenter.design is not None
    v = design.presenter.design.values
    assert [v.number(n) for n in ("neck_width", "neck_height", "head_width", "head_height")] == pytest.approx(
        [13.8, 8.6, 22.4, 10.3]
    )  # by hand
    qtbot.waitUntil(lambda: "cut_length" in design.card.rows)  # the plan follows the first paint
    assert (
        v.word("thread") == "M12x1.75"
        and "Buy" in design.card.rows["cut_length"].row.label + design.presenter.card().sections[3].text
    )
    design.issue("First issue")
    label = tmp_path / "label.pdf"
    pages = window.bench.pages()
    assert pages is not None
    write_pdf(pages, label)
    page = PdfReader(label).pages[0]
    assert float(page.mediabox.width) == pytest.approx(62 / 25.4 * 72, abs=1) and "M12" in page.extract_text()
    card = make_bench(window).pages()
    assert card is not None
    write_pdf(card, tmp_path / "card.pdf")
    text = " ".join(" ".join(p.extract_text().split()) for p in PdfReader(tmp_path / "card.pdf").pages)
    assert "Buy" in text and "Route card" in text and "Catch the piece" in text and "(missing)" in text


# --- shop -----------------------------------------------------------------------------------------------------------


def test_measuring_refuses_what_cannot_be_and_keeps_the_rest(window: Window) -> None:
    window.open_bench("shop")
    bench = shop_bench(window)
    bench.see("margaret")
    bench.pick("slot front slot")
    bench.start_measuring()
    enter(bench.measuring.line, "0.69")  # an inch size typed in mm
    assert "write 0.69 in" in bench.measuring.error_text
    enter(bench.measuring.line, "0.69 in")
    enter(bench.measuring.line, "11.4")
    enter(bench.measuring.line, "12.0")  # a head narrower than the neck
    assert "exchange the two readings" in bench.measuring.error_text
    bench.measuring.line.setText("x" * 10_000)
    bench.measuring.entered.emit("x" * 10_000)
    assert "10,000 characters" in bench.measuring.error_text
    slot = window.session.shop.machine("margaret").slot("front slot")
    assert slot.neck is not None and slot.neck.min == pytest.approx(17.526) and slot.head is None
    assert bench.plate.shown.title == "MEASURING FRONT SLOT"
    bench.measuring.finished.emit()
    assert not bench.measuring.isVisible() and bench.strip.isVisible()


def test_readings_typed_on_the_card_and_on_the_plate(window: Window) -> None:
    window.open_bench("shop")
    bench = shop_bench(window)
    bench.see("hazel")
    bench.card.typed.emit("neck", "12.0; 12.1")
    neck = window.session.shop.machine("hazel").slot("middle slot").neck
    assert neck is not None and neck.values_mm == (12.0, 12.1)
    bench.plate.typed.emit("lip", "8.5")
    assert window.session.shop.machine("hazel").slot("middle slot").lip.values_mm == (8.5,)  # type: ignore[union-attr]
    bench.card.typed.emit("lip", "17")
    assert "exchange the two readings" in bench.card.rows["lip"].error_text
    assert window.session.shop.machine("hazel").slot("middle slot").lip.values_mm == (8.5,)  # type: ignore[union-attr]


@pytest.mark.parametrize(
    ("key", "text", "said"),
    [
        ("axis X", "4; 200; 0.1", ""),
        ("axis X", "4", "advance of one turn"),
        ("axis X", "4; many", "Count them round the dial"),
        ("field speeds_rpm", "100, 200", ""),
        ("field speeds_rpm", "fast", "Write for example 80"),
        ("field name", "", "no name"),
        ("offset_mm", "-50", ""),
        ("slot_label", "front slot", "taken"),
        ("field rigidity", "heavy", ""),
    ],
)
def test_machine_entries(window: Window, key: str, text: str, said: str) -> None:
    window.open_bench("shop")
    bench = shop_bench(window)
    bench.see("hazel")
    bench.card.typed.emit(key, text)
    error = bench.card.rows[key].error_text
    assert (said in error) if said else error == ""


def test_bars_and_cutters_are_edited_added_and_removed(window: Window) -> None:
    window.open_bench("shop")
    bench = shop_bench(window)
    bench.see("rack")
    bench.pick("item bar-1")
    bench.card.typed.emit("field length_mm", "120")
    assert window.session.book.get(Bar, "bar-1").length_mm == 120  # type: ignore[union-attr]
    before = len(window.session.shop.bars)
    bench.card.pressed.emit("add thing")
    assert len(window.session.shop.bars) == before + 1
    bench.card.picked.emit("field material", "brass")
    assert window.session.book.get(Bar, bench._item).material == "brass"  # type: ignore[union-attr]
    bench.card.pressed.emit("remove")
    assert len(window.session.shop.bars) == before
    bench.see("cutters")
    assert any(
        t.tile and t.tile.verdict == "no-go" and "never goes in" in t.tile.reason for t in bench.strip.tiles
    )  # 20 mm shank, 3/4 collet
    for list_ in ("studs", "measuring"):
        bench.see(list_)
        assert bench.plate.shown.scene.elements and bench.card.rows


def test_a_full_rack_in_a_small_window_names_its_bars_smaller(window: Window, qtbot: QtBot) -> None:
    """Of 24 bars in the smallest window every second one had a name."""
    window.resize(980, 640)
    window.open_bench("shop")
    bench = window.benches["shop"]
    assert isinstance(bench, ShopBench)
    bench.see("rack")
    qtbot.waitUntil(lambda: bench.plate.grab().width() > 0)
    notes = [n for pane in bench.plate.notes() for n in pane]
    assert len(notes) >= len(window.session.shop.bars) - 1
    assert min(n.letters for n in notes) >= 10


# --- make -----------------------------------------------------------------------------------------------------------


def test_space_is_done_and_next(window: Window) -> None:
    bench = make_bench(window)
    assert bench.current == "shoulder.far.rough1"  # the demo job has come that far
    bench.moves.setFocus()
    QTest.keyClick(bench.moves, Qt.Key.Key_Space)
    assert bench.current == "shoulder.far.rough2"
    job = window.session.book.get(JobDoc, "job-t-nut-hazel")
    assert job is not None and "shoulder.far.rough1" in job.done
    window.undo()
    assert "shoulder.far.rough1" not in window.session.book.get(JobDoc, "job-t-nut-hazel").done  # type: ignore[union-attr]


def test_a_measured_size_replans_at_once(window: Window) -> None:
    bench = make_bench(window)
    bench._pick("shoulder.far.finish2")
    widget = bench.moves.widgets["shoulder.far.finish2"]
    numbers = {line.id: dict(line.numbers) for line in bench.presenter.lines()}  # type: ignore[union-attr]
    near = numbers["shoulder.near.finish2"]["Y"]
    widget.entry.setText("15.00")
    widget.entry.editingFinished.emit()
    after = {line.id: dict(line.numbers) for line in bench.presenter.lines()}["shoulder.near.finish2"]["Y"]  # type: ignore[union-attr]
    expected = 14.96  # 18.22/2 + 11.7/2
    assert float(after.replace("−", "-")) - float(near.replace("−", "-")) == pytest.approx(15.00 - expected, abs=0.006)
    widget.entry.setText("150")
    widget.entry.editingFinished.emit()
    assert "It must be" in widget.error_text


def test_options_change_the_plan(window: Window) -> None:
    bench = make_bench(window)
    bench._option("machine", "margaret")
    assert bench.presenter is not None and bench.presenter.plan is not None
    assert bench.presenter.plan.machine == "Old Margaret" and "back" in str(bench.presenter.lines())
    bench._option("style", "quick")
    bench._option("spring_pass", "yes")
    bench._option("passes", "creep")
    assert window.session.job_of(window.session.design).options.passes == "creep"  # type: ignore[arg-type]
    assert [b.text().removesuffix(" ▾") for b in bench.moves.option_buttons.values()][:3] == [
        "on Old Margaret",
        "quick",
        "creep up on size",
    ]


def test_at_the_machine_is_readable_at_two_metres(window: Window) -> None:
    bench = make_bench(window)
    bench._pick("shoulder.far.finish2")
    bench.at_machine()
    view = bench.machine_view
    assert view.isVisible() and view.size() == window.size()
    shown = [label for label in view.numbers if label.isVisible()]
    assert [label.text() for label in shown] == ["Y  8.850", "Z  −7.200"]
    # 2 m needs letters of about 7 mm (1/300 of the distance); at 96 dots an inch that is 26 px, and these are several times that.
    assert all(label.fontInfo().pixelSize() >= 90 for label in shown)
    QTest.keyClick(view, Qt.Key.Key_Space)
    assert bench.current == "shoulder.near.rough1"
    QTest.keyClick(view, Qt.Key.Key_Left)
    assert bench.current == "shoulder.far.finish2"
    view.entry.setText("14.98")
    QTest.keyClick(view.entry, Qt.Key.Key_Return)
    assert window.session.job_of(window.session.design).measured["first_shoulder"] == 14.98  # type: ignore[arg-type]
    view.entry.setText("banana")
    QTest.keyClick(view.entry, Qt.Key.Key_Return)
    assert "cannot be read" in view.error_text
    QTest.keyClick(view, Qt.Key.Key_Escape)
    assert not view.isVisible()


def test_film_strip_picks_a_setup(window: Window, qtbot: QtBot) -> None:
    bench = make_bench(window)
    QTest.mouseClick(bench.film.frames["holes"], Qt.MouseButton.LeftButton)
    assert bench.current == "holes.zero.X"
    qtbot.waitUntil(lambda: "STUD HOLE" in bench.plate.shown.title, timeout=20_000)
    assert bench.why_of("bar") is not None and "20 × 16" in bench.why_of("bar").derivation  # type: ignore[union-attr]
    assert "end mill Ø6" in bench.why_of("kit").derivation  # type: ignore[union-attr]


# --- catalogue ------------------------------------------------------------------------------------------------------


def test_words_search(window: Window, qtbot: QtBot) -> None:
    bench = catalogue(window)
    assert set(bench.drawers.cards) == {d.id for d in window.session.designs}
    bench.drawers.line.setText("blind tam")
    qtbot.waitUntil(lambda: set(bench.drawers.cards) == {"t-nut-tam"}, timeout=3000)
    bench.drawers.line.setText("zeppelin")
    qtbot.waitUntil(lambda: not bench.drawers.cards, timeout=3000)
    assert "Remove one" in bench.drawers.empty.text()


def test_remeasuring_a_slot_changes_what_fits(window: Window) -> None:
    bench = catalogue(window)
    fits = {t.tile.label: t.tile.verdict for t in bench.strip.tiles if t.tile}
    assert fits["Hazel, middle slot"] == "go" and fits["Pip, front slot"] == "no-go"
    hazel = window.session.book.get(Machine, "hazel")
    assert hazel is not None
    tight = replace(hazel.slots[1], neck=Readings(values_mm=(11.6,)))
    window.session.put("Remeasured", replace(hazel, slots=(hazel.slots[0], tight, hazel.slots[2])))
    fits = {t.tile.label: t.tile.verdict for t in bench.strip.tiles if t.tile}
    assert fits["Hazel, middle slot"] == "no-go" and fits["Hazel, rear slot"] == "go"


def test_as_made_location_and_notes(window: Window) -> None:
    bench = catalogue(window)
    bench.card.typed.emit("made length", "20.1; 20.0")
    bench.card.typed.emit("location", "Drawer 9")
    bench.card.typed.emit("notes", "Wipe it.")
    bench.card.typed.emit("made_count", "a few")
    assert "is no count" in bench.card.rows["made_count"].error_text
    doc = window.session.book.get(DesignDoc, "t-nut-hazel")
    assert (
        doc is not None and doc.location == "Drawer 9" and doc.notes == "Wipe it." and doc.as_made[-1].readings_mm == (20.1, 20.0)
    )
    assert "●" in bench.card.rows["made length"].row.label
    bench.card.typed.emit("made length", "")
    assert all(m.figure != "length" for m in window.session.book.get(DesignDoc, "t-nut-hazel").as_made)  # type: ignore[union-attr]


# --- paper ----------------------------------------------------------------------------------------------------------


def test_route_card_carries_every_number(window: Window, tmp_path: Path) -> None:
    bench = make_bench(window)
    pages = bench.pages()
    assert pages is not None and pages.count > 2
    write_pdf(pages, tmp_path / "card.pdf")
    reader = PdfReader(tmp_path / "card.pdf")
    text = " ".join(" ".join(p.extract_text().split()) for p in reader.pages)
    assert len(reader.pages) == pages.count
    for line in bench.presenter.lines():  # type: ignore[union-attr]
        for _, number in line.numbers:
            assert number in text, line.id
    assert "18.22 mm" in text and text.count("no certificate") == pages.count


@pytest.mark.qt_log_ignore("QPainter::begin", extend=True)
def test_preview_is_the_real_page_and_writes_it(window: Window, tmp_path: Path, qtbot: QtBot) -> None:
    window.open_bench("design")
    pages = window.bench.pages()
    assert pages is not None
    preview = PagePreview(pages, "Drawing", window)
    qtbot.addWidget(preview)
    preview.write(tmp_path / "d.pdf")
    assert "Written" in preview.said.text() and "2 : 1" in " ".join(PdfReader(tmp_path / "d.pdf").pages[0].extract_text().split())
    preview.write(tmp_path / "nowhere" / "d.pdf")
    assert "cannot be written" in preview.said.text()
    image = page_image(pages, 0, 600)
    assert (image.width(), image.height()) == (600, round(600 * 210 / 297))


def test_files_from_the_window(window: Window, tmp_path: Path) -> None:
    doc = window.session.design
    assert doc is not None
    written = write_files(window.session, doc, tmp_path)
    assert {p.suffix for p in written} == {".step", ".stl", ".dxf", ".svg", ".pdf", ".csv", ".json"} and all(
        p.stat().st_size > 60 for p in written
    )


# --- the window -----------------------------------------------------------------------------------------------------


def test_benches_by_keyboard_and_only_those_that_work(window: Window) -> None:
    assert list(window.rail.stops) == ["shop", "design", "angles", "hold", "make", "inspect", "catalogue"]
    for key, modifier_key in zip(window.rail.stops, "1234567", strict=True):
        QTest.keyClick(window, getattr(Qt.Key, f"Key_{modifier_key}"), Qt.KeyboardModifier.AltModifier)
        assert window.bench is window.benches[key]


def test_everything_is_remembered(window: Window, open_window: object) -> None:
    window.open_bench("make")
    window.session.set_unit("in")
    window.session.set_dim(True)
    path = window.session.book.path
    window.close()
    again = open_window(Book.open(path))  # type: ignore[operator]
    assert again.bench is again.benches["make"] and again.session.style.length == "in" and again.session.dim
    assert again.session.design.id == "t-nut-hazel"


def test_second_window_reads_only_and_says_so(window: Window, open_window: object) -> None:
    second = open_window(Book.open(window.session.book.path))  # type: ignore[operator]
    assert "another window" in second.notice.text() and second.notice.isVisible()
    second.session.pick_design("t-nut-hazel")
    second.open_bench("design")
    second.benches["design"].card.typed.emit("length", "44")  # type: ignore[attr-defined]
    assert "may only read" in second.notice.text()
    assert second.session.book.get(DesignDoc, "t-nut-hazel").chosen["length"].text == "20"


def test_trouble_is_shown_until_it_is_over(window: Window, qtbot: QtBot) -> None:
    book = window.session.book
    (pages,) = book._connection.execute("PRAGMA page_count").fetchone()
    book._connection.execute(f"PRAGMA max_page_count = {pages}")
    window.session.put("Large", replace(window.session.design, notes="x" * 200_000))  # type: ignore[type-var]
    assert window.trouble.isVisible() and "not in the file yet" in window.trouble.text()
    book._connection.execute("PRAGMA max_page_count = 1000000")
    qtbot.waitUntil(lambda: not window.trouble.isVisible(), timeout=6000)


def test_problem_dialog_offers_what_is_possible(tmp_path: Path, qtbot: QtBot) -> None:
    path = tmp_path / "shop.elbrix"
    book = Book.create(path)
    book.put("Bar", Bar(id="b", width_mm=20, height_mm=16, length_mm=500))
    book.close()
    Book.open(path).close()  # makes today's backup
    path.write_bytes(b"rubbish")
    with pytest.raises(BookProblem) as problem:
        open_or_make(path)
    dialog = ProblemDialog(problem.value)
    qtbot.addWidget(dialog)
    assert dialog.buttons["backup"].isEnabled()
    QTest.mouseClick(dialog.buttons["backup"], Qt.MouseButton.LeftButton)
    assert isinstance(dialog.choice, Path)
    restored = Book.open(dialog.choice)
    assert restored.get(Bar, "b") is not None and path.read_bytes() == b"rubbish"
    restored.close()
    assert copy_of_backup(tmp_path / "none.elbrix") is None


def test_title_menu_renames_nothing_by_itself(window: Window) -> None:
    texts = [a.text() for a in window.title_menu().actions() if a.text()]
    assert "New design…" in texts and any("T-nut for the long table" in t for t in texts)
    window._copy()
    assert window.session.design.title.endswith(", copy") and not window.session.design.revisions  # type: ignore[union-attr]


@pytest.mark.parametrize("bench", ["shop", "design", "angles", "hold", "make", "catalogue"])
def test_empty_benches_say_what_to_do_next(empty_window: Window, bench: str) -> None:
    empty_window.open_bench(bench)
    image = empty_window.grab().toImage()
    assert not image.isNull()
    shown = {
        "shop": lambda w: w.benches["shop"].plate.shown.message,
        "design": lambda w: w.bench.title()[1],
        "angles": lambda w: w.benches["angles"].plate.shown.message,
        "hold": lambda w: w.benches["hold"].plate.shown.message,
        "make": lambda w: w.benches["make"].plate.shown.message,
        "catalogue": lambda w: w.benches["catalogue"].drawers.empty.text(),
    }[bench](empty_window)
    assert len(shown) > 20


def test_typing_never_stalls_the_window(window: Window, qtbot: QtBot) -> None:
    """Not a stopwatch: while the kernel works, the event loop keeps turning."""
    turns = 0
    start = time.monotonic()

    def turn() -> None:
        nonlocal turns
        turns += 1

    from PyQt6.QtCore import QTimer

    timer = QTimer()
    timer.timeout.connect(turn)
    timer.start(5)
    for value in range(20, 30):
        window.benches["design"].card.typed.emit("length", str(value))  # type: ignore[attr-defined]
        qtbot.wait(10)
    qtbot.waitUntil(lambda: not window.session.kernel.busy, timeout=20_000)
    assert turns >= 5 and time.monotonic() > start


def test_bar_marker_stands_in_its_band() -> None:
    for limits in (Limits(0.05, 0.2, 0.5), Limits(marginal_above=40, no_above=60), Limits(no_below=1), Limits()):
        for value in (-1, 0.0, 0.1, 0.3, 0.7, 39, 41, 61, 1e6):
            bands, at = bar_bands(limits, value)
            band = next(
                v
                for a, b, v in bands
                if a - 1e-9 <= at <= b + 1e-9 and (v == limits.judge(value).value or abs(at - a) < 1e-9 or abs(at - b) < 1e-9)
            )
            assert 0 <= at <= 1 and band


def _contrast(a: str, b: str) -> float:
    def luminance(colour: str) -> float:
        parts = [int(colour[i : i + 2], 16) / 255 for i in (1, 3, 5)]
        r, g, b = (p / 12.92 if p <= 0.03928 else ((p + 0.055) / 1.055) ** 2.4 for p in parts)
        return 0.2126 * r + 0.7152 * g + 0.0722 * b

    high, low = sorted((luminance(a), luminance(b)), reverse=True)
    return (high + 0.05) / (low + 0.05)


@pytest.mark.parametrize("p", [LIGHT, DIM], ids=["light", "dim"])
def test_letters_stand_out(p: object) -> None:
    pairs = [
        ("ink", "card"),
        ("ink", "paper"),
        ("soft", "card"),
        ("soft", "paper"),
        ("brass", "plate"),
        ("scribed", "plate"),
        ("note", "plate"),
        ("on_accent", "accent"),
        ("accent", "card"),
        ("rail_soft", "rail"),
        ("go", "card"),
        ("marginal", "card"),
        ("no_go", "card"),
        ("hidden", "plate"),
    ]
    for front, back in pairs:
        assert _contrast(getattr(p, front), getattr(p, back)) >= 4.5, (front, back)


def test_refused_edit_is_said(window: Window) -> None:
    with pytest.raises(ShopError):
        Book.create(window.session.book.path)


def test_the_last_move_makes_the_piece_a_possession(window: Window) -> None:
    bench = make_bench(window)
    presenter = bench.presenter
    assert presenter is not None and presenter.plan is not None
    last = presenter.moves[-1][2].id
    window.session.put("nearly", replace(presenter.job, done=tuple(m.id for _, _, m in presenter.moves if m.id != last)))
    doc = window.session.design
    assert doc is not None
    said: list[str] = []
    window.session.refused.connect(said.append)
    bench._pick(last)
    bench.tick_and_next()
    now = next(d for d in window.session.designs if d.id == doc.id)
    assert now.made == doc.made + doc.pieces and "in the drawer" in said[-1]
    assert any(f.id == f"made-{doc.id}" for f in window.session.shop.fasteners)
    window.undo()
    assert next(d for d in window.session.designs if d.id == doc.id).made == doc.made
    assert not any(f.id == f"made-{doc.id}" for f in window.session.shop.fasteners)


def test_another_look_reaches_the_benches_behind_and_those_opened_at_once(window: Window, qtbot: QtBot) -> None:
    for key in ("hold", "angles", "catalogue", "design"):
        window.open_bench(key)
    window.session.set_dim(True)
    assert window.bench.plate._palette is DIM
    window.open_bench("hold")  # before its turn came
    assert window.bench.plate._palette is DIM and window.stack.currentWidget() is window.benches["hold"]
    made = list(window.benches.values())
    qtbot.waitUntil(lambda: all(window.stack.indexOf(b) >= 0 for b in made), timeout=5000)
    assert all(b.plate._palette is DIM and b.window() is window for b in made)
    window.session.set_dim(False)
    window.close()  # while benches are still to follow


def test_the_lamp_goes_through_the_benches_with_the_window_awake(window: Window, qtbot: QtBot) -> None:
    for key in ("design", "hold", "shop"):
        window.open_bench(key)
    window.head.lamp.click()
    assert not window.session.dim  # not in the turn of the click
    window.open_bench("hold")  # opened while it is being taken out of the way
    qtbot.waitUntil(lambda: window.session.dim)
    qtbot.waitUntil(lambda: not window._restyling.busy)
    assert all(window.stack.indexOf(bench) >= 0 for bench in window.benches.values())
    assert window.bench is window.benches["hold"] and window.bench.isVisible()
    assert str(window.session.palette.paper) in window.styleSheet()
    window.head.lamp.click()
    window.head.lamp.click()  # twice: it stays as it is
    qtbot.wait(60)
    assert window.session.dim and all(window.stack.indexOf(bench) >= 0 for bench in window.benches.values())

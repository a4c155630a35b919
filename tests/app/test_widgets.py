"""Card, plate, strip and dialogs, worked by mouse and keyboard."""

from __future__ import annotations

from pathlib import Path

import pytest
from PyQt6.QtCore import QEvent, QPoint, QPointF, Qt
from PyQt6.QtGui import QImage, QMouseEvent, QWheelEvent
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication
from pytestqt.qtbot import QtBot

from elbrix.app.card.card import Card
from elbrix.app.entry import LineDialog
from elbrix.app.pictures import VIEWS
from elbrix.app.plate.brass_entry import BrassEntry
from elbrix.app.plate.drawing_view import DrawingView
from elbrix.app.plate.solid import SolidPicture
from elbrix.app.plate.thumbnail import Thumbnail
from elbrix.app.proof.strip import ProofStrip
from elbrix.app.theme.palette import DIM, LIGHT
from elbrix.app.window import Window
from elbrix.book.documents import DesignDoc
from elbrix.demo import documents
from elbrix.drawing.scene import Dimension, Handle, Line, Note, Scene, Side, box
from elbrix.presenters.card import Button, CardView, Row, Section
from elbrix.presenters.plate import PlateView
from elbrix.presenters.proof import Tile
from elbrix.results.checks import Limits
from elbrix.solids.client import Kernel
from elbrix.solids.recipe import Prism

LENGTH = Row(
    key="length", label="Length", value="20.00", unit="mm", origin="chosen", edit="text", entry_text="20", derivation="chosen"
)
TOTAL = Row(key="total", label="Total", value="14.50", unit="mm", origin="calculated", derivation="7.2 + 7.3 = 14.5")
STOP = Row(
    key="stop", label="Stop", value="staked", origin="assumed", edit="choice", choices=(("a", "A"), ("b", "B")), chosen=True
)
NOTE = Row(
    key="note", label="Lessons", value="A long sentence that needs several lines to be read whole " * 3, edit="text", wrap=True
)


@pytest.fixture
def card(qtbot: QtBot) -> Card:
    found = Card()
    qtbot.addWidget(found)
    found.resize(360, 600)
    found.show_view(
        CardView(
            sections=(Section(title="Nut", rows=(LENGTH, TOTAL, STOP, NOTE)),), buttons=(Button(key="go", text="Go", main=True),)
        )
    )
    found.show()
    qtbot.waitExposed(found)
    return found


def test_enter_opens_the_entry_and_keeps_it(card: Card) -> None:
    heard: list[tuple[str, ...]] = []
    card.typed.connect(lambda *a: heard.append(("typed", *a)))
    card.accepted.connect(lambda *a: heard.append(("accepted", *a)))
    row = card.rows["length"]
    row.setFocus()
    QTest.keyClick(row, Qt.Key.Key_Return)
    assert row.editor is not None and row.editor.text() == "20"
    QTest.keyClicks(row.editor, "21")
    QTest.keyClick(row.editor, Qt.Key.Key_Return)
    assert heard == [("typed", "length", "2"), ("typed", "length", "21"), ("accepted", "length")]
    assert row.editor is None


def test_escape_lets_go(card: Card) -> None:
    heard: list[str] = []
    card.cancelled.connect(heard.append)
    row = card.rows["length"]
    row.activate()
    assert row.editor is not None
    QTest.keyClick(row.editor, Qt.Key.Key_Escape)
    assert heard == ["length"] and row.editor is None


def test_a_wrong_entry_stays_open_with_its_message(card: Card) -> None:
    row = card.rows["length"]
    row.activate()
    card.show_error("length", "That cannot be")
    assert row.editor is not None and row.error_text == "That cannot be"
    QTest.keyClick(row.editor, Qt.Key.Key_Return)
    assert row.editor is not None
    card.show_error("length", "")
    QTest.keyClick(row.editor, Qt.Key.Key_Return)
    assert row.editor is None


def test_a_word_that_waits_for_its_number_has_no_unit(qtbot: QtBot) -> None:
    """ "measure in" reads as a place."""

    def drawn(value: str, unit: str) -> QImage:
        card = Card()
        qtbot.addWidget(card)
        row = Row(key="neck", label="Neck", value=value, placeholder="measure", edit="text", unit=unit)
        card.show_view(CardView(sections=(Section(title="", rows=(row,)),)))
        card.resize(320, 200)
        return card.grab().toImage()

    assert drawn("", "in") == drawn("", "")
    assert drawn("0.5", "in") != drawn("0.5", "")


def test_a_card_made_anew_keeps_what_is_being_typed(card: Card) -> None:
    row = card.rows["length"]
    row.activate()
    assert row.editor is not None
    row.editor.setText("33")
    extra = Row(key="ring", label="Ring", value="1")
    card.show_view(CardView(sections=(Section(title="Nut", rows=(LENGTH, extra, TOTAL)),)))
    again = card.rows["length"]
    assert again is not row
    assert again.editor is not None and again.editor.text() == "33"


def test_question_mark_shows_the_working(card: Card) -> None:
    row = card.rows["length"]
    row.setFocus()
    QTest.keyClick(row, Qt.Key.Key_Question)
    assert row.working_open
    QTest.keyClick(row, Qt.Key.Key_Question)
    assert not row.working_open
    QTest.mouseClick(card.rows["total"], Qt.MouseButton.LeftButton, pos=QPoint(200, 10))
    assert card.rows["total"].working_open  # nothing to type there: a click shows how it came about


def test_sentences_take_the_room_they_need(card: Card) -> None:
    assert card.rows["note"].height() > 2 * card.rows["length"].height()


def test_numbers_say_where_they_came_from_to_those_who_listen(card: Card) -> None:
    assert card.rows["length"].accessibleName() == "Length 20.00 mm chosen"
    assert card.rows["total"].accessibleName().endswith("calculated")


def test_buttons_report_and_refresh(card: Card) -> None:
    pressed: list[str] = []
    card.pressed.connect(pressed.append)
    QTest.mouseClick(card.button("go"), Qt.MouseButton.LeftButton)
    assert pressed == ["go"]
    card.show_view(
        CardView(
            sections=(Section(title="Nut", rows=(LENGTH, TOTAL, STOP, NOTE)),),
            buttons=(Button(key="go", text="Gone", main=True, enabled=False),),
        )
    )
    assert card.button("go").text() == "Gone" and not card.button("go").isEnabled()
    QTest.mouseClick(card.button("go"), Qt.MouseButton.LeftButton)
    assert pressed == ["go"]


def test_a_number_can_be_copied(card: Card) -> None:
    card.rows["total"]._copy()
    clipboard = QApplication.clipboard()
    assert clipboard is not None and clipboard.text() == "14.50"


# --- plate ----------------------------------------------------------------------------------------------------------

SQUARE = Scene(
    "square",
    elements=(box(0, 0, 20, 10, feature="block"), Note((24, 8), "a note", leader=(20, 8))),
    dimensions=(
        Dimension("width", (0, 0), (20, 0), Side.BELOW, entry="width", feature="block"),
        Dimension("height", (0, 0), (0, 10), Side.LEFT, entry="height", order=1),
    ),
    handles=(Handle("width", (20, 0), (20, 10), (1.0, 0.0), 1.0, 0.5, 5, 25, "too small", "too large", "block"),),
)


@pytest.fixture
def plate(qtbot: QtBot) -> DrawingView:
    found = DrawingView()
    qtbot.addWidget(found)
    found.resize(700, 450)
    found.show()
    qtbot.waitExposed(found)
    found.show_view(PlateView(SQUARE, title="SQUARE", tabs=("one", "two"), entry_text=lambda e: "20", thing="x"))
    return found


def test_a_thing_fits_the_plate_with_its_sizes(plate: DrawingView) -> None:
    left, top = plate.view.px((0, 10)).x(), plate.view.px((0, 10)).y()
    right, bottom = plate.view.px((20, 0)).x(), plate.view.px((20, 0)).y()
    assert 0 < left < right < plate.width() and 0 < top < bottom < plate.height()
    assert (right - left) / (bottom - top) == pytest.approx(2.0)  # always to scale


def test_wheel_zooms_at_the_pointer(plate: DrawingView) -> None:
    at = QPointF(300, 200)
    under = plate.view.mm(at)
    event = QWheelEvent(
        at,
        at,
        QPoint(),
        QPoint(0, 240),
        Qt.MouseButton.NoButton,
        Qt.KeyboardModifier.NoModifier,
        Qt.ScrollPhase.NoScrollPhase,
        False,
    )
    plate.wheelEvent(event)
    assert plate.view.px(under).x() == pytest.approx(300) and plate.view.px(under).y() == pytest.approx(200)


def test_middle_button_pans(plate: DrawingView) -> None:
    before = plate.view.px((0, 0))
    QTest.mousePress(plate, Qt.MouseButton.MiddleButton, pos=QPoint(100, 100))
    plate.mouseMoveEvent(
        QMouseEvent(
            QEvent.Type.MouseMove,
            QPointF(140, 120),
            QPointF(140, 120),
            Qt.MouseButton.NoButton,
            Qt.MouseButton.MiddleButton,
            Qt.KeyboardModifier.NoModifier,
        )
    )
    QTest.mouseRelease(plate, Qt.MouseButton.MiddleButton, pos=QPoint(140, 120))
    after = plate.view.px((0, 0))
    assert (after.x() - before.x(), after.y() - before.y()) == (40, 20)


def test_zoom_has_ends(plate: DrawingView) -> None:
    for _ in range(200):
        plate._zoom(2.0, QPointF(10, 10))
    assert plate.view.scale <= 400.0 + 1e-6
    for _ in range(400):
        plate._zoom(0.5, QPointF(10, 10))
    assert plate.view.scale >= 0.02 - 1e-9


def test_tabs_by_mouse_and_key(plate: DrawingView) -> None:
    picked: list[int] = []
    plate.tab_picked.connect(picked.append)
    plate.grab()
    QTest.mouseClick(plate, Qt.MouseButton.LeftButton, pos=plate._tab_boxes[1].center().toPoint())
    plate.setFocus()
    QTest.keyClick(plate, Qt.Key.Key_1)
    QTest.keyClick(plate, Qt.Key.Key_9)  # there is no ninth view
    assert picked == [1, 0]


def test_pointing_finds_edges_and_numbers(plate: DrawingView) -> None:
    edge = plate.view.px((20, 5))
    assert plate.handle_at(edge) is not None
    assert plate.handle_at(QPointF(edge.x() + 40, edge.y())) is None
    assert plate._features_at(edge) == frozenset({"block"})
    box_ = next(p.text_box for p in plate.placed if p.dimension.key == "height")
    at = QPointF((box_[0] + box_[2]) / 2, -(box_[1] + box_[3]) / 2)
    size = plate.size_at(at)
    assert size is not None and size.key == "height"


def test_scale_is_said_as_on_a_drawing(plate: DrawingView) -> None:
    dots = plate.logicalDpiX()
    plate._panes[0].view = plate.view.zoomed(dots / 25.4 / plate.view.scale, QPointF(0, 0))
    assert plate.scale_text() == "1.0 : 1"
    plate._panes[0].view = plate.view.zoomed(0.1, QPointF(0, 0))
    assert plate.scale_text() == "1 : 10.0"


def test_two_panes_zoom_apart(plate: DrawingView) -> None:
    inset = Scene(
        "inset",
        elements=(Line((0, 0), (5, 5)),),
        dimensions=(Dimension("inset size", (0, 0), (5, 0), Side.BELOW, entry="inset", order=2),),
    )
    plate.show_view(PlateView(SQUARE, inset=inset, main_box=(0, 0, 0.6, 1), inset_box=(0.6, 0, 1, 1), thing="y"))
    main, other = plate._panes[0].view.scale, plate._panes[1].view.scale
    plate._zoom(2.0, QPointF(650, 200))
    assert plate._panes[0].view.scale == main and plate._panes[1].view.scale == pytest.approx(2 * other)
    assert [d.entry for d in plate.entries()] == ["width", "height", "inset"]


def test_a_message_stands_alone(plate: DrawingView) -> None:
    plate.show_view(PlateView(Scene(""), message="Nothing here yet", thing="none"))
    assert plate.entries() == [] and not plate.grab().isNull()


def test_a_turned_solid_never_flips_over(kernel: Kernel) -> None:
    picture = SolidPicture(kernel.ask("mesh", Prism(((0, 0), (10, 0), (10, 10), (0, 10)), 0, 10)))
    picture.turn(1000, 1000)
    assert picture.tilt_deg == 89 and 0 <= picture.turn_deg < 360
    picture.turn(-5000, -5000)
    assert picture.tilt_deg == -89


# --- strip, thumbnails, dialogs -------------------------------------------------------------------------------------


def test_tiles_flow_into_the_width(qtbot: QtBot) -> None:
    strip = ProofStrip()
    qtbot.addWidget(strip)
    tiles = tuple(
        Tile(key=f"k{i}", label=f"Check {i}", value="1", verdict="go", sign="●", number=1, limits=Limits(0, 0.5))
        for i in range(7)
    )
    strip.resize(800, 180)
    strip.show()
    qtbot.waitExposed(strip)
    strip.show_tiles(tiles)
    rows = {t.y() for t in strip.tiles}
    assert len(rows) == 3  # three to a row
    strip.resize(300, 180)
    qtbot.waitUntil(lambda: len({t.y() for t in strip.tiles if t.tile}) == 7, timeout=2000)
    strip.show_tiles(tiles[:2])
    assert [t.isVisibleTo(strip) for t in strip.tiles[:3]] == [True, True, False]
    with pytest.raises(KeyError):
        strip.tile("k5")


def test_tiles_answer_the_keyboard(qtbot: QtBot) -> None:
    strip = ProofStrip()
    qtbot.addWidget(strip)
    strip.show_tiles(
        (Tile(key="a", label="A", value="1", verdict="marginal", sign="▲", number=1, limits=Limits(0, 2), reason="near"),)
    )
    pressed: list[str] = []
    strip.pressed.connect(pressed.append)
    QTest.keyClick(strip.tile("a"), Qt.Key.Key_Space)
    QTest.mouseClick(strip.tile("a"), Qt.MouseButton.LeftButton)
    assert pressed == ["a", "a"]
    assert "marginal" in strip.tile("a").accessibleName() and "near" in strip.tile("a").accessibleName()


@pytest.mark.parametrize("palette", [LIGHT, DIM])
def test_thumbnails_paint_and_pick(qtbot: QtBot, palette: object) -> None:
    thumb = Thumbnail("key", SQUARE, "A very long title that has to be cut somewhere", ("one", "two"), palette)  # type: ignore[arg-type]
    qtbot.addWidget(thumb)
    picked: list[str] = []
    thumb.picked.connect(picked.append)
    QTest.mouseClick(thumb, Qt.MouseButton.LeftButton)
    QTest.keyClick(thumb, Qt.Key.Key_Return)
    assert picked == ["key", "key"]
    assert not thumb.grab().isNull() and "very long title" in thumb.accessibleName()


def test_line_dialog_wants_an_answer(qtbot: QtBot) -> None:
    dialog = LineDialog(None, "Why?", "Nobody remembers")  # type: ignore[arg-type]
    qtbot.addWidget(dialog)
    assert not dialog.keep.isEnabled()
    dialog.line.setText("  ")
    assert not dialog.keep.isEnabled()
    dialog.line.setText("it bound")
    assert dialog.keep.isEnabled()
    with qtbot.waitSignal(dialog.accepted):
        QTest.mouseClick(dialog.keep, Qt.MouseButton.LeftButton)


# --- every view, drawn -----------------------------------------------------------------------------------------------


@pytest.mark.parametrize("view", list(VIEWS))
def test_every_main_view_can_be_drawn(window: Window, view: str) -> None:
    from elbrix.app.pictures import _draw

    image = _draw(window, view)
    assert image.width() >= 900 and image.height() >= 400
    colours = {image.pixel(x, y) for x in range(5, image.width(), 37) for y in range(5, image.height(), 37)}
    assert len(colours) > 3  # something is on it


def test_demo_opens_beside_an_empty_shop(
    empty_window: Window, monkeypatch: pytest.MonkeyPatch, tmp_path: object, qtbot: QtBot
) -> None:
    monkeypatch.setattr("elbrix.app.demo_copy.demo_path", lambda: tmp_path / "demo.elbrix")  # type: ignore[operator]
    empty_window.benches["shop"].card.pressed.emit("demo")
    qtbot.waitUntil(lambda: empty_window.demo is not None)
    demo = empty_window.demo
    empty_window.benches["shop"].card.pressed.emit("demo")  # it is there: no second one
    qtbot.wait(30)
    assert empty_window.demo is demo
    assert (
        demo is not None
        and demo.isVisible()
        and {d.id for d in demo.session.designs} == {d.id for d in documents() if isinstance(d, DesignDoc)}
    )
    demo.session.put("Try", demo.session.designs[0].__class__(id="mine", family="t_nut", title="Mine"))
    demo.close()
    from elbrix.app.demo_copy import open_demo_book

    again = open_demo_book()  # what was tried out is still there
    assert any(d.id == "mine" for d in again.documents)
    again.close()


def test_a_demo_that_cannot_be_written_is_said(
    empty_window: Window, monkeypatch: pytest.MonkeyPatch, tmp_path: Path, qtbot: QtBot
) -> None:
    (tmp_path / "file").write_text("no folder")
    monkeypatch.setattr("elbrix.app.demo_copy.demo_path", lambda: tmp_path / "file" / "demo.elbrix")
    empty_window.benches["shop"].card.pressed.emit("demo")
    qtbot.waitUntil(empty_window.notice.isVisible)
    assert "file" in empty_window.notice.text() and empty_window.demo is None


@pytest.mark.parametrize("middle", [(0, 0), (5000, 5000), (-300, 200), (300, 200)])
@pytest.mark.parametrize("text", ["1", "9" * 60])
def test_an_entry_and_its_message_stay_on_the_plate(plate: DrawingView, middle: tuple[int, int], text: str) -> None:
    entry = BrassEntry(plate)
    entry.start("neck_width", "Neck width", text, QPointF(*middle))
    entry.show_error("“9” is wider than the slot. It would not go in. Measure again, or exchange the two readings.")
    inside = plate.rect()
    assert inside.contains(entry.geometry()) and inside.contains(entry._error.geometry())
    assert not entry.geometry().intersects(entry._error.geometry())
    assert entry.property("wrong") is True and entry.error_text
    assert (
        entry.finish() == "neck_width" and not entry.isVisible() and entry.error_text == "" and entry.property("wrong") is False
    )

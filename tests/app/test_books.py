"""Another shop's book: laid beside this one, brought in by choice, looked at, and one item given away."""

from __future__ import annotations

from pathlib import Path

import pytest
from msgspec.structs import replace
from PyQt6.QtWidgets import QApplication, QDialog

from elbrix.app.benches.shop.books import bring_in
from elbrix.app.merging import MergeDialog
from elbrix.app.window import Window
from elbrix.book.documents import DesignDoc, InspectionDoc, JobDoc, LayoutDoc, PhotoDoc, kind_of
from elbrix.book.giving import with_all_it_needs
from elbrix.book.items_file import export_text, read_items
from elbrix.book.store import Book
from elbrix.cli.main import main
from elbrix.demo import write_demo
from elbrix.presenters.merging import EACH, differences
from elbrix.shop.machines import Machine


def _design(book: Book, id: str) -> DesignDoc:
    doc = book.get(DesignDoc, id)
    assert doc is not None
    return doc


@pytest.fixture
def theirs(tmp_path: Path) -> Path:
    """The demo shop as somebody else changed it: two nuts we changed too, one we did not, one more."""
    path = tmp_path / "theirs.elbrix"
    book = write_demo(path)
    nut, small, tall = (_design(book, f"t-nut-{which}") for which in ("hazel", "pip", "tam"))
    book.put("Theirs", replace(nut, notes="theirs"), replace(small, location="Shelf B"), replace(tall, notes="read by them"))
    book.put("New", replace(nut, id="their-nut", title="Their own nut"))
    book.close()
    return path


def test_both_sides_are_shown_and_each_thing_goes_as_it_is_chosen(
    window: Window, theirs: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    book = window.session.book
    book.put("Ours", replace(_design(book, "t-nut-hazel"), notes="ours"), replace(_design(book, "t-nut-pip"), location="Box 4"))
    before = {(kind_of(d), d.id): d for d in book.documents}
    seen: list[tuple[str, str]] = []

    def answered(dialog: QDialog) -> int:
        assert isinstance(dialog, MergeDialog)
        seen.extend((row.row.label, row.row.value) for row in dialog.card.rows.values())
        dialog.card.picked.emit(f"{EACH}design t-nut-pip", "theirs")
        assert dialog.card.rows[f"{EACH}design t-nut-pip"].row.value == "take theirs"
        dialog.card.button("merge").click()
        return dialog.result()

    monkeypatch.setattr(MergeDialog, "exec", answered)
    bring_in(window, window.session, theirs)
    assert {("notes", "ours → theirs"), ("location", "Box 4 → Shelf B"), ("Their own nut   design", "")} <= set(seen)
    assert _design(book, "t-nut-hazel").notes == "ours"
    assert _design(book, "t-nut-hazel-theirs").notes.startswith("theirs")
    assert _design(book, "t-nut-pip").location == "Shelf B"
    assert _design(book, "t-nut-tam").notes == "read by them"  # only they changed it
    assert _design(book, "their-nut").title == "Their own nut"
    assert "1 new" in window.notice.text()
    window.undo()
    assert {(kind_of(d), d.id): d for d in book.documents} == before


def test_left_alone_nothing_comes_in(window: Window, theirs: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    before = window.session.book.documents

    def left(dialog: MergeDialog) -> int:
        dialog.card.button("leave").click()
        return dialog.result()

    monkeypatch.setattr(MergeDialog, "exec", left)
    bring_in(window, window.session, theirs)
    assert window.session.book.documents == before


def test_what_is_no_book_is_said(window: Window, tmp_path: Path) -> None:
    path = tmp_path / "letter.txt"
    path.write_text("Dear Tilda", encoding="utf-8")
    before = window.session.book.documents
    bring_in(window, window.session, path)
    assert window.notice.isVisible() and window.notice.text() and window.session.book.documents == before


def test_another_book_is_looked_at_and_never_written(window: Window, theirs: Path) -> None:
    data = theirs.read_bytes()
    window.session.beside_wanted.emit(theirs)
    beside = next(w for w in QApplication.topLevelWidgets() if isinstance(w, Window) and w.session.book.path == theirs.resolve())
    book = beside.session.book
    assert book.read_only and _design(book, "their-nut")
    assert not beside.session.put("no", replace(_design(book, "their-nut"), notes="no"))
    assert theirs.read_bytes() == data
    writer = Book.open(theirs)  # theirs can still be worked on elsewhere
    assert not writer.read_only
    writer.close()
    beside.close()


def test_one_item_is_given_away_with_all_it_needs(window: Window, tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    book = window.session.book
    doc = _design(book, "plate-yoke")
    given = with_all_it_needs(_design(book, "t-nut-hazel"), book)
    kinds = {type(d) for d in given}
    assert {DesignDoc, Machine, JobDoc, InspectionDoc, PhotoDoc} <= kinds
    assert [d.id for d in given if isinstance(d, DesignDoc)] == ["t-nut-hazel"]
    layout = next(x for x in book.all(LayoutDoc) if any(e.design == doc.id for e in x.elements))
    book.put("Held so", replace(layout, design="t-nut-hazel"))
    more = with_all_it_needs(_design(book, "t-nut-hazel"), book)
    assert {"t-nut-hazel", "plate-yoke"} <= {d.id for d in more if isinstance(d, DesignDoc)} and layout.id in {d.id for d in more}
    other = Book.create(tmp_path / "fresh.elbrix")
    other.put("Given", *read_items(export_text(more)))
    assert other.get(DesignDoc, "t-nut-hazel") == _design(book, "t-nut-hazel")
    other.close()
    assert main(["export", "--item", "t-nut-pip", "-"]) == 0
    assert {d.id for d in read_items(capsys.readouterr().out)} >= {"t-nut-pip", "pip"}
    assert main(["export", "--item", "nothing"]) == 1


def test_differences_name_the_field_and_both_sides() -> None:
    mine = DesignDoc(id="a", family="t_nut", title="A", made=3)
    assert differences(mine, replace(mine, made=4, location="Box")) == [("location", "nothing", "Box"), ("made", "3", "4")]

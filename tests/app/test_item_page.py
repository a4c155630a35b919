"""What the Catalogue keeps of an item beside its sizes: photographs, and what it was used for."""

from __future__ import annotations

from pathlib import Path

import pytest
from PyQt6.QtGui import QColor, QImage
from PyQt6.QtWidgets import QDialog

from elbrix.answers.ask import ask, world_of
from elbrix.app.benches.catalogue.photographs import PhotoDialog
from elbrix.app.benches.catalogue.view import CatalogueBench
from elbrix.app.benches.hold.view import HoldBench
from elbrix.app.photographs import read_photo
from elbrix.app.window import Window
from elbrix.book.documents import JPEG_BEGINS, MAX_PHOTO, Chosen, DesignDoc, ElementDoc, LayoutDoc, PhotoDoc
from elbrix.book.finishing import possession_id
from elbrix.book.store import Book
from elbrix.quantities.errors import ShopError


@pytest.fixture
def catalogue(window: Window) -> CatalogueBench:
    window.open_bench("catalogue")
    found = window.bench
    assert isinstance(found, CatalogueBench)
    return found


def _picture(path: Path, width: int, height: int) -> Path:
    image = QImage(width, height, QImage.Format.Format_RGB32)
    for x in range(0, width, 7):
        for y in range(0, height, 7):
            image.setPixelColor(x, y, QColor((37 * x) % 255, (91 * y) % 255, (x * y) % 255))
    assert image.save(str(path))
    return path


def test_a_photograph_is_kept_small_named_taken_out_and_brought_back(
    catalogue: CatalogueBench, window: Window, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    before = {p.id for p in window.session.book.all(PhotoDoc)}
    catalogue.add_photo(_picture(tmp_path / "nut.png", 2600, 1400))
    (kept,) = (p for p in window.session.book.all(PhotoDoc) if p.id not in before)
    assert kept.about == "t-nut-hazel" and kept.jpeg.startswith(JPEG_BEGINS) and len(kept.jpeg) <= MAX_PHOTO
    image = QImage.fromData(kept.jpeg)
    assert (image.width(), image.height()) == (1280, round(1280 * 1400 / 2600))
    assert kept.id in {p.id for p in catalogue.presenter.photos}

    def seen(dialog: QDialog) -> int:
        assert isinstance(dialog, PhotoDialog)
        dialog.title.setText("worn at the left lip")
        dialog.title.editingFinished.emit()
        return 0

    monkeypatch.setattr(PhotoDialog, "exec", seen)
    catalogue.card.pressed.emit(f"photo {kept.id}")
    assert window.session.book.get(PhotoDoc, kept.id).title == "worn at the left lip"  # type: ignore[union-attr]
    assert ("design", "t-nut-hazel") not in window.session.book.search("worn left")  # a photograph is found as itself
    assert ("photo", kept.id) in window.session.book.search("worn left")
    monkeypatch.setattr(PhotoDialog, "exec", lambda dialog: dialog.remove.click())
    catalogue.card.pressed.emit(f"photo {kept.id}")
    assert window.session.book.get(PhotoDoc, kept.id) is None
    window.undo()
    path = window.session.book.path
    assert window.session.book.get(PhotoDoc, kept.id) is not None
    window.session.book.flush()
    again = Book.open(path)
    assert again.get(PhotoDoc, kept.id).jpeg == kept.jpeg  # type: ignore[union-attr]
    again.close()


@pytest.mark.qt_log_ignore("JPEG", extend=True)  # the reader of pictures says so by itself
@pytest.mark.parametrize(
    ("content", "says"),
    [(b"", "is empty"), (b"no picture at all", "is no picture"), (JPEG_BEGINS + b"\0" * 400, "is no picture")],
)
def test_what_is_no_photograph_is_said_and_kept_nowhere(
    catalogue: CatalogueBench, window: Window, tmp_path: Path, content: bytes, says: str
) -> None:
    path = tmp_path / "picture.jpg"
    path.write_bytes(content)
    before = window.session.book.all(PhotoDoc)
    catalogue.add_photo(path)
    assert says in window.notice.text() and window.session.book.all(PhotoDoc) == before


def test_a_huge_file_is_not_even_read(tmp_path: Path) -> None:
    path = tmp_path / "huge.jpg"
    with path.open("wb") as file:
        file.truncate(80_000_000)
    with pytest.raises(ShopError, match="80 MB"):
        read_photo(path)
    with pytest.raises(ShopError, match="cannot be read"):
        read_photo(tmp_path / "gone.jpg")


def test_uses_are_known_without_being_written_down(catalogue: CatalogueBench, window: Window) -> None:
    """A layout its pieces stand in, by its sizes or as a thing of the shop; the job; the batches."""
    book = window.session.book
    doc = book.get(DesignDoc, "t-nut-hazel")
    assert doc is not None
    nobody = LayoutDoc(id="l0", title="Other work")
    by_design = LayoutDoc(id="l1", title="Yoke in the vise", elements=(ElementDoc(kind="strap", design=doc.id),))
    by_thing = LayoutDoc(
        id="l2",
        title="Plate on the table",
        elements=(ElementDoc(kind="stop", chosen={"stop": Chosen(text=possession_id(doc.id))}),),
    )
    book.put("Layouts", nobody, by_design, by_thing)
    book.put("6 made: T-nut for the long table", DesignDoc(**{f: getattr(doc, f) for f in doc.__struct_fields__} | {"made": 12}))
    window.refresh()
    words = [use.words for use in catalogue.presenter.uses]
    assert {"Yoke in the vise: stands in the layout", "Plate on the table: stands in the layout", "6 made"} <= set(words)
    assert not any("Other work" in w for w in words)
    assert all(use.on for use in catalogue.presenter.uses)
    at = words.index("Plate on the table: stands in the layout")
    catalogue.card.picked.emit(f"use {at}", "")
    assert isinstance(window.bench, HoldBench)
    taken = window.session.in_hand(LayoutDoc)
    assert taken is not None and taken.id == "l2"


def test_its_condition_is_written_down_found_and_undone(window: Window) -> None:
    window.open_bench("catalogue")
    window.session.pick_design("t-nut-hazel")
    bench = window.bench
    bench.card.typed.emit("condition", "one has a nicked thread")
    doc = window.session.design
    assert doc is not None and doc.condition == "one has a nicked thread"
    assert bench.card.rows["condition"].row.value == doc.condition
    found = ask("where are the 12 mm nuts", world_of(window.session.book))
    assert any("nicked thread" in f.text for f in found.figures)
    window.undo()
    assert window.session.design is not None and window.session.design.condition == ""


def test_costs_are_typed_here_and_weighed_in_make(window: Window) -> None:
    window.open_bench("catalogue")
    window.session.pick_design("t-nut-hazel")
    bench = window.bench
    for key, text in (("price", "14.50"), ("rate", "30"), ("stock", "1,2")):
        bench.card.typed.emit(f"costs {key}", text)
    doc = window.session.design
    assert doc is not None and (doc.costs.price, doc.costs.rate, doc.costs.stock) == (14.5, 30.0, 1.2)
    bench.card.typed.emit("costs price", "cheap")
    assert window.session.design is not None and window.session.design.costs.price == 14.5
    window.open_bench("make")
    tiles = {t.key: t for t in window.bench.presenter.tiles()}
    assert "against 14.5" in tiles["make_or_buy"].value
    why = window.bench.presenter.why("make_or_buy")
    assert why is not None and "hangs on the" in why.reason

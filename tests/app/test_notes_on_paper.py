"""Words that begin on a picture and run out of it stay inside its box on paper: beside it stand numbers."""

from __future__ import annotations

import pytest
from PyQt6.QtCore import QRectF
from PyQt6.QtWidgets import QApplication

from elbrix.app.plate.notes import place_notes
from elbrix.app.plate.painter import fitted, paper_look, place_sizes
from elbrix.book.documents import DesignDoc, InspectionDoc, shop_of
from elbrix.demo import documents
from elbrix.presenters.inspect import InspectPresenter
from elbrix.presenters.words import said_scene
from elbrix.quantities.lengths import INCH, METRIC, UnitStyle

DOCS = documents()
SHOP = shop_of(DOCS)
DESIGNS = [d for d in DOCS if isinstance(d, DesignDoc)]


@pytest.mark.parametrize("style", [METRIC, INCH], ids=["mm", "in"])
@pytest.mark.parametrize("doc", [d for d in DOCS if isinstance(d, InspectionDoc)], ids=lambda d: d.id)
def test_no_note_leaves_the_box_of_its_picture(doc: InspectionDoc, style: UnitStyle, qapp: QApplication) -> None:
    presenter = InspectPresenter(doc, SHOP, style, DESIGNS)
    assert presenter.inspection is not None
    scene = said_scene(presenter.inspection.scene, style)
    look = paper_look(24, 2.2)
    view = fitted(scene, 1060, 700, presenter.label, look, margin=20, top=10, whole_notes=True)
    placed = place_sizes(scene, view, presenter.label, look)
    page = QRectF(0, 0, 1060, 700).adjusted(-2, -40, 2, 40)
    for note in place_notes(scene, view.px, placed, look.letters, None, None):
        assert page.contains(note.box), note.text

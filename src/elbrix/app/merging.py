"""Another shop's book laid beside this one: both sides of what differs, before anything comes in."""

from __future__ import annotations

from PyQt6.QtWidgets import QDialog, QVBoxLayout, QWidget

from elbrix.app.card.card import Card
from elbrix.app.session import Session
from elbrix.app.words import Label
from elbrix.book.merging import BookComparison, Merged, Other, Prefer, merge
from elbrix.presenters.merging import EACH, merge_card
from elbrix.quantities.errors import ShopError


class MergeDialog(QDialog):
    """What differs, with both sides, and what becomes of it."""

    def __init__(self, session: Session, other: Other, found: BookComparison, parent: QWidget) -> None:
        super().__init__(parent)
        self.setObjectName("window")
        self.setWindowTitle("Merge")
        self.resize(584, 680)
        self._session, self._other, self._found = session, other, found
        self.each: dict[str, Prefer] = {}
        self.merged: Merged | None = None
        self.said = Label()
        self.said.setWordWrap(True)
        self.said.hide()
        self.card = Card()
        self.card.set_palette(session.palette)
        self.card.picked.connect(self._picked)
        self.card.pressed.connect(self._pressed)
        layout = QVBoxLayout(self)
        layout.addWidget(self.said)
        layout.addWidget(self.card, 1)
        self._show()

    def _show(self) -> None:
        self.card.show_view(merge_card(self._found, self._other, self.each))

    def _picked(self, key: str, value: str) -> None:
        for how in ("both", "mine", "theirs"):
            if key.startswith(EACH) and value == how:
                self.each[key.removeprefix(EACH)] = how
        self._show()

    def _pressed(self, key: str) -> None:
        if key == "leave":
            self.reject()
            return
        each = {(kind, id_): how for key, how in self.each.items() for kind, _, id_ in (key.partition(" "),)}
        try:
            self.merged = merge(self._session.book, self._other, each=each)
        except ShopError as error:
            self.said.setText(str(error))
            self.said.show()
            return
        self.accept()

"""The list of keys, changed by typing others."""

from __future__ import annotations

from PyQt6.QtWidgets import QDialog, QVBoxLayout, QWidget

from elbrix.app.card.card import Card
from elbrix.app.keys import FIXED, keymap, known_keys
from elbrix.app.theme.palette import Palette
from elbrix.presenters.card import Button, CardView, Row, Section
from elbrix.quantities.errors import ShopError


class KeysDialog(QDialog):
    """Every key, what it does, and others for it."""

    def __init__(self, palette: Palette, parent: QWidget) -> None:
        super().__init__(parent)
        self.setObjectName("window")
        self.setWindowTitle("Keys")
        self.resize(584, 700)
        self._typed: dict[str, str] = {}
        self.card = Card()
        self.card.set_palette(palette)
        self.card.typed.connect(self._type)
        self.card.accepted.connect(self._accept)
        self.card.cancelled.connect(self._forget)
        self.card.pressed.connect(self._pressed)
        layout = QVBoxLayout(self)
        layout.addWidget(self.card)
        self.show_keys()

    def show_keys(self) -> None:
        """The list as it stands."""
        rows = tuple(
            Row(
                key=key.name,
                label=key.words,
                value=" or ".join(keymap().keys(key.name)),
                edit="text",
                entry_text="; ".join(keymap().keys(key.name)),
                chosen=keymap().keys(key.name) != key.usual,
                origin="chosen" if keymap().keys(key.name) != key.usual else "",
            )
            for key in known_keys().values()
        )
        fixed = tuple(Row(key=f"fixed {n}", label=words, value=keys) for n, (keys, words) in enumerate(FIXED))
        text = "Type other keys for a line, several with ; between them. An empty line brings back the key it was shipped with."
        self.card.show_view(
            CardView(
                sections=(
                    Section(title="Keys", text=text, rows=rows, numbered=False),
                    Section(title="While something has the focus", hint="these stay", rows=fixed, numbered=False),
                ),
                buttons=(Button(key="close", text="Close", main=True), Button(key="shipped", text="All as shipped")),
            )
        )

    def _type(self, key: str, text: str) -> None:
        self._typed[key] = text  # a key is kept when it is finished, not letter by letter

    def _accept(self, key: str) -> None:
        if key not in self._typed:
            return
        try:
            keymap().change(key, self._typed.pop(key))
        except ShopError as error:
            self.card.show_error(key, error.beside)
            return
        self.card.show_error(key, "")
        self.show_keys()

    def _forget(self, key: str) -> None:
        self._typed.pop(key, None)

    def _pressed(self, key: str) -> None:
        if key == "close":
            self.accept()
            return
        for name in known_keys():
            keymap().change(name, "")
        self.show_keys()

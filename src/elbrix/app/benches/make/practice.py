"""Practice: a slip hidden in one number of a card, to be found before the metal is gone."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PyQt6.QtCore import QObject, pyqtSignal

from elbrix.app.background import Later
from elbrix.presenters.make import MakePresenter

if TYPE_CHECKING:
    from elbrix.rehearsal.trainer import Hidden

_FOUND = "Practice: one number of this card is wrong. Pick its move, then press “This one”. Cut nothing with this card."
_NONE = "Practice: this plan has no number a slip could be hidden in."


class PracticePart(QObject):
    """Hides the slip beside the window: it takes a rehearsal or two."""

    changed = pyqtSignal()  #: a slip is hidden, or not any more
    said = pyqtSignal(str)

    def __init__(self, parent: QObject) -> None:
        super().__init__(parent)
        self._seed = 0
        self._hiding = Later(self)
        self._hiding.done.connect(self._hidden)
        self._now: MakePresenter | None = None

    @property
    def busy(self) -> bool:
        """Whether a slip is being hidden."""
        return self._hiding.busy

    def follow(self, now: MakePresenter | None) -> None:
        """The card in hand."""
        self._now = now

    def press(self, move: str) -> bool:
        """Begin; or, with a slip hidden, call a move wrong. True when a slip is being hidden now."""
        p = self._now
        if p is None or not p.moves or self.busy:
            return False
        if p.hidden is not None:
            words = f"Practice: {p.accuse(move)}"
            self.changed.emit()
            self.said.emit(words)
            return False
        self._seed += 1
        seed = self._seed
        self._hiding.start(lambda: (p, p.slip(seed)))
        return True

    def _hidden(self, found: tuple[MakePresenter, Hidden | None]) -> None:
        """A slip was found for a card; of another card than the one that is shown it is forgotten."""
        p, now = found[0], self._now
        words = ""
        if now is not None and now.made_from == p.made_from:
            now.hidden = found[1]
            words = _FOUND if now.hidden is not None else _NONE
        self.changed.emit()
        if words:
            self.said.emit(words)

    def end(self) -> None:
        """A card with a wrong number never goes to a machine, nor one that is about to get it."""
        if self.busy:
            self._hiding.drop()
            self.changed.emit()
        if self._now is not None and self._now.hidden is not None:
            self._now.hidden = None
            self.changed.emit()

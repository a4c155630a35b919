"""Handwheels to practise on: they stand before the move in hand, and the metal is cut where the slides stand."""

from __future__ import annotations

from typing import Final

from PyQt6.QtCore import QObject, QTimer, pyqtSignal

from elbrix.app.benches.make.wheels import WheelPanel
from elbrix.app.session import Session
from elbrix.presenters.handwheels import HandwheelPresenter
from elbrix.presenters.make import MakePresenter

#: A wheel or a slide that has not moved for so long has stopped.
STILL_MS: Final = 1200


class TurningPart(QObject):
    """The panel under the plate and what its wheels were turned to; nothing of that is kept."""

    turned = pyqtSignal()  #: the slides stand elsewhere

    def __init__(self, session: Session, parent: QObject) -> None:
        super().__init__(parent)
        self._session = session
        self.panel = WheelPanel()
        self.panel.hide()
        self.panel.turned.connect(self._turned)
        self.wheels: HandwheelPresenter | None = None
        self._card: MakePresenter | None = None
        self._move = ""
        self._of: object = None  # the plan the slides belong to
        self._still = QTimer(self)
        self._still.setSingleShot(True)
        self._still.setInterval(STILL_MS)
        self._still.timeout.connect(lambda: self._show(still=True))

    def begin(self, card: MakePresenter, move: str) -> None:
        """Take hold of them, where the move has any."""
        self.wheels = HandwheelPresenter(self._session.style) if card.has_wheels(move) else None

    def take_hold(self) -> None:
        """The keys go to the first wheel the move sets."""
        dials = list(self.panel.dials.values())
        if self.wheels is not None and dials:
            next((d for d in dials if d.view is not None and d.view.wanted), dials[0]).setFocus()

    def end(self) -> None:
        """Put away."""
        self.wheels = None

    def follow(self, card: MakePresenter, move: str, *, hidden: bool) -> None:
        """The wheels stand before the move in hand.

        Args:
            card: In hand.
            move: In hand.
            hidden: Something else is shown in their place.
        """
        self._card, self._move = card, move
        if self.wheels is None or hidden:
            card.turn_to(None)
            self.panel.hide()
            return
        slides = self.wheels.slides
        if self._of is not card.plan:
            self.wheels.slides = slides = None  # of another piece
        if slides is None or slides.move.id != move:
            self._of = card.plan
            self.wheels.go_to(card.plan, self._session.shop, move)
        self.wheels.style = self._session.style
        card.turn_to(self.wheels.keyed)
        self._show(still=False)

    def _turned(self, axis: str, divisions: float) -> None:
        if self.wheels is None or self._card is None:
            return
        self.wheels.turn(axis, divisions)
        self._card.turn_to(self.wheels.keyed)
        self._show(still=False)
        self.turned.emit()
        self._still.start()

    def _show(self, *, still: bool) -> None:
        card = self._card
        if self.wheels is None or card is None or not card.moves:
            return
        move = card.moves[card.place_of(self._move)][2]
        views = self.wheels.views(lambda at: card.number(move, at), still=still, silent=card.hidden is not None)
        self.panel.show_wheels(views, self._session.palette)
        self.panel.setVisible(bool(self.panel.dials) and self.wheels.slides is not None)

"""Which accessories are made together, and their batch, planned beside the window."""

from __future__ import annotations

from typing import Final

from msgspec.structs import replace
from PyQt6.QtCore import QObject, pyqtSignal

from elbrix.app.background import Later
from elbrix.app.session import Session
from elbrix.book.batches import MOST_TOGETHER, batch_of
from elbrix.book.documents import DesignDoc, JobDoc
from elbrix.presenters.batch import BatchPresenter
from elbrix.quantities.errors import ShopError

#: Designs offered in the menu.
_OFFERED: Final = 40


class BatchPart(QObject):
    """The batch of the design in hand."""

    changed = pyqtSignal()  #: it is shown, or not any more
    turn_picked = pyqtSignal(str, str)  #: design, setup

    def __init__(self, session: Session, parent: QObject) -> None:
        super().__init__(parent)
        self._session = session
        self.shown: BatchPresenter | None = None
        self.later = Later(self)
        self.later.done.connect(self._planned)
        self._made_from: tuple[object, ...] = ()

    # --- which -------------------------------------------------------------------------------------------------------

    def others(self, job: JobDoc) -> list[DesignDoc]:
        """The other designs, as far as they still are in the book."""
        found = (self._session.book.get(DesignDoc, id_) for id_ in job.together)
        return [d for d in found if d is not None and d.id != job.design]

    def option(self, doc: DesignDoc, job: JobDoc) -> tuple[str, str, list[tuple[str, str]]]:
        """The choice over the moves: press a name to add it, press it again to leave it out."""
        with_it = {d.id for d in self.others(job)}
        designs = sorted(
            (d for d in self._session.book.each(DesignDoc) if d.id != doc.id), key=lambda d: (d.id not in with_it, d.title)
        )
        words = f"made with {len(with_it)} other{'' if len(with_it) == 1 else 's'}" if with_it else "made alone"
        return "together", words, [(d.id, f"{'✓' if d.id in with_it else '+'} {d.title}") for d in designs[:_OFFERED]]

    def toggled(self, job: JobDoc, id_: str) -> JobDoc:
        """The job with a design more, or less."""
        there = tuple(d.id for d in self.others(job))
        if id_ in there:
            return replace(job, together=tuple(d for d in there if d != id_))
        return replace(job, together=(*there, id_)[-(MOST_TOGETHER - 1) :])

    # --- showing -----------------------------------------------------------------------------------------------------

    def show(self) -> None:
        """Plan it beside the window; `changed` says when it can be seen."""
        doc = self._session.design
        if doc is None:
            return
        jobs = self._jobs(doc)
        shop, style = self._session.shop, self._session.style
        self._made_from = (jobs, shop, style)

        def planned() -> BatchPresenter | ShopError:
            try:
                return BatchPresenter(batch_of(jobs, shop, style.length), style)
            except ShopError as error:
                return error

        self.later.start(planned)

    def follow(self, doc: DesignDoc, job: JobDoc) -> None:
        """What it is planned from changed: it is planned anew; with nothing else in it, it is left."""
        if self.shown is None:
            return
        if not self.others(job):
            self.leave()
        elif (self._jobs(doc), self._session.shop, self._session.style) != self._made_from:
            self.show()

    def leave(self) -> None:
        """Back to one accessory."""
        self.later.drop()
        self.shown = None

    def picked(self, key: str, _: str) -> None:
        """A setup was pressed in the order."""
        if self.shown is not None and key.startswith("turn "):
            job, setup = next((t.job, t.setup.id) for t in self.shown.batch.turns if f"turn {t.job} {t.setup.id}" == key)
            self.turn_picked.emit(job, setup)

    def _jobs(self, doc: DesignDoc) -> list[tuple[DesignDoc, JobDoc | None]]:
        job = self._session.job_of(doc)
        return [(d, replace(self._session.job_of(d), done=(), keyed={})) for d in (doc, *self.others(job))]

    def _planned(self, found: BatchPresenter | ShopError) -> None:
        if isinstance(found, ShopError):
            self.shown = None
            self._session.refused.emit(str(found))
        else:
            self.shown = found
        self.changed.emit()

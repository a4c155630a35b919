"""Which accessories are made together, and their batch, planned beside the window."""

from __future__ import annotations

import heapq
from typing import Final

from msgspec.structs import replace
from PyQt6.QtCore import QObject, pyqtSignal

from elbrix.app.background import Later
from elbrix.app.session import Session
from elbrix.book.batches import MAX_TOGETHER, batch_of, too_many
from elbrix.book.documents import DesignDoc, JobDoc
from elbrix.presenters.acts import Act, Verb
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
        self._offered: tuple[int, list[tuple[str, str]]] | None = None  # (id, title), of which edition of the designs

    # --- which -------------------------------------------------------------------------------------------------------

    def others(self, job: JobDoc) -> list[DesignDoc]:
        """The other designs, as far as they still are in the book."""
        found = (self._session.book.get(DesignDoc, id_) for id_ in job.together)
        return [d for d in found if d is not None and d.id != job.design]

    def option(self, doc: DesignDoc, job: JobDoc) -> tuple[str, str, list[tuple[str, str]]]:
        """The choice over the moves: press a name to add it, press it again to leave it out."""
        with_it = {d.id: d.title for d in self.others(job)}
        words = f"made with {len(with_it)} other{'' if len(with_it) == 1 else 's'}" if with_it else "made alone"
        more = [(id_, title) for id_, title in self._titles() if id_ not in with_it and id_ != doc.id]
        offered = [*((id_, f"✓ {title}") for id_, title in with_it.items()), *((id_, f"+ {title}") for id_, title in more)]
        return "together", words, offered[:_OFFERED]

    def _titles(self) -> list[tuple[str, str]]:
        """The first designs by title; gone through anew only when a design has changed, as a book may have thousands."""
        book = self._session.book
        if self._offered is None or self._offered[0] != book.edition(DesignDoc):
            first = heapq.nsmallest(_OFFERED + MAX_TOGETHER, ((d.title, d.id) for d in book.each(DesignDoc)))
            self._offered = book.edition(DesignDoc), [(id_, title) for title, id_ in first]
        return self._offered[1]

    def toggled(self, job: JobDoc, id_: str) -> JobDoc:
        """The job with a design more, or less.

        Raises:
            ShopError: One too many for a batch.
        """
        there = tuple(d.id for d in self.others(job))
        if id_ in there:
            return replace(job, together=tuple(d for d in there if d != id_))
        if len(there) + 1 >= MAX_TOGETHER:
            raise too_many(len(there) + 2)
        return replace(job, together=(*there, id_))

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

    def keep_bars(self) -> None:
        """The jobs' own cards are cut from the bars of the layout: one edit."""
        if self.shown is None:
            return
        batch, kept = self.shown.batch, []
        for id_ in batch.moved:
            doc, bar = self._session.book.get(DesignDoc, id_), batch.layout.bar_of(id_)
            if doc is not None and bar is not None:
                job = self._session.job_of(doc)
                kept.append(replace(job, options=replace(job.options, bar=bar.id)))
        if kept:
            self._session.put("Bars of the batch", *kept)

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
        act = Act.read(key)
        if self.shown is not None and act.do == Verb.TURN:
            job, setup = next((t.job, t.setup.id) for t in self.shown.batch.turns if f"{t.job} {t.setup.id}" == act.of)
            self.turn_picked.emit(job, setup)

    def _jobs(self, doc: DesignDoc) -> list[tuple[DesignDoc, JobDoc | None]]:
        job = self._session.job_of(doc)
        return [(d, replace(self._session.job_of(d), done=(), keyed={}, measured={}, tape=())) for d in (doc, *self.others(job))]

    def _planned(self, found: BatchPresenter | ShopError) -> None:
        if isinstance(found, ShopError):
            self.shown = None
            self._session.refused.emit(str(found))
        else:
            self.shown = found
        self.changed.emit()

"""Needs met beside the window: what is known at once, the proofs a moment later; a large book is worked out beforehand."""

from __future__ import annotations

from functools import partial
from typing import TYPE_CHECKING, Final

from PyQt6.QtCore import QObject, QTimer, pyqtSignal

from elbrix.app.background import Later
from elbrix.app.session import Session
from elbrix.app.user_places import cache_folder
from elbrix.book.documents import DesignDoc

if TYPE_CHECKING:
    from elbrix.answers.answer import Answer, NotAnswered
    from elbrix.app.searching import Search
    from elbrix.finding.abilities import KnownAbilities

#: So many designs are worked out when somebody asks; of more, a process of its own does it before.
_FEW: Final = 60
_QUIET_MS: Final = 4000


class Needs(QObject):
    """Of one window's book."""

    met = pyqtSignal(str, object)  #: the need, and its `Answer` or `NotAnswered`

    def __init__(self, session: Session, parent: QObject) -> None:
        super().__init__(parent)
        self._session = session
        self._known: KnownAbilities | None = None  # the first need loads what it takes
        self._proving = Later(self)
        self._proving.done.connect(lambda told: self.met.emit(*told))
        self._learning = Later(self)
        self._search: Search | None = None
        self._quiet = QTimer(self)
        self._quiet.setSingleShot(True)
        self._quiet.setInterval(_QUIET_MS)
        self._quiet.timeout.connect(self._work_out)

    @property
    def known(self) -> KnownAbilities:
        """What was worked out so far."""
        if self._known is None:
            from elbrix.finding.abilities import KnownAbilities

            self._known = KnownAbilities()
        return self._known

    @property
    def busy(self) -> bool:
        """Whether something is worked out or proved."""
        searching = self._search is not None and self._search.running
        return self._proving.busy or self._learning.busy or self._quiet.isActive() or searching

    def is_need(self, text: str) -> bool:
        """Whether a text that is no question reads as a need."""
        from elbrix.finding.need import read_need
        from elbrix.quantities.errors import ShopError

        try:
            read_need(text, self._session.shop, self._session.style.length)
        except ShopError:
            return False
        return True

    def look_for(self, text: str) -> Answer | NotAnswered:
        """What is known of it now; the proofs follow by `met`. What cannot be looked for says why, and nothing follows."""
        from elbrix.answers.answer import NotAnswered
        from elbrix.presenters.needs import meet, met_so_far

        shop, style, known = self._session.shop, self._session.style, self.known
        designs = self._session.book.all(DesignDoc)
        so_far = met_so_far(text, shop, designs, style, known)
        if isinstance(so_far, NotAnswered):
            return so_far
        self._proving.start(lambda: (text, meet(text, shop, designs, style, known)))
        return so_far

    # --- a large book ------------------------------------------------------------------------------------------------

    def keep_up(self) -> None:
        """From now on what changes is worked out when the hands are still."""
        self._session.changed.connect(self._quiet.start)
        self._quiet.start()

    def stop(self) -> None:
        self._quiet.stop()
        self._proving.drop()
        self._learning.drop()
        if self._search is not None:
            self._search.stop()

    def _work_out(self) -> None:
        """In a process of its own, when there is more than a question can wait for."""
        if self.waiting() <= _FEW:
            return
        import hashlib

        from elbrix.app.searching import Search
        from elbrix.finding.keeping import work_out

        if self._search is None:
            self._search = Search(self)
            self._search.ended.connect(self._learn)
        path = self._session.book.path
        name = f"{path.stem[:40]} {hashlib.blake2b(str(path).encode(), digest_size=8).hexdigest()}.json"
        self._search.start(partial(work_out, path, cache_folder() / "abilities" / name))

    def waiting(self) -> int:
        """Designs a need might ask for and nobody knows of yet."""
        from elbrix.finding.abilities import NEEDED, those_in_question

        shop, known = self._session.shop, self.known
        return sum(known.known(d, shop) is None for d in those_in_question(self._session.book.each(DesignDoc), NEEDED))

    def _learn(self) -> None:
        """Take over what the process found, where design and shop are still the same."""
        told = self._search.found if self._search is not None else None
        if not isinstance(told, bytes):
            return  # it was stopped, or the file could not be read: a need works it out itself
        from elbrix.finding.keeping import learn

        docs, shop, known = self._session.book.all(DesignDoc), self._session.shop, self.known
        self._learning.start(lambda: learn(known, told, docs, shop))

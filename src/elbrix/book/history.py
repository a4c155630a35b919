"""The steps of undo and redo: labels in memory, bodies before and after read from the file when a step is taken."""

from __future__ import annotations

import sqlite3
import time
from typing import Any, Final

from msgspec import Struct, field

from elbrix.book.documents import from_json
from elbrix.book.kept import Key, is_text, printable
from elbrix.quantities.errors import ShopError

_STEPS_KEPT: Final = 1000
#: Steps whose bodies stay in memory: they can be taken back even when the disk is gone.
_AT_HAND: Final = 50


class Change(Struct):
    """One document of a step."""

    kind: str
    id: str
    before: str | None
    after: str | None


class UndoStep(Struct):
    """One edit, as undo knows it."""

    seq: int
    label: str
    changes: list[Change] | None = None  #: None: in the file
    undone: bool = False
    merge: str = ""
    when: float = field(default_factory=time.monotonic)


class History:
    """The newest steps of a book, oldest first."""

    def __init__(self, connection: sqlite3.Connection) -> None:
        """Read the labels of the newest steps.

        Raises:
            sqlite3.Error: The file cannot be read.
        """
        self._connection = connection
        rows = connection.execute(
            "SELECT seq, label, state FROM edit WHERE state != 'left' ORDER BY seq DESC LIMIT ?", (_STEPS_KEPT,)
        ).fetchall()
        self.steps = [UndoStep(seq, printable(label), undone=state == "undone") for seq, label, state in reversed(rows)]
        self.next = 1 + connection.execute("SELECT coalesce(max(seq), 0) FROM edit").fetchone()[0]

    @property
    def last(self) -> UndoStep | None:
        return self.steps[-1] if self.steps else None

    @property
    def to_undo(self) -> UndoStep | None:
        return next((s for s in reversed(self.steps) if not s.undone), None)

    @property
    def to_redo(self) -> UndoStep | None:
        return next((s for s in self.steps if s.undone), None)

    def add(self, label: str, changes: list[Change], merge: str) -> UndoStep:
        """A new step; what was undone before it is overtaken."""
        self.steps = [s for s in self.steps if not s.undone]
        step = UndoStep(self.next, label, changes, merge=merge)
        self.next += 1
        self.steps.append(step)
        return step

    def written(self) -> None:
        """Everything is in the file: the bodies of older steps need not be in memory."""
        for step in reversed(self.steps[:-_AT_HAND]):
            if step.changes is None:
                break
            step.changes = None

    def changes(self, step: UndoStep) -> list[Change]:
        """The documents of a step, every body of which can be read; else it is forgotten, with what leans on it.

        Raises:
            ShopError: They cannot be read any more.
        """
        try:
            changes = step.changes if step.changes is not None else self._from_file(step)
            for change in changes:
                body = change.after if step.undone else change.before
                if body is not None:
                    from_json(change.kind, body)
        except ShopError as error:
            at = self.steps.index(step)
            self.steps = self.steps[:at] if step.undone else self.steps[at + 1 :]
            raise ShopError(
                step.label,
                f"this step cannot be taken: {error.what}",
                "Its record in the book is damaged",
                "What is there now stays as it is; a backup has the state before",
            ) from None
        return changes

    def _from_file(self, step: UndoStep) -> list[Change]:
        sql = "SELECT kind, id, before, after FROM change WHERE seq = ? ORDER BY n"
        try:
            rows = self._connection.execute(sql, (step.seq,)).fetchall()
        except sqlite3.Error as error:
            raise ShopError(step.label, f"it cannot be read ({str(error)[:80]})", "A disk fault", "Open a backup") from None
        if not all(_is_change(row) for row in rows):
            raise ShopError(step.label, "its record is no text", "A disk fault, or another program wrote it", "Open a backup")
        return [Change(*row) for row in rows]

    def changed_since(self, before: History) -> set[Key]:
        """Documents another window may have changed since an earlier look; steps may also have been undone or merged since."""
        then, now = ({s.seq: s.undone for s in h.steps} for h in (before, self))
        differing = {seq for seq, _ in then.items() ^ now.items()}
        since = min(differing | ({before.steps[-1].seq} if before.steps else {0}))
        rows = self._connection.execute("SELECT DISTINCT kind, id FROM change WHERE seq >= ?", (since,)).fetchall()
        return {(kind, id_) for kind, id_ in rows}


def _is_change(row: tuple[Any, ...]) -> bool:
    kind, id_, before, after = row
    return is_text(kind) and is_text(id_) and all(b is None or is_text(b) for b in (before, after))

"""The book itself: documents in one SQLite file, every edit one transaction, undo and redo from the file's own history."""

from __future__ import annotations

import contextlib
import os
import sqlite3
import time
from collections.abc import Callable, Iterable, Iterator, Mapping
from datetime import date
from pathlib import Path
from typing import TYPE_CHECKING, Any, Final, TypeVar

from elbrix.book import backup
from elbrix.book.documents import WORK_KINDS, Document, from_json, kind_of, kind_of_type, kinds, shop_of, to_json, words_of
from elbrix.book.history import Change, History
from elbrix.book.kept import Kept, printable
from elbrix.book.opening import BookProblem, healthy_without_log, inspect, read_only_uri
from elbrix.book.schema import SCHEMA, migrate, quicken, search_row
from elbrix.book.writer import WriterLock, close_over, log_of, set_aside
from elbrix.quantities.errors import ShopError
from elbrix.shop.shop import Shop

if TYPE_CHECKING:
    import tempfile

_MERGE_SECONDS: Final = 90.0
T = TypeVar("T")


_Statement = tuple[str, tuple[Any, ...]]


class Book:
    """An open book. One writer; everybody else reads."""

    def __init__(self, path: Path, connection: sqlite3.Connection, lock: WriterLock | None, notice: str = "") -> None:
        self.path = path
        self.read_only_reason = notice  #: why it is read-only, for the head line
        self.unsaved_reason = ""  #: why the newest edits are not in the file yet
        self.changed: list[Callable[[], None]] = []  #: called after every edit
        self._connection = connection
        self._lock = lock
        self._notices: tuple[str, ...] = ()  # what was found when it was opened, in words
        self._unreadable_said = 0
        self._copy: tempfile.TemporaryDirectory[str] | None = None  #: of a book that is read beside its writer's log
        self._pending: list[tuple[str, list[_Statement]]] = []
        self._shop: Shop | None = None
        # A byte that is no text is met where it stands, not as an error of the whole row.
        connection.text_factory = lambda raw: raw.decode("utf-8", "surrogateescape")
        self._kept = Kept(connection)
        self._history = History(connection)
        (self._seen_version,) = connection.execute("PRAGMA data_version").fetchone()

    # --- opening -----------------------------------------------------------------------------------------------------

    @classmethod
    def create(cls, path: Path) -> Book:
        """Start an empty book.

        Raises:
            ShopError: The file exists or cannot be written.
        """
        if path.exists():
            raise ShopError(
                path.name, "that file is there already", "A new book never overwrites anything", "Choose another name, or open it"
            )
        part = path.with_name(f".{path.name}.{os.getpid()}.part")
        try:
            path.parent.mkdir(parents=True, exist_ok=True)
            part.unlink(missing_ok=True)
            with contextlib.closing(sqlite3.connect(part, isolation_level=None)) as connection:
                connection.execute("PRAGMA journal_mode = WAL")
                connection.executescript(f"BEGIN; {SCHEMA} COMMIT;")
                connection.execute("PRAGMA wal_checkpoint(TRUNCATE)")  # so that the header can be read without the log
            os.link(part, path)  # the name appears with the whole book, or not at all, and never over another file
        except (OSError, sqlite3.Error) as error:
            raise ShopError(
                path.name,
                f"the book cannot be started ({error})",
                "The folder is not there, is full or cannot be written",
                "Choose another folder",
            ) from None
        finally:
            for left in (part, part.with_name(part.name + "-wal"), part.with_name(part.name + "-shm")):
                with contextlib.suppress(OSError):
                    left.unlink()
        return cls.open(path)

    @classmethod
    def open(cls, path: Path, *, later: bool = False) -> Book:
        """Open a book: to write when nobody else does and the file allows, else to read, with the reason in `read_only_reason`.

        Args:
            later: The caller does itself what `look_over` does, when there is time for it.

        Raises:
            BookProblem: Missing, foreign, newer or damaged; the file was not written to.
        """
        book = cls._open(path.resolve())  # one book, one lock, whatever it is called
        if not later:
            book.look_over()
        return book

    @classmethod
    def _open(cls, path: Path) -> Book:
        sound = True
        try:
            inspect(path)
        except BookProblem as problem:
            if problem.kind != "damaged" or not log_of(path).exists():
                raise
            sound = False  # the log beside it may not be its own
        lock = WriterLock(path)
        notice = ""
        if not (os.access(path, os.W_OK) and os.access(path.parent, os.W_OK)):
            notice = "Read only: the file or its folder cannot be written"
        elif not lock.take():
            notice = "Read only: this book is open in another window"
        if notice:
            if not sound:
                inspect(path)
            return cls._read(path, notice)
        try:
            return cls._write(path, lock, sound=sound)
        except BaseException:
            lock.release()
            raise

    @classmethod
    def look(cls, path: Path, *, later: bool = False) -> Book:
        """Open a book only to look at it, whether or not it could be written.

        Args:
            later: As of `open`.

        Raises:
            BookProblem: It is no book, damaged, or of a newer version.
            ShopError: An older book that has to be lifted first.
        """
        path = path.resolve()
        inspect(path)
        book = cls._read(path, f"Read only: {path.name}, looked at")
        if not later:
            book.look_over()
        return book

    @classmethod
    def _write(cls, path: Path, lock: WriterLock, *, sound: bool) -> Book:
        aside = lock.put_foreign_log_aside()
        try:
            if aside or not sound:
                inspect(path)
        except BookProblem as problem:
            # A log that nobody knows, and a file that is whole without it: it belongs to another file of this name.
            if problem.kind != "damaged" or not log_of(path).exists() or not healthy_without_log(path):
                raise
            aside = (
                "The log beside this book did not belong to it: the book is whole without it. It was kept as"
                f" “{set_aside(path).name}”"
            )
            inspect(path)
        connection = sqlite3.connect(path, isolation_level=None, timeout=2.0, check_same_thread=False)
        try:
            connection.execute("PRAGMA journal_mode = WAL")
            connection.execute("PRAGMA synchronous = FULL")
            connection.execute("PRAGMA foreign_keys = ON")
            migrate(connection, path)
            quicken(connection)
            book = cls(path, connection, lock)
            if aside:
                book._notices = (aside,)
            lock.claim(connection)
        except sqlite3.Error as error:
            connection.close()
            raise _damaged(path, error) from None
        except BaseException:
            connection.close()
            raise
        return book

    @classmethod
    def _read(cls, path: Path, notice: str) -> Book:
        """A reader. Beside a log it cannot follow it reads a copy of both, and says so."""
        import shutil  # neither is wanted at a usual start
        import tempfile

        copy = None
        try:
            uri = read_only_uri(path)
            log = log_of(path)
            if not os.access(path.parent, os.W_OK) and log.exists() and log.stat().st_size:
                copy = tempfile.TemporaryDirectory(prefix="elbrix-")
                there = Path(copy.name) / path.name
                shutil.copyfile(path, there)
                shutil.copyfile(log, log_of(there))
                uri = f"{there.as_uri()}?mode=rwc"
                notice += ". What is written to it from now on is not followed"
            connection = sqlite3.connect(uri, uri=True, isolation_level=None, check_same_thread=False)
            book = cls(path, connection, None, notice)
        except (OSError, sqlite3.Error) as error:
            raise _damaged(path, error) from None
        book._copy = copy
        return book

    def reload_if_changed(self) -> bool:
        """For a reader: take in what the writing window has kept since; True when there was something."""
        if not self.read_only:
            return False
        try:
            (version,) = self._connection.execute("PRAGMA data_version").fetchone()
            if version == self._seen_version:
                return False
            history = History(self._connection)
            changed = history.changed_since(self._history)
            self._kept.forget(changed)
            self._history, self._seen_version = history, version
            if any(kind not in WORK_KINDS for kind, _ in changed):
                self._shop = None
        except sqlite3.Error:
            return False  # the writer is busy; the next look will do
        for call in list(self.changed):
            call()
        return True

    def close(self) -> None:
        """Write what waits and let go of the file. What could not be written (`unsaved`) is lost."""
        with contextlib.suppress(sqlite3.Error):
            self.flush()
        if self._lock is not None and self._lock.copied_over:
            close_over(self._connection, self.path)
        else:
            with contextlib.suppress(sqlite3.Error):
                self._connection.close()
        if self._lock is not None:
            self._lock.release()
        if self._copy is not None:
            self._copy.cleanup()

    @property
    def unsaved(self) -> tuple[str, ...]:
        """Labels of the edits that are not in the file."""
        return tuple(label for label, _ in self._pending)

    def save_copy(self, path: Path) -> None:
        """Write everything that is in the book now into a new one, with what the file could not take.

        Raises:
            ShopError: The file exists or cannot be written.
        """
        fresh = Book.create(path)
        try:
            known = len(self.unreadable)
            fresh.put(f"Copy of {self.path.name}", *self._kept.every())
            if fresh.unsaved_reason:
                raise ShopError(path.name, "not everything could be written", fresh.unsaved_reason, "Choose another folder")
            if missing := len(self.unreadable) - known:
                raise ShopError(
                    path.name,
                    f"{missing} thing{'s' if missing > 1 else ''} could not be read from {self.path.name}",
                    "Its disk is gone or damaged; everything else is in the copy",
                    "Bring the disk back, or take them from a backup",
                )
        finally:
            fresh.close()

    @property
    def read_only(self) -> bool:
        return self._lock is None

    def read_some(self) -> bool:
        """Read a handful of what nobody asked for yet; False when everything but photographs is in memory.

        What is in memory can be saved elsewhere when the disk is gone, and a row that cannot be read is said.
        """
        return self._kept.read_some()

    def look_over(self) -> None:
        """Read everything, and make the day's copy."""
        while self.read_some():
            pass
        if len(self._kept) and not self.read_only:
            backup.daily(self._connection, self.path, date.today())

    @property
    def unreadable(self) -> tuple[str, ...]:
        """Things left in the file as they are because they cannot be read, as far as they were asked for."""
        return tuple(self._kept.unreadable.values())

    @property
    def notices(self) -> tuple[str, ...]:
        """What was found in the book, in words, until somebody put it away."""
        unreadable = self.unreadable
        if len(unreadable) <= self._unreadable_said:
            return self._notices
        count = len(unreadable)
        named = "; ".join(unreadable[:2]) + (" …" if count > 2 else "")
        plural = "s" if count > 1 else ""
        return (*self._notices, f"{count} thing{plural} of this book cannot be read and stay in it untouched: {named}")

    def put_notices_away(self) -> None:
        """They were read; what is found from now on is said again."""
        self._notices, self._unreadable_said = (), len(self.unreadable)

    # --- reading -----------------------------------------------------------------------------------------------------

    def all(self, type_: type[T]) -> list[T]:
        """Every document of a type, by id."""
        return self._kept.all(kind_of_type(type_))  # type: ignore[return-value]

    def ids(self, type_: type[Any]) -> list[str]:
        """Names of every document of a type, in the order of `all`; none is read for it."""
        return self._kept.ids(kind_of_type(type_))

    def get(self, type_: type[T], id: str) -> T | None:
        """One document, or None."""
        return self._kept.get((kind_of_type(type_), id))  # type: ignore[return-value]

    def each(self, type_: type[T]) -> Iterator[T]:
        """The same one after another, for a question that may be answered by the first few."""
        return self._kept.each(kind_of_type(type_))  # type: ignore[return-value]

    def latest(self, type_: type[T], many: int) -> list[T]:
        """So many documents of a type, those first that were changed last."""
        kind = kind_of_type(type_)
        sql = "SELECT id FROM item WHERE kind = ? ORDER BY changed DESC, id LIMIT ?"
        try:
            ids = [str(i) for (i,) in self._connection.execute(sql, (kind, many))]
        except sqlite3.Error:
            ids = []  # a file that cannot be read now orders nothing
        found = {i: d for i in ids if (d := self.get(type_, i)) is not None}
        for doc in self.each(type_):  # what is not in the file yet
            if len(found) >= many:
                break
            found.setdefault(doc.id, doc)  # type: ignore[attr-defined]
        return list(found.values())

    def edition(self, type_: type[Any]) -> int:
        """Another number whenever something of a type has changed, come or gone: what was made of all of them can be kept."""
        return self._kept.edition(kind_of_type(type_))

    @property
    def by_name(self) -> Mapping[tuple[str, str], Document]:
        """Every document by kind and id; each is read when it is asked for."""
        return self._kept

    @property
    def documents(self) -> list[Document]:
        return self._kept.every()

    @property
    def shop(self) -> Shop:
        """The shop as it stands now."""
        if self._shop is None:
            things = [d for kind in kinds() if kind not in WORK_KINDS for d in self._kept.all(kind)]
            self._shop = shop_of(sorted(things, key=lambda d: (kind_of(d), d.id)))
        return self._shop

    def search(self, words: str) -> list[tuple[str, str]]:
        """(kind, id) of documents that have every word, or begin of a word, best first."""
        terms = ["".join(c for c in w if c.isalnum() or c in "._-") for w in words.split()[:12]]
        query = " ".join(f'"{t}"*' for t in terms if t)
        if not query:
            return []
        try:
            rows = self._connection.execute("SELECT kind, id FROM search WHERE search MATCH ? ORDER BY rank", (query,)).fetchall()
        except sqlite3.Error:
            return []  # an index that is damaged finds nothing; the items are there
        return [(k, i) for k, i in rows if (k, i) in self._kept]

    def history(self, kind: str, id: str) -> list[tuple[str, str]]:
        """(when, what) of every edit that touched a document, newest first."""
        sql = (
            "SELECT e.at, e.label FROM edit e JOIN change c USING (seq) WHERE c.kind = ? AND c.id = ? AND e.state = 'done' ORDER"
            " BY e.seq DESC"
        )
        return [(str(at), printable(label)) for at, label in self._connection.execute(sql, (kind, id))]

    def versions(self, kind: str, id: str) -> frozenset[str]:
        """Every body a document has had, today's included, as JSON; what was undone is none."""
        sql = "SELECT c.before, c.after FROM edit e JOIN change c USING (seq) WHERE c.kind = ? AND c.id = ? AND e.state = 'done'"
        try:
            rows = self._connection.execute(sql, (kind, id)).fetchall()
        except sqlite3.Error:
            rows = []  # a history that cannot be read decides nothing: both sides are kept then
        found = {str(body) for row in rows for body in row if body is not None}
        now = self._kept.get((kind, id))
        return frozenset(found | ({to_json(now)} if now is not None else set()))

    def setting(self, key: str, default: str = "") -> str:
        """A remembered state of the window; not part of the history."""
        try:
            row = self._connection.execute("SELECT value FROM setting WHERE key = ?", (key,)).fetchone()
        except sqlite3.Error:
            return default
        return printable(row[0]) if row else default

    def remember(self, key: str, value: str) -> None:
        """Keep a state of the window; never an error."""
        if self.setting(key) == value:
            return  # a write costs more than a look
        if self._lock is not None and not self._lock.trouble():
            with contextlib.suppress(sqlite3.Error):
                self._connection.execute(
                    "INSERT INTO setting VALUES (?, ?) ON CONFLICT (key) DO UPDATE SET value = excluded.value", (key, value)
                )
                self._lock.wrote()

    # --- editing -----------------------------------------------------------------------------------------------------

    def put(self, label: str, *documents: Document, merge: str = "") -> None:
        """Keep new or changed documents, as one edit.

        Args:
            label: What was done, for the undo menu: "Neck 11.7 → 11.5".
            documents: As they are now.
            merge: Edits in a row with the same key become one step of undo (a number being typed).

        Raises:
            ShopError: The book is read-only.
        """
        self._edit(label, [(kind_of(d), d.id, d) for d in documents], merge)

    def remove(self, label: str, *documents: Document) -> None:
        """Take documents out, as one edit; undo brings them back."""
        self._edit(label, [(kind_of(d), d.id, None) for d in documents], "")

    def _edit(self, label: str, wanted: list[tuple[str, str, Document | None]], merge: str) -> None:
        if self.read_only:
            raise ShopError(
                self.path.name,
                "this window may only read",
                self.read_only_reason.removeprefix("Read only: ") or "The book is read-only",
                "Close the other window, or export what you need",
            )
        changes = []
        for kind, id_, document in wanted:
            old = self._kept.get((kind, id_))
            before = to_json(old) if old is not None else None
            # Read back once, so that 20 and 20.0 are the same size and nothing unreadable is ever written.
            after = to_json(from_json(kind, to_json(document))) if document is not None else None
            if before != after:
                changes.append(Change(kind, id_, before, after))
        if not changes:
            return
        statements: list[_Statement] = []
        last = self._history.last
        merging = (
            merge
            and last
            and not last.undone
            and last.merge == merge
            and time.monotonic() - last.when < _MERGE_SECONDS
            and last.changes is not None
            and [(c.kind, c.id) for c in last.changes] == [(c.kind, c.id) for c in changes]
        )
        if merging and last and last.changes is not None:
            for old_change, new in zip(last.changes, changes, strict=True):
                old_change.after = new.after
            last.label, last.when = label, time.monotonic()
            statements.append(("UPDATE edit SET label = ?, at = ? WHERE seq = ?", (label, _now(), last.seq)))
            statements += [
                ("UPDATE change SET after = ? WHERE seq = ? AND n = ?", (c.after, last.seq, n))
                for n, c in enumerate(last.changes)
            ]
        else:
            if self._history.to_redo is not None:
                statements.append(("UPDATE edit SET state = 'left' WHERE state = 'undone'", ()))
            edit = self._history.add(label, changes, merge)
            statements.append(("INSERT INTO edit VALUES (?, ?, ?, 'done')", (edit.seq, _now(), label)))
            statements += [
                ("INSERT INTO change VALUES (?, ?, ?, ?, ?, ?)", (edit.seq, n, c.kind, c.id, c.before, c.after))
                for n, c in enumerate(changes)
            ]
        self._apply(label, [(c.kind, c.id, c.after) for c in changes], statements)

    @property
    def undo_label(self) -> str:
        """What undo would take back; empty for nothing."""
        step = self._history.to_undo
        return step.label if step is not None else ""

    @property
    def redo_label(self) -> str:
        step = self._history.to_redo
        return step.label if step is not None else ""

    def undo(self) -> str:
        """Take back the newest edit and return its label; empty when there is none.

        Raises:
            ShopError: What was there before cannot be read any more; that step and those before it are given up.
        """
        step = self._history.to_undo
        if step is None or self.read_only:
            return ""
        changes = self._history.changes(step)
        step.undone, step.merge = True, ""
        self._apply(
            f"Undo {step.label}",
            [(c.kind, c.id, c.before) for c in reversed(changes)],
            [("UPDATE edit SET state = 'undone' WHERE seq = ?", (step.seq,))],
        )
        return step.label

    def redo(self) -> str:
        """Do the newest undone edit again and return its label.

        Raises:
            ShopError: It cannot be read any more; it is given up with those after it.
        """
        step = self._history.to_redo
        if step is None or self.read_only:
            return ""
        changes = self._history.changes(step)
        step.undone = False
        self._apply(
            f"Redo {step.label}",
            [(c.kind, c.id, c.after) for c in changes],
            [("UPDATE edit SET state = 'done' WHERE seq = ?", (step.seq,))],
        )
        return step.label

    def _apply(self, label: str, bodies: Iterable[tuple[str, str, str | None]], statements: list[_Statement]) -> None:
        for kind, id_, body in bodies:
            if kind not in WORK_KINDS:
                self._shop = None
            if self._kept.unreadable.pop((kind, id_), ""):  # its name is taken by something new: it stays, beside it
                statements.append(
                    ("UPDATE item SET id = ? WHERE kind = ? AND id = ?", (f"{id_} (unreadable {_now()})", kind, id_))
                )
            statements.append(("DELETE FROM search WHERE rowid = ?", (search_row(kind, id_),)))
            if body is None:
                self._kept.drop((kind, id_))
                statements.append(("DELETE FROM item WHERE kind = ? AND id = ?", (kind, id_)))
            else:
                document = from_json(kind, body)
                self._kept.put((kind, id_), document)
                statements.append(
                    (
                        (
                            "INSERT INTO item VALUES (?, ?, ?, ?) ON CONFLICT (kind, id) DO UPDATE SET body = excluded.body,"
                            " changed = excluded.changed"
                        ),
                        (kind, id_, body, _now()),
                    )
                )
                words = (search_row(kind, id_), kind, id_, words_of(document))
                statements.append(("INSERT INTO search (rowid, kind, id, words) VALUES (?, ?, ?, ?)", words))
        self._pending.append((label, statements))
        self.flush()
        for call in list(self.changed):
            call()

    def flush(self) -> bool:
        """Write what waits. False, with `unsaved_reason` saying why, when the file cannot take it; the edits stay in memory."""
        while self._pending:
            way_out = "make room or bring the folder back; it is tried again by itself"
            try:
                if self._lock is not None and (trouble := self._lock.trouble()):
                    if "another file" in trouble:
                        way_out = "close it and save a copy under another name when it asks, or put this book back"
                    raise OSError(trouble)
                self._connection.execute("BEGIN IMMEDIATE")
                try:
                    for sql, values in self._pending[0][1]:
                        self._connection.execute(sql, values)
                    self._connection.execute("COMMIT")
                except BaseException:
                    with contextlib.suppress(sqlite3.Error):
                        self._connection.execute("ROLLBACK")
                    raise
            except (OSError, sqlite3.Error) as error:
                count = len(self._pending)
                self.unsaved_reason = (
                    f"{count} edit{'s are' if count > 1 else ' is'} not in the file yet: {error}. Keep this window open:"
                    f" {way_out}"
                )
                return False
            self._pending.pop(0)
            if self._lock is not None:
                self._lock.wrote()
        self.unsaved_reason = ""
        self._history.written()
        return True

    def integrity(self) -> str:
        """ "ok", or what SQLite and the documents complain of."""
        (found,) = self._connection.execute("PRAGMA integrity_check(1)").fetchone()
        if found != "ok":
            return str(found)
        self._kept.every()
        return self.unreadable[0] if self.unreadable else "ok"


def _damaged(path: Path, error: Exception) -> BookProblem:
    return BookProblem(
        "damaged",
        path,
        f"it cannot be read ({str(error)[:80]})",
        "A disk fault, or a copy that was cut short",
        "Open the newest backup, or choose another book",
        ("backup", "other", "new"),
    )


def _now() -> str:
    return time.strftime("%Y-%m-%dT%H:%M:%S")

"""What is in a book now: the names of everything, and a document when it is first asked for."""

from __future__ import annotations

import gc
import sqlite3
import threading
from collections import Counter, deque
from collections.abc import Iterable, Iterator, Mapping
from contextlib import contextmanager
from typing import Any, Final

from elbrix.book.documents import Document, from_json, kind_of, lift_body
from elbrix.book.formats import FORMAT
from elbrix.quantities.errors import ShopError

Key = tuple[str, str]  #: kind and id

#: Photographs are as large as a hundred designs: they are read for the item whose page is open, never all of them.
_ONLY_WHEN_ASKED: Final = "photo"
#: Documents read in one go, from one question to the file.
_HANDFUL: Final = 200


_Kinds = dict[str, dict[str, Document | None]]


class Kept(Mapping[Key, Document]):
    """Documents by kind and id, in the order of the book; read from its file on demand.

    A body that cannot be read is not there, and said in `unreadable`; its row stays in the file as it is.
    """

    def __init__(self, connection: sqlite3.Connection) -> None:
        """Learn the names of everything.

        Raises:
            sqlite3.Error: The file cannot be read.
        """
        self.unreadable: dict[Key, str] = {}  #: what cannot be read, and why, in words
        self._connection = connection
        self._one_at_a_time = threading.RLock()  # a search beside the window may ask for what nobody asked for yet
        self._there: _Kinds = {}  # by kind, then by id; None: in the file, not asked for yet
        self._waiting: deque[Key] = deque()
        self._editions: Counter[str] = Counter()  # of each kind, how often it changed
        (self._version,) = connection.execute("PRAGMA user_version").fetchone()
        self._name_all({})

    def _name_all(self, known: _Kinds) -> None:
        if self._version < FORMAT:  # an older book that may only be read: a body says what kind it is today
            rows = self._connection.execute("SELECT kind, id, body FROM item ORDER BY kind, id").fetchall()
            with _no_rubbish():
                for kind, id_, body in rows:
                    self._take(kind, id_, body)
            return
        for kind, id_ in self._connection.execute("SELECT kind, id FROM item ORDER BY kind, id"):
            if is_text(kind) and is_text(id_):
                self._there.setdefault(kind, {})[id_] = known.get(kind, {}).get(id_)
            else:
                self._refuse((kind, id_), "its record is no text")
        self._waiting = deque(
            (kind, id_)
            for kind, found in self._there.items()
            if kind != _ONLY_WHEN_ASKED
            for id_, document in found.items()
            if document is None
        )

    # --- asking ------------------------------------------------------------------------------------------------------

    def __contains__(self, key: object) -> bool:
        return isinstance(key, tuple) and key[1] in self._there.get(key[0], ())

    def __iter__(self) -> Iterator[Key]:
        return iter([(kind, id_) for kind in list(self._there) for id_ in self.ids(kind)])

    def __len__(self) -> int:
        return sum(len(found) for found in self._there.values())

    def __getitem__(self, key: Key) -> Document:
        """One document.

        Raises:
            KeyError: There is none, or none that can be read.
        """
        found = self._there[key[0]]
        if found[key[1]] is None:
            self._read(key[0], [key[1]])
        document = found[key[1]]
        assert document is not None  # what cannot be read is not there any more
        return document

    def ids(self, kind: str) -> list[str]:
        """Of everything of a kind, in the order of the book, read or not."""
        return list(self._there.get(kind, ()))

    def each(self, kind: str) -> Iterator[Document]:
        """Every document of a kind that can be read, as far as somebody goes on asking."""
        ids = self.ids(kind)
        for start in range(0, len(ids), _HANDFUL):
            part = ids[start : start + _HANDFUL]
            self._read(kind, part)
            found = self._there.get(kind, {})
            yield from (d for id_ in part if (d := found.get(id_)) is not None)

    def all(self, kind: str) -> list[Document]:
        """Every document of a kind that can be read."""
        there = list(self._there.get(kind, {}).values())
        return list(self.each(kind)) if any(d is None for d in there) else [d for d in there if d is not None]

    def every(self) -> list[Document]:
        """Every document that can be read."""
        return [d for kind in list(self._there) for d in self.each(kind)]

    def read_some(self, many: int = _HANDFUL) -> bool:
        """Read a handful that nobody asked for yet; False when everything but photographs is there."""
        part: dict[str, list[str]] = {}
        for _ in range(min(many, len(self._waiting))):
            kind, id_ = self._waiting.popleft()
            part.setdefault(kind, []).append(id_)
        for kind, ids in part.items():
            self._read(kind, ids)
        return bool(self._waiting)

    # --- changing ----------------------------------------------------------------------------------------------------

    def put(self, key: Key, document: Document) -> None:
        self._there.setdefault(key[0], {})[key[1]] = document
        self._editions[key[0]] += 1

    def drop(self, key: Key) -> None:
        self._there.get(key[0], {}).pop(key[1], None)
        self._editions[key[0]] += 1

    def edition(self, kind: str) -> int:
        """Another number whenever something of a kind has changed, come or gone."""
        return self._editions[kind]

    def forget(self, changed: Iterable[Key]) -> None:
        """Another window changed the file: names are read again, and of the documents those that it changed.

        Raises:
            sqlite3.Error: The file cannot be read; nothing is forgotten then.
        """
        with self._one_at_a_time:
            stale, before, refused = set(changed), self._there, self.unreadable
            self._editions.update({kind for kind, _ in stale})
            self._there, self.unreadable = {}, {}
            try:
                self._name_all({k: {i: d for i, d in found.items() if (k, i) not in stale} for k, found in before.items()})
            except sqlite3.Error:
                self._there, self.unreadable = before, refused
                raise

    # --- reading -----------------------------------------------------------------------------------------------------

    def _read(self, kind: str, ids: list[str]) -> None:
        """Bodies out of the file, of those that were not read yet; what fails is refused and no more there."""
        with self._one_at_a_time, _no_rubbish():
            found = self._there.get(kind, {})
            for start in range(0, len(ids), _HANDFUL):
                part = [id_ for id_ in ids[start : start + _HANDFUL] if found.get(id_, 0) is None]
                for id_, body in self._bodies(kind, part) if part else ():
                    self._take(kind, id_, body)
                for id_ in part:
                    if found.get(id_, 0) is None:
                        self._refuse((kind, id_), "its record is gone or cannot be read from the disk")

    def _bodies(self, kind: str, ids: list[str]) -> list[tuple[str, Any]]:
        sql = f"SELECT id, body FROM item WHERE kind = ? AND id IN ({', '.join('?' * len(ids))})"
        try:
            return self._connection.execute(sql, (kind, *ids)).fetchall()
        except sqlite3.Error:
            if len(ids) == 1:
                return []
        return [row for id_ in ids for row in self._bodies(kind, [id_])]  # one bad page must not take its neighbours along

    def _take(self, kind: Any, id_: Any, body: Any) -> None:
        try:
            document = _document(kind, id_, body, self._version)
            self._there.setdefault(kind_of(document), {})[id_] = document
        except ShopError as error:
            self._refuse((kind, id_), error.what)

    def _refuse(self, key: Key, what: str) -> None:
        self._there.get(key[0], {}).pop(key[1], None)
        self.unreadable[key] = f"{printable(key[0])} “{printable(key[1])}”: {what}"


def _document(kind: Any, id_: Any, body: Any, version: int) -> Document:
    """One row of the book, read.

    Raises:
        ShopError: It is not what was written there.
    """
    if not (is_text(kind) and is_text(id_) and is_text(body)):
        raise ShopError("Book", "its record is no text", "A disk fault, or another program wrote it", "Open a backup")
    document = from_json(*lift_body(kind, body, version))
    if document.id != id_:
        raise ShopError("Book", f"its record says “{document.id[:40]}”", "A disk fault, or another program", "Open a backup")
    return document


@contextmanager
def _no_rubbish() -> Iterator[None]:
    """Thousands of documents are made and none is dropped: looking for rubbish among them would take three times as long."""
    running = gc.isenabled()
    gc.disable()
    try:
        yield
    finally:
        if running:
            gc.enable()


def is_text(value: Any) -> bool:
    """Whether a column holds text; a byte that is none came in as half a surrogate."""
    try:
        return isinstance(value, str) and value.encode() is not None
    except UnicodeEncodeError:
        return False


def printable(value: Any) -> str:
    """Whatever stands in a column, as words for a message."""
    return str(value).encode("utf-8", "replace").decode()[:200]

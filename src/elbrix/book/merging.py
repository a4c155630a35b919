"""Another shop's book brought into this one: what either side has stays, and where both changed a thing both versions are kept.

Which side changed is read from the histories: a version that the other book has had before is the older one.
"""

from __future__ import annotations

import re
import sqlite3
from collections.abc import Iterable, Mapping
from contextlib import closing
from pathlib import Path
from tempfile import TemporaryDirectory
from typing import Any, Final, Literal

from msgspec import Struct
from msgspec.structs import replace

from elbrix.book.documents import DesignDoc, Document, ElementDoc, JobDoc, LayoutDoc, kind_of, to_json
from elbrix.book.items_file import LARGEST_BYTES, read_items
from elbrix.book.opening import inspect
from elbrix.book.store import Book
from elbrix.quantities.errors import ShopError

Prefer = Literal["both", "mine", "theirs"]
_Key = tuple[str, str]
_BOOK: Final = b"SQLite format 3\x00"


class Conflict(Struct, frozen=True):
    """A thing both sides changed; `copy` is the id theirs has now, "" when one side was preferred."""

    kind: str
    id: str
    copy: str
    words: str


class Merged(Struct, frozen=True):
    """What a merge did."""

    added: tuple[_Key, ...]
    same: int
    changed: tuple[_Key, ...]  #: on their side only: taken over
    kept: tuple[_Key, ...]  #: changed on our side only: ours stays
    conflicts: tuple[Conflict, ...]


class Other(Struct, frozen=True):
    """The other side: its things, and what it has had before of each."""

    name: str
    documents: tuple[Document, ...]
    versions: Mapping[_Key, frozenset[str]]


def read_other(path: Path) -> Other:
    """A book, or an export, to be merged; it is only read.

    Raises:
        ShopError: Neither.
    """
    try:
        with path.open("rb") as file:
            head = file.read(len(_BOOK))
            is_book = head == _BOOK
            data = b"" if is_book else head + file.read(LARGEST_BYTES + 1)
    except OSError as error:
        raise ShopError(
            "Merge", f"{path.name} cannot be read ({error.strerror})", "It is a book or an export", "Check it"
        ) from None
    if not is_book:
        documents = read_items(data)
        twice = {(kind_of(d), d.id) for d in documents}
        if len(twice) != len(documents):
            raise ShopError("Merge", "a thing stands twice in the file", "It cannot be told which is meant", "Export it again")
        return Other(path.name, tuple(documents), {})
    with TemporaryDirectory() as folder:  # an older book would be lifted to today's format: theirs stays as it is
        copy = Path(folder) / "theirs.elbrix"
        _copied(path, copy)
        book = Book.open(copy)
        try:
            versions = {(kind_of(d), d.id): book.versions(kind_of(d), d.id) for d in book.documents}
            return Other(path.name, tuple(book.documents), versions)
        finally:
            book.close()


def _copied(path: Path, copy: Path) -> None:
    inspect(path)
    try:
        with (
            closing(sqlite3.connect(f"{path.resolve().as_uri()}?mode=ro", uri=True)) as old,
            closing(sqlite3.connect(copy)) as new,
        ):
            old.backup(new)
    except (sqlite3.Error, OSError) as error:
        raise ShopError("Merge", f"{path.name} cannot be read ({error})", "It is damaged or in use", "Check it first") from None


class BookComparison(Struct, frozen=True):
    """Both sides laid beside each other."""

    added: tuple[Document, ...]
    same: int
    changed: tuple[tuple[Document, Document], ...]  #: (ours, theirs) of what only they changed
    kept: tuple[_Key, ...]
    fought: tuple[tuple[Document, Document], ...]  #: (ours, theirs) of what both changed
    known: Mapping[_Key, str]  #: what an earlier merge keeps beside ours already, and its id here


def compare(book: Book, other: Other) -> BookComparison:
    """What a merge would meet; nothing is changed."""
    ours = {(kind_of(d), d.id): d for d in book.documents}
    known = _known_copies((d for d in other.documents if ours.get((kind_of(d), d.id), d) != d), ours, other.name)
    added: list[Document] = []
    changed: list[tuple[Document, Document]] = []
    kept: list[_Key] = []
    fought: list[tuple[Document, Document]] = []
    same = 0
    for theirs in other.documents:
        key = (kind_of(theirs), theirs.id)
        mine = ours.get(key)
        if mine is None:
            added.append(theirs)
        elif key in known or mine in (theirs, _pointed(theirs, known)):
            same += 1
        elif to_json(theirs) in book.versions(*key):
            kept.append(key)
        elif to_json(mine) in other.versions.get(key, frozenset()):
            changed.append((mine, theirs))
        else:
            fought.append((mine, theirs))
    return BookComparison(tuple(added), same, tuple(changed), tuple(kept), tuple(fought), known)


def merge(book: Book, other: Other, prefer: Prefer = "both", each: Mapping[_Key, Prefer] | None = None) -> Merged:
    """Bring the other side in, as one edit that undo takes back whole.

    Args:
        book: Ours.
        other: Theirs.
        prefer: What becomes of a thing both changed: "both" keeps theirs as a second one beside ours, linked in its notes;
            "mine" leaves ours; "theirs" takes theirs, ours stays in the history.
        each: The same for single things, by (kind, id), before `prefer`.

    Raises:
        ShopError: The book is read-only.
    """
    found = compare(book, other)
    taken_ids: dict[str, set[str]] = {}
    for d in (*book.documents, *found.added):
        taken_ids.setdefault(kind_of(d), set()).add(d.id)
    fought = [(theirs, (each or {}).get((kind_of(theirs), theirs.id), prefer)) for _, theirs in found.fought]
    doubled = [d for d, how in fought if how == "both"]
    renamed = {**found.known, **_fresh_ids(doubled, taken_ids)}
    copies = [_second(d, renamed[kind_of(d), d.id], other.name) for d in doubled]
    theirs_only = [theirs for _, theirs in found.changed]
    incoming = [*found.added, *theirs_only, *copies, *(d for d, how in fought if how == "theirs")]
    incoming = [_pointed(d, renamed) for d in incoming]
    if incoming:
        book.put(f"Merge {other.name}: {len(incoming)} things", *incoming)
    conflicts = tuple(
        Conflict(kind_of(d), d.id, renamed.get((kind_of(d), d.id), ""), _words(d, how, renamed.get((kind_of(d), d.id), "")))
        for d, how in fought
    )
    return Merged(
        tuple((kind_of(d), d.id) for d in found.added),
        found.same,
        tuple((kind_of(d), d.id) for d in theirs_only),
        found.kept,
        conflicts,
    )


def _known_copies(fought: Iterable[Document], ours: Mapping[_Key, Document], source: str) -> dict[_Key, str]:
    """What an earlier merge already keeps beside ours: merged again, nothing is doubled."""
    found: dict[_Key, str] = {}
    for d in fought:
        kind = kind_of(d)
        for k, id_ in ours:
            if k == kind and id_.startswith(f"{_base(d.id)}-theirs") and _same_but_links(ours[k, id_], _second(d, id_, source)):
                found[kind, d.id] = id_
    return found


def _same_but_links(a: Any, b: Any) -> bool:
    """Alike, whatever ids of other things they speak of: those may have been given new ones."""
    links = {n: getattr(a, n) for n in ("machine", "design", "elements") if n in type(a).__struct_fields__}
    return bool(a == replace(b, **links))


def _base(id: str) -> str:
    return re.sub(r"-theirs(?:-\d+)?$", "", id) or id


def _words(d: Document, prefer: Prefer, copy: str) -> str:
    done = {
        "both": f"theirs is kept beside ours as {copy}",
        "mine": "ours stays",
        "theirs": "theirs is taken, ours is in the history",
    }
    return f"{kind_of(d)} {d.id}: changed on both sides; {done[prefer]}"


def _fresh_ids(documents: Iterable[Document], taken: dict[str, set[str]]) -> dict[_Key, str]:
    found: dict[_Key, str] = {}
    for d in documents:
        kind = kind_of(d)
        base = _base(d.id)
        n, new = 1, f"{base}-theirs"
        while new in taken[kind]:
            n += 1
            new = f"{base}-theirs-{n}"
        taken[kind].add(new)
        found[kind, d.id] = new
    return found


def _second(d: Document, id: str, source: str) -> Any:
    """Theirs under a new id, told apart by its name and linked in its notes where it has such."""
    fields = set(type(d).__struct_fields__)  # type: ignore[attr-defined]
    changes: dict[str, Any] = {"id": id}
    for name in ("title", "name"):
        if name in fields and isinstance(getattr(d, name), str) and getattr(d, name):
            changes[name] = f"{getattr(d, name)} (theirs)"
    if "notes" in fields:
        link = f"From {source}; the other version is “{d.id}”."
        before = str(getattr(d, "notes"))  # noqa: B009 - a Struct of any kind
        changes["notes"] = f"{before} {link}".strip()
    return replace(d, **changes)  # type: ignore[type-var]


def _pointed(d: Any, renamed: Mapping[_Key, str]) -> Any:
    """What of theirs spoke of a thing that was given a new id speaks of the new one."""
    if not renamed:
        return d
    if isinstance(d, DesignDoc | LayoutDoc):
        d = replace(d, machine=renamed.get(("machine", d.machine), d.machine))
    if isinstance(d, JobDoc | LayoutDoc):
        d = replace(d, design=renamed.get(("design", d.design), d.design))
    if isinstance(d, LayoutDoc):
        d = replace(d, elements=tuple(_pointed_element(e, renamed) for e in d.elements))
    return d


def _pointed_element(element: ElementDoc, renamed: Mapping[_Key, str]) -> ElementDoc:
    return replace(element, design=renamed.get(("design", element.design), element.design))

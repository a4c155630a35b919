"""What the Shop bench does with whole books: bring one in, look at one, write this one out."""

from __future__ import annotations

from collections.abc import Iterable
from pathlib import Path

from PyQt6.QtWidgets import QWidget

from elbrix.app.background import in_background
from elbrix.app.dialogs import asked
from elbrix.app.file_choice import file_to_read, file_to_write
from elbrix.app.session import Session
from elbrix.book.documents import Document
from elbrix.book.items_file import export_text
from elbrix.book.merging import compare, read_other
from elbrix.exchange.whole_file import write_whole
from elbrix.quantities.errors import ShopError

_BOOKS = "Books and exports (*.elbrix *.json);;Every file (*)"


def pressed(bench: QWidget, session: Session, what: str) -> None:
    """A button of the section of the book."""
    if what == "out":
        write_items(bench, session, session.book.documents, session.book.path.stem)
        return
    path = file_to_read(bench, "Another shop's book", _BOOKS)
    if path is None:
        return
    if what == "beside":
        session.beside_wanted.emit(path)
    else:
        bring_in(bench, session, path)


def bring_in(bench: QWidget, session: Session, path: Path) -> None:
    """Lay a book or an export beside this one, and bring in what is wanted; nothing is lost, and one undo takes it back."""
    from elbrix.app.merging import MergeDialog  # few ever merge

    try:
        other = in_background(lambda: read_other(path))
        found = compare(session.book, other)
    except ShopError as error:
        session.refused.emit(str(error))
        return
    dialog = MergeDialog(session, other, found, bench)
    if asked(dialog) and dialog.merged is not None:
        m = dialog.merged
        session.refused.emit(
            f"From {other.name}: {len(m.added)} new, {len(m.changed)} taken over, {len(m.conflicts)} changed on both sides. Undo"
            " takes all of it back."
        )


def write_items(parent: QWidget, session: Session, documents: Iterable[Document], name: str) -> None:
    """Write things of the book as one open file."""
    path = file_to_write(parent, "Export", "Export (*.json)", f"{name}.json")
    if path is None:
        return
    every = list(documents)
    try:
        in_background(lambda: write_whole(path, export_text(every).encode()))
    except OSError as error:
        session.refused.emit(f"{path} cannot be written ({error.strerror}). Choose another place.")
        return
    session.refused.emit(f"{len(every)} things written to {path}")

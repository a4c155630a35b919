"""Photographs kept with an accessory."""

from __future__ import annotations

from elbrix.book.documents import JPEG_BEGINS, MAX_PHOTO, DesignDoc, PhotoDoc, new_id
from elbrix.book.store import Book
from elbrix.quantities.errors import EntryError


def photos_of(doc: DesignDoc, book: Book) -> list[PhotoDoc]:
    """The photographs of a design, the newest first."""
    return sorted((p for p in book.all(PhotoDoc) if p.about == doc.id), key=lambda p: (p.on, p.id), reverse=True)


def photo(doc: DesignDoc, book: Book, title: str, jpeg: bytes, on: str) -> PhotoDoc:
    """A photograph to be kept with a design.

    Raises:
        EntryError: It is no JPEG, or too large to be kept.
    """
    if not jpeg.startswith(JPEG_BEGINS):
        raise EntryError("Photograph", "it is no JPEG", "Photographs are kept as JPEG", "Take another file")
    if len(jpeg) > MAX_PHOTO:
        raise EntryError(
            "Photograph", f"{len(jpeg):,} bytes", f"{MAX_PHOTO:,} are kept at most", "Take a smaller picture of the same"
        )
    id_ = new_id("photo", book.ids(PhotoDoc), title or doc.title)
    return PhotoDoc(id=id_, about=doc.id, title=title, on=on, jpeg=jpeg)

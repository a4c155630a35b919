"""One accessory with everything it needs to be understood and made elsewhere."""

from __future__ import annotations

from elbrix.book.documents import DesignDoc, Document, InspectionDoc, JobDoc, LayoutDoc, PhotoDoc
from elbrix.book.finishing import possession_id
from elbrix.book.store import Book
from elbrix.items.kind import item_kinds


def with_all_it_needs(doc: DesignDoc, book: Book) -> list[Document]:
    """The design with what it leans on.

    Its machine, its job, what was measured and photographed of it, the layouts it is held in while it is made with the
    accessories that stand in them, and its pieces as a thing of the shop.
    """
    found: dict[tuple[str, str], Document] = {}

    def take(document: Document | None) -> None:
        if document is not None:
            found.setdefault((type(document).__name__, document.id), document)

    def take_design(design: DesignDoc | None) -> None:
        if design is None or ("DesignDoc", design.id) in found:
            return
        take(design)
        take(next((m for m in book.shop.machines if m.id == design.machine), None))

    take_design(doc)
    others: list[JobDoc | InspectionDoc | PhotoDoc] = [*book.all(JobDoc), *book.all(InspectionDoc), *book.all(PhotoDoc)]
    for other in others:
        if (other.design if isinstance(other, JobDoc) else other.about) == doc.id:
            take(other)
    for layout in (x for x in book.all(LayoutDoc) if x.design == doc.id):
        take(layout)
        take(next((m for m in book.shop.machines if m.id == layout.machine), None))
        for element in layout.elements:
            take_design(book.get(DesignDoc, element.design) if element.design else None)
    owned = possession_id(doc.id)
    for kind_of_thing in item_kinds().values():
        take(next((t for t in kind_of_thing.of(book.shop) if t.id == owned), None))
    return list(found.values())

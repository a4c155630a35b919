"""The code of a drawer label, as a scanner types it: it opens the item."""

from __future__ import annotations

import re
from typing import Final

from elbrix.answers.answer import Answer, Destination, ShopContext
from elbrix.answers.topics.figures import text_figure
from elbrix.book.documents import DesignDoc
from elbrix.quantities.errors import ShopError

_CODE: Final = re.compile(r"ELBRIX ([a-z0-9-]{1,80})(?: ([A-Z]{1,4}))?", re.ASCII)
#: The topic of such an answer: it needs no second Enter.
CODE: Final = "code"


def label_code(doc: DesignDoc) -> str:
    """What stands in the code of an item's label."""
    return f"ELBRIX {doc.id} {doc.letter}".strip()


def is_code(text: str) -> bool:
    return _CODE.fullmatch(text.strip()) is not None


def code_answer(text: str, world: ShopContext) -> Answer:
    """The item a label belongs to.

    Raises:
        ShopError: No item of this book has that code.
    """
    found = _CODE.fullmatch(text.strip())
    doc = world.documents.get(("design", found[1])) if found is not None else None
    if found is None or doc is None:
        raise ShopError(
            "Label",
            "no item of this book has that code",
            "The label may belong to another shop's book, or its item was removed",
            "Look in Catalogue by words",
        )
    letter = found[2] or ""
    stands = doc.location or "no place written down"
    notes: tuple[str, ...] = ()
    if letter != doc.letter:
        notes = (f"The label says revision {letter or 'none'}, the book has {doc.letter or 'a draft'}: print a new label",)
    return Answer(
        title=doc.title,
        figures=(text_figure("place", "Storage place", stands), text_figure("made", "Pieces in stock", str(doc.made))),
        notes=notes,
        go=Destination(words=f"See {doc.title}", bench="catalogue", thing=doc.id),
        topic=CODE,
    )

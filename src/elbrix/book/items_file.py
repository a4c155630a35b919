"""A whole book, or some of its items, as JSON; and back in without losing anything that is there."""

from __future__ import annotations

import json
from collections.abc import Iterable
from typing import Any, Final

import msgspec
from msgspec import Struct

from elbrix.book.documents import Document, from_json, json_schema, kind_of, lift_body
from elbrix.book.formats import FORMAT as FORMAT_VERSION
from elbrix.book.store import Book
from elbrix.items.kind import kind_of_item
from elbrix.quantities.errors import ShopError

FORMAT: Final = "elbrix-items"
LARGEST_BYTES: Final = 50_000_000
_MAX_ITEMS: Final = 200_000


class ImportCount(Struct, frozen=True):
    """What an import did."""

    added: int
    replaced: int
    same: int
    differing: tuple[str, ...] = ()  #: each thing that was there with another content, and what became of it


def export_schema() -> dict[str, Any]:
    """JSON Schema of an export: its head, and each item by its kind; `kinds` has each kind's own."""
    known = json_schema()
    items = [
        {
            "type": "object",
            "required": ["kind", "item"],
            "properties": {"kind": {"const": kind}, "item": schema},
            "additionalProperties": False,
        }
        for kind, schema in known["kinds"].items()
    ]
    return known | {
        "type": "object",
        "required": ["format", "version", "items"],
        "properties": {
            "format": {"const": FORMAT},
            "version": {"const": FORMAT_VERSION},
            "unit": {"const": "mm"},
            "items": {"type": "array", "items": {"oneOf": items}},
        },
    }


def export_text(documents: Iterable[Document]) -> str:
    """Documents as one readable JSON text; the format is in docs/file-format.md."""
    items = [{"kind": kind_of(d), "item": msgspec.to_builtins(d)} for d in documents]
    whole = {"format": FORMAT, "version": FORMAT_VERSION, "unit": "mm", "items": items}
    return json.dumps(whole, ensure_ascii=False, indent=1) + "\n"


def read_items(text: str | bytes) -> list[Document]:
    """All documents of an export, each validated.

    Raises:
        ShopError: Not such a file, or one item is not valid; then none is taken.
    """

    def refuse(what: str, why: str) -> ShopError:
        return ShopError("Import", what, why, "Nothing was imported. Check the file against docs/file-format.md")

    if len(text) > LARGEST_BYTES:
        raise refuse(f"a file of {len(text) / 1e6:.0f} MB", f"Elbrix reads {LARGEST_BYTES / 1e6:.0f} MB at most")
    try:
        whole: Any = json.loads(text)
    except (ValueError, RecursionError) as error:
        raise refuse(f"this is no JSON ({str(error)[:80]})", "An export of Elbrix is one JSON object") from None
    if not isinstance(whole, dict) or whole.get("format") != FORMAT or not isinstance(whole.get("items"), list):
        raise refuse("this JSON is something else", f"An export says “format”: “{FORMAT}” and has “items”")
    if not isinstance(whole.get("version"), int) or whole["version"] > FORMAT_VERSION:
        raise refuse("it was exported by a newer Elbrix", "An older version would lose what it does not know")
    if len(whole["items"]) > _MAX_ITEMS:
        raise refuse(f"{len(whole['items']):,} items", f"Elbrix reads {_MAX_ITEMS:,} at most")
    found = []
    for n, entry in enumerate(whole["items"], 1):
        if not isinstance(entry, dict) or not isinstance(entry.get("kind"), str) or not isinstance(entry.get("item"), dict):
            raise refuse(f"item {n} has no kind or no content", "Each item has both")
        try:
            document = from_json(*lift_body(entry["kind"], json.dumps(entry["item"]), whole["version"]))
            if (kind := kind_of_item(document)) is not None:
                kind.refuse_outside(document)
            found.append(document)
        except ShopError as error:
            raise refuse(f"item {n}: {error.what}", error.why) from None
    return found


def import_items(book: Book, documents: list[Document], *, replace: bool = True) -> ImportCount:
    """Bring documents in as one edit that undo takes back whole.

    Args:
        replace: Whether an item that is there with another content is replaced; else the one in the book stays.
    """
    here = {(kind_of(d), d.id): d for d in book.documents}
    new = [d for d in documents if (kind_of(d), d.id) not in here]
    differing = [d for d in documents if (kind_of(d), d.id) in here and here[(kind_of(d), d.id)] != d]
    taken = new + (differing if replace else [])
    if taken:
        book.put(f"Import {len(taken)} items", *taken)
    became = "replaced; the one before is in the history" if replace else "not taken: the one in the book stays"
    said = tuple(f"{kind_of(d)} {d.id}: {became}" for d in differing)
    replaced = len(differing) if replace else 0
    return ImportCount(len(new), replaced, len(documents) - len(new) - replaced, said)

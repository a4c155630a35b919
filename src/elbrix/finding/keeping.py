"""Abilities of a whole book, worked out in a process of their own and kept in a file that may be thrown away."""

from __future__ import annotations

import contextlib
import hashlib
import os
import time
from collections.abc import Iterable
from pathlib import Path
from typing import Final

import msgspec
from msgspec import Struct, field

from elbrix import __version__
from elbrix.book.documents import DesignDoc, to_json
from elbrix.book.store import Book
from elbrix.finding.abilities import NEEDED, Abilities, KnownAbilities, abilities_of, those_in_question
from elbrix.results.progress import Watch, unwatched
from elbrix.shop.shop import Shop

#: What was worked out is written down at least so often: a process that is stopped has not worked for nothing.
_WRITE_EVERY_S: Final = 5.0


class _Kept(Struct):
    made_from: str  #: of the design as it was
    abilities: Abilities


class KeptAbilities(Struct):
    """The file: everything of one shop and one version of the program, by the design's id."""

    made_for: str = ""
    items: dict[str, _Kept] = field(default_factory=dict)


def work_out(book: Path, kept: Path, watch: Watch = unwatched) -> bytes:
    """Bring the file up to date with a book, and return it.

    Args:
        book: Only read.
        kept: The file; one that is damaged or of another version is made anew.
        watch: Told the share that is done.

    Raises:
        ShopError: The book cannot be read.
    """
    there = Book.look(book, later=True)
    try:
        shop = there.shop
        docs = list(those_in_question(there.each(DesignDoc), NEEDED))
    finally:
        there.close()
    before, now = _read(kept), KeptAbilities(made_for=_made_for(shop))
    known = before.items if before.made_for == now.made_for else {}
    written = time.monotonic()
    for n, doc in enumerate(docs):
        mark, found = _mark(doc), known.get(doc.id)
        now.items[doc.id] = found if found is not None and found.made_from == mark else _Kept(mark, abilities_of(doc, shop))
        if time.monotonic() - written > _WRITE_EVERY_S:
            watch(n / len(docs))
            _write(kept, KeptAbilities(now.made_for, known | now.items))
            written = time.monotonic()
    if now.items != known:
        _write(kept, now)
    return msgspec.json.encode(now)


def learn(known: KnownAbilities, told: bytes, docs: Iterable[DesignDoc], shop: Shop) -> int:
    """Take over what was worked out for designs and a shop that are still the same; how many.

    Raises:
        msgspec.DecodeError: It is not what `work_out` returns.
    """
    kept = msgspec.json.decode(told, type=KeptAbilities)
    if kept.made_for != _made_for(shop):
        return 0
    many = 0
    for doc in docs:
        found = kept.items.get(doc.id)
        if found is not None and found.made_from == _mark(doc):
            known.learn(doc, shop, found.abilities)
            many += 1
    return many


def _made_for(shop: Shop) -> str:
    return f"{__version__} {hashlib.blake2b(msgspec.json.encode(shop), digest_size=16).hexdigest()}"


def _mark(doc: DesignDoc) -> str:
    return hashlib.blake2b(to_json(doc).encode(), digest_size=16).hexdigest()


def _read(path: Path) -> KeptAbilities:
    try:
        return msgspec.json.decode(path.read_bytes(), type=KeptAbilities)
    except (OSError, msgspec.DecodeError):
        return KeptAbilities()


def _write(path: Path, kept: KeptAbilities) -> None:
    """Whole or not at all; a disk that refuses costs time at the next start, nothing else."""
    part = path.with_name(f"{path.name}.{os.getpid()}.part")
    with contextlib.suppress(OSError):
        path.parent.mkdir(parents=True, exist_ok=True)
        part.write_bytes(msgspec.json.encode(kept))
        part.replace(path)

"""A small mill with one measured slot, a bar, a drill and a T-nut: to try with in a book of one's own, gone with one undo."""

from __future__ import annotations

from elbrix.book.documents import DesignDoc, Document
from elbrix.demo.wrenfield import documents
from elbrix.shop.machines import Machine
from elbrix.shop.stock import Bar
from elbrix.shop.tooling import Cutter

_MACHINE, _NUT = "pip", "t-nut-pip"


def sample() -> list[Document]:
    """Pip of the demo shop, what cuts and what is cut, and its nut as a fresh drawing."""
    found: list[Document] = []
    for thing in documents():
        if (isinstance(thing, Machine) and thing.id == _MACHINE) or isinstance(thing, Bar | Cutter):
            found.append(thing)
        elif isinstance(thing, DesignDoc) and thing.id == _NUT:
            found.append(
                DesignDoc(id="t-nut-sample", family=thing.family, title="A T-nut to try", machine=_MACHINE, slot=thing.slot)
            )
    return found

"""What a line, a button or an entry of a card stands for: what is done, and with which thing.

A card knows its rows and buttons by a key, a plain text. `Act` is that text as a value: presenters write it, benches read it and
match it, and nothing else takes it apart.
"""

from __future__ import annotations

from enum import StrEnum

from msgspec import Struct


class Verb(StrEnum):
    """What can be done with one of several things. Plain keys, of which there is one, need none."""

    NEW = "new"  #: begin one of a kind
    OPEN = "open"  #: take a document in hand
    ADD = "add"  #: one more of a kind
    LAY = "lay"  #: an accessory of the Catalogue into a layout
    REMOVE = "remove"  #: this one of the layout
    UPDATE = "update"  #: its sizes from its drawing
    TAKE = "take"  #: a suggestion, a stack
    METHOD = "method"  #: set the angle so
    SEE = "see"  #: a machine or a list of the shop
    SLOT = "slot"  #: of the machine in view
    ITEM = "item"  #: of the list in view
    PICK = "pick"  #: a slot, pressed on the plate
    BLOCK = "block"  #: of a box of blocks
    FIELD = "field"  #: of a thing of the shop
    AXIS = "axis"  #: of a machine
    INSPECT = "inspect"  #: what can be measured of a thing
    BOOK = "book"  #: merging, exporting
    ABOUT = "about"  #: the design that is measured
    READ = "read"  #: a reading of a place; holes from a file
    KEEP = "keep"  #: what was found, in the book
    USE = "use"  #: where an accessory is used
    REVISION = "rev"
    PHOTO = "photo"
    COSTS = "costs"
    MADE = "made"  #: a size as it was made
    LESSON = "lesson"
    COUNT = "count"  #: a drawer, in a stock-take
    TURN = "turn"  #: a setup in the order of what is made together
    CUT = "cut"  #: from a bar


class Act(Struct, frozen=True):
    """Do this with that. Of a plain key `do` is the key itself, and `of` empty."""

    do: str
    of: str = ""

    @property
    def key(self) -> str:
        """As the card keeps it."""
        return f"{self.do} {self.of}" if self.of else str(self.do)

    @property
    def number(self) -> int:
        """Of things that are counted from 0; −1 when it is none."""
        return int(self.of) if self.of.isdecimal() else -1

    @classmethod
    def read(cls, key: str) -> Act:
        """The act of a key."""
        do, _, of = key.partition(" ")
        return cls(do, of)

"""What the card shows, as plain values."""

from __future__ import annotations

from msgspec import Struct, field


class Row(Struct, frozen=True, kw_only=True):
    """One line of the card, already in words."""

    key: str
    label: str
    value: str
    unit: str = ""
    origin: str = ""  #: "measured", "chosen", "calculated", "assumed", "from a table"
    edit: str = ""  #: "text", "choice", "press" (a line to pick) or "" for a number that is only shown
    entry_text: str = ""
    choices: tuple[tuple[str, str], ...] = ()  #: value, words
    derivation: str = ""  #: opens under the row
    strong: bool = False
    chosen: bool = False  #: can be let go again, back to the proposal
    placeholder: str = ""
    wrap: bool = False  #: a sentence: the value stands under the label, on as many lines as it takes


class Button(Struct, frozen=True, kw_only=True):
    """Something to do, beside or under a group."""

    key: str
    text: str
    main: bool = False
    enabled: bool = True
    tip: str = ""


class Picture(Struct, frozen=True, kw_only=True):
    """A photograph on the card; pressed by its key."""

    key: str
    label: str
    jpeg: bytes


class Section(Struct, frozen=True, kw_only=True):
    """A numbered group. `text` stands under the title instead of rows, or above them."""

    title: str
    rows: tuple[Row, ...] = ()
    hint: str = ""
    text: str = ""
    buttons: tuple[Button, ...] = ()
    numbered: bool = True
    pictures: tuple[Picture, ...] = ()


class CardView(Struct, frozen=True, kw_only=True):
    """The whole card."""

    sections: tuple[Section, ...] = ()
    buttons: tuple[Button, ...] = field(default=())

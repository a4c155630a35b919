"""Which key does what: seen, changed and kept by this user on this machine."""

from __future__ import annotations

from collections.abc import Callable
from functools import cache
from typing import Final

from msgspec import Struct
from PyQt6.QtCore import QObject, Qt
from PyQt6.QtGui import QKeySequence, QShortcut
from PyQt6.QtWidgets import QWidget

from elbrix.app.benches.registry import all_benches
from elbrix.app.user_places import window_settings
from elbrix.quantities.errors import EntryError


class Key(Struct, frozen=True, kw_only=True):
    """One thing a key does."""

    name: str
    words: str
    usual: tuple[str, ...]  #: as shipped


_ANYWHERE: Final = (
    Key(name="undo", words="Undo", usual=("Ctrl+Z",)),
    Key(name="redo", words="Redo", usual=("Ctrl+Y", "Ctrl+Shift+Z")),
    Key(name="print", words="Print the page of the bench", usual=("Ctrl+P",)),
    Key(name="unit", words="mm or inch", usual=("Ctrl+U",)),
    Key(name="new", words="New design", usual=("Ctrl+N",)),
    Key(name="ask", words="Ask a shop question", usual=("F4",)),
    Key(name="press", words="Press the instrument's button", usual=("F8",)),
    Key(name="keys", words="This list of keys", usual=("F1",)),
    Key(name="fit", words="Everything in view", usual=("Home",)),
    Key(name="machine", words="At the machine, in Make", usual=("F11",)),
    Key(name="find", words="Search, in Catalogue", usual=("Ctrl+F",)),
)
#: Keys that belong to what has the focus, and stay as they are.
FIXED: Final = (
    ("Tab", "the next number in measuring order"),
    ("Enter", "keep what is typed"),
    ("Esc", "take back what is typed; leave; let go what is carried"),
    ("1 2 3 4", "views of the plate"),
    ("+ −", "nearer, further"),
    ("arrows", "turn the solid; in Make the next and the last move"),
    ("Space", "done and next, in Make"),
    ("down from Ask", "into its answer"),
)


@cache
def known_keys() -> dict[str, Key]:
    """Every key that can be changed, by name, in the order of the list."""
    benches = (
        Key(name=f"bench {entry.key}", words=entry.title, usual=(f"Alt+{number}",))
        for number, entry in enumerate(all_benches().values(), 1)
    )
    return {key.name: key for key in (*_ANYWHERE, *benches)}


class Keymap(QObject):
    """The keys as this user has them; what is bound follows a change at once."""

    def __init__(self) -> None:
        super().__init__()
        self._bound: dict[str, list[QShortcut]] = {}

    def keys(self, name: str) -> tuple[str, ...]:
        """The keys of one thing, as they are written."""
        kept = window_settings().value(f"keys/{name.replace(' ', '_')}", "", str)
        return tuple(k for k in kept.split("; ") if k) if kept else known_keys()[name].usual

    def bind(
        self,
        owner: QWidget,
        name: str,
        act: Callable[[], object],
        context: Qt.ShortcutContext = Qt.ShortcutContext.WindowShortcut,
    ) -> None:
        """Let the keys of a thing do it while its owner is there."""
        shortcut = QShortcut(owner)
        shortcut.setContext(context)
        shortcut.setKeys([QKeySequence(k) for k in self.keys(name)])
        shortcut.activated.connect(act)
        self._bound.setdefault(name, []).append(shortcut)
        shortcut.destroyed.connect(lambda _=None, n=name, s=shortcut: self._gone(n, s))

    def _gone(self, name: str, shortcut: QShortcut) -> None:
        self._bound[name] = [s for s in self._bound.get(name, []) if s is not shortcut]

    def change(self, name: str, text: str) -> None:
        """Other keys for a thing, several with `;` between them; an empty text brings back those it was shipped with.

        Raises:
            EntryError: No key, or one that something else has.
        """
        wanted = tuple(_read(part) for part in text.split(";") if part.strip())
        taken = {k: other for other in known_keys() if other != name for k in self.keys(other)}
        clash = next((k for k in wanted if k in taken), "")
        if clash:
            raise EntryError("Keys", f"{clash} is taken", f"It does: {known_keys()[taken[clash]].words}", "Take another", name)
        settings = window_settings()
        settings.setValue(f"keys/{name.replace(' ', '_')}", "; ".join(wanted))
        settings.sync()
        for shortcut in self._bound.get(name, []):
            shortcut.setKeys([QKeySequence(k) for k in self.keys(name)])


def _read(text: str) -> str:
    """A key as it is written: "Ctrl+Shift+Z".

    Raises:
        EntryError: It is none, or a plain letter, which would be lost while typing.
    """
    sequence = QKeySequence(text.strip())
    shown = sequence.toString()
    if sequence.count() != 1 or not shown or not shown.isascii():
        raise EntryError("Keys", f"“{text.strip()[:20]}” is no key", "It is one key, with Ctrl, Alt or Shift", "Write Ctrl+K")
    if "+" not in shown and len(shown) == 1:
        raise EntryError(
            "Keys", f"{shown} alone is typed in every entry", "It would never do anything else", f"Write Ctrl+{shown}"
        )
    return shown


@cache
def keymap() -> Keymap:
    """The one of this program."""
    return Keymap()

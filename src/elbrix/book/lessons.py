"""Lessons: what was learned with an item, dated, tied to one of its sizes when the words say which."""

from __future__ import annotations

from datetime import date
from typing import Final

from msgspec.structs import replace

from elbrix.book.designs import family_of
from elbrix.book.documents import DesignDoc, Lesson
from elbrix.quantities.errors import EntryError

LONGEST: Final = 500
MAX: Final = 200


def read_lesson(doc: DesignDoc, text: str, on: str = "") -> Lesson:
    """A lesson as typed: "neck width: it bound at the right end" is tied to the size whose name it begins with.

    Raises:
        EntryError: Nothing was written, or far too much.
    """
    words = " ".join(text.split())
    if not words:
        raise EntryError("Lesson", "nothing was written", "A lesson is a sentence", "Write what you would want to know next time")
    if len(words) > LONGEST:
        raise EntryError("Lesson", f"{len(words):,} characters", f"{LONGEST} are kept", "Say it shorter")
    head, colon, _ = words.partition(":")
    return Lesson(on=on or date.today().isoformat(), text=words, about=_size_called(doc, head) if colon else "")


def _size_called(doc: DesignDoc, words: str) -> str:
    """The parameter that is meant; "" when none, or several of different features, could be."""
    wanted = words.strip().lower()
    if len(wanted) < 3:
        return ""
    parameters = family_of(doc).parameters
    exact = [p for p in parameters if wanted in (p.label.lower(), p.name, p.name.replace("_", " "))]
    found = exact or [p for p in parameters if wanted in p.label.lower() or wanted == p.feature]
    return found[0].name if found and len({p.feature for p in found}) == 1 else ""


def with_lesson(doc: DesignDoc, lesson: Lesson) -> DesignDoc:
    """The item with one lesson more.

    Raises:
        EntryError: It has too many.
    """
    if len(doc.lessons) >= MAX:
        raise EntryError("Lesson", f"{MAX} lessons", "Nobody reads more", "Take away what is no longer true")
    return replace(doc, lessons=(*doc.lessons, lesson))


def changed_lesson(doc: DesignDoc, number: int, text: str) -> DesignDoc:
    """The item with a lesson changed, or taken away when nothing is left of it; its date stays.

    Raises:
        EntryError: It has no such lesson, or the text is too long.
    """
    if not 0 <= number < len(doc.lessons):
        raise EntryError("Lesson", "there is no such lesson", "It may have been taken away", "Look at the list again")
    kept = list(doc.lessons)
    if text.strip():
        kept[number] = read_lesson(doc, text, kept[number].on)
    else:
        del kept[number]
    return replace(doc, lessons=tuple(kept))


def lessons_of_feature(doc: DesignDoc, feature: str) -> tuple[Lesson, ...]:
    """Lessons tied to a size of a feature: what a move that makes it brings back."""
    if not feature or not doc.lessons:
        return ()
    names = {p.name for p in family_of(doc).parameters if p.feature == feature}
    return tuple(lesson for lesson in doc.lessons if lesson.about in names)

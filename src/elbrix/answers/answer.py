"""What an answer is, and what a topic is."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping
from typing import Any

from msgspec import Struct, field

from elbrix.answers.question import Question
from elbrix.book.documents import DesignDoc
from elbrix.quantities.errors import ShopError
from elbrix.results.figures import Figure
from elbrix.shop.shop import Shop


class Destination(Struct, frozen=True, kw_only=True):
    """Where to go on: a bench, filled in."""

    words: str  #: on the button
    bench: str
    kind: str = ""  #: of a new angle setting
    title: str = ""
    chosen: Mapping[str, str] = field(default_factory=dict)  #: parameter → text, sizes in mm
    thing: str = ""  #: what to look at: a machine's id, a list of the shop, a design's id
    item: str = ""  #: and which of the list


class Answer(Struct, frozen=True, kw_only=True):
    """An answer: the first figure is the one that was asked for."""

    title: str
    figures: tuple[Figure, ...]
    notes: tuple[str, ...] = ()
    cautions: tuple[str, ...] = ()
    go: Destination | None = None
    topic: str = ""
    understood: str = ""


class ShopContext(Struct, frozen=True):
    """What a question may be answered from."""

    shop: Shop
    designs: Callable[[], Iterable[DesignDoc]] = tuple
    search: Callable[[str], list[tuple[str, str]]] = lambda words: []  #: words → (kind, id) of documents that have them
    documents: Mapping[tuple[str, str], Any] = field(default_factory=dict)
    tape: tuple[tuple[str, str], ...] = ()  #: (asked, unit of bare numbers) of the lines kept with the job, #1 first


class Topic(Struct, frozen=True, kw_only=True):
    """One kind of question."""

    key: str
    needs: tuple[frozenset[str], ...]  #: a word of each group must be there; "@thread" is a thing of that kind
    hints: frozenset[str] = frozenset()  #: words that speak for it, and change nothing in its answer
    handles: frozenset[str] = frozenset()  #: words that change its answer: each is used, or there is none
    examples: tuple[str, ...]  #: questions that work
    answer: Callable[[Question, ShopContext], Answer]
    bare: bool = False  #: answers a thing with a value that stands alone
    literal: bool = False  #: looks for the words as they were written
    searches: bool = False  #: its answer is searched for: it may take longer than a keystroke

    def score(self, question: Question) -> float:
        """How well the question's words fit; 0: not at all."""
        have = question.words | {f"@{k}" for k in question.kinds()}
        if self.bare and not question.bare:
            return 0.0
        if any(have.isdisjoint(group) for group in self.needs):
            return 0.0
        said = sum(1.0 for group in self.needs if not question.words.isdisjoint(group))
        return 0.5 + 2.0 * said + 0.5 * len(self.hints & have)

    @property
    def own_words(self) -> frozenset[str]:
        """Words that say no more than what is asked about."""
        return frozenset(w for group in (*self.needs, self.hints) for w in group if not w.startswith("@"))

    @property
    def vocabulary(self) -> frozenset[str]:
        """Every word it knows, for the spelling."""
        return self.own_words | self.handles


class NotAnswered(ShopError):
    """No answer; `tries` are the nearest questions that work."""

    def __init__(self, error: ShopError, tries: tuple[str, ...]) -> None:
        super().__init__(error.where, error.what, error.why, error.do)
        self.tries = tries


def words(text: str) -> frozenset[str]:
    """A group of words, written with blanks."""
    return frozenset(text.split())


def missing(what: str, example: str) -> ShopError:
    """Something the question must say and does not."""
    return ShopError("Ask", f"{what} is missing", "The answer follows from it", f"Ask for example: {example}")

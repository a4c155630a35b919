"""The book against a plain list of states: any order of edits, undos, redos and restarts."""

from __future__ import annotations

import shutil
import tempfile
from pathlib import Path

from hypothesis import settings
from hypothesis import strategies as st
from hypothesis.stateful import RuleBasedStateMachine, invariant, precondition, rule

from elbrix.book.store import Book
from elbrix.shop.stock import Bar

_IDS = st.sampled_from(["a", "b", "c"])
_LENGTHS = st.integers(1, 9).map(lambda n: n * 100.0)


class BookMachine(RuleBasedStateMachine):
    """The model keeps every state there was; undo and redo only walk along them."""

    def __init__(self) -> None:
        super().__init__()
        self.folder = Path(tempfile.mkdtemp())
        self.book = Book.create(self.folder / "shop.elbrix")
        self.states: list[dict[str, float]] = [{}]
        self.at = 0

    def teardown(self) -> None:
        self.book.close()
        shutil.rmtree(self.folder)

    @property
    def now(self) -> dict[str, float]:
        return self.states[self.at]

    def _step(self, state: dict[str, float]) -> None:
        if state != self.now:
            self.states = [*self.states[: self.at + 1], state]
            self.at += 1

    @rule(id=_IDS, length=_LENGTHS)
    def put(self, id: str, length: float) -> None:
        self.book.put(f"{id} {length:g}", Bar(id=id, width_mm=20, height_mm=16, length_mm=length))
        self._step({**self.now, id: length})

    @rule(first=_LENGTHS, second=_LENGTHS)
    def put_two_at_once(self, first: float, second: float) -> None:
        bars = [Bar(id=i, width_mm=20, height_mm=16, length_mm=v) for i, v in (("a", first), ("b", second))]
        self.book.put("Two bars", *bars)
        self._step({**self.now, "a": first, "b": second})

    @precondition(lambda self: self.now)
    @rule(data=st.data())
    def remove(self, data: st.DataObject) -> None:
        id_ = data.draw(st.sampled_from(sorted(self.now)))
        bar = self.book.get(Bar, id_)
        assert bar is not None
        self.book.remove("Used up", bar)
        self._step({k: v for k, v in self.now.items() if k != id_})

    @rule()
    def undo(self) -> None:
        label = self.book.undo()
        assert bool(label) == (self.at > 0)
        self.at = max(0, self.at - 1)

    @rule()
    def redo(self) -> None:
        label = self.book.redo()
        assert bool(label) == (self.at < len(self.states) - 1)
        self.at = min(len(self.states) - 1, self.at + 1)

    @rule()
    def restart(self) -> None:
        self.book.close()
        self.book = Book.open(self.folder / "shop.elbrix")

    @invariant()
    def the_book_is_the_model(self) -> None:
        assert {b.id: b.length_mm for b in self.book.all(Bar)} == self.now
        assert {b.id: b.length_mm for b in self.book.shop.bars} == self.now
        assert bool(self.book.undo_label) == (self.at > 0)
        assert bool(self.book.redo_label) == (self.at < len(self.states) - 1)
        assert {i for _, i in self.book.search("mild")} == set(self.now)


TestBookMachine = BookMachine.TestCase
TestBookMachine.settings = settings(max_examples=25, stateful_step_count=30, deadline=None)

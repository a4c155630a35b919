"""Work beside the window: in a thread, and in a process of its own."""

from __future__ import annotations

import re
import subprocess
import sys
import threading
import time
from dataclasses import dataclass
from pathlib import Path

import pytest
from pytestqt.qtbot import QtBot

import elbrix.app
from elbrix.app.background import ENUMS_OF, Later, in_background
from elbrix.app.searching import Search
from elbrix.quantities.errors import ShopError
from elbrix.results.progress import Watch, unwatched


@dataclass(frozen=True)
class Count:
    """A search that counts, tells, and ends as it is told to."""

    to: int
    pause: float = 0.0
    end: str = "found"

    def __call__(self, watch: Watch) -> int:
        for i in range(self.to):
            watch(i / self.to)
            time.sleep(self.pause)
        if self.end == "problem":
            raise ShopError("Search", "nothing was found", "It was not there", "Look elsewhere")
        if self.end == "dies":
            raise SystemExit(3)
        return self.to


def test_a_search_tells_and_brings_back(qtbot: QtBot) -> None:
    search, shares = Search(), []
    search.told.connect(lambda: shares.append(search.share))
    search.start(Count(5, 0.01))
    assert search.running
    qtbot.waitUntil(lambda: not search.running, timeout=20_000)
    assert search.found == 5 and search.problem == "" and search.share == 1.0 and shares == sorted(shares) and shares


@pytest.mark.parametrize(("end", "said"), [("problem", "Look elsewhere"), ("dies", "ended by itself")])
def test_a_search_that_fails_says_so(qtbot: QtBot, end: str, said: str) -> None:
    search = Search()
    search.start(Count(1, end=end))
    qtbot.waitUntil(lambda: not search.running, timeout=20_000)
    assert said in search.problem and search.found is None


def test_a_stopped_search_is_over_at_once_and_a_new_one_replaces_it(qtbot: QtBot) -> None:
    search = Search()
    search.start(Count(10_000, 0.01))
    began = time.monotonic()
    search.stop()
    assert not search.running and search.found is None and time.monotonic() - began < 2
    search.start(Count(10_000, 0.01))
    search.start(Count(2))
    qtbot.waitUntil(lambda: not search.running, timeout=20_000)
    assert search.found == 2
    search.stop()  # harmless when nothing runs
    assert search.found == 2


def test_nothing_is_left_behind_when_the_window_goes(qtbot: QtBot) -> None:
    search = Search()
    search.start(Count(10_000, 0.01))
    process = search._process
    search.stop()
    assert not process.is_alive()
    del search


def test_later_gives_only_the_newest(qtbot: QtBot) -> None:
    later, gave = Later(), []
    later.done.connect(gave.append)
    gate = threading.Event()
    later.start(lambda: gate.wait(5) and "old")
    later.start(lambda: "new")
    qtbot.waitUntil(lambda: gave == ["new"], timeout=5000)
    gate.set()
    qtbot.wait(80)
    assert gave == ["new"] and not later.busy
    later.start(lambda: "dropped")
    later.drop()
    qtbot.wait(80)
    assert gave == ["new"]


def test_in_background_hands_results_and_errors_over(qtbot: QtBot) -> None:
    assert in_background(lambda: 7) == 7

    def fail() -> int:
        raise ShopError("Test", "what", "why", "do")

    with pytest.raises(ShopError, match="what"):
        in_background(fail)
    unwatched(0.5)


# --- enums of the toolkit ---------------------------------------------------------------------------------------------

SOURCES = list(Path(elbrix.app.__file__).parent.rglob("*.py"))
#: Made where only the window's own thread can be.
_OF_THE_WINDOW = {"QPrinter", "QLocalSocket", "QPalette", "QFrame"}


def test_every_thread_of_the_window_makes_the_enums_first() -> None:
    """Two threads that ask for an enum at the same time make two of it; then one of them is refused everywhere."""
    text = {p: p.read_text(encoding="utf-8") for p in SOURCES}
    assert [p.name for p, words in text.items() if "threading.Thread(" in words] == ["background.py"]
    used = {owner for words in text.values() for owner in re.findall(r"\b(Q\w+)\.[A-Z]\w+\.[A-Z]", words)}
    assert len(used) > 12
    assert used | {"Qt"} <= {owner.__name__ for owner in ENUMS_OF} | _OF_THE_WINDOW


def test_after_the_first_thread_no_enum_is_made_any_more() -> None:
    code = """
import enum
made, call = [], enum.EnumType.__call__
def counted(cls, *a, **k):
    if len(a) > 1 or "names" in k:
        made.append(a[0])
    return call(cls, *a, **k)
enum.EnumType.__call__ = counted
from elbrix.app.background import ENUMS_OF, beside
before = len(made)
beside(lambda: None, "first").join()
there = len(made)
for owner in ENUMS_OF:
    for name in dir(owner):
        getattr(owner, name)
print(there - before, made[there:])
"""
    out = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True, check=True).stdout
    count, _, later = out.strip().partition(" ")
    assert int(count) > 30
    assert later == "[]"

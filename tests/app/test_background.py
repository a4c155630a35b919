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


@pytest.mark.house
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


class Slow:
    """Calls that wait until they are let go, and tell which were begun and how many ran at once."""

    def __init__(self) -> None:
        self.gate = threading.Event()
        self.begun: list[str] = []
        self.most = self.now = 0
        self.lock = threading.Lock()

    def __call__(self, name: str) -> str:
        with self.lock:
            self.begun.append(name)
            self.now += 1
            self.most = max(self.most, self.now)
        self.gate.wait(10)
        with self.lock:
            self.now -= 1
        return name


def asked(qtbot: QtBot, count: int) -> tuple[list[Later], list[object]]:
    laters, heard = [Later() for _ in range(count)], []
    for later in laters:
        later.done.connect(heard.append)
    return laters, heard


def test_of_many_edits_only_the_first_and_the_last_are_worked_out(qtbot: QtBot) -> None:
    """Each edit began a thread and none of them ended early: a window with ten of them has an eleventh of the interpreter."""
    slow = Slow()
    (later,), heard = asked(qtbot, 1)
    for n in range(20):
        later.start(lambda n=n: slow(f"edit {n}"))
    qtbot.waitUntil(lambda: len(slow.begun) == 2, timeout=5000)  # the first takes long: the newest is begun beside it
    assert slow.begun == ["edit 0", "edit 19"]
    slow.gate.set()
    qtbot.waitUntil(lambda: not later.busy, timeout=5000)
    assert heard == ["edit 19"]
    assert len(slow.begun) == 2


def test_never_more_than_two_at_once_and_the_newest_first(qtbot: QtBot) -> None:
    slow = Slow()
    laters, heard = asked(qtbot, 6)
    for n, later in enumerate(laters):
        later.start(lambda n=n: slow(str(n)))
    qtbot.waitUntil(lambda: len(slow.begun) == 2, timeout=5000)
    qtbot.wait(250)  # longer than it takes for one more to be begun
    assert slow.begun == ["0", "5"]
    slow.gate.set()
    qtbot.waitUntil(lambda: len(heard) == 6, timeout=5000)
    assert sorted(heard) == ["0", "1", "2", "3", "4", "5"]
    assert slow.most == 2


def test_what_is_not_wanted_any_more_is_not_begun(qtbot: QtBot) -> None:
    slow = Slow()
    laters, heard = asked(qtbot, 3)
    for n, later in enumerate(laters):
        later.start(lambda n=n: slow(str(n)))
    laters[1].drop()
    slow.gate.set()
    qtbot.waitUntil(lambda: len(heard) == 2, timeout=5000)
    qtbot.wait(150)
    assert sorted(heard) == ["0", "2"]
    assert "1" not in slow.begun
    assert not laters[1].busy


@pytest.mark.filterwarnings("ignore::pytest.PytestUnhandledThreadExceptionWarning")
def test_a_call_that_ends_its_thread_does_not_end_the_others(qtbot: QtBot) -> None:
    laters, heard = asked(qtbot, 4)

    def ends() -> object:
        raise SystemExit(3)

    laters[0].start(ends)
    qtbot.wait(50)
    laters[1].start(ends)
    qtbot.wait(50)
    for n in (2, 3):
        laters[n].start(lambda n=n: n)
    qtbot.waitUntil(lambda: sorted(heard) == [2, 3], timeout=5000)
    for later in laters[:2]:
        later.drop()


def test_quick_calls_follow_one_another_in_one_thread(qtbot: QtBot) -> None:
    laters, heard = asked(qtbot, 8)
    for later in laters:
        later.start(threading.get_ident)
    qtbot.waitUntil(lambda: len(heard) == 8, timeout=5000)
    assert threading.get_ident() not in heard
    assert len(set(heard)) <= 2

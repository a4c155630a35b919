"""The window's line to the kernel: newest wins, a crash is mended, a hopeless job is given up, the window never waits."""

from __future__ import annotations

import contextlib
import os
import signal
import time
from collections.abc import Iterator
from typing import Any

import pytest
from pytestqt.qtbot import QtBot

from elbrix.app.kernel_link import KernelLink
from elbrix.solids.recipe import Cut, Prism


def cube(size: float) -> Prism:
    return Prism(((0, 0), (size, 0), (size, size), (0, size)), 0, size)


@pytest.fixture
def link(qtbot: QtBot) -> Iterator[KernelLink]:
    found = KernelLink()
    yield found
    found.close()


class Heard:
    """Collects what the link says."""

    def __init__(self, link: KernelLink) -> None:
        self.answers: list[tuple[str, Any]] = []
        self.refusals: list[tuple[str, str]] = []
        self.words: list[str] = []
        link.answered.connect(lambda purpose, _, result: self.answers.append((purpose, result)))
        link.refused.connect(lambda purpose, _, reason: self.refusals.append((purpose, reason)))
        link.state_changed.connect(self.words.append)


def settled(qtbot: QtBot, link: KernelLink) -> None:
    qtbot.waitUntil(lambda: not link.busy, timeout=20_000)


def test_answers_by_purpose(link: KernelLink, qtbot: QtBot) -> None:
    heard = Heard(link)
    link.request("mass", "mass", cube(10))
    link.request("front", "view", cube(10), "front")
    settled(qtbot, link)
    found = dict(heard.answers)
    assert found["mass"]["volume_mm3"] == pytest.approx(1000)
    assert len(found["front"]) == 4


def test_the_newest_request_wins(link: KernelLink, qtbot: QtBot) -> None:
    heard = Heard(link)
    for size in range(1, 30):
        link.request("mass", "mass", cube(float(size)))
    settled(qtbot, link)
    volumes = [round(result["volume_mm3"]) for _, result in heard.answers]
    assert volumes[-1] == 29**3
    assert len(volumes) <= 2  # the one under way, and the newest; never the queue between


def test_asking_returns_at_once(link: KernelLink) -> None:
    start = time.monotonic()
    link.request("mass", "mass", cube(10))
    assert time.monotonic() - start < 0.2  # the process takes over a second to load
    assert link.busy


def test_a_refusal_is_said_and_work_goes_on(link: KernelLink, qtbot: QtBot) -> None:
    heard = Heard(link)
    link.request("mass", "mass", Cut(cube(10), (cube(20),)))
    settled(qtbot, link)
    assert heard.refusals and "separate pieces" in heard.refusals[0][1]
    link.request("mass", "mass", cube(2))
    settled(qtbot, link)
    assert heard.answers[-1][1]["volume_mm3"] == pytest.approx(8)


def test_a_killed_process_is_replaced_and_asked_again(link: KernelLink, qtbot: QtBot) -> None:
    heard = Heard(link)
    link.request("mass", "mass", cube(3))
    settled(qtbot, link)
    first = link.pid
    os.kill(first, signal.SIGKILL)
    link.request("mass", "mass", cube(4))
    qtbot.waitUntil(lambda: len(heard.answers) == 2, timeout=20_000)
    assert heard.answers[-1][1]["volume_mm3"] == pytest.approx(64)
    assert link.pid not in (0, first)
    assert any("starting again" in w for w in heard.words)
    assert heard.words[-1] == ""  # and then nothing more to say


def test_an_idle_death_is_noticed(link: KernelLink, qtbot: QtBot) -> None:
    heard = Heard(link)
    link.request("mass", "mass", cube(3))
    settled(qtbot, link)
    first = link.pid
    os.kill(first, signal.SIGKILL)
    qtbot.waitUntil(lambda: link.pid not in (0, first), timeout=20_000)
    assert any("nothing is lost" in w for w in heard.words)


def test_a_job_that_kills_twice_is_given_up(link: KernelLink, qtbot: QtBot) -> None:
    heard = Heard(link)
    link.request("mass", "mass", cube(1))
    settled(qtbot, link)
    deaths = 0

    def kill() -> bool:
        nonlocal deaths
        if link.pid and link._running is not None and deaths < 2:
            with contextlib.suppress(ProcessLookupError):  # it may have ended by itself a moment ago
                os.kill(link.pid, signal.SIGKILL)
                deaths += 1
        return bool(heard.refusals)

    link.request("mesh", "mesh", cube(5.5), 0.0000004)  # slow enough to be caught at
    link.request("mass", "mass", cube(6))
    qtbot.waitUntil(lambda: kill() or len(heard.answers) >= 3, timeout=20_000)
    settled(qtbot, link)
    assert heard.answers[-1][1] is not None


def test_after_closing_nothing_is_asked(link: KernelLink) -> None:
    link.close()
    link.request("mass", "mass", cube(3))
    assert not link.busy and link.pid == 0

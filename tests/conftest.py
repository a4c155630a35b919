"""Specimens and tools every test may use."""

from __future__ import annotations

import logging
import os
from collections.abc import Iterator
from pathlib import Path

import pytest
from hypothesis import HealthCheck, settings

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

if os.environ.get("COVERAGE_PROCESS_START"):  # `python -m campaigns cover`: every worker counts its lines
    import coverage

    coverage.process_startup()

from elbrix.book.documents import shop_of
from elbrix.book.store import Book
from elbrix.demo import documents
from elbrix.design.family import Design, Request, find_family, solve_for
from elbrix.quantities.readings import Readings
from elbrix.shop.machines import Axis, Machine, MachineKind
from elbrix.shop.shop import Shop
from elbrix.shop.slots import TSlot
from elbrix.solids.client import Kernel

# Machines that run tests are noisy: no example is failed for being slow. Every run takes the same examples, so that a
# check that passed passes again; new ones are looked for by the campaigns and by `--hypothesis-seed=random`.
settings.register_profile(
    "house",
    deadline=None,
    derandomize=True,
    max_examples=150,
    suppress_health_check=[HealthCheck.too_slow, HealthCheck.function_scoped_fixture],
)
settings.load_profile("house")


#: Files that take longest, first: begun last, one of them would leave the other workers idle for minutes.
_LONG_FIRST = (
    "rehearsal/test_rehearsal.py",
    "holding/test_suggestions_beat_the_plain.py",
    "app/test_papers.py",
    "app/test_widgets.py",
    "test_campaigns.py",
    "cli/test_calc_fuzz.py",
    "app/test_nothing_is_cut_off.py",
    "app/test_entries.py",
    "app/test_hold_bench.py",
    "app/test_make_rehearsed.py",
)


def pytest_collection_modifyitems(items: list[pytest.Item]) -> None:
    """The longest files before the others; within a file the order stays."""
    place = {name: n for n, name in enumerate(_LONG_FIRST)}
    here = Path(__file__).parent
    items.sort(key=lambda item: place.get(item.path.relative_to(here).as_posix(), len(place)))


@pytest.fixture(autouse=True)
def nothing_is_logged(caplog: pytest.LogCaptureFixture) -> Iterator[None]:
    """A warning nobody reads is a fault nobody mends: a test that expects one clears it."""
    yield
    loud = [r for r in (*caplog.get_records("setup"), *caplog.get_records("call")) if r.levelno >= logging.WARNING]
    assert not loud, [r.getMessage() for r in loud]


def readings(*values: float) -> Readings:
    return Readings(values_mm=values)


@pytest.fixture
def slot() -> TSlot:
    """The slot every hand calculation here is about."""
    return TSlot(label="middle slot", neck=readings(12.05), lip=readings(8.2), head=readings(19.2), depth=readings(16.0))


@pytest.fixture
def mill(slot: TSlot) -> Machine:
    return Machine(
        id="mill",
        name="Mill",
        kind=MachineKind.KNEE,
        slots=(slot,),
        readout_step_mm=0.005,
        speeds_rpm=(200, 400, 800, 1600),
        axes={
            "X": Axis(mm_per_turn=4, divisions=200, backlash_mm=0.1),
            "Y": Axis(mm_per_turn=4, divisions=200, backlash_mm=0.1),
            "Z": Axis(mm_per_turn=2, divisions=100, backlash_mm=0.05),
        },
    )


@pytest.fixture
def small_shop(mill: Machine) -> Shop:
    """One mill, nothing else."""
    return Shop(machines=(mill,))


@pytest.fixture
def nut(small_shop: Shop) -> Design:
    """The proposed T-nut for that slot."""
    return solve_for(find_family("t_nut"), small_shop, Request(), {})


@pytest.fixture(scope="session")
def demo_shop() -> Shop:
    return shop_of(documents())


@pytest.fixture
def book(tmp_path: Path) -> Iterator[Book]:
    """An empty book."""
    opened = Book.create(tmp_path / "shop.elbrix")
    yield opened
    opened.close()


@pytest.fixture(scope="session")
def kernel() -> Iterator[Kernel]:
    """One kernel process for all tests that only ask."""
    started = Kernel()
    yield started
    started.stop()

"""The long campaigns in their short form: a few trials of each, so that the commands themselves stay alive."""

from __future__ import annotations

import json
import subprocess
import sys
from pathlib import Path

import pytest
from campaigns import cover
from campaigns.covering import Covering

ROOT = Path(__file__).parents[1]


@pytest.mark.parametrize(
    ("name", "count"), [("kill", 9), ("fuzz", 1300), ("designs", 150), ("holds", 30), ("events", 60), ("kernel", 3), ("leaks", 4)]
)
def test_a_campaign_loses_nothing(name: str, count: int) -> None:
    ran = subprocess.run(
        [sys.executable, "-m", "campaigns", name, "--count", str(count)], cwd=ROOT, capture_output=True, text=True, check=False
    )
    assert ran.returncode == 0, ran.stdout[-2000:] + ran.stderr[-2000:]
    found = json.loads(ran.stdout)
    assert found["campaign"] == name and found["lost"] == 0


def test_lines_are_counted_room_by_room_and_a_floor_is_one() -> None:
    """Of one room's own tests: it is over a low floor, and rooms that no test of these enters are under it."""
    found = cover.run(50, 1, ("tests/geometry",), ("geometry", "rehearsal"))
    rooms = found["rooms"]
    assert isinstance(rooms, dict)
    assert rooms["geometry"] >= 50
    assert rooms["rehearsal"] < 50
    under = found["under"]
    assert isinstance(under, list)
    assert "rehearsal" in under
    assert "geometry" not in under
    assert found["lost"] == len(under)


def test_a_quick_test_is_found_by_the_line_it_runs(tmp_path: Path) -> None:
    """Of a millisecond, too: left out, a change it notices would count as unseen."""
    room = tmp_path / "src" / "elbrix" / "toy"
    room.mkdir(parents=True)
    (tmp_path / "tests").mkdir()
    (room.parent / "__init__.py").touch()
    (room / "__init__.py").touch()
    (tmp_path / "tests" / "__init__.py").touch()
    sums = room / "sums.py"
    sums.write_text("def add(a, b):\n    return a + b\n\n\ndef less(a, b):\n    return a - b\n")
    (tmp_path / "tests" / "test_toy.py").write_text(
        "from elbrix.toy.sums import add, less\n\n\n"
        "def test_add():\n    assert add(2, 3) == 5\n\n\ndef test_less():\n    assert less(3, 2) == 1\n"
    )
    env = {"PYTHONPATH": str(tmp_path / "src"), "PATH": "/usr/bin:/bin", "HOME": str(tmp_path)}
    covering = Covering(tmp_path, "toy", ["tests/test_toy.py"], env)
    assert covering.of(sums, 2, 2) == ["tests/test_toy.py::test_add"]
    assert covering.of(sums, 6, 6) == ["tests/test_toy.py::test_less"]
    assert len(covering.of(sums, 4, 4)) == 2  # of a line that no test runs by itself every test is asked

"""The long campaigns in their short form: a few trials of each, so that the commands themselves stay alive."""

from __future__ import annotations

import json
import subprocess
import sys
from pathlib import Path

import pytest

ROOT = Path(__file__).parents[1]


@pytest.mark.parametrize(
    ("name", "count"), [("kill", 9), ("fuzz", 1300), ("designs", 150), ("events", 60), ("kernel", 3), ("leaks", 4)]
)
def test_a_campaign_loses_nothing(name: str, count: int) -> None:
    ran = subprocess.run(
        [sys.executable, "-m", "campaigns", name, "--count", str(count)], cwd=ROOT, capture_output=True, text=True, check=False
    )
    assert ran.returncode == 0, ran.stdout[-2000:] + ran.stderr[-2000:]
    found = json.loads(ran.stdout)
    assert found["campaign"] == name and found["lost"] == 0

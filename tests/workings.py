"""The lines of working that stand beside numbers, worked again."""

from __future__ import annotations

import re

import pytest

from elbrix.results.checks import Check
from elbrix.results.figures import Figure
from elbrix.results.results import Results
from paper_arithmetic import evaluate

#: What the shown number is per what the line comes to.
_SCALE = {"%": 100.0, "kN": 0.001, "N·m": 0.001, "″": 3600 * 57.29577951308232, "µm": 1000.0}
#: Lines that are words, lists or the answer of a search.
_WORDS = {
    "heel",
    "parallels",
    "least",
    "figured",
    "cornered",
    "gives",
    "slides",
    "carries",
    "moves",
    "margin",
    "reach",
    "located",
    "swap",
    "stack",
    "set_at",
    "reached",
    "expected",
    "worst",
    "rss",
    "read_back",
    "spacer_make",
    "true",
    "downhill",
    "meaning",
    "blocks_base",
    "blocks_top",
    "line stack",
    "line off",
    "line centres",
    "line rolls",
    "line face",
    "line surface",
    "line temperature",
    "line 0",
    "line 1",
    "line 2",
    "up",
}


def worked(told: Results) -> int:
    """How many lines came out again."""
    count = 0
    lines: list[Figure | Check] = [*told.figures, *told.checks]  # type: ignore[attr-defined]
    for line in lines:
        key = line.key.rpartition(".")[2]
        if line.derivation is None or not line.derivation.with_numbers or key in _WORDS:
            continue
        text = line.derivation.with_numbers.partition(" = ")[0]
        if not re.fullmatch(r"[-0-9.()·×*/+−²³√^° a-zA-Zµ]+", text):
            continue
        comes_to = evaluate(text)
        fits = [comes_to * s == pytest.approx(line.value, rel=2e-3, abs=2e-3) for s in (1.0, _SCALE.get(line.unit, 1.0))]
        assert any(fits), (line.key, line.value, line.unit, text, comes_to)
        count += 1
    return count

"""The line under what an inspection found, worked again as it stands on paper, comes to the number beside it."""

from __future__ import annotations

import re

import pytest

from elbrix.quantities.errors import ShopError
from elbrix.results.length_text import plain
from inspecting_record import inspections
from paper_arithmetic import evaluate, settled

#: What is shown of one of what a line comes to: angles come out in degrees and are shown in minutes.
_SCALE = {"%": 100.0, "µm": 1000.0, "′": 60.0, "″": 3600.0, "mm/m": 1000.0}
#: What is rounded to a step says so in its formula; a distance that is shown as a share.
_ROUNDED = re.compile(r"(.*), down to ([\d.]+)$")
_SHARE = "how far the middle lies inside the places that bear, of the shorter side"


def test_every_line_comes_to_the_number_beside_it() -> None:
    worked = 0
    for name, found in inspections():
        if isinstance(found, ShopError):
            continue
        for figure in (*found.figures, *found.checks):
            how = figure.derivation
            if how is None or not how.with_numbers or figure.text or how.formula == _SHARE:
                continue
            line = plain(how.with_numbers)
            assert not re.search(r"(?<![\w.\d])-\d", line), (name, line)  # a minus as one writes it
            try:
                comes_to = settled(line) if re.search(r", (?:up|down) to", line) else evaluate(line.partition(" = ")[0])
            except (AssertionError, SyntaxError):
                continue
            if step := _ROUNDED.match(how.formula):
                assert 0 <= comes_to - figure.value < float(step[2]) + 1e-9, (name, line)
            else:
                fits = [comes_to * s for s in (1.0, _SCALE.get(figure.unit, 1.0))]
                assert any(v == pytest.approx(figure.value, rel=2e-3, abs=6e-5) for v in fits), (name, figure.label, line)
            worked += 1
    assert worked > 250

"""Editing on every bench for a time: memory and widgets have to stay where they are."""

from __future__ import annotations

import random
import time

from PyQt6.QtWidgets import QApplication, QWidget

from campaigns.window import demo_window, memory_mb, turn
from elbrix.app.benches.registry import all_benches

#: Memory may grow with the history, which is kept: so many MB for a thousand edits, and a hand more.
_PER_THOUSAND_MB, _SPARE_MB = 12.0, 60.0


def run(count: int, seed: int) -> dict[str, object]:
    """For so many seconds."""
    chance = random.Random(seed)
    with demo_window() as (window, caught):
        app = QApplication.instance()
        assert app is not None
        window.session.pick_design("t-nut-hazel")
        edits = 0
        marks: list[tuple[int, int]] = []
        begun = time.monotonic()
        warm = 0.0
        while time.monotonic() - begun < count:
            window.open_bench(chance.choice([*all_benches()]))
            turn()
            window.open_bench("design")
            for _ in range(10):
                window.bench.typed_on_plate("neck_width", f"{chance.uniform(11, 11.8):.2f}")  # type: ignore[attr-defined]
                edits += 1
                turn()
            if edits == 100 or (not warm and time.monotonic() - begun > count / 4):
                warm = memory_mb()
            if edits % 200 == 0:
                marks.append((round(memory_mb()), len(window.findChildren(QWidget))))
        grown = memory_mb() - (warm or memory_mb())
        allowed = _PER_THOUSAND_MB * edits / 1000 + _SPARE_MB
    return {
        "edits": edits,
        "lost": len(caught) + (grown > allowed),
        "uncaught": caught[:5],
        "grown_mb": round(grown, 1),
        "memory_mb_and_widgets": marks[:: max(1, len(marks) // 10)],
    }

"""The kernel's process killed or stopped while the window edits: no edit is lost, and it comes back."""

from __future__ import annotations

import os
import random
import signal
import time

from PyQt6.QtWidgets import QApplication

from campaigns.window import demo_window, turn
from elbrix.book.documents import DesignDoc


def run(count: int, seed: int) -> dict[str, object]:
    """So many processes killed, every third one stopped instead."""
    chance = random.Random(seed)
    lost = 0
    longest = slowest_back = 0.0
    refused: list[str] = []
    with demo_window() as (window, caught):
        app = QApplication.instance()
        assert app is not None
        link = window.session.kernel
        link.longest = 3.0
        link.refused.connect(lambda _purpose, _arguments, why: refused.append(why))
        window.session.pick_design("t-nut-hazel")
        window.open_bench("design")

        def settle(seconds: float) -> float:
            nonlocal longest
            begun = time.monotonic()
            while time.monotonic() - begun < seconds and (link.busy or not link.pid):
                began = time.monotonic()
                turn()
                longest = max(longest, time.monotonic() - began)
                time.sleep(0.005)
            return time.monotonic() - begun

        settle(30)
        for n in range(count):
            text = f"{11.0 + (n % 40) / 100:.2f}"
            began = time.monotonic()
            window.bench.typed_on_plate("neck_width", text)  # type: ignore[attr-defined]
            turn()
            longest = max(longest, time.monotonic() - began)
            time.sleep(chance.uniform(0, 0.05))
            if link.pid:
                os.kill(link.pid, signal.SIGSTOP if n % 3 == 2 else signal.SIGKILL)
            slowest_back = max(slowest_back, settle(15))
            lost += link.busy
            doc = window.session.book.get(DesignDoc, "t-nut-hazel")
            lost += doc is None or float(doc.chosen["neck_width"].text) != float(text)
    return {
        "killed": count,
        "lost": lost + len(caught),
        "uncaught": caught[:5],
        "given_up": len(refused),
        "longest_stall_s": round(longest, 2),
        "slowest_back_s": round(slowest_back, 2),
    }

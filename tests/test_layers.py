"""The border keeps itself: the core loads without Qt, the window without the geometry kernel."""

from __future__ import annotations

import subprocess
import sys

import pytest

CORE = (
    "quantities.lengths",
    "standards.lookup",
    "shop.shop",
    "design.family",
    "drawing.views",
    "solids.client",
    "gauging.stacks",
    "angles.compound",
    "angles.over_pins",
    "making.planner",
    "asked.parameters",
    "gauging.laying",
    "angles.setting",
    "answers.ask",
    "answers.topics.finding",
    "book.store",
    "demo",
    "cli.main",
    "cli.commands",
)


def _loaded(code: str) -> set[str]:
    out = subprocess.run(
        [
            sys.executable,
            "-c",
            f"{code}\nimport sys\nprint(*sorted(m for m in sys.modules if m.split('.')[0] in ('PyQt6', 'OCP')))",
        ],
        capture_output=True,
        text=True,
        check=True,
    )
    return set(out.stdout.split())


@pytest.mark.parametrize("module", CORE)
def test_core_loads_without_qt_or_kernel(module: str) -> None:
    assert _loaded(f"import elbrix.{module}") == set()


def test_window_loads_without_numpy() -> None:
    """NumPy takes longer to load than the window itself: it comes when something is worked out with it."""
    code = (
        "import elbrix.demo, elbrix.app.window, elbrix.app.benches.design.view, elbrix.app.benches.shop.view,"
        " elbrix.design.family as f; f.all_families()"
    )
    out = subprocess.run(
        [sys.executable, "-c", f"{code}\nimport sys\nprint('numpy' in sys.modules)"], capture_output=True, text=True, check=True
    )
    assert out.stdout.split() == ["False"]


def test_window_loads_without_the_kernel() -> None:
    loaded = _loaded("import elbrix.app.window")
    assert any(m.startswith("PyQt6") for m in loaded) and not any(m.startswith("OCP") for m in loaded)

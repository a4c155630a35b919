"""The border keeps itself: the core knows no Qt, the window starts without kernel or NumPy, no room is forgotten."""

from __future__ import annotations

import ast
import importlib.metadata
import pkgutil
import re
import subprocess
import sys
import tomllib
from pathlib import Path

import pytest

import elbrix

#: All of it reads the source or starts the program once.
pytestmark = pytest.mark.house

PROJECT = Path(__file__).parent.parent / "pyproject.toml"
ROOMS = {m.name for m in pkgutil.iter_modules(elbrix.__path__) if m.ispkg}
WITH_QT = {"app"}
#: Its modules run inside the kernel process.
KERNEL = {"elbrix.solids.kernel", "elbrix.solids.worker"}


def _contracts() -> list[dict[str, object]]:
    return tomllib.loads(PROJECT.read_text())["tool"]["importlinter"]["contracts"]  # type: ignore[no-any-return]


def _loaded(code: str) -> set[str]:
    heavy = {"PyQt6", "OCP", "numpy", "scipy", "shapely", "ezdxf"}
    printing = f"import sys\nprint(*sorted({{m.split('.')[0] for m in sys.modules}} & {heavy}))"
    out = subprocess.run([sys.executable, "-c", f"{code}\n{printing}"], capture_output=True, text=True, check=True)
    return set(out.stdout.split())


def _modules(room: str) -> list[str]:
    package = __import__(f"elbrix.{room}", fromlist=["x"])
    return [m.name for m in pkgutil.walk_packages(package.__path__, f"elbrix.{room}.") if m.name not in KERNEL]


def test_every_room_stands_in_every_contract() -> None:
    """A new room that no contract names would be guarded by nothing."""
    layers, no_qt, no_kernel = _contracts()
    named = {
        "layers": {str(m).removeprefix("elbrix.") for m in layers["layers"]},  # type: ignore[attr-defined]
        "no Qt": {str(m).removeprefix("elbrix.") for m in no_qt["source_modules"]},  # type: ignore[attr-defined]
        "no kernel": {str(m).removeprefix("elbrix.") for m in no_kernel["source_modules"]},  # type: ignore[attr-defined]
    }
    assert named["layers"] == ROOMS
    assert named["no Qt"] == ROOMS - WITH_QT - {"cli"}  # the command line asks for a window or a picture by itself
    assert named["no kernel"] == ROOMS - {"solids"}


def test_core_loads_without_qt_or_kernel() -> None:
    modules = [m for room in sorted(ROOMS - WITH_QT) for m in _modules(room)]
    assert len(modules) > 200
    assert not _loaded("\n".join(f"import {m}" for m in modules)) & {"PyQt6", "OCP"}


def test_window_loads_without_numpy() -> None:
    """NumPy takes longer to load than the window itself: it comes when something is worked out with it."""
    code = (
        "import elbrix.demo, elbrix.app.window, elbrix.app.benches.design.view, elbrix.app.benches.shop.view,"
        " elbrix.design.family as f; f.all_families()"
    )
    assert _loaded(code) == {"PyQt6"}


#: What a start must not load, for each bench that may open: it is wanted later, or never.
LATER = {
    "scipy",
    "shapely",
    "ezdxf",
    "platformdirs",
    "inspect",
    "typing_extensions",
    "html",
    "tempfile",
    "random",
    "argparse",
    "shutil",
}


def _loaded_at_start(bench: str, folder: Path) -> set[str]:
    """Modules the real entry point has loaded when a bench was first painted, in a process of its own.

    Nothing may have been begun beside the window by then: what it loads would depend on which thread is quicker.
    """
    from elbrix.demo import write_demo

    book = write_demo(folder / "demo.elbrix")
    book.remember("bench", bench)
    book.close()
    code = f"""
import sys
before = set(sys.modules)
from PyQt6.QtWidgets import QApplication
toolkit = set(sys.modules)
import elbrix.app.window as window
opened = window.Window.__init__
def opening(self, *a, **k):
    opened(self, *a, **k)
    self.bench._after_paint.insert(0, lambda: (print(*early, *sorted(set(sys.modules) - toolkit)), QApplication.exit(0)))
window.Window.__init__ = opening
from elbrix.app.background import Later
early = []
Later.start = lambda self, call: early.append("begun-early")
from elbrix.cli.main import main
sys.exit(main([{str(folder / "demo.elbrix")!r}]))
"""
    out = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True, check=True)
    loaded = set(out.stdout.split())
    assert "begun-early" not in loaded
    assert "elbrix.app.window" in loaded and f"elbrix.app.benches.{bench}.view" in loaded
    return loaded


@pytest.mark.parametrize("bench", ["shop", "design"])
def test_a_start_loads_nothing_that_the_first_paint_does_not_show(bench: str, tmp_path: Path) -> None:
    """The budget of the start is kept by this."""
    loaded = _loaded_at_start(bench, tmp_path)
    ours = {"numpy", "OCP", "json", "elbrix.making.planner", "elbrix.exchange.svg", "elbrix.answers.ask"}
    assert sorted(loaded & (LATER | ours)) == []
    others = {m.split(".")[3] for m in loaded if m.startswith("elbrix.app.benches.") and m.count(".") > 3}
    assert others == {bench}
    families = {m.split(".")[3] for m in loaded if m.startswith("elbrix.design.families.")}
    assert families == ({"t_nut"} if bench == "design" else set())


@pytest.mark.parametrize(
    ("bench", "later"),
    [
        ("make", {"numpy", "elbrix.rehearsal.run", "elbrix.holding.limit"}),
        ("catalogue", {"numpy", "elbrix.making.planner", "elbrix.holding.limit"}),
        ("hold", {"elbrix.making.planner", "elbrix.design.families.clamp", "elbrix.design.families.v_jaw"}),
        ("angles", {"elbrix.making.planner", "elbrix.holding.limit"}),
        ("inspect", {"elbrix.making.planner", "elbrix.holding.limit"}),
    ],
)
def test_a_start_on_another_bench_loads_only_its_own(bench: str, later: set[str], tmp_path: Path) -> None:
    """NumPy where an answer is worked out with it; no kernel, no other process, no family that is not shown."""
    loaded = _loaded_at_start(bench, tmp_path)
    assert sorted(loaded & (later | {"OCP", "scipy", "multiprocessing", "ezdxf", "elbrix.answers.ask"})) == []


def _imported(source: Path) -> set[str]:
    names: set[str] = set()
    for node in ast.walk(ast.parse(source.read_text())):
        if isinstance(node, ast.Import):
            names |= {alias.name.split(".")[0] for alias in node.names}
        elif isinstance(node, ast.ImportFrom) and node.module and not node.level:
            names.add(node.module.split(".")[0])
    return names - sys.stdlib_module_names - {"elbrix"}


def test_every_package_it_imports_is_declared_and_pinned() -> None:
    """What happens to be installed here is not what a fresh machine gets."""
    root = PROJECT.parent

    def named(lines: list[str]) -> set[str]:
        return {re.split(r"[<>=! ]", line)[0].lower() for line in lines if line and line[0].isalpha()}

    declared = named(tomllib.loads(PROJECT.read_text())["project"]["dependencies"])
    assert declared == named((root / "requirements/run.in").read_text().splitlines()) - {"setuptools", "wheel"}
    for lock in ("run.lock", "dev.lock"):
        assert declared <= named((root / "requirements" / lock).read_text().splitlines())
    owners = importlib.metadata.packages_distributions()
    imported = {name for source in (root / "src").rglob("*.py") for name in _imported(source)}
    assert len(imported) > 5
    for name in imported:
        assert {owner.lower() for owner in owners.get(name, [])} & declared, f"{name} is imported, its package not declared"


def test_no_line_is_longer_than_the_page() -> None:
    """The linter lets a line with a remark for a tool go over; the house does not."""
    long = [
        f"{path.relative_to(PROJECT.parent)}:{n}"
        for path in (PROJECT.parent / "src").rglob("*.py")
        for n, line in enumerate(path.read_text(encoding="utf-8").splitlines(), 1)
        if len(line) > 130
    ]
    assert not long


def test_no_signal_is_handed_on_as_its_emit() -> None:
    """A bound signal's `emit` does not hold the object it speaks for: called when that is gone, the process dies."""
    found = []
    for path in sorted((Path(elbrix.__path__[0]) / "app").rglob("*.py")):
        tree = ast.parse(path.read_text(encoding="utf-8"))
        called = {id(node.func) for node in ast.walk(tree) if isinstance(node, ast.Call)}
        found += [
            f"{path.name}:{node.lineno}"
            for node in ast.walk(tree)
            if isinstance(node, ast.Attribute) and node.attr == "emit" and id(node) not in called
        ]
    assert not found

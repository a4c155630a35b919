"""Small random changes to a room's code: how many do the tests notice? Works on a copy of the tree, one change at a time."""

from __future__ import annotations

import ast
import random
import shutil
import subprocess
import sys
import tempfile
from pathlib import Path

from campaigns.covering import Covering

ROOT = Path(__file__).parents[1]
#: Room → the tests that have to notice.
ROOMS = {
    "making": ("tests/making", "tests/rehearsal", "tests/design/test_every_family.py"),
    "rehearsal": ("tests/rehearsal",),
    "holding": ("tests/holding",),
    "design": ("tests/design", "tests/rehearsal"),
    "gauging": ("tests/gauging",),
    "angles": ("tests/angles",),
    "answers": ("tests/answers",),
    "book": ("tests/book",),
    "metrology": ("tests/metrology",),
    "instruments": ("tests/instruments",),
    "finding": ("tests/finding",),
    "mechanics": ("tests/mechanics", "tests/making/test_change_wheels.py"),
    "standards": ("tests/standards",),
    "inspecting": ("tests/inspecting", "tests/metrology"),
    "quantities": ("tests/quantities",),
    "geometry": ("tests/geometry", "tests/drawing", "tests/making/test_round_corners.py"),
    "shop": ("tests/shop",),
    "results": ("tests/results", "tests/answers"),
    "drawing": ("tests/drawing",),
    "presenters": ("tests/presenters",),
}
_COMPARED = {ast.Lt: ast.GtE, ast.LtE: ast.Gt, ast.Gt: ast.LtE, ast.GtE: ast.Lt, ast.Eq: ast.NotEq, ast.NotEq: ast.Eq}
_WORKED = {ast.Add: ast.Sub, ast.Sub: ast.Add, ast.Mult: ast.Div, ast.Div: ast.Mult}
_PATIENCE_S = 240
#: A test whose cases take longer together looks at a whole by running many; it is not what notices a change, and is left out, s.
_TEST_MAX_S = 30.0


class _Sites(ast.NodeTransformer):
    """Counts the places that can be changed, and changes the one that is wanted."""

    def __init__(self, wanted: int = -1) -> None:
        self.count, self.wanted, self.what = 0, wanted, ""
        self.lines = (0, 0)

    def _here(self, node: ast.AST, words: str) -> bool:
        hit = self.count == self.wanted
        self.count += 1
        if hit:
            first = getattr(node, "lineno", 0)
            self.what = f"line {first}: {words}"
            self.lines = (first, getattr(node, "end_lineno", first))
        return hit

    def visit_Compare(self, node: ast.Compare) -> ast.AST:
        self.generic_visit(node)
        kind = type(node.ops[0])
        if kind in _COMPARED and self._here(node, f"{kind.__name__} turned"):
            node.ops[0] = _COMPARED[kind]()
        return node

    def visit_BinOp(self, node: ast.BinOp) -> ast.AST:
        self.generic_visit(node)
        kind = type(node.op)
        if kind in _WORKED and not isinstance(node.left, ast.JoinedStr) and self._here(node, f"{kind.__name__} turned"):
            node.op = _WORKED[kind]()
        return node

    def visit_Constant(self, node: ast.Constant) -> ast.AST:
        if isinstance(node.value, float) and node.value and self._here(node, f"{node.value} by 7 %"):
            return ast.copy_location(ast.Constant(node.value * 1.07), node)
        return node

    def visit_If(self, node: ast.If) -> ast.AST:
        self.generic_visit(node)
        if self._here(node, "condition negated"):
            node.test = ast.UnaryOp(ast.Not(), node.test)
        return node

    def visit_IfExp(self, node: ast.IfExp) -> ast.AST:
        self.generic_visit(node)
        if self._here(node, "condition negated"):
            node.test = ast.UnaryOp(ast.Not(), node.test)
        return node

    def visit_Call(self, node: ast.Call) -> ast.AST:
        self.generic_visit(node)
        name = node.func.id if isinstance(node.func, ast.Name) else ""
        if name in ("min", "max") and self._here(node, f"{name} for the other"):
            node.func = ast.Name("max" if name == "min" else "min", ast.Load())
        return node


def _mutant(source: str, chance: random.Random) -> tuple[str, str, tuple[int, int]]:
    tree = ast.parse(source)
    counting = _Sites()
    counting.visit(tree)
    if not counting.count:
        return source, "", (0, 0)
    changing = _Sites(chance.randrange(counting.count))
    fresh = ast.fix_missing_locations(changing.visit(ast.parse(source)))
    return ast.unparse(fresh), changing.what, changing.lines


def _noticed(tests: list[str], tree: Path, env: dict[str, str]) -> bool:
    """Whether one of some tests fails now."""
    try:
        ran = subprocess.run(
            [sys.executable, "-m", "pytest", "-x", "-q", "-p", "no:cacheprovider", *tests],
            cwd=tree,
            env=env,
            capture_output=True,
            check=False,
            timeout=_PATIENCE_S,
        )
    except subprocess.TimeoutExpired:
        return True
    return ran.returncode != 0


def run_room(room: str, count: int, seed: int) -> dict[str, object]:
    """So many changes in one room."""
    chance = random.Random(seed)
    survived: list[str] = []
    noticed = 0
    with tempfile.TemporaryDirectory() as folder:
        tree = Path(folder) / "tree"
        subprocess.run(["git", "clone", "-q", str(ROOT), str(tree)], check=True)
        env = {"PYTHONPATH": str(tree / "src"), "QT_QPA_PLATFORM": "offscreen", "PATH": "/usr/bin:/bin", "HOME": folder}
        covering = Covering(tree, room, ROOMS[room], env)
        files = sorted((tree / "src" / "elbrix" / room).rglob("*.py"))
        weights = [p.stat().st_size for p in files]
        for _ in range(count):
            path = chance.choices(files, weights)[0]
            before = path.read_text(encoding="utf-8")
            after, what, lines = _mutant(before, chance)
            if not what:
                continue
            path.write_text(after, encoding="utf-8")
            tests = [t for t in covering.of(path, *lines) if covering.seconds[t] <= _TEST_MAX_S]
            saw = any(_noticed(tests[n : n + 25], tree, env) for n in range(0, len(tests), 25))
            noticed += saw
            if not saw:
                survived.append(f"{path.relative_to(tree / 'src' / 'elbrix')} {what}")
            print("noticed" if saw else "not noticed", path.relative_to(tree / "src" / "elbrix"), what, flush=True)
            path.write_text(before, encoding="utf-8")
            for cache in tree.rglob("__pycache__"):
                shutil.rmtree(cache, ignore_errors=True)
    tried = noticed + len(survived)
    return {"room": room, "changes": tried, "noticed": noticed, "share": round(noticed / max(1, tried), 3), "survived": survived}


def run(count: int, seed: int) -> dict[str, object]:
    """So many changes in each of holding, making and rehearsal."""
    return {room: run_room(room, count, seed) for room in ("holding", "making", "rehearsal")}

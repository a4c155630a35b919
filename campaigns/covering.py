"""Which tests run which lines of a room, and how long each takes: a change needs only those, the quickest first."""

from __future__ import annotations

import re
import sqlite3
import subprocess
import sys
from collections import defaultdict
from collections.abc import Mapping, Sequence
from pathlib import Path

_SETTINGS = """[run]
source = {room}
dynamic_context = test_function
data_file = {data}
"""
_TIMED = re.compile(r"^([\d.]+)s (?:call|setup|teardown)\s+(\S+?)(?:\[.*)?$")


class Covering:
    """Test functions by the line they run.

    Args:
        tree: A checkout to run them in.
        room: Folder of `src/elbrix` that is looked at.
        tests: Paths of its tests.
        env: Environment of the runs.
    """

    def __init__(self, tree: Path, room: str, tests: Sequence[str], env: Mapping[str, str]) -> None:
        data, settings = tree / "covering.data", tree / "covering.ini"
        settings.write_text(_SETTINGS.format(room=tree / "src" / "elbrix" / room, data=data), encoding="utf-8")
        ran = subprocess.run(
            [
                sys.executable,
                "-m",
                "coverage",
                "run",
                f"--rcfile={settings}",
                "-m",
                "pytest",
                "--durations=0",
                "--durations-min=0",  # tests of less than 5 ms are left out else, and it is they that notice most
                *tests,
            ],
            cwd=tree,
            env=dict(env),
            capture_output=True,
            check=False,
            text=True,
        )
        if ran.returncode:
            raise RuntimeError("the tests fail before anything is changed:\n" + ran.stdout[-2000:])
        self._root = tree
        self.seconds: dict[str, float] = defaultdict(float)
        for line in ran.stdout.splitlines():
            if (timed := _TIMED.match(line)) is not None:
                self.seconds[timed[2]] += float(timed[1])
        self._by_line: dict[tuple[str, int], set[str]] = defaultdict(set)
        self._read(data)

    def _read(self, data: Path) -> None:
        from coverage.numbits import numbits_to_nums

        base = sqlite3.connect(data)
        rows = base.execute(
            "select file.path, context.context, line_bits.numbits from line_bits"
            " join file on file.id = line_bits.file_id join context on context.id = line_bits.context_id"
        )
        known = {_dotted(test): test for test in self.seconds}
        for path, context, bits in rows:
            test = known.get(context)
            if test is None:
                continue
            for number in numbits_to_nums(bits):
                self._by_line[path, number].add(test)
        base.close()

    def of(self, path: Path, first: int, last: int) -> list[str]:
        """Tests that run any of some lines of a file, the quickest first; every test for lines run only when it is loaded."""
        found = set().union(*(self._by_line.get((str(path), n), set()) for n in range(first, last + 1)))
        return sorted(found or self.seconds, key=lambda t: self.seconds[t])


def _dotted(test: str) -> str:
    """ "tests/holding/test_x.py::test_y" as a context calls it."""
    path, _, name = test.partition("::")
    return path.removesuffix(".py").replace("/", ".") + "." + name.replace("::", ".")

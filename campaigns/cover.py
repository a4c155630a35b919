"""Which lines of each room any test runs, under a floor that no room may sink below."""

from __future__ import annotations

import json
import os
import subprocess
import sys
import tempfile
from collections import defaultdict
from pathlib import Path

ROOT = Path(__file__).parents[1]
SOURCE = ROOT / "src" / "elbrix"
#: Run in processes that are killed, or by a hand in a window that no test opens: not counted.
_NOT_SEEN = ("solids/kernel.py", "solids/worker.py", "__main__.py")
_SETTINGS = """[run]
source = {source}
parallel = true
data_file = {data}
[report]
exclude_also =
    if TYPE_CHECKING:
    raise NotImplementedError
    class .*\\(Protocol\\):
"""


def run(count: int, seed: int, tests: tuple[str, ...] = (), rooms: tuple[str, ...] = ()) -> dict[str, object]:
    """The suite once, counted.

    Args:
        count: The floor of every room, %.
        seed: Of what a test draws.
        tests: Only these; all of them when left out.
        rooms: Only the lines of these; of all of them when left out. Reading every module again takes as long as the tests.
    """
    looked_at = ["--include=" + ",".join(f"*/elbrix/{room}/*" for room in rooms)] if rooms else []
    with tempfile.TemporaryDirectory() as folder:
        data, settings = Path(folder) / "covered", Path(folder) / "covered.ini"
        settings.write_text(_SETTINGS.format(source=SOURCE, data=data), encoding="utf-8")
        env = {**os.environ, "COVERAGE_PROCESS_START": str(settings), "QT_QPA_PLATFORM": "offscreen"}
        how = ("-n", "1" if tests else "auto", "--dist", "loadfile", "--no-loadscope-reorder", "-q", f"--hypothesis-seed={seed}")
        ran = subprocess.run(
            [sys.executable, "-m", "pytest", *how, *tests], cwd=ROOT, env=env, capture_output=True, text=True, check=False
        )
        if ran.returncode:
            raise RuntimeError("a test fails:\n" + ran.stdout[-2000:])
        for words in (("combine", "-q"), ("json", "-q", "-i", *looked_at, "-o", f"{folder}/covered.json")):
            call = [sys.executable, "-m", "coverage", words[0], f"--rcfile={settings}", *words[1:]]
            subprocess.run(call, cwd=ROOT, check=True, capture_output=True)
        files = json.loads((Path(folder) / "covered.json").read_text(encoding="utf-8"))["files"]
    seen: dict[str, list[int]] = defaultdict(lambda: [0, 0])
    for name, found in files.items():
        path = Path(ROOT, name).relative_to(SOURCE).as_posix()
        room = path.split("/")[0] if "/" in path else "the top"
        if not path.endswith(_NOT_SEEN):
            for key in (room, "all"):
                seen[key][0] += found["summary"]["covered_lines"]
                seen[key][1] += found["summary"]["num_statements"]
    shares = {room: round(100 * covered / wanted, 1) for room, (covered, wanted) in sorted(seen.items()) if wanted}
    under = [room for room, share in shares.items() if share < count]
    return {"floor": count, "rooms": shares, "under": under, "lost": len(under)}

"""A writer in a process of its own is killed at a random moment; what it had confirmed must be in the book."""

from __future__ import annotations

import os
import random
import signal
import subprocess
import sys
import tempfile
import time
from pathlib import Path

from elbrix.book.documents import DesignDoc
from elbrix.book.store import Book

_WAYS = ("edit", "import", "backup")
_WRITER = """
import sys
from datetime import date, timedelta
from pathlib import Path
from elbrix.book import backup
from elbrix.book.documents import DesignDoc
from elbrix.book.items_file import import_items
from elbrix.book.store import Book
book = Book.open(Path(sys.argv[1]))
way, n = sys.argv[2], int(sys.argv[3])
print("ready", flush=True)
while True:
    n += 1
    if way == "import":
        import_items(book, [DesignDoc(id=f"i{n}-{k}", family="t_nut", title=f"batch {n}") for k in range(20)])
    elif way == "backup":
        backup.make(book._connection, book.path, (date(2030, 1, 1) + timedelta(days=n)).isoformat())
    else:
        both = [DesignDoc(id=i, family="t_nut", title=str(n)) for i in ("d", f"d{n % 7}")]
        book.put(f"edit {n}", *both)
    print(n, flush=True)
"""


def run(count: int, seed: int) -> dict[str, object]:
    """Kill so many writers; each goes on from the book the one before left."""
    chance = random.Random(seed)
    lost, confirmed, halves = 0, 0, 0
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "shop.elbrix"
        Book.create(path).close()
        last = dict.fromkeys(_WAYS, 0)
        for trial in range(count):
            way = _WAYS[trial % 3]
            writer = subprocess.Popen(
                [sys.executable, "-c", _WRITER, str(path), way, str(last[way])], stdout=subprocess.PIPE, text=True
            )
            assert writer.stdout is not None
            writer.stdout.readline()
            time.sleep(chance.uniform(0.0, 0.08))
            os.kill(writer.pid, signal.SIGKILL)
            said = [int(line) for line in writer.stdout.read().split("\n")[:-1] if line.isdigit()]
            writer.wait()
            confirmed += len(said)
            book = Book.open(path)
            if said:
                last[way] = max(last[way], said[-1])
            if book.integrity() != "ok" or book.notices:
                lost += 1
            if way == "edit" and said:
                there = book.get(DesignDoc, "d")
                lost += there is None or int(there.title) < said[-1]
                last[way] = max(last[way], int(there.title) if there else 0)
            if way == "import":
                for n in said[-3:]:
                    lost += sum(1 for k in range(20) if book.get(DesignDoc, f"i{n}-{k}") is None) > 0
                batches: dict[str, int] = {}
                for doc in book.all(DesignDoc):
                    if doc.id.startswith("i"):
                        batches[doc.title] = batches.get(doc.title, 0) + 1
                halves += sum(1 for found in batches.values() if found != 20)
                last[way] = max([last[way], *(int(t.split()[1]) for t in batches)])
            book.close()
            if way == "backup":
                for copy in (path.parent / "shop backups").glob("*.elbrix"):
                    try:
                        Book.open(copy).close()
                    except Exception:  # noqa: BLE001 - whatever it is, that copy is of no use
                        lost += 1
                for old in sorted((path.parent / "shop backups").glob("*.elbrix"))[:-2]:
                    old.unlink()
    return {"kills": count, "confirmed": confirmed, "lost": lost + halves, "half imports": halves}

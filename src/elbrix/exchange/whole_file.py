"""A file is written whole or not at all: what was there stays until the new one stands."""

from __future__ import annotations

import contextlib
import os
from pathlib import Path


def write_whole(path: Path, data: bytes) -> None:
    """Write beside the file, to the disk, and put it in place.

    Raises:
        OSError: The folder is not there, is full or may not be written to; nothing was changed.
    """
    part = path.with_name(f".{path.name[:200]}.part")
    try:
        with part.open("wb") as file:
            file.write(data)
            file.flush()
            os.fsync(file.fileno())
        part.replace(path)
    except BaseException:
        with contextlib.suppress(OSError):
            part.unlink()
        raise

"""A file is written whole or not at all: what was there stays until the new one stands."""

from __future__ import annotations

import contextlib
import errno
import os
from pathlib import Path


def write_whole(path: Path, data: bytes) -> None:
    """Write beside the file, to the disk, and put it in place.

    Raises:
        OSError: The folder is not there, is full or may not be written to, or it is a folder itself; nothing was changed.
    """
    if not path.name or path.is_dir():
        raise IsADirectoryError(errno.EISDIR, os.strerror(errno.EISDIR), str(path))
    part = path.with_name(f".{path.name[:200]}.part")
    try:
        with part.open("wb") as file:
            file.write(data)
            file.flush()
            os.fsync(file.fileno())
        part.replace(path)
    except BaseException as error:
        with contextlib.suppress(OSError):
            part.unlink()
        if isinstance(error, OSError) and error.filename == str(part):
            error.filename = str(path)  # what was asked for, not what is written on the way
        raise

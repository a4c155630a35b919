"""A copy of the demo shop to walk around in. What is tried out there stays until a newer Elbrix brings a newer demo."""

from __future__ import annotations

import contextlib
from pathlib import Path

from elbrix import __version__
from elbrix.app.user_places import data_folder
from elbrix.book.opening import BookProblem
from elbrix.book.store import Book
from elbrix.quantities.errors import ShopError


def demo_path() -> Path:
    """Where the copy is."""
    return data_folder() / "demo" / "Wrenfield Dial Works.elbrix"


def written() -> str:
    """Write the copy where there is none, in a thread beside the window, which opens it then; what is wrong, empty: nothing."""
    try:
        open_demo_book(later=True).close()
    except (ShopError, OSError) as error:
        return str(error)
    return ""


def open_demo_book(*, later: bool = False) -> Book:
    """Open the copy; write it where there is none, or none of this version. An older copy is kept beside it.

    Args:
        later: As in `Book.open`.
    """
    from elbrix.demo import write_demo  # a start with a book of one's own does not need it

    path = demo_path()
    path.parent.mkdir(parents=True, exist_ok=True)
    if path.exists():
        with contextlib.suppress(BookProblem):
            there = Book.open(path, later=later)
            if there.read_only or there.setting("demo of") == __version__:
                return there
            there.close()
        path.replace(path.with_name(f"{path.stem}, before {__version__}.elbrix"))
    fresh = write_demo(path)
    fresh.remember("demo of", __version__)
    return fresh

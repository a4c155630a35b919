"""Entry point of the kernel process. Importable without the kernel, so that naming it loads nothing here."""

from __future__ import annotations

from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from multiprocessing.connection import Connection


def serve_late(line: Connection) -> None:
    """Load the kernel (preloaded in the fork server) and serve."""
    from elbrix.solids.worker import serve

    serve(line)

"""A fault of ours must not end the window: it is written down, said, and the work goes on."""

from __future__ import annotations

import contextlib
import sys
import threading
import time
from pathlib import Path
from types import TracebackType
from typing import TYPE_CHECKING, Final

from PyQt6.QtCore import QObject, pyqtSignal

from elbrix import __version__
from elbrix.app.user_places import data_folder

if TYPE_CHECKING:
    from elbrix.app.session import Session

#: One and the same fault is said once in this time, s: a fault in painting comes with every frame.
_ONCE_IN: Final = 10.0
_MAX_REPORTS: Final = 20


class Faults(QObject):
    """Takes what nobody caught, from any thread."""

    _met = pyqtSignal(str)

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self._session = session
        self._seen: dict[tuple[str, int], float] = {}
        self.reports: list[Path] = []
        self._met.connect(session.refused)

    def install(self) -> None:
        """From now on nothing uncaught ends the window."""
        sys.excepthook = self.met
        threading.excepthook = lambda args: self.met(args.exc_type, args.exc_value, args.exc_traceback)

    def met(self, kind: type[BaseException], fault: BaseException | None, trace: TracebackType | None) -> None:
        """Write it down and say it."""
        if issubclass(kind, KeyboardInterrupt | SystemExit):
            sys.__excepthook__(kind, fault or kind(), trace)
            return
        import traceback  # never wanted at a start

        text = "".join(traceback.format_exception(kind, fault, trace))
        last = traceback.extract_tb(trace)[-1:] if trace is not None else []
        place = (last[0].filename, last[0].lineno or 0) if last else (kind.__name__, 0)
        now = time.monotonic()
        if now - self._seen.get(place, -_ONCE_IN) < _ONCE_IN:
            return
        self._seen[place] = now
        sys.stderr.write(text)
        where = self._write(text)
        kept = f" What happened is written in {where}" if where else ""
        self._met.emit(f"Something went wrong inside Elbrix ({kind.__name__}). What you entered is kept; go on.{kept}")

    def _write(self, text: str) -> Path | None:
        if len(self.reports) >= _MAX_REPORTS:
            return None
        name = f"elbrix fault {time.strftime('%Y-%m-%d %H.%M.%S')}.txt"
        for folder in (self._session.book.path.parent, data_folder()):
            with contextlib.suppress(OSError):
                path = folder / name
                path.write_text(f"Elbrix {__version__}, Python {sys.version.split()[0]}\n\n{text}", encoding="utf-8")
                self.reports.append(path)
                return path
        return None

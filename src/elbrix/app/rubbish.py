"""Rubbish is looked for in the window's own thread only.

Python looks for rings of objects nobody holds in whichever thread makes the next object, and takes apart there what it finds. A
widget taken apart beside the window's thread may end the process, then or later.
"""

from __future__ import annotations

import gc
from typing import Final

from PyQt6.QtCore import QObject, QTimer

#: How often it is looked whether enough has gathered, ms.
_EVERY_MS: Final = 500


class Rubbish(QObject):
    """Looks for rubbish by a timer while it is started; Python by itself does not meanwhile."""

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._timer = QTimer(self)
        self._timer.setInterval(_EVERY_MS)
        self._timer.timeout.connect(self.look)

    def start(self) -> None:
        gc.disable()
        self._timer.start()

    def stop(self) -> None:
        self._timer.stop()
        gc.enable()

    def look(self) -> None:
        """The oldest of Python's three heaps of which more has gathered than it would let gather, and the younger with it."""
        gathered, most = gc.get_count(), gc.get_threshold()
        for age in (2, 1, 0):
            if gathered[age] > most[age]:
                gc.collect(age)
                return

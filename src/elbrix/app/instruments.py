"""The instruments of the room: connected as they come, heard without the window waiting, their readings given to whoever asks."""

from __future__ import annotations

import time
from collections import deque
from collections.abc import Callable
from pathlib import Path
from typing import Final

import msgspec
from PyQt6.QtCore import QObject, QTimer, pyqtSignal
from PyQt6.QtNetwork import QLocalSocket

from elbrix.app.background import Later
from elbrix.book.practice import PracticeInstrument
from elbrix.instruments import bench, front
from elbrix.instruments.bench import folder
from elbrix.instruments.lines import LONGEST_LINE, Quantity, quantity_in
from elbrix.instruments.listener import Asking, Fate, Heard, Listener
from elbrix.quantities.errors import ShopError

_LOOK_MS: Final = 700
#: So long are lines heard before the window has its turn again.
_TURN_S: Final = 0.02
#: Lines that wait; of a flood beyond it the newest are dropped, and it is said.
_MAX_WAITING: Final = 20_000


class Instruments(QObject):
    """Every instrument behind a socket in the user's own folder."""

    changed = pyqtSignal()  #: one came or went
    heard = pyqtSignal(object)  #: a `Heard`

    def __init__(self, asking: Callable[[Quantity | None], Asking | None], parent: QObject | None = None) -> None:
        """Listen.

        Args:
            asking: What the field that has the focus wants of a kind of reading; asked anew for every line.
        """
        super().__init__(parent)
        self._asking = asking
        self.listener = Listener()
        self._lines: dict[str, QLocalSocket] = {}
        self._waiting: deque[tuple[str, str]] = deque()
        self._dropped = 0
        self._skipping: set[str] = set()  # in the middle of a line without end
        self._own: set[str] = set()  # started from this window
        self._practising: tuple[str, int] = ("", 0)  # which practice, and how many readings it has left
        self._press_when_there = ""
        self._pressed: set[str] = set()  # a button was pressed, and nothing has come yet
        self._starting = Later(self)
        self._starting.done.connect(self._started)
        self._look = QTimer(self)
        self._look.setInterval(_LOOK_MS)
        self._look.timeout.connect(self.look)
        self._turn = QTimer(self)
        self._turn.setInterval(0)
        self._turn.timeout.connect(self._hear)

    def begin(self) -> None:
        """Look for instruments from now on."""
        self.come_to_front()
        self._look.start()
        self.look()

    def come_to_front(self) -> None:
        """Of several programs this one takes the readings from now on."""
        front.come_to_front()

    @property
    def in_front(self) -> bool:
        """Whether no other program came to the front since."""
        return front.is_in_front()

    def stop(self) -> None:
        """The window closes."""
        self._look.stop()
        self._turn.stop()
        self._waiting.clear()
        for name, line in self._lines.items():
            line.blockSignals(True)
            if name in self._own:
                line.write(b"stop\n")
                line.waitForBytesWritten(200)
            line.abort()
        self._lines.clear()
        for name in self._own:
            bench.reap(name, 1.0)

    @property
    def names(self) -> tuple[str, ...]:
        """Of those that are connected."""
        return tuple(
            sorted(name for name, line in self._lines.items() if line.state() == QLocalSocket.LocalSocketState.ConnectedState)
        )

    def look(self) -> None:
        """Connect to what is there and not connected yet."""
        bench.reap_ended()
        try:
            found = {p.stem: p for p in folder().glob("*.sock")}
        except (ShopError, OSError):
            return
        for name, path in found.items():
            if name not in self._lines:
                self._connect(name, path)

    def _connect(self, name: str, path: Path) -> None:
        line = QLocalSocket(self)
        self._lines[name] = line
        line.readyRead.connect(lambda: self._read(name))
        line.connected.connect(lambda: self._connected(name))
        line.disconnected.connect(lambda: self._gone(name))
        line.errorOccurred.connect(lambda _: self._gone(name))
        line.connectToServer(str(path))

    def _gone(self, name: str) -> None:
        line = self._lines.pop(name, None)
        if line is None:
            return
        line.blockSignals(True)
        line.deleteLater()
        self.listener.gone(name)
        self._skipping.discard(name)
        self._pressed.discard(name)
        self.changed.emit()

    def _read(self, name: str) -> None:
        line = self._lines.get(name)
        if line is None:
            return
        while line.canReadLine():
            raw = line.readLine().data()
            if name in self._skipping:  # the end of a line that was too long; what it says is nothing by itself
                self._skipping.discard(name)
            elif len(self._waiting) < _MAX_WAITING:
                self._waiting.append((name, raw[: 4 * LONGEST_LINE].decode("utf-8", "replace")))
            else:
                self._dropped += 1
        if line.bytesAvailable() > 4 * LONGEST_LINE:  # no line of the protocol is so long
            line.readAll()
            if name not in self._skipping:
                self._skipping.add(name)
                self._waiting.append((name, "x" * (LONGEST_LINE + 1)))
        if self._waiting:
            self._turn.start()

    def _hear(self) -> None:
        """Lines in the order they came, for a moment; the rest in the next turn of the event loop."""
        end = time.monotonic() + _TURN_S
        while self._waiting and time.monotonic() < end:
            name, text = self._waiting.popleft()
            self._pressed.discard(name)
            self.listener.asking = self._asking(quantity_in(text))
            self.heard.emit(self.listener.hear(text, name))
        if not self._waiting:
            self._turn.stop()
            if self._dropped:
                self.heard.emit(Heard.flood(self._dropped))
                self._dropped = 0

    # --- commands ----------------------------------------------------------------------------------------------------

    def for_asking(self, asking: Asking | None) -> str:
        """The connected instrument that measures what is asked; "" for none."""
        known = self.listener.instruments
        if asking is not None:
            for name in self.names:
                identity = known.get(name)
                if identity is not None and asking.quantity is identity.quantity:
                    return name
        return self.names[0] if len(self.names) == 1 and asking is None else ""

    def start(self, name: str, truth_file: str = "", seed: int = 0) -> None:
        """Start a simulated instrument beside the window; it is connected when it answers."""
        self._own.add(name)
        self._starting.start(lambda: _start(name, truth_file, seed))

    def stop_simulated(self) -> None:
        """Stop every instrument that obeys."""
        for line in self._lines.values():
            line.write(b"stop\n")
            line.flush()

    def practise(self, wanted: PracticeInstrument) -> None:
        """Press the button of a practice's instrument, starting it first when it is not there or out of step."""
        if self._starting.busy or wanted.name in self._pressed:
            return  # one reading after another
        step = (wanted.of, len(wanted.truth.values))
        if self._practising == step and self.press(wanted.name):
            self._practising = (wanted.of, step[1] - 1)
            return
        self._practising = (wanted.of, step[1] - 1)
        self._press_when_there = wanted.name
        self._own.add(wanted.name)
        text = msgspec.json.encode({wanted.name: wanted.truth})
        self._starting.start(lambda: _start_practice(wanted, text))

    def _started(self, outcome: object) -> None:
        if isinstance(outcome, str) and outcome:
            self._press_when_there = ""
            self.heard.emit(Heard(line="", fate=Fate.REFUSED, words=outcome))
        self.look()

    def _connected(self, name: str) -> None:
        if name == self._press_when_there:
            self._press_when_there = ""
            self.press(name)
        self.changed.emit()

    def press(self, name: str) -> bool:
        """Press the button of a simulated instrument; False when it is not there."""
        line = self._lines.get(name)
        if line is None or line.state() != QLocalSocket.LocalSocketState.ConnectedState:
            return False
        self._pressed.add(name)
        line.write(b"send 1\n")
        line.flush()
        return True


def _start(name: str, truth_file: str, seed: int) -> str:
    """Start an instrument; why it does not start, or nothing."""
    try:
        bench.start(name, truth_file, seed)
    except ShopError as error:
        return str(error)
    return ""


def _start_practice(wanted: PracticeInstrument, text: bytes) -> str:
    bench.stop(wanted.name)
    try:
        path = folder() / f"{wanted.name}.json"
        path.write_bytes(text)
    except OSError as error:
        return f"The practice cannot be written ({error.strerror}). Check the folder of the instruments."
    return _start(wanted.name, str(path), wanted.seed)

"""Simulated instruments in processes of their own, each behind a local socket only its user may open."""

from __future__ import annotations

import contextlib
import os
import socket
import socketserver
import stat
import subprocess
import sys
import threading
import time
from collections.abc import Iterator
from pathlib import Path
from typing import Final

import platformdirs

from elbrix.instruments.behaviour import Simulated, Truth, read_truth
from elbrix.instruments.lines import ID, LONGEST_LINE, Record, format_line
from elbrix.quantities.errors import ShopError

#: Where sockets stand, when not in the user's own runtime folder.
FOLDER_VARIABLE: Final = "ELBRIX_INSTRUMENTS"
#: A path of a socket is no longer than this on Linux.
_LONGEST_PATH: Final = 100
_MAX_AT_ONCE: Final = 10_000
_WAIT_S: Final = 5.0
#: Processes started from this one, to be waited for when they end.
_started: dict[str, subprocess.Popen[bytes]] = {}


def folder() -> Path:
    """Where the sockets are: only this user may look in.

    Raises:
        ShopError: It belongs to somebody else, or cannot be made.
    """
    named = os.environ.get(FOLDER_VARIABLE)
    # A login without a runtime folder of its own would get one beside everybody else's, and a warning on the terminal.
    kept = platformdirs.user_runtime_path if os.environ.get("XDG_RUNTIME_DIR") else platformdirs.user_cache_path
    path = Path(named) if named else kept("elbrix") / "instruments"
    try:
        path.mkdir(mode=0o700, parents=True, exist_ok=True)
        state = path.stat()
    except OSError as error:
        raise ShopError("Instruments", f"{path} cannot be made ({error.strerror})", "Sockets need a folder", "Check it") from None
    if state.st_uid != os.getuid():
        raise ShopError("Instruments", f"{path} belongs to somebody else", "Readings could come from anywhere", "Remove it")
    if stat.S_IMODE(state.st_mode) & 0o077:
        path.chmod(0o700)
    return path


def socket_of(name: str) -> Path:
    """The socket of an instrument.

    Raises:
        ShopError: A name that is none, or a folder too deep.
    """
    Simulated(name)  # refuses unknown kinds
    return path_of(name)


def path_of(name: str) -> Path:
    """Where an instrument of a name stands, whatever it is.

    Raises:
        ShopError: A name that is none, or a folder too deep.
    """
    if ID.fullmatch(name) is None:
        raise ShopError("Instruments", f"“{name[:24]}” is no name", "It is small letters, digits and dashes", "Write caliper-1")
    path = folder() / f"{name}.sock"
    if len(str(path)) > _LONGEST_PATH:
        raise ShopError(
            "Instruments", f"the path {path} is too long", "A socket's path has 100 characters at most", "Set a shorter one"
        )
    return path


class _Server(socketserver.ThreadingUnixStreamServer):
    daemon_threads = True

    def __init__(self, path: Path, instrument: Simulated) -> None:
        self.instrument, self.lock = instrument, threading.Lock()
        super().__init__(str(path), _Client)


class _Client(socketserver.StreamRequestHandler):
    """One listener: it is told what the instrument is, and answered command by command."""

    def handle(self) -> None:
        server = self.server
        assert isinstance(server, _Server)
        with contextlib.suppress(OSError):  # the listener went away
            self._send(server.instrument.identify())
            while line := self.rfile.readline(LONGEST_LINE + 1):
                if not self._obey(server, line.decode("utf-8", "replace").split()):
                    return

    def _send(self, record: Record) -> None:
        self.wfile.write((format_line(record) + "\n").encode())

    def _obey(self, server: _Server, words: list[str]) -> bool:
        with server.lock:
            instrument = server.instrument
            if words == ["?"]:
                self._send(instrument.identify())
            elif words == ["zero"]:
                instrument.zero()
                self._send(instrument.identify())
            elif len(words) == 2 and words[0] == "unit" and words[1] in ("mm", "in"):
                instrument.inches = words[1] == "in"
                self._send(instrument.identify())
            elif words and words[0] == "send" and len(words) <= 2:  # the button of a simulated instrument
                count = int(words[1]) if len(words) == 2 and words[1].isdecimal() else 1
                for _ in range(min(count, _MAX_AT_ONCE)):
                    self._send(instrument.press())
            elif words == ["stop"]:
                threading.Thread(target=server.shutdown, daemon=True).start()
                return False
            else:
                self.wfile.write(f"{instrument.name} fault unknown command\n".encode())
        return True


def serve(name: str, truth: Truth | None, seed: int) -> None:
    """Be an instrument until told to stop.

    Raises:
        ShopError: One of that name is running, or there is no such kind.
    """
    path = socket_of(name)
    if running(name):
        raise ShopError("Instruments", f"{name} is running already", "One name is one instrument", "Stop it first")
    path.unlink(missing_ok=True)  # of one that was killed
    before = os.umask(0o177)
    try:
        server = _Server(path, Simulated(name, truth, seed))
    finally:
        os.umask(before)
    try:
        server.serve_forever(poll_interval=0.1)
    finally:
        server.server_close()
        path.unlink(missing_ok=True)


def running(name: str) -> bool:
    """Whether an instrument answers."""
    return running_at(socket_of(name))


def running_at(path: Path) -> bool:
    """Whether somebody answers at a socket."""
    with contextlib.suppress(OSError), _connected(path):
        return True
    return False


def start(name: str, truth_file: str = "", seed: int = 0) -> None:
    """Start one in a process of its own, and wait until it answers.

    Raises:
        ShopError: It does not start.
    """
    if truth_file:
        truth_of(truth_file, name)  # refused here rather than in a process nobody sees
    if running(name):
        raise ShopError("Instruments", f"{name} is running already", "One name is one instrument", "Stop it first")
    reap(name)
    command = [sys.executable, "-m", "elbrix.instruments.bench", name, truth_file, str(seed)]
    process = _started[name] = subprocess.Popen(
        command, stdin=subprocess.DEVNULL, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL, start_new_session=True
    )
    end = time.monotonic() + _WAIT_S
    while time.monotonic() < end:
        if running(name):
            return
        if process.poll() is not None:
            break
        time.sleep(0.02)
    raise ShopError("Instruments", f"{name} does not start", "Its process ended or does not answer", "Try again")


def stop(name: str) -> bool:
    """Stop one; whether it was running."""
    try:
        with _connected(path_of(name)) as line:
            line.sendall(b"stop\n")
            while line.recv(4096):
                pass
    except OSError:
        reap(name)
        return False
    reap(name)
    return True


def reap(name: str, seconds: float = _WAIT_S) -> None:
    """Wait for a process of ours that is ending."""
    process = _started.get(name)
    if process is not None:
        with contextlib.suppress(subprocess.TimeoutExpired):
            process.wait(seconds)
            _started.pop(name, None)


def reap_ended() -> None:
    """Forget processes of ours that have ended by themselves."""
    for name, process in list(_started.items()):
        if process.poll() is not None:
            _started.pop(name, None)


def read(name: str, count: int = 1) -> Iterator[str]:
    """Lines of an instrument, as it sends them for so many presses of its button.

    Raises:
        ShopError: It is not running, or goes away in the middle.
    """
    got = 0
    try:
        with _connected(socket_of(name)) as line, line.makefile("r", encoding="utf-8") as lines:
            next(lines)  # what it is
            line.sendall(f"send {count}\n".encode())
            while got < count:
                text = lines.readline()
                if not text.endswith("\n"):
                    break
                got += 1
                yield text.rstrip("\n")
    except (OSError, StopIteration):
        got = -1
    if got < count:
        raise ShopError("Instruments", f"{name} went away", "Its process ended or its cable was pulled", "Start it again")


@contextlib.contextmanager
def _connected(path: Path) -> Iterator[socket.socket]:
    with socket.socket(socket.AF_UNIX, socket.SOCK_STREAM) as line:
        line.settimeout(_WAIT_S)
        line.connect(str(path))
        yield line


def truth_of(file: str, name: str) -> Truth | None:
    """What a file says this instrument measures.

    Raises:
        ShopError: It cannot be read.
    """
    try:
        text = Path(file).read_text(encoding="utf-8")
    except (OSError, UnicodeDecodeError) as error:
        raise ShopError("Truth", f"{file} cannot be read ({error})", "It is JSON by instrument", "Check the name") from None
    return read_truth(text).get(name)


if __name__ == "__main__":
    _, given, described, number = sys.argv
    serve(given, truth_of(described, given) if described else None, int(number))

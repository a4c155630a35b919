"""A real instrument on a serial line, given to whoever listens over the same door as the simulated ones."""

from __future__ import annotations

import contextlib
import errno
import os
import selectors
import socket
import termios
import tty
from collections.abc import Callable
from pathlib import Path
from typing import Final

from msgspec import Struct

from elbrix.instruments.behaviour import KINDS
from elbrix.instruments.bench import path_of, running_at
from elbrix.instruments.lines import LONGEST_LINE, Identity, Reading, format_line, parse_line
from elbrix.quantities.errors import ShopError
from elbrix.quantities.patterns import Pattern

BAUDS: Final = (1200, 2400, 4800, 9600, 19200, 38400, 57600, 115200)
#: A number as displays send it, with a unit or without: "+012.053", "-0.012 mm", "1.2345in".
_SHOWN: Final = Pattern(r"\s*(?P<sign>[+-]?)\s*(?P<number>[0-9]{1,9}(?:\.[0-9]{1,9})?)\s*(?P<unit>mm|in|deg)?\s*")
_MAX_WAITING: Final = 64 * 1024


class Sort(Struct, frozen=True, kw_only=True):
    """What stands at the other end of the line, for one that does not say so itself."""

    kind: str = "caliper"
    u: float = 0.02  #: of one reading, 95 %, mm or degrees
    baud: int = 9600
    unit: str = ""  #: of bare numbers; empty: mm, or degrees of an angle


class Plugged:
    """Turns what comes over a serial line into lines of the protocol."""

    def __init__(self, name: str, sort: Sort) -> None:
        """Make one.

        Raises:
            ShopError: No such kind, baud rate or unit.
        """
        kind = KINDS.get(sort.kind)
        if kind is None:
            raise ShopError(
                "Instruments", f"“{sort.kind[:24]}” is no kind", f"There are: {', '.join(KINDS)}", "Pick one of those"
            )
        if sort.baud not in BAUDS:
            raise ShopError(
                "Instruments", f"{sort.baud} baud", f"Usual are {', '.join(map(str, BAUDS))}", "See the maker's sheet"
            )
        if not 0 < sort.u < 10:
            raise ShopError(
                "Instruments", f"an uncertainty of {sort.u:g}", "It is how far a reading may be off", "See its certificate"
            )
        self._name, self._sort, self._kind = name, sort, kind
        self._count = 0

    def identity(self) -> str:
        k = self._kind
        record = Identity(
            instrument=self._name, kind=self._sort.kind, resolution=k.resolution, low=k.low, high=k.high, unit=k.unit
        )
        return format_line(record)

    def line_of(self, text: str) -> str:
        """A line of the protocol out of what came: as it is under this name, or made from a bare number; "" for nothing."""
        words = text.strip().split()
        if len(words) > 2:
            with contextlib.suppress(ShopError):
                parse_line(" ".join([self._name, *words[1:]]))
                return " ".join([self._name, *words[1:]])
        found = _SHOWN.fullmatch(text.strip("\r\n"))
        if found is None:
            return f"{self._name} fault sent “{text.strip()[:40]}”, which is no reading" if text.strip() else ""
        self._count += 1
        unit = found["unit"] or self._sort.unit or self._kind.unit
        sign = "-" if found["sign"] == "-" else ""
        number = found["number"].lstrip("0") or "0"
        shown = sign + (f"0{number}" if number.startswith(".") else number)
        per = self._kind.quantity.units.get(unit)
        if per is None:
            return f"{self._name} fault sends {unit}, which a {self._sort.kind} does not measure"
        axis = "X" if self._kind.quantity.value == "axis" else ""
        reading = Reading(
            instrument=self._name,
            quantity=self._kind.quantity,
            value=float(shown) * per,
            u=self._sort.u,
            number=self._count,
            axis=axis,
            unit=unit,
            shown=shown,
        )
        return format_line(reading)


def plug(name: str, device: str, sort: Sort, ready: Callable[[], None] = lambda: None) -> None:
    """Read a serial line and give its readings to every listener, until one of them says `stop`.

    Args:
        name: What the instrument is called here.
        device: The serial line: "/dev/ttyUSB0".
        ready: Called when the line is open and listeners may come.

    Raises:
        ShopError: The line cannot be opened, or one of that name is there.
    """
    plugged, path = Plugged(name, sort), path_of(name)
    if running_at(path):
        raise ShopError("Instruments", f"{name} is there already", "One name is one instrument", "Give it another name")
    try:
        line = os.open(device, os.O_RDWR | os.O_NOCTTY | os.O_NONBLOCK)
    except OSError as error:
        raise ShopError(
            "Instruments",
            f"{device} cannot be opened ({error.strerror})",
            "A serial line is a device",
            "Check the cable and its name",
        ) from None
    try:
        if os.isatty(line):
            _raw(line, sort.baud)
        _serve(plugged, line, path, ready)
    finally:
        os.close(line)


def _raw(line: int, baud: int) -> None:
    """Bytes as they come, at a speed; eight bits, no parity."""
    tty.setraw(line)
    state = termios.tcgetattr(line)
    speed = getattr(termios, f"B{baud}")
    state[2] |= termios.CLOCAL | termios.CREAD
    state[4] = state[5] = speed
    termios.tcsetattr(line, termios.TCSANOW, state)


def _serve(plugged: Plugged, line: int, path: Path, ready: Callable[[], None]) -> None:
    path.unlink(missing_ok=True)
    before = os.umask(0o177)
    try:
        server = socket.socket(socket.AF_UNIX, socket.SOCK_STREAM)
        server.bind(str(path))
    finally:
        os.umask(before)
    server.listen()
    server.setblocking(False)
    ready()
    clients: list[socket.socket] = []
    waiting = b""
    with server, selectors.DefaultSelector() as watch:
        watch.register(server, selectors.EVENT_READ)
        watch.register(line, selectors.EVENT_READ)
        try:
            while True:
                for key, _ in watch.select():
                    if key.fileobj is server:
                        client, _ = server.accept()
                        clients.append(client)
                        watch.register(client, selectors.EVENT_READ)
                        _tell([client], clients, watch, plugged.identity())
                    elif key.fileobj == line:
                        came = _came(line)
                        if came is None:
                            _tell(list(clients), clients, watch, f"{path.stem} fault unplugged")
                            return
                        *whole, waiting = (waiting + came).split(b"\n")
                        waiting = waiting if len(waiting) <= _MAX_WAITING else b""
                        for raw in whole:
                            text = plugged.line_of(raw[: 4 * LONGEST_LINE].decode("utf-8", "replace"))
                            if text:
                                _tell(list(clients), clients, watch, text)
                    elif isinstance(key.fileobj, socket.socket) and not _obey(key.fileobj, clients, watch, plugged, line):
                        return
        finally:
            for client in clients:
                client.close()
            path.unlink(missing_ok=True)


def _came(line: int) -> bytes | None:
    """What came; None when the cable is out."""
    try:
        return os.read(line, 4096) or None
    except OSError as error:
        return b"" if error.errno in (errno.EAGAIN, errno.EINTR) else None


def _obey(
    client: socket.socket, clients: list[socket.socket], watch: selectors.BaseSelector, plugged: Plugged, line: int
) -> bool:
    """A listener's command; False for `stop`."""
    try:
        command = client.recv(4096)
    except OSError:
        command = b""
    if not command:
        watch.unregister(client)
        clients.remove(client)
        client.close()
    elif command.strip() == b"stop":
        return False
    elif command.strip() == b"?":
        _tell([client], clients, watch, plugged.identity())
    else:
        with contextlib.suppress(OSError):
            os.write(line, command)  # zero, unit: for an instrument that understands them
    return True


def _tell(to: list[socket.socket], clients: list[socket.socket], watch: selectors.BaseSelector, text: str) -> None:
    for client in to:
        try:
            client.sendall(text.encode() + b"\n")
        except OSError:
            watch.unregister(client)
            clients.remove(client)
            client.close()

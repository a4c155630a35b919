"""A real instrument on a serial line: a pseudo-terminal plays the cable."""

from __future__ import annotations

import contextlib
import os
import socket
import threading
import time
from collections.abc import Iterator
from pathlib import Path

import pytest

from elbrix.instruments import bench
from elbrix.instruments.lines import Reading, parse_line
from elbrix.instruments.serial_line import Plugged, Sort, plug
from elbrix.quantities.errors import ShopError


@pytest.fixture
def cable(monkeypatch: pytest.MonkeyPatch, tmp_path: Path) -> Iterator[tuple[int, str]]:
    """The instrument's end, and the name of the line at this end."""
    monkeypatch.setenv(bench.FOLDER_VARIABLE, str(tmp_path / "i"))
    instrument, line = os.openpty()
    yield instrument, os.ttyname(line)
    for end in (instrument, line):
        with contextlib.suppress(OSError):
            os.close(end)


def _listen(name: str) -> socket.socket:
    end = time.monotonic() + 5
    while time.monotonic() < end:
        if bench.path_of(name).exists():
            heard = socket.socket(socket.AF_UNIX, socket.SOCK_STREAM)
            heard.settimeout(5)
            heard.connect(str(bench.path_of(name)))
            return heard
        time.sleep(0.01)
    raise AssertionError("nobody answers")


def test_bare_numbers_become_readings_until_it_is_stopped(cable: tuple[int, str]) -> None:
    instrument, line = cable
    thread = threading.Thread(target=plug, args=("caliper-9", line, Sort()), daemon=True)
    thread.start()
    with _listen("caliper-9") as heard, heard.makefile("r") as lines:
        assert lines.readline() == "caliper-9 is caliper 0.01 mm 0 150 v1\n"
        os.write(instrument, b"+012.053\r\n-0.5 mm\r\n0.4745in\nHELLO\n")
        assert lines.readline() == "caliper-9 length 12.053 mm ±0.02 1\n"
        assert lines.readline() == "caliper-9 length -0.5 mm ±0.02 2\n"
        third = parse_line(lines.readline())
        assert isinstance(third, Reading)
        assert third.value == pytest.approx(0.4745 * 25.4)
        assert "fault" in lines.readline()
        heard.sendall(b"stop\n")
    thread.join(5)
    assert not thread.is_alive()
    assert not bench.path_of("caliper-9").exists()


def test_protocol_lines_pass_under_the_name_they_have_here() -> None:
    plugged = Plugged("readout-7", Sort(kind="readout", u=0.005))
    assert plugged.line_of("dro axis Y -4.200 mm ±0.005 12\r\n") == "readout-7 axis Y -4.200 mm ±0.005 12"


@pytest.mark.parametrize(
    ("kind", "unit", "sent", "line"),
    [
        ("level", "", "32.50", "l-1 angle 32.50 deg ±0.02 1"),
        ("dial", "", "-.012", "l-1 fault"),
        ("dial", "", "-0.012", "l-1 deviation -0.012 mm ±0.02 1"),
        ("caliper", "in", "1.2345", "l-1 length 1.2345 in ±0.00078740"),
        ("caliper", "", "12.05 deg", "l-1 fault sends deg"),
        ("caliper", "", "nan", "l-1 fault"),
        ("caliper", "", "1e5", "l-1 fault"),
        ("caliper", "", "", ""),
    ],
)
def test_what_a_display_sends(kind: str, unit: str, sent: str, line: str) -> None:
    found = Plugged("l-1", Sort(kind=kind, unit=unit)).line_of(sent)
    assert found.startswith(line)
    if found:
        parse_line(found)


@pytest.mark.parametrize("sort", [Sort(kind="ruler"), Sort(baud=300), Sort(u=0.0)])
def test_a_line_nobody_could_read_is_refused(sort: Sort) -> None:
    with pytest.raises(ShopError):
        Plugged("l-1", sort)


def test_no_such_line(cable: tuple[int, str]) -> None:
    with pytest.raises(ShopError, match="cannot be opened"):
        plug("caliper-9", "/dev/no-such-line", Sort())

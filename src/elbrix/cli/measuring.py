"""`elbrix instruments`: simulated instruments listed, started, read and stopped."""

from __future__ import annotations

import argparse
import contextlib

from elbrix.cli.solving import print_json
from elbrix.instruments import bench
from elbrix.instruments.behaviour import describe
from elbrix.instruments.serial_line import Sort, plug
from elbrix.quantities.errors import ShopError

_MAX_READINGS = 10_000


def instruments(options: argparse.Namespace) -> int:
    """One action on the simulated bench; `read` prints the lines themselves."""
    if options.action == "list":
        return _list(as_json=options.json)
    names = list(dict.fromkeys(options.names))
    if not names:
        raise ShopError("Instruments", "none is named", f"What is to be {_DONE[options.action]}?", "Write for example caliper-1")
    if not 1 <= options.count <= _MAX_READINGS:
        raise ShopError("Instruments", f"{options.count} readings", f"It is from 1 to {_MAX_READINGS:,}", "Check --count")
    if options.action == "plug":
        return _plug(names, options)
    for name in names:
        if options.action == "start":
            bench.start(name, options.truth, options.seed)
            print(f"{name} is running")
        elif options.action == "stop":
            print(f"{name} is stopped" if bench.stop(name) else f"{name} was not running")
        else:
            _read(name, options)
    return 0


_DONE = {"start": "started", "stop": "stopped", "read": "read", "plug": "plugged in"}


def _plug(names: list[str], options: argparse.Namespace) -> int:
    """A real instrument on a serial line, until it is stopped or its cable is pulled."""
    if len(names) != 1 or not options.device:
        raise ShopError(
            "Instruments",
            "one name and one serial line are needed",
            "Each line carries one instrument",
            "Write for example: elbrix instruments plug caliper-9 --device /dev/ttyUSB0 --kind caliper",
        )
    sort = Sort(kind=options.kind, u=options.uncertainty, baud=options.baud, unit=options.unit)
    words = f"{names[0]} is heard on {options.device} until `elbrix instruments stop {names[0]}`"
    with contextlib.suppress(KeyboardInterrupt):
        plug(names[0], options.device, sort, lambda: print(words, flush=True))
    return 0


def _read(name: str, options: argparse.Namespace) -> None:
    """Its lines; one that is not running is started for it, and stopped again."""
    started = not bench.running(name)
    if started:
        bench.start(name, options.truth, options.seed)
    try:
        for line in bench.read(name, options.count):
            print(line, flush=True)
    finally:
        if started:
            bench.stop(name)


def _list(*, as_json: bool) -> int:
    kinds = [kind | {"running": bench.running(kind["name"])} for kind in describe()]
    if as_json:
        print_json(kinds)
        return 0
    for kind in kinds:
        state = "running" if kind["running"] else ""
        low, high = kind["range"]
        print(
            f"{kind['name']:14} {kind['measures']:10} {kind['resolution']:<8.4g} {kind['unit']:4} {low:g} to {high:g},"
            f" ±{kind['u95']:.2g} (95 %)  {state}".rstrip()
        )
    return 0

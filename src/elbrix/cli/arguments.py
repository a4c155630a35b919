"""What may be written behind `elbrix`. Loaded when there is more to read than the name of a book."""

from __future__ import annotations

import argparse
from collections.abc import Callable

from elbrix.drawing.sheets import PAPERS, PROJECTIONS
from elbrix.making.chucking import LATHE_HOLDS
from elbrix.making.schools import CLIMB, DATUM, HOLES
from elbrix.standards.heat import TREATMENTS

COMMANDS = (
    "ask",
    "families",
    "hold",
    "design",
    "plan",
    "rehearse",
    "together",
    "export",
    "import",
    "merge",
    "find",
    "check",
    "picture",
    "calc",
    "instruments",
    "schema",
)


def window_parser() -> argparse.ArgumentParser:
    parser = argparse.ArgumentParser(
        prog="elbrix",
        description="Workholding for the milling machine: measure, design, prove, make, remember.",
        epilog="Commands: " + ", ".join(COMMANDS) + ". Each has --help.",
    )
    parser.add_argument("book", nargs="?", help="a workshop book (.elbrix); made when it is not there")
    parser.add_argument("--demo", action="store_true", help="open a fresh copy of the demo shop")
    parser.add_argument("--version", action="store_true", help="print the version")
    return parser


def command_parser() -> argparse.ArgumentParser:
    parser = argparse.ArgumentParser(prog="elbrix")
    commands = parser.add_subparsers(dest="command", required=True)

    def command(name: str, help: str, *, book: bool = False, as_json: bool = False) -> argparse.ArgumentParser:
        sub = commands.add_parser(name, help=help, description=help)
        if book:
            sub.add_argument("--book", help="workshop book; without it the demo shop")
        if as_json:
            sub.add_argument("--json", action="store_true", help="print JSON")
        return sub

    sub = command("ask", "Answer a shop question in plain words", book=True, as_json=True)
    sub.add_argument("question", nargs="*", help='for example "tap drill M10x1.5"; without one, examples are listed')
    sub.add_argument("--units", choices=("mm", "in"), default="mm", help="what sizes without a unit are in, and what is shown")
    command("families", "List what can be designed", as_json=True)
    for name, help in (
        ("design", "Propose and solve one accessory, write its files"),
        ("plan", "Plan the cutting of one accessory"),
        ("rehearse", "Cut a plan before there is metal, as planned or as it was keyed"),
    ):
        sub = command(name, help, book=True, as_json=True)
        sub.add_argument("family")
        sub.add_argument(
            "--set", action="append", default=[], metavar="NAME=VALUE", help="a value of your own, for example neck_width=11.7"
        )
        sub.add_argument("--machine", default="", help="machine by name or id")
        sub.add_argument("--slot", default="", help="slot by label")
        sub.add_argument("--pieces", type=int, default=1)
        if name == "design":
            sub.add_argument("--units", choices=("mm", "in"), default="mm", help="what the PDF is in")
            sub.add_argument("--projection", choices=[k for k, _ in PROJECTIONS], default="third", help="how the views stand")
            sub.add_argument("--paper", choices=[k for k, _ in PAPERS], default="A4", help="what the PDF is on")
            sub.add_argument("--out", help="folder for the files")
            sub.add_argument("--formats", default="step,stl,dxf,svg,pdf,csv,json")
        else:
            sub.add_argument("--style", choices=("full", "quick"), default="full")
            sub.add_argument("--passes", choices=("equal", "creep"), default="equal")
            sub.add_argument("--heat", choices=[k for k, _ in TREATMENTS], default="", help="heat treatment")
            sub.add_argument("--rip", action="store_true", help="saw a bar that is much too wide lengthwise first")
            sub.add_argument("--datum", choices=[k for k, _ in DATUM], default="middle", help="where Y is counted from")
            sub.add_argument("--holes", choices=[k for k, _ in HOLES], default="ream", help="how close holes are finished")
            sub.add_argument(
                "--climb", choices=[k for k, _ in CLIMB], default="", help="climb cutting; as the machine says by itself"
            )
            sub.add_argument("--lathe", choices=[k for k, _ in LATHE_HOLDS], default="", help="what round work is held in")
            sub.add_argument("--on", default="", help="machine to cut on, by name or id")
            sub.add_argument("--units", choices=("mm", "in"), default="mm", help="what sizes are said in")
        if name == "plan":
            sub.add_argument("--csv", action="store_true", help="print the cut list for a spreadsheet")
        if name == "rehearse":
            sub.add_argument(
                "--keyed",
                action="append",
                default=[],
                metavar="MOVE.AXIS=NUMBER",
                help="what was really set, as on that machine's card",
            )
            sub.add_argument(
                "--turned",
                action="append",
                default=[],
                metavar="SETUP=HOW",
                help="the work was put in turned end, over or mirrored",
            )
            sub.add_argument(
                "--cutter",
                action="append",
                default=[],
                metavar="OPERATION=DIAMETER",
                help="another cutter was in the spindle, mm",
            )
    sub = command("together", "Plan several designs of a book as one batch: bars, order, kit", book=True, as_json=True)
    sub.add_argument("design", nargs="+", help="ids or titles of designs")
    sub.add_argument("--units", choices=("mm", "in"), default="mm", help="what sizes are said in")
    sub = command("hold", "Work out a layout: will it stay, can it be reached, is it located", book=True, as_json=True)
    sub.add_argument("layout", help='a layout as JSON, as in "elbrix export --kind layout", or the id of one in the book')
    _books(command)
    sub = command("picture", "Draw a main view as PNG, without a screen", book=True)
    sub.add_argument("view", nargs="?", default="", help="shop, design, make, catalogue …; see --list")
    sub.add_argument("out", nargs="?", default="")
    sub.add_argument("--all", metavar="FOLDER", help="every main view into a folder")
    sub.add_argument("--list", action="store_true", help="list the views")
    sub.add_argument("--size", default="1280x800")
    sub.add_argument("--units", choices=("mm", "in"), default="mm")
    sub.add_argument("--dim", action="store_true", help="the look for a dark shop")
    command("calc", "Answer JSON questions from standard input", as_json=True)
    _instruments(
        command("instruments", "Measuring instruments behind local sockets: simulated, or on a serial line", as_json=True)
    )
    command("schema", "Print the JSON schema of the items")
    return parser


def _books(command: Callable[..., argparse.ArgumentParser]) -> None:
    """Commands that read and write books."""
    sub = command("export", "Write a book, or some of its items, as JSON", book=True)
    sub.add_argument("out", nargs="?", default="-", help="file, or - for standard output")
    sub.add_argument("--kind", default="", help="only this kind, for example design")
    sub.add_argument("--item", default="", metavar="ID", help="only this design, with all it needs")
    sub = command("import", "Bring items of a JSON export into a book")
    sub.add_argument("--book", required=True, help="workshop book; made when it is not there")
    sub.add_argument("file")
    sub.add_argument("--keep", action="store_true", help="keep what is in the book where both have an item")
    sub = command("find", "What in the shop meets a need, proved; else what to make", book=True, as_json=True)
    sub.add_argument("need", help='for example "hold round 140 x 40 on Hazel, top clear"')
    sub.add_argument("--units", choices=("mm", "in"), default="mm", help="unit of bare sizes")
    sub = command("merge", "Bring another book, or an export, into a book; what both changed is kept as two", as_json=True)
    sub.add_argument("other", help="a book or a JSON export; it is only read")
    sub.add_argument("--book", required=True, help="workshop book; made when it is not there")
    sub.add_argument("--prefer", choices=("both", "mine", "theirs"), default="both", help="what becomes of things both changed")
    sub = command("check", "Check a book without writing to it")
    sub.add_argument("book")


def _instruments(sub: argparse.ArgumentParser) -> None:
    sub.add_argument("action", choices=("list", "start", "read", "stop", "plug"))
    sub.add_argument("names", nargs="*", metavar="NAME", help="caliper-1, dial-1, readout-1 …")
    sub.add_argument("--truth", default="", metavar="FILE", help="what they measure, as JSON by instrument")
    sub.add_argument("--count", type=int, default=1, help="so many readings")
    sub.add_argument("--seed", type=int, default=0, help="of their errors")
    sub.add_argument("--device", default="", metavar="LINE", help="plug: the serial line of a real instrument, /dev/ttyUSB0")
    sub.add_argument("--kind", default="caliper", help="plug: what it is, when it does not say so itself")
    sub.add_argument("--uncertainty", type=float, default=0.02, help="plug: of one reading, 95 of 100, mm or degrees")
    sub.add_argument("--baud", type=int, default=9600, help="plug: speed of the line")
    sub.add_argument("--unit", default="", choices=("", "mm", "in", "deg", "C"), help="plug: unit of bare numbers")

"""What several commands share: the shop they work in, the design they are asked for, how data is printed."""

from __future__ import annotations

import argparse
import json
from pathlib import Path

from elbrix.book.documents import shop_of
from elbrix.book.store import Book
from elbrix.demo import documents
from elbrix.design.family import Design, Family, Request, find_family, parameter_of, read_choices, solve_for
from elbrix.design.patterns import read_from_file
from elbrix.parameters.parameter import Kind
from elbrix.quantities.errors import ShopError
from elbrix.results.length_text import plain
from elbrix.shop.shop import Shop


def print_json(data: object) -> None:
    """As the command line prints data."""
    print(plain(json.dumps(data, ensure_ascii=False, indent=1)))


def shop_in(book: str | None) -> Shop:
    """The shop of a book, or the demo shop."""
    if not book:
        return shop_of(documents())
    opened = Book.open(Path(book))
    try:
        return opened.shop
    finally:
        opened.close()


def solve(options: argparse.Namespace) -> tuple[Family, Shop, Request, Design]:
    """A design as it is asked for on the command line.

    Raises:
        ShopError: A family, machine or value there is not.
    """
    family = find_family(options.family)
    shop = shop_in(options.book)
    pairs = []
    for text in options.set:
        name, sign, value = text.partition("=")
        if not sign:
            raise ShopError(
                "--set", f"“{text}” has no =", "A value is set as name=value", "Write for example --set neck_width=11.7"
            )
        if value.startswith("@") and parameter_of(family, name).kind in (Kind.PLACES, Kind.OUTLINE):
            value = read_from_file(parameter_of(family, name).kind, Path(value[1:]))
        pairs.append((name, value))
    machine = shop.machine(options.machine).id if options.machine else ""
    request = Request(machine=machine, slot=options.slot, pieces=options.pieces)
    return family, shop, request, solve_for(family, shop, request, read_choices(family, pairs))

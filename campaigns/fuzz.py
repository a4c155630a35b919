"""Random text into every grammar, importer and calculation: each is read, or refused in words."""

from __future__ import annotations

import contextlib
import json
import random
import time
from collections.abc import Callable

from elbrix.answers.answer import ShopContext
from elbrix.answers.ask import ask
from elbrix.answers.tape.line import work_out
from elbrix.answers.topics import all_topics
from elbrix.book.documents import shop_of
from elbrix.book.items_file import read_items
from elbrix.cli.calc import CALCS, answer
from elbrix.demo import documents
from elbrix.design.patterns import pattern_from_csv, pattern_from_dxf
from elbrix.exchange.outlines import outline_from_dxf
from elbrix.finding.need import read_need
from elbrix.instruments.behaviour import read_truth
from elbrix.instruments.listener import Listener
from elbrix.parameters.places import read_places
from elbrix.quantities.angles import parse_angle
from elbrix.quantities.decimals import parse_decimal, parse_height
from elbrix.quantities.errors import ShopError
from elbrix.quantities.lengths import Length
from elbrix.quantities.names import parse_drill, parse_thread
from elbrix.shop.shop import Shop

_PIECES = (
    *"0123456789.,;:/-+*'\"°×x() \t\n\x00",
    "mm", "in", "deg", "M10", "1/2-13", "#7", "1e300", "nan", "-0", "grid", "circle 6 on 90", "row 12,30 + 5 x 25", "²", "½", "µ",
    "sin", "sqrt", "^", "#1", "triangle a=", " on Pip x", "divide ", " on Clover", "hold round ",
    "lift ", "±", "caliper-1 length ", " mm ±0.02 ",
    "tap drill", "sine", "stack", "torque", "{", "}", "[", "]", '"calc"', "\ud800", "ß", "五", "1_0",
)  # fmt: skip
_WORLD = ShopContext(Shop())
_DEMO = shop_of(documents())
_DEMO_WORLD = ShopContext(_DEMO)
_MORE = [
    "H7",
    "g6",
    "M8",
    "M10x1",
    "1/4-20",
    "25",
    "12.5",
    "mm",
    "in",
    "-3",
    "0",
    "1e9",
    "53d14m",
    "20",
    "deg",
    "brass",
    "steel",
    "8.8",
    "300",
    "rpm",
    "5",
    "um",
    "dry",
    "oiled",
    "long",
    "off",
    "Clover",
]
_EAR = Listener()
_READERS: dict[str, Callable[[str], object]] = {
    "length": lambda t: Length.parse(t, "mm", "x", -1e6, 1e6),
    "angle": lambda t: parse_angle(t, "x"),
    "thread": parse_thread,
    "drill": parse_drill,
    "places": lambda t: read_places(t, "in", "x"),
    "decimal": lambda t: parse_decimal(t, "x"),
    "height": lambda t: parse_height(t, "x"),
    "ask": lambda t: ask(t, _WORLD),
    "tape": lambda t: work_out(t, _DEMO, "in"),
    "need": lambda t: read_need(t, _DEMO),
    "instrument": _EAR.hear,
    "truth": read_truth,
    "json": read_items,
    "csv": lambda t: pattern_from_csv(("x_mm,y_mm\n" + t).encode("utf-8", "replace")),
    "dxf holes": lambda t: pattern_from_dxf(("0\nSECTION\n2\nENTITIES\n" + t).encode("utf-8", "replace")),
    "dxf outline": lambda t: outline_from_dxf(("0\nSECTION\n2\nENTITIES\n" + t).encode("utf-8", "replace")),
}
_VALUES = (
    {"east": 0, "west": 1, "north": 1e308, "south": -1}, {"0": 1, "90": 0, "180": 0, "270": 1}, [[0, 0], [1, 0], [0, 1]],
    [1, 2, 3],
    [{"a": 0, "b": 1, "value": 12}], [[1e308, 1], [1, 2]], "1/2 + 3", "triangle a=1 b=2 c=3", "#1", "in", 0.001,
    0, -1, 1e308, 12.5, "12", "41.7265", [1, 2], {}, None, True, "x" * 100, [], [[0, 0, 1]], "m88",
)  # fmt: skip


def _calc(chance: random.Random) -> object:
    keys = (
        "set", "target", "targets", "centres_mm", "angle_deg", "table", "size", "dim", "blocks", "deviation_um", "contacts",
        "loads", "readings", "points", "readings_mm", "angles_deg", "sweep_d_mm", "wanted_mm",
        "measured_mm", "sigma_mm", "pins_mm", "over_mm",
        "pairs", "lower_mm", "upper_mm", "u_mm", "travel_mm", "pivot_to_end_mm", "height_mm", "first_mm",
        "reversed_mm", "text", "lines", "unit", "slot", "thread", "max_blocks_total", "tol_um", "wear_blocks",
    )  # fmt: skip
    asked = {"calc": chance.choice((*CALCS, "nothing"))}
    asked |= {chance.choice(keys): chance.choice(_VALUES) for _ in range(chance.randint(0, 4))}
    found = answer(asked)
    json.dumps(found, allow_nan=False, default=str)
    return found


def _mixed(chance: random.Random) -> None:
    """The beginning of one question that works and the end of another, with something more in it."""
    first, second = (chance.choice(chance.choice(all_topics()).examples).split() for _ in range(2))
    said = first[: chance.randint(0, len(first))] + second[chance.randint(0, len(second)) :]
    for _ in range(chance.randint(0, 2)):
        said.insert(chance.randint(0, len(said)), chance.choice(_MORE))
    ask(" ".join(said), _DEMO_WORLD)


def run(count: int, seed: int) -> dict[str, object]:
    """So many texts in all, spread over the readers."""
    chance = random.Random(seed)
    names = [*_READERS, "calc", "mixed questions"]
    taken = dict.fromkeys(names, 0)
    uncaught: list[str] = []
    slowest, slow = 0.0, ""
    for n in range(count):
        name = names[n % len(names)]
        text = "".join(chance.choice(_PIECES) for _ in range(chance.randint(0, 24)))
        begun = time.monotonic()
        try:
            with contextlib.suppress(ShopError):
                _calc(chance) if name == "calc" else _mixed(chance) if name == "mixed questions" else _READERS[name](text)
                taken[name] += 1
        except Exception as error:  # noqa: BLE001 - that is what is looked for
            uncaught.append(f"{name}: {type(error).__name__} on {text!r}"[:200])
        spent = time.monotonic() - begun
        if spent > slowest:
            slowest, slow = spent, f"{name}: {text!r}"[:120]
    return {
        "texts": count,
        "taken": sum(taken.values()),
        "lost": len(uncaught),
        "uncaught": uncaught[:10],
        "slowest_s": round(slowest, 2),
        "slowest": slow,
    }

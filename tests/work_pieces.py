"""Work and things that hold, made up for the tests."""

from __future__ import annotations

import random

from msgspec.structs import replace

from elbrix.geometry.shapes import circle, rectangle
from elbrix.holding.layout import Piece


def round_work(radius: float, high: float, bottom: float = 0.0) -> Piece:
    return Piece(
        shape="a round",
        outline=circle(radius, 96),
        middle=(0.0, 0.0),
        bottom_mm=bottom,
        height_mm=high,
        cut_depth_mm=1.0,
        material="mild steel",
        weight_n=20.0,
        cg=(0.0, 0.0, bottom + high / 2),
    )


def block(long: float, wide: float, x: float = 0.0, y: float = 0.0, high: float = 25.0) -> Piece:
    ring = tuple((a + x, b + y) for a, b in rectangle(long, wide))
    return replace(round_work(40.0, high), shape="a block", outline=ring, middle=(x, y))


def any_of(chance: random.Random, **choices: tuple[object, ...]) -> dict[str, str]:
    """One of each; a pair of numbers is a range."""
    found = {}
    for name, values in choices.items():
        ranged = len(values) == 2 and all(isinstance(v, float) for v in values)
        found[name] = f"{chance.uniform(*values):.0f}" if ranged else f"{chance.choice(values)}"  # type: ignore[arg-type]
    return found


#: What may be chosen of each thing: the values, or a range.
SAID: dict[str, dict[str, tuple[object, ...]]] = {
    "strap": {"x": (56.0, 95.0), "direction": (180,), "stud_to_tip": (8.0, 60.0), "torque": (4, 12, 25, 60, 110)},
    "toe": {"x": (60.0, 95.0), "direction": (180, 184, 192, 210), "torque": (1, 2, 5, 12, 30), "bolt_torque": (2, 10, 30)},
    "stop": {"x": (-110.0, -60.0), "direction": (0,), "bolt_torque": (2, 10, 30)},
    "support": {"x": (-60.0, 60.0), "y": (-30.0, 30.0), "height": (10, 25.4, 38)},
    "vise": {
        "torque": (5, 20, 40, 90),
        "offset": (0, 20, 45, 60),
        "spacer": ("no", "yes"),
        "mounting": ("bolted", "floating"),
        "bolts": (2, 4, 6),
        "bolt_torque": (2, 25, 60),
    },
    "split_vise": {"torque": (5, 20, 40, 90), "stands": ("slot", "rails"), "fixed": ("left", "right"), "bolts": (2, 4)},
    "plate": {
        "torque": (1, 6, 14, 40),
        "thickness": (6, 12, 20),
        "pins": ("none", "two full", "relieved"),
        "pin_clearance": (0.005, 0.02, 0.1),
        "spacing_error": (0.01, 0.04),
        "bolts": (2, 4, 6),
    },
    "backing_bar": {"x": (-10.0, 10.0), "y": (-8.0, 8.0), "height": (3, 12, 25)},
}

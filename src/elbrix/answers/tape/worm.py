"""A rotary table in a line: so many divisions, or an angle, as turns of its worm."""

from __future__ import annotations

import re
from collections.abc import Callable, Mapping
from fractions import Fraction
from typing import Any, Final

from msgspec import Struct

from elbrix.answers.tape.amounts import ANGLE, NONE, Amount, refuse
from elbrix.answers.tape.reckoning import reckon
from elbrix.mechanics.dividing import Dividing, WormTurn, divide, turn_worm
from elbrix.quantities.errors import ShopError
from elbrix.results.figures import format_number
from elbrix.shop.machines import Machine, MachineKind
from elbrix.shop.shop import Shop

_ON: Final = r"(?:\s+on\s+(?P<machine>.+?))?\s*"
#: "divide 7 on Clover", "divide into 7", "index 13 on Clover", "dividing 7 holes".
_ASKED: Final = re.compile(
    r"\s*(?:divide|dividing|index|indexing)\s+(?:by\s+|into\s+|for\s+)?(?P<count>[\d(#]\S*)"
    r"(?:\s+(?:holes?|teeth|parts?|sides?|flats?|divisions?))?" + _ON,
    re.IGNORECASE | re.DOTALL,
)
#: "7 divisions on Clover".
_COUNTED: Final = re.compile(r"\s*(?P<count>[\d(#]\S*)\s+divisions" + _ON, re.IGNORECASE | re.DOTALL)
#: "turn Clover 25d30m", "worm turns for 25 deg on Clover".
_TURN: Final = re.compile(r"\s*turn\s+(?P<machine>\S+)\s+(?:by\s+)?(?P<angle>.+?)\s*", re.IGNORECASE | re.DOTALL)
_WORM: Final = re.compile(r"\s*worm(?:\s+turns?)?\s+(?:for\s+)?(?P<angle>.+?)" + _ON, re.IGNORECASE | re.DOTALL)

Named = Callable[[str, Shop], Machine]


class Worm(Struct, frozen=True):
    """What was asked of which machine: a count, or an angle; "" is none."""

    machine: str
    count: str = ""
    angle: str = ""


def worm_asked(text: str, shop: Shop) -> Worm | None:
    """A text read as a question about dividing; None: it is none.

    What is turned has to be a machine of the shop: anything can be turned on a lathe.
    """
    names = {m.name.casefold() for m in shop.machines}
    for form in (_ASKED, _COUNTED, _TURN, _WORM):
        match = form.fullmatch(text)
        if match and (form is not _TURN or match["machine"].casefold() in names):
            return Worm(**{k: v or "" for k, v in match.groupdict().items()})
    return None


def worm_table(asked: Worm, shop: Shop, named: Named) -> Machine:
    """The machine that was named; without a name the only one with a worm.

    Raises:
        ShopError: None, or several.
    """
    if asked.machine:
        machine = named(asked.machine, shop)
    else:
        tables = [m for m in shop.machines if m.worm_turns > 0]
        if len(tables) > 1:
            have = ", ".join(m.name for m in tables)
            raise refuse(
                "which rotary table is not said", f"Worms differ, and the shop has {have}", f"divide 7 on {tables[0].name}"
            )
        rotary = [m for m in shop.machines if m.kind is MachineKind.ROTARY_TABLE]
        if not (tables or rotary):
            raise refuse("there is no rotary table in Shop", "Every division is a share of its worm's turns", "Add it in Shop")
        machine = (tables or rotary)[0]
    if machine.worm_turns < 1:
        raise ShopError(
            machine.name, "its worm is not listed", "Every division is a share of its turns", "Give its ratio in Shop"
        )
    return machine


def divisions(asked: Worm, machine: Machine, lines: Mapping[int, Amount] | None) -> Dividing:
    """So many divisions.

    Raises:
        ShopError: They are no whole number, or cannot be counted.
    """
    number = reckon(asked.count, "", lines)
    if number.dims != NONE or number.number != int(number.number):
        raise refuse(f"{asked.count[:24]} divisions", "It is a whole number", "Check it")
    return divide(int(number.number), machine.worm_turns, machine.index_circles, machine.worm_marks)


def angle(asked: Worm, machine: Machine, lines: Mapping[int, Amount] | None) -> tuple[Amount, WormTurn]:
    """An angle, and the worm's turns for it.

    Raises:
        ShopError: It is no angle, or cannot be counted.
    """
    amount = reckon(asked.angle, "", lines)
    if amount.dims != ANGLE:
        raise refuse(f"{asked.angle[:24]} is no angle", "A table turns by degrees", f"turn {machine.name} 25d30m")
    exact = Fraction(amount.number)
    return amount, turn_worm(exact, machine.worm_turns, machine.index_circles, machine.worm_marks)


def off_words(error_deg: float, *, most: bool = False) -> str:
    """What the nearest setting leaves, in seconds of arc; "" when it is exact."""
    seconds = format_number(abs(error_deg) * 3600, 1)
    return "" if not error_deg else f"; nearest, {'at most ' if most else ''}{seconds}″ off"


def plain(found: Dividing) -> dict[str, Any]:
    """What else belongs to a dividing, as data."""
    return {
        "circle": found.circle,
        "on_dial": found.on_dial,
        "error_deg": found.error_deg,
        "places": [list(p) for p in found.places[:400]],
    }

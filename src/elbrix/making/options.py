"""How a shop wants a thing made: kept in the book, so it stands apart from the plan it leads to."""

from __future__ import annotations

from typing import Literal

from msgspec import Struct


class Options(Struct, frozen=True, kw_only=True):
    """How this shop wants it made."""

    machine: str = ""  #: id; empty: the design's own if it mills, else the first that does
    style: Literal["full", "quick"] = "full"  #: square all faces first, or "quick"
    passes: Literal["equal", "creep"] = "equal"  #: equal finishing cuts, or "creep"
    bar: str = ""  #: id of the chosen bar; empty: the best
    cutter: str = ""  #: id of the chosen end mill; empty: the best
    spring_pass: bool = False
    rip: bool = False  #: a bar that is much too wide is sawn lengthwise first
    heat: Literal["", "stress relief", "anneal", "harden", "case", "blacken"] = ""
    datum: Literal["middle", "corner"] = "middle"  #: where Y is counted from on a finished piece
    holes: Literal["ream", "two drills"] = "ream"  #: how a close hole is finished
    climb: Literal["", "no", "finish only", "yes"] = ""  #: empty: as the machine says
    touch_off: str = ""  #: id of the tool sides are touched with; empty: the first of the machine
    lathe: Literal["", "four-jaw", "centres"] = ""  #: what round work is held in; empty: a collet that fits, else the chuck

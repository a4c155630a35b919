"""A need in words, taken apart: every word and number has a part in it, or the need is refused and the part is named."""

from __future__ import annotations

import math
import re
from typing import Any, Final

from msgspec import Struct

from elbrix.answers.question import Question, read_question
from elbrix.quantities.errors import ShopError
from elbrix.quantities.grammar import clip
from elbrix.results.length_text import LENGTH_UNIT, length
from elbrix.shop.shop import Shop

_HOLD: Final = frozenset(["hold", "holding", "clamp", "grip", "workholding"])
_STUD: Final = frozenset(["stud", "nut", "nuts", "slot", "t-nut", "t-slot", "bolt"])
_STOP: Final = frozenset(["stop", "quill", "depth", "travel"])
_LIFT: Final = frozenset(["lift", "raise", "packing", "higher", "up", "height"])
_ANGLE: Final = frozenset(["angle", "set", "tilt", "incline", "wedge", "bevel"])
_SHAPES: Final = {
    "round": "round",
    "disc": "round",
    "disk": "round",
    "dial": "round",
    "block": "block",
    "plate": "block",
    "bar": "block",
}
_CLEAR: Final = frozenset(["clear", "free", "open"])
_FACES: Final = {"top": "top", "sides": "sides", "side": "sides"}
_FILLING: Final = frozenset(
    [
        "x",
        "by",
        "within",
        "closer",
        "near",
        "mm",
        "inch",
        "inches",
        "long",
        "wide",
        "high",
        "thick",
        "diameter",
        "dia",
        "piece",
        "face",
        "whole",
        "it",
    ]
)
_NEARNESS: Final = frozenset(["within", "closer", "near"])
EXAMPLES: Final = (
    "hold round 140 x 40 on Hazel, top clear",
    "M12 stud in an 18 slot",
    "32.5 deg on a 60 block to 2 minutes",
    "stop the quill at 41.7",
    "lift the vise 60",
)
_LARGEST_MM: Final = 3000.0


class Need(Struct, frozen=True, kw_only=True):
    """What is wanted; sizes in mm, angles in radians.

    Attributes:
        what: "hold", "stud", "angle", "stop" or "lift".
        shape: "round" or "block", of what is held.
        sizes: Of the work, in the order they were said; or the one height, travel or slot width.
        thread: Of a stud.
        angle: To be set; 0 when none.
        close: How near; 0 when not said. Radians for an angle, mm for a height.
        machine: Id, "" for any.
        clear: Faces that must stay free: "top", "sides".
    """

    what: str
    shape: str = ""
    sizes: tuple[float, ...] = ()
    thread: str = ""
    angle: float = 0.0
    close: float = 0.0
    machine: str = ""
    clear: tuple[str, ...] = ()

    def told(self) -> dict[str, Any]:
        """As plain data: only what was said."""
        said: dict[str, Any] = {"what": self.what}
        if self.shape:
            said["shape"] = self.shape
        if self.sizes:
            said["sizes_mm"] = list(self.sizes)
        if self.thread:
            said["thread"] = self.thread
        if self.angle:
            said["angle_deg"] = math.degrees(self.angle)
        if self.close:
            said |= {"close_arcmin": math.degrees(self.close) * 60} if self.what == "angle" else {"close_mm": self.close}
        if self.machine:
            said["machine"] = self.machine
        if self.clear:
            said["clear"] = list(self.clear)
        return said


def read_need(text: str, shop: Shop, unit: str = "mm") -> Need:
    """Take a need apart.

    Args:
        text: "hold round 140 x 40 on Hazel, top clear".
        shop: For its machines' names.
        unit: Of bare sizes, "mm" or "in".

    Raises:
        ShopError: Not understood, contradictory, or a part of it has no meaning here.
    """
    names = {m.name.casefold(): m.id for m in shop.machines}
    plain, machine = _without_machine(text, names)
    known = _HOLD | _STUD | _STOP | _LIFT | _ANGLE | _CLEAR | _FILLING | frozenset(_SHAPES) | frozenset(_FACES) | {"vise"}
    plain = re.sub(r"\b[Ii]t\b", " ", plain)  # the pronoun, which in front of a number would be a tolerance grade
    q = read_question(plain.replace(";", " ").replace(", ", " ").rstrip(",."), known, unit)
    need = _by_kind(q, machine)
    if unused := [u for u in q.unused(known) if u.lower() not in _FILLING]:
        named = ", ".join(clip(u) for u in unused[:3])
        raise _refuse(f"{named} has no meaning here", "It could change what would do, so nothing is offered")
    if any(not (0 < s <= _LARGEST_MM) for s in need.sizes):
        raise _refuse("a size that nothing has", f"Sizes are above 0 and at most {length(_LARGEST_MM)} {LENGTH_UNIT}")
    return need


def _refuse(what: str, why: str) -> ShopError:
    return ShopError("Find", what, why, f"Say for example: {EXAMPLES[0]}; {EXAMPLES[1]}; {EXAMPLES[2]}")


def _without_machine(text: str, names: dict[str, str]) -> tuple[str, str]:
    """(the text without a machine's name, its id); the longest name that stands there."""
    low = text.casefold()
    for name in sorted(names, key=len, reverse=True):
        at = low.find(name)
        if at >= 0 and not low[max(0, at - 1) : at].isalnum() and not low[at + len(name) : at + len(name) + 1].isalnum():
            before = text[:at].rstrip()
            before = before[: -len(" on")] if before.casefold().endswith(" on") else before
            return before + " " + text[at + len(name) :], names[name]
    return text, ""


def _sizes(q: Question) -> tuple[float, ...]:
    found = []
    while (size := q.length()) is not None:
        found.append(size)
    return tuple(found)


def _by_kind(q: Question, machine: str) -> Need:
    shape = next((_SHAPES[w] for w in q.words if w in _SHAPES), "")
    faces = tuple(dict.fromkeys(_FACES[w] for w in sorted(q.words) if w in _FACES)) if q.words & _CLEAR else ()
    if q.words & _HOLD:
        sizes = _sizes(q)
        shape = shape or ("block" if len(sizes) == 3 else "")
        wanted = {"round": 2, "block": 3}.get(shape)
        if wanted is None:
            raise _refuse("the shape is missing", "A round and a block are held in different ways")
        if len(sizes) != wanted:
            raise _refuse(
                f"{len(sizes)} sizes of a {shape}", "A round has a diameter and a height, a block length, width and height"
            )
        if set(faces) == {"top", "sides"}:
            raise _refuse(
                "top and sides clear at once", "Nothing is left to hold it by but its holes: lay it out in Hold on a plate"
            )
        return Need(what="hold", shape=shape, sizes=sizes, machine=machine, clear=faces)
    if (thread := q.thread()) is not None:
        sizes = _sizes(q)
        if len(sizes) > 1:
            raise _refuse(f"{len(sizes)} widths of a slot", "A slot has one")
        return Need(what="stud", thread=str(thread), sizes=sizes, machine=machine)
    if (angle := q.angle()) is not None:
        close, sizes = q.angle() or 0.0, _sizes(q)  # "to 2 minutes"
        if close >= angle:
            raise _refuse("a nearness larger than the angle", "Everything would do")
        if not 0 < angle < math.pi / 2:
            raise _refuse(f"{math.degrees(angle):g}°", "An angle is set between 0° and 90°")
        if len(sizes) > 1:
            raise _refuse(f"{len(sizes)} lengths", "The work has one that it is set by")
        return Need(what="angle", angle=angle, close=close, sizes=sizes, machine=machine)
    if q.words & {"stop", "quill", "depth"}:
        return Need(what="stop", sizes=_one(q, "how far it stops"), machine=machine)
    if q.words & _LIFT:
        return _lift(q, machine)
    raise _refuse("that was not understood", "A need is to hold, to pull a stud, to set an angle, to stop or to lift")


def _lift(q: Question, machine: str) -> Need:
    sizes, close = _sizes(q), 0.0
    if q.words & _NEARNESS and len(sizes) == 2:  # "lift 40 within 0.01"
        high, close = sizes
        if close >= high:
            raise _refuse("a nearness larger than the height", "Everything would do")
        sizes = (high,)
    return Need(what="lift", sizes=_only(sizes, "how high"), close=close, machine=machine)


def _one(q: Question, what: str) -> tuple[float, ...]:
    return _only(_sizes(q), what)


def _only(sizes: tuple[float, ...], what: str) -> tuple[float, ...]:
    if len(sizes) != 1:
        raise _refuse(f"{what} is {'missing' if not sizes else 'said twice'}", "It is one number")
    return sizes

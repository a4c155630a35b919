"""Numbers as they were keyed at the machine: read from text, and a wrong one told apart by its likely cause."""

from __future__ import annotations

import re
from collections.abc import Sequence
from typing import Final

from msgspec import Struct

from elbrix.making.plan import Move, Operation, Plan, Position, Setup
from elbrix.quantities.errors import EntryError
from elbrix.quantities.lengths import MM_PER_INCH
from elbrix.results.length_text import LENGTH_UNIT, length
from elbrix.shop.machines import Axis, Machine

#: "3t12.5", "-3 t 12.5", "12.5": turns and divisions of a handwheel.
_TURNS: Final = re.compile(r"\s*([+\-−]?)\s*(?:(\d+)\s*t)?\s*(\d+(?:\.\d+)?)?\s*", re.ASCII)
_NUMBER: Final = re.compile(r"\s*[+\-−]?\s*(?:\d+(?:\.\d*)?|\.\d+)\s*", re.ASCII)
#: Nothing on a bench machine is farther away, mm.
_FARTHEST: Final = 5000.0
#: Two numbers this near are the same, mm; in share of a number for units and decimals.
_SAME_MM: Final = 0.003
_SAME_SHARE: Final = 0.002


class Slip(Struct, frozen=True, kw_only=True):
    """The first wrong move, and what was probably done there."""

    move: str
    axis: str
    cause: str  #: digit, decimal, sign, axis, unit, diameter, tool_allowance, turn, backlash, orientation, cutter or datum
    words: str


def read_keyed(text: str, position: Position, machine: Machine | None) -> float:
    """What an axis was really set to, mm on its dial, from the text that was keyed.

    Args:
        text: As shown on the machine's card: a readout number, or turns and divisions "3t12.5".

    Raises:
        EntryError: No number, or one beyond any slide.
    """
    wheel = machine.axes.get(position.axis) if machine is not None else None
    by_hand = wheel is not None and machine is not None and not machine.readout_step_mm
    if by_hand:
        assert wheel is not None
        found = _TURNS.fullmatch(text)
        if found is None or not (found[2] or found[3]):
            raise EntryError(
                "Keyed number",
                f"“{text[:20]}” is no handwheel setting",
                f"{position.axis} has no readout: it is set in turns and divisions",
                "Write it as 3t12.5, with a minus for back",
                entry=position.axis,
            )
        value = int(found[2] or 0) * wheel.turn_mm + float(found[3] or 0) * wheel.division_mm
        value = -value if found[1] in ("-", "−") else value
    else:
        if _NUMBER.fullmatch(text) is None:
            raise EntryError(
                "Keyed number",
                f"“{text[:20]}” is no number",
                "A readout shows a plain decimal number",
                "Write it as it stands on the readout, with a point",
                entry=position.axis,
            )
        value = float(text.replace("−", "-").replace(" ", "")) * (MM_PER_INCH if position.unit == "in" else 1.0)
    if not abs(value) <= _FARTHEST:
        raise EntryError(
            "Keyed number",
            f"{text[:20]} is beyond any slide",
            "No bench machine travels that far",
            "Key it again",
            entry=position.axis,
        )
    travel = wheel.travel_mm if wheel is not None else 0.0
    if travel and abs(value) > travel:
        raise EntryError(
            "Keyed number",
            f"{length(value)} {LENGTH_UNIT}, and {position.axis} travels {length(travel)}",
            "The slide would stand at its end before it came there",
            "Key it again",
            entry=position.axis,
        )
    return value


def keyed_text(value_mm: float, position: Position, machine: Machine | None, *, exactly: bool = False) -> str:
    """What is keyed for a place: read back by `read_keyed`. Whole divisions, or tenths of them where it stands exactly."""
    wheel = machine.axes.get(position.axis) if machine is not None and not machine.readout_step_mm else None
    if wheel is None:
        per, places = (MM_PER_INCH, 4) if position.unit == "in" else (1.0, 3)
        return f"{value_mm / per:.{places}f}"
    turns, divisions = divmod(round(abs(value_mm) / wheel.division_mm, 1 if exactly else None), wheel.divisions)
    return f"{'-' if value_mm < 0 else ''}{int(turns)}t{round(divisions, 1):g}"


class Wrong(Struct, frozen=True, kw_only=True):
    """A number keyed beside the planned one, with what is known about it."""

    setup: Setup
    operation: Operation
    move: Move
    position: Position
    keyed_mm: float
    text: str
    wheel: Axis | None
    readout: bool
    lathe: bool

    @property
    def off(self) -> float:
        return self.keyed_mm - self.position.dial.set_mm


def _near(a: float, b: float, within: float = _SAME_MM) -> bool:
    return abs(a - b) <= within


def _like(a: float, b: float) -> bool:
    return abs(b) > 1e-9 and abs(a / b - 1) <= _SAME_SHARE


def cause_of(w: Wrong) -> tuple[str, str]:
    """The likely cause of a wrong number and a sentence about it; the most telling first."""
    for tell in (_of_the_whole_number, _of_its_terms, _of_the_readout if w.readout else _of_the_handwheel, _of_the_digits):
        cause, words = tell(w)
        if cause:
            return cause, words
    if w.move.zeroes:
        return (
            "datum",
            f"the zero of {w.position.axis} is off by {length(abs(w.off), 3)} {LENGTH_UNIT}: everything counted from it is",
        )
    return "digit", f"{w.position.axis} was set to another number than the card's {w.position.dial.text}"


def _of_the_whole_number(w: Wrong) -> tuple[str, str]:
    """Sign, axis, unit, radius for diameter, decimal point."""
    planned, keyed = w.position.dial.set_mm, w.keyed_mm
    axis, shown = w.position.axis, w.position.dial.text
    line = w.wheel.division_mm if w.wheel is not None and not w.readout else 0.0
    if _near(keyed, -planned, max(_SAME_MM, line / 2, abs(w.position.dial.off_mm) * 2)) and abs(planned) > _SAME_MM:
        return "sign", f"{axis} was keyed with the other sign: {shown} is wanted"
    for other in w.move.positions:
        if other.axis != axis and _near(keyed, other.dial.set_mm, max(_SAME_MM, line)) and not _near(planned, other.dial.set_mm):
            return "axis", f"the number of {other.axis} was keyed for {axis}"
    if _like(keyed, planned / MM_PER_INCH) or _like(keyed, planned * MM_PER_INCH):
        return "unit", f"{axis} was keyed in the other unit: 25.4 between them"
    if w.lathe and axis == "X" and any(_like(keyed, v) or _near(keyed, v, line) for v in (2 * planned, planned / 2)):
        return "diameter", "radius and diameter were taken for each other on the cross-slide"
    if any(_like(keyed, planned * k) for k in (10.0, 0.1, 100.0, 0.01, 1000.0, 0.001)):
        return "decimal", f"the decimal point of {axis} slipped: {shown} is wanted"
    return "", ""


def _of_its_terms(w: Wrong) -> tuple[str, str]:
    """Half a cutter or half a finder left out, or put in twice."""
    words = _allowance(w)
    return ("tool_allowance", words) if words else ("", "")


def _of_the_readout(w: Wrong) -> tuple[str, str]:
    """On a readout a digit is likelier than a turn or the backlash, which it does not show."""
    cause, words = _of_the_digits(w)
    return (cause, words) if cause else _of_the_handwheel(w)


def _of_the_handwheel(w: Wrong) -> tuple[str, str]:
    """A turn too many or too few, the backlash on the wrong side."""
    axis, wheel = w.position.axis, w.wheel
    if wheel is None:
        return "", ""
    within = _SAME_MM if w.readout else max(_SAME_MM, wheel.division_mm / 2)
    turns = round(abs(w.off) / wheel.turn_mm)
    if turns in (1, 2) and _near(abs(w.off), turns * wheel.turn_mm, within):
        way = "too far" if w.off * w.position.dial.set_mm > 0 else "short"
        return "turn", f"{axis} is {turns} turn{'s' if turns > 1 else ''} of the handwheel {way}"
    if wheel.backlash_mm and _near(abs(w.off), wheel.backlash_mm, within):
        return "backlash", f"{axis} is off by its backlash: it was come to from the wrong side"
    return "", ""


def _of_the_digits(w: Wrong) -> tuple[str, str]:
    """A digit dropped, doubled, swapped or changed."""
    shown = w.position.dial.text
    how = digits_differ(_digits(shown), _digits(w.text))
    return ("digit", f"a digit of {w.position.axis} was {how}: {shown} is wanted") if how else ("", "")


def _allowance(w: Wrong) -> str:
    """What was left out or put in twice, if a term of the number or the cutter's half accounts for it."""
    halves = [
        (t.words, abs(t.value_mm)) for t in w.position.terms if "half the" in t.words or t.words in ("feeler", "drill point")
    ]
    cutter = w.operation.cutter
    if cutter is not None and cutter.on != "lathe" and w.position.axis != "Z":
        size = cutter.width_mm if cutter.axis != "z" else cutter.diameter_mm
        halves.append(("half the cutter", size / 2))
    for words, value in halves:
        if value <= _SAME_MM or "bar" in words or "width" in words.replace("cutter's width", ""):
            continue
        for times, said in ((1.0, "left out or added once too often"), (2.0, "taken on the wrong side")):
            if _near(abs(w.off), times * value, max(_SAME_MM, 2 * abs(w.position.dial.off_mm))):
                return f"{words}, {length(value, 3)} {LENGTH_UNIT}, was {said} in {w.position.axis}"
    return ""


def _digits(text: str) -> str:
    """The digits of a shown or keyed number, without sign, unit, point, and zeros that say nothing."""
    number = re.sub(r"[^0-9.]", "", text.replace("t", "."))
    whole, _, part = number.partition(".")
    return whole.lstrip("0") + part.rstrip("0")


def digits_differ(planned: str, keyed: str) -> str:
    """How one string of digits came from another by one slip; empty when it did not."""
    if planned == keyed:
        return ""
    n = len(planned)
    for i in range(n):
        if planned[:i] + planned[i + 1 :] == keyed:
            return "dropped"
        if planned[:i] + planned[i] + planned[i:] == keyed:
            return "doubled"
        if i + 1 < n and planned[:i] + planned[i + 1] + planned[i] + planned[i + 2 :] == keyed:
            return "swapped with the next"
        if len(keyed) == n and planned[:i] == keyed[:i] and planned[i + 1 :] == keyed[i + 1 :]:
            return "changed"
    return ""


def named(plan: Plan, wrong: Sequence[Wrong], turned: dict[str, str], cutters: dict[str, float], wrong_at: str) -> Slip | None:
    """The slip behind the first wrong move; None when the metal is as planned."""
    if not wrong_at:
        return None
    order = {m.id: n for n, (_, _, m) in enumerate(plan.moves)}
    at = next((s, o, m) for s, o, m in plan.moves if m.id == wrong_at)
    here = [w for w in wrong if order[w.move.id] <= order[wrong_at] and abs(w.off) > 1e-9]
    if here:
        # The number at the wrong move itself, else the touch-off it is counted from.
        first = next((w for w in here if w.move.id == wrong_at), here[0])
        cause, words = cause_of(first)
        return Slip(move=first.move.id, axis=first.position.axis, cause=cause, words=f"“{first.move.words}”: {words}")
    setup, operation, move = at
    if setup.id in turned:
        how = {"end": "turned end for end", "over": "turned over", "mirrored": "put in mirrored"}[turned[setup.id]]
        lie = setup.lie
        stands = f": {lie.up} up, {lie.away} away, {lie.right} to the right is wanted" if lie is not None else ""
        return Slip(move=move.id, axis="", cause="orientation", words=f"“{setup.title}”: the work is {how}{stands}")
    size = cutters.get(operation.title, cutters.get(move.id))
    if size is not None and operation.cutter is not None:
        should = operation.cutter.width_mm if operation.cutter.axis != "z" else operation.cutter.diameter_mm
        return Slip(
            move=move.id,
            axis="",
            cause="cutter",
            words=f"“{move.words}”: a cutter of {length(size)} {LENGTH_UNIT} is in the spindle, {length(should)} is wanted",
        )
    return None

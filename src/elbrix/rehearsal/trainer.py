"""Practice: one slip is put into a good card, the learner finds it. The slip is one that would be seen in the metal."""

from __future__ import annotations

import random
from collections.abc import Iterator
from typing import Final

from msgspec import Struct

from elbrix.making.dials import on_dial
from elbrix.making.plan import Move, Operation, Plan, Position
from elbrix.quantities.errors import EntryError
from elbrix.quantities.lengths import MM_PER_INCH
from elbrix.rehearsal.at_readout import machine_of
from elbrix.rehearsal.keyed import keyed_text
from elbrix.rehearsal.slips import SlipsMade, rehearse_slips
from elbrix.shop.machines import Machine, MachineKind
from elbrix.shop.shop import Shop

#: Tries before a plan is said to have nothing to hide in.
_TRIES: Final = 40


class Hidden(Struct, frozen=True, kw_only=True):
    """A number that stands wrong on the card."""

    move: str
    axis: str
    shown: str  #: what the card says instead
    keyed: str  #: the same as it would be keyed
    words: str  #: what is wrong with it, for when it is found
    harm: str  #: what it would do to the part


def hide(plan: Plan, shop: Shop, seed: int) -> Hidden | None:
    """One slip in a plan, the same for the same seed; None where no number can go wrong unseen before the metal shows it."""
    rng = random.Random(seed)
    places = [(s, o, m, p) for s, o, m in plan.moves if m.strokes and not m.zeroes for p in m.positions]
    for _ in range(_TRIES if places else 0):
        setup, operation, move, position = rng.choice(places)
        machine = machine_of(setup, plan, shop)
        wrong = [v for v in _wrong(operation, move, position, machine) if abs(v - position.dial.set_mm) > 0.04]
        if not wrong:
            continue
        value = rng.choice(wrong)
        keyed, shown = _texts(value, position, machine)
        if shown == position.dial.text:
            continue  # a lathe's cross-slide shows no sign
        try:
            heard = rehearse_slips(plan, shop, SlipsMade(keyed={f"{move.id}.{position.axis}": keyed}))
        except EntryError:
            continue  # beyond the travel: nobody would believe it
        harm = [f for f in heard.findings if f.kind in ("gouge", "left")]
        if heard.slip is not None and heard.slip.move == move.id and harm:
            return Hidden(move=move.id, axis=position.axis, shown=shown, keyed=keyed, words=heard.slip.words, harm=harm[0].words)
    return None


def _wrong(operation: Operation, move: Move, position: Position, machine: Machine | None) -> Iterator[float]:
    """Values a number can take by one slip."""
    mm = position.dial.set_mm
    yield -mm
    for other in move.positions:
        if other.axis != position.axis:
            yield other.dial.set_mm
    wheel = machine.axes.get(position.axis) if machine is not None and not machine.readout_step_mm else None
    if wheel is not None:
        yield mm + wheel.turn_mm
        yield mm - wheel.turn_mm
    else:
        yield from _digits_swapped(mm, position.unit)
    tool = operation.cutter
    if tool is not None and position.axis != "Z" and tool.on != "lathe" and any("half the" in t.words for t in position.terms):
        half = (tool.width_mm if tool.axis != "z" else tool.diameter_mm) / 2
        yield mm + half
        yield mm - half


def _digits_swapped(mm: float, unit: str) -> Iterator[float]:
    """Two neighbouring digits of a readout number the wrong way round, one dropped."""
    per = MM_PER_INCH if unit == "in" else 1.0
    text = f"{mm / per:.{4 if unit == 'in' else 3}f}"
    for i in range(len(text) - 1):
        if text[i].isdigit() and text[i + 1].isdigit() and text[i] != text[i + 1]:
            yield float(text[:i] + text[i + 1] + text[i] + text[i + 2 :]) * per
            yield float(text[:i] + text[i + 1 :]) * per


def _texts(value: float, position: Position, machine: Machine | None) -> tuple[str, str]:
    """A value as it is keyed, and as the card of its machine shows it."""
    there = machine or Machine(id="", name="a mill", kind=MachineKind.KNEE)
    shown = on_dial(there, position.axis, value, position.unit).text
    return keyed_text(value, position, machine), shown

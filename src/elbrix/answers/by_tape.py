"""The tape in Ask: a line of arithmetic, a triangle, a dial or dividing as an answer, and questions as lines of the tape."""

from __future__ import annotations

import contextlib
from collections.abc import Callable

from elbrix.answers.answer import Answer, ShopContext
from elbrix.answers.tape.amounts import Amount
from elbrix.answers.tape.line import TapeLine, work_out
from elbrix.quantities.errors import ShopError
from elbrix.results.figures import Figure


def tape_answer(text: str, world: ShopContext, unit: str) -> Answer:
    """A line worked out as an answer.

    Raises:
        ShopError: It cannot be.
    """
    line = work_out(text, world.shop, unit, kept_lines(world) if "#" in text else None)
    notes = [f"Exactly {line.exact} {line.exact_unit}".strip()] if "/" in line.exact else []
    return Answer(
        title=text.strip()[:60],
        figures=(
            Figure(key="tape", label="Result", value=line.value, unit=line.unit, text=line.text),
            *(
                Figure(key=f"row{k}", label=f"Division {k}, turned from zero", value=float(k), unit="", text=row)
                for k, row in enumerate(line.rows, 1)
            ),
        ),
        notes=tuple(notes),
        topic="tape",
        understood=text.strip(),
    )


def kept_lines(world: ShopContext) -> dict[int, Amount]:
    """The results of the lines kept with the job, by number; one that cannot be worked out any more has none."""
    found: dict[int, Amount] = {}
    for number, (asked, unit) in enumerate(world.tape, 1):
        with contextlib.suppress(ShopError):
            found[number] = work_out(asked, world.shop, unit, found).amount
    return found


def number_of(answer: Answer) -> tuple[float, str, str]:
    """(value, unit, text) of what was asked for."""
    figure = answer.figures[0]
    return figure.value, figure.unit, figure.text or f"{figure.value:g} {figure.unit}".strip()


def tape_line(
    text: str, world: ShopContext, unit: str, lines: dict[int, TapeLine], ask: Callable[[str, ShopContext, str], Answer]
) -> TapeLine:
    """A line of the tape, any question Ask answers with a number among them.

    Raises:
        ShopError: It cannot be worked out.
    """
    earlier = {n: line.amount for n, line in lines.items()}
    return work_out(text, world.shop, unit, earlier, lambda asked: number_of(ask(asked, world, unit or "mm")))

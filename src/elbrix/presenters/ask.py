"""What the answer card says. No widgets here."""

from __future__ import annotations

from msgspec.structs import replace

from elbrix.answers.answer import Answer, NotAnswered
from elbrix.answers.ask import examples
from elbrix.book.documents import JobDoc
from elbrix.presenters.card import Button, CardView, Row, Section
from elbrix.presenters.words import figure_row
from elbrix.quantities.lengths import UnitStyle
from elbrix.results.length_text import said_in

#: Lines of a tape that are listed.
_MAX_KEPT = 8
#: Rows longer than this have their value under their label.
_ONE_LINE = 50


def answer_card(answer: Answer, style: UnitStyle, job: str = "") -> CardView:
    """The figures with their working, what to know besides, and the buttons that go on.

    Args:
        job: Title of the design whose job it can be kept with; "" for none.
    """
    rows = _rows(answer, style)
    further = [Button(key="carry", text="Carry to a field", tip="Then click the number it is for, in any bench")]
    if job:
        further.append(
            Button(key="keep", text=f"Keep with {job[:28]}", tip="It is #1, #2 … from then on, and stands on the route card")
        )
    sections = [Section(title="", rows=rows, numbered=False, buttons=tuple(further) if rows else ())]
    if answer.notes or answer.cautions:
        text = said_in("\n".join((*answer.notes, *(f"▲ {c}" for c in answer.cautions))), style)
        sections.append(Section(title="Notes", text=text, numbered=False))
    buttons = (Button(key="go", text=answer.go.words, main=True, tip="Enter"),) if answer.go is not None else ()
    return CardView(sections=tuple(sections), buttons=buttons)


def _rows(answer: Answer, style: UnitStyle) -> tuple[Row, ...]:
    rows = []
    for i, figure in enumerate(answer.figures):
        row = figure_row(figure, style, strong=i == 0)
        rows.append(replace(row, wrap=len(row.label) + len(row.value) + len(row.unit) > _ONE_LINE))
    return tuple(rows)


def result_text(answer: Answer, style: UnitStyle) -> str:
    """What was asked for, alone and large."""
    first = answer.figures[0] if answer.figures else None
    return "" if first is None else said_in(first.text, style) or style.with_unit(first.value, first.unit, first.step)


def refusal_card(error: NotAnswered, style: UnitStyle) -> CardView:
    """Why there is no answer, and what would be answered."""
    return CardView(
        sections=(Section(title="", text=said_in(error.beside, style), numbered=False), _tries("These are answered", error.tries))
    )


def looking_card(so_far: Answer, style: UnitStyle) -> CardView:
    """While what meets a need is proved: what is known already, and nothing to press yet."""
    sections = []
    if so_far.figures:
        # What is still being solved is not calculated yet, and has no mark that says so.
        unsolved = {f.key for f in so_far.figures if f.derivation is None}
        rows = tuple(replace(row, origin="") if row.key in unsolved else row for row in _rows(so_far, style))
        sections.append(Section(title="", rows=rows, numbered=False))
    text = "\n".join(("Each way is solved before it is offered.", *so_far.notes))
    return CardView(sections=(*sections, Section(title="", text=text, numbered=False)))


def hello_card(job: JobDoc | None = None, title: str = "") -> CardView:
    """What can be asked, and what was kept with the job.

    Args:
        title: Of the job's design.
    """
    tries = _tries("In plain words, in any order, in mm or inches", examples())
    if job is None or not job.tape:
        return CardView(sections=(tries,))
    first = max(0, len(job.tape) - _MAX_KEPT)
    rows = tuple(
        Row(key=f"tape {n}", label=f"#{n + 1}   {e.asked}", value=e.text, edit="press", wrap=len(e.asked) + len(e.text) > 40)
        for n, e in enumerate(job.tape)
        if n >= first
    )
    buttons = (Button(key="tear", text="Tear off", tip="The lines kept with this job are taken away; undo brings them back"),)
    kept = Section(title=f"Kept with {title}", hint="press one to carry it", rows=rows, buttons=buttons, numbered=False)
    return CardView(sections=(kept, tries))


def _tries(title: str, tries: tuple[str, ...]) -> Section:
    rows = tuple(Row(key=f"try {t}", label=t, value="", edit="press") for t in tries)
    return Section(title=title, rows=rows, numbered=False)

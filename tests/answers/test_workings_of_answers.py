"""The line under an answer, worked again as it stands on paper, comes to the number beside it."""

from __future__ import annotations

import re
from collections.abc import Iterator
from pathlib import Path

import pytest

from elbrix.answers.answer import NotAnswered, ShopContext
from elbrix.answers.ask import all_topics, ask, world_of
from elbrix.demo import write_demo
from elbrix.quantities.errors import ShopError
from elbrix.results.figures import Figure
from elbrix.results.length_text import plain
from paper_arithmetic import evaluate

PAGE = Path(__file__).parents[2] / "docs" / "questions.md"
QUESTIONS = [
    line.strip("| \n").split("|")[0].strip()
    for line in PAGE.read_text(encoding="utf-8").splitlines()
    if line.startswith("| ") and not line.startswith(("| Question", "|---"))
]
#: What is shown of one of what a line comes to; angles come out in degrees.
_SCALE = {"%": 100.0, "kN": 0.001, "N·m": 0.001, "″": 3600.0, "µm": 1000.0}
#: The line says how far the next one is off, not what it is; how a unit is defined; a rule for choosing.
_NO_SUM = re.compile(r"drill − wanted|from the table|1 (?:in|lb) = |.*to the next lower step|fewest blocks|nearest of")


@pytest.fixture(scope="module")
def world(tmp_path_factory: pytest.TempPathFactory) -> Iterator[ShopContext]:
    book = write_demo(tmp_path_factory.mktemp("workings") / "demo.elbrix")
    yield world_of(book)
    book.close()


def lines(figures: tuple[Figure, ...]) -> Iterator[tuple[Figure, str]]:
    for figure in figures:
        how = figure.derivation
        if how is not None and how.with_numbers and not figure.text and not _NO_SUM.match(how.formula):
            yield figure, plain(how.with_numbers).partition(" = ")[0]


def test_every_line_comes_to_the_number_beside_it(world: ShopContext) -> None:
    worked, words = 0, set()
    for question in dict.fromkeys([*QUESTIONS, *(e for t in all_topics() for e in t.examples)]):
        try:
            answer = ask(question, world)
        except (NotAnswered, ShopError):
            continue
        for figure, line in lines(answer.figures):
            try:
                comes_to = evaluate(line)
            except (AssertionError, SyntaxError):
                words.add((answer.topic, figure.key))
                continue
            fits = [comes_to * s for s in (1.0, _SCALE.get(figure.unit, 1.0))]
            assert any(v == pytest.approx(figure.value, rel=2e-3, abs=2e-6) for v in fits), (question, figure.label, line)
            worked += 1
    assert worked > 380
    # Sums of a budget, ranges and names of materials are words; everything else can be worked.
    assert len(words) < 6, sorted(words)

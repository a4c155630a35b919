"""The two hundred questions of docs/questions.md, each with its answer worked by another road."""

from __future__ import annotations

import re
from collections.abc import Iterator
from pathlib import Path

import pytest

from elbrix.answers.answer import NotAnswered, ShopContext
from elbrix.answers.ask import ask, world_of
from elbrix.demo import write_demo
from elbrix.quantities.lengths import METRIC
from elbrix.results.length_text import plain

PAGE = Path(__file__).parents[2] / "docs" / "questions.md"
ROWS = [
    tuple(cell.strip() for cell in line.strip("| \n").split("|"))
    for line in PAGE.read_text(encoding="utf-8").splitlines()
    if line.startswith("| ") and not line.startswith(("| Question", "|---"))
]
ANSWERED = [r for r in ROWS if len(r) == 3]
WITHHELD = [r for r in ROWS if len(r) == 2]


@pytest.fixture(scope="module")
def world(tmp_path_factory: pytest.TempPathFactory) -> Iterator[ShopContext]:
    book = write_demo(tmp_path_factory.mktemp("questions") / "demo.elbrix")
    yield world_of(book)
    book.close()


def test_there_are_two_hundred() -> None:
    assert len({r[0] for r in ROWS}) == len(ROWS) >= 200 and len(WITHHELD) >= 30


@pytest.mark.parametrize(("question", "answer", "_how"), ANSWERED, ids=[r[0] for r in ANSWERED])
def test_the_answer_is_that_of_the_other_road(question: str, answer: str, _how: str, world: ShopContext) -> None:
    first = ask(question, world).figures[0]
    if first.text and not re.fullmatch(r"[\d.]+ (mm|in)", first.text):
        assert first.text == answer
        return
    want, value = (re.match(r"[-\d.]+", t) for t in (answer, first.text or repr(first.value)))
    assert want is not None and value is not None
    unit = first.text[value.end() :] if first.text else METRIC.name(first.unit)
    assert float(value[0]) == pytest.approx(float(want[0]), rel=1e-5) and unit.strip() == answer[want.end() :].strip()


@pytest.mark.parametrize(("question", "named"), WITHHELD, ids=[r[0] for r in WITHHELD])
def test_a_question_with_a_part_that_is_not_understood_is_withheld(question: str, named: str, world: ShopContext) -> None:
    with pytest.raises(NotAnswered) as refusal:
        ask(question, world)
    assert named in plain(str(refusal.value))

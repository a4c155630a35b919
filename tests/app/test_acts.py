"""Keys of cards as values: written and read in one place, and every card of the demo shop keeps to it."""

from __future__ import annotations

from pathlib import Path

import pytest
from PyQt6.QtWidgets import QApplication

from elbrix.app.session import Session
from elbrix.app.window import Window
from elbrix.demo import write_demo
from elbrix.presenters.acts import Act, Verb


@pytest.mark.parametrize("of", ["1", "rear slot", "a  b", "T-nut 5/8″", "-3"])
def test_a_key_reads_back(of: str) -> None:
    assert Act.read(Act(Verb.TAKE, of).key) == Act(Verb.TAKE, of)


def test_a_plain_key_is_an_act_of_nothing() -> None:
    act = Act.read("print")
    assert (act.do, act.of, act.number, act.key) == ("print", "", -1, "print")


def test_only_a_count_is_a_number() -> None:
    assert [Act(Verb.TAKE, of).number for of in ("0", "12", "-1", "x", "")] == [0, 12, -1, -1, -1]


@pytest.mark.parametrize("bench", ["shop", "angles", "hold", "inspect", "catalogue"])
def test_what_a_card_offers_can_be_read(qapp: QApplication, tmp_path: Path, bench: str) -> None:
    """Every line to press is a verb that is known, or a plain key, and no two lines of a card are the same act."""
    session = Session(write_demo(tmp_path / "w.elbrix"))
    window = Window(session)
    window.open_bench(bench)
    card = window.bench.card
    pressed = [row.row.key for row in card.rows.values() if row.row.edit == "press"]
    acts = [Act.read(key) for key in pressed]
    assert acts or bench in ("angles", "catalogue")
    assert all(act.do in set(Verb) for act in acts)
    assert len(set(acts)) == len(acts)
    assert all(act.key == key for act, key in zip(acts, pressed, strict=True))
    window.close()

"""Words at the beginning of a sentence and inside one: names and codes stay as they are written."""

from __future__ import annotations

from pathlib import Path

import pytest

import elbrix
from elbrix.quantities.sentences import sentence, within


@pytest.mark.parametrize(
    ("words", "begun"),
    [
        ("over B and D", "Over B and D"),
        ("strap on Old Margaret", "Strap on Old Margaret"),
        ("Already", "Already"),
        ("Ø6.8 drilled", "Ø6.8 drilled"),
        ("", ""),
        ("µ of the seat", "Μ of the seat"),
    ],
)
def test_a_beginning_touches_nothing_but_its_first_letter(words: str, begun: str) -> None:
    assert sentence(words) == begun and sentence(words)[1:] == words[1:]


@pytest.mark.parametrize(
    ("words", "inside"),
    [
        ("Slot depth", "slot depth"),
        ("T-slot neck", "T-slot neck"),
        ("M10 stud", "M10 stud"),
        ("A clamp", "a clamp"),
        ("HSS only", "HSS only"),
        ("V angle", "V angle"),
        ("X", "X"),
        ("", ""),
    ],
)
def test_inside_a_sentence_a_code_keeps_its_capital(words: str, inside: str) -> None:
    assert within(words) == inside


@pytest.mark.house
def test_no_other_way_is_used() -> None:
    """`capitalize` puts every name in small letters: "Over b and d"."""
    for path in Path(elbrix.__file__).parent.rglob("*.py"):
        if path.name != "sentences.py":
            text = path.read_text(encoding="utf-8")
            assert ".capitalize()" not in text and "[:1].upper()" not in text and "[:1].lower()" not in text, path

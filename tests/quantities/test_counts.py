"""Whole numbers as typed."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from elbrix.quantities.counts import parse_count
from elbrix.quantities.errors import EntryError


@given(st.integers(0, 999), st.text(" \t", max_size=3), st.integers(0, 30))
def test_what_is_written_is_read(n: int, space: str, zeros: int) -> None:
    assert parse_count(f"{space}{'0' * zeros}{n}{space}", "Pieces", 0, 999) == n


@given(st.text(max_size=30))
def test_any_text_is_a_count_or_the_entry_error(text: str) -> None:
    plain = text.strip()
    if plain and set(plain) <= set("0123456789") and 1 <= int(plain) <= 200:
        assert parse_count(text, "Teeth", 1, 200) == int(plain)
        return
    with pytest.raises(EntryError, match="from 1 to 200"):
        parse_count(text, "Teeth", 1, 200)


@pytest.mark.parametrize("text", ["", "²", "-1", "1.0", "1e3", "201", "9" * 6000, "٤", "four", "1 2"])
def test_refused(text: str) -> None:
    with pytest.raises(EntryError, match="is no count"):
        parse_count(text, "Teeth", 1, 200)

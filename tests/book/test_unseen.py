"""Signs nobody sees do not come into a book, and nothing else is taken out of it."""

from __future__ import annotations

import json
import re
import unicodedata
from pathlib import Path
from xml.dom import minidom

import ezdxf
import pytest
from hypothesis import given
from hypothesis import strategies as st
from msgspec.structs import replace

from elbrix.book.designs import solve_doc
from elbrix.book.documents import DesignDoc, from_json, kind_of, to_json
from elbrix.book.store import Book
from elbrix.book.unseen import without_unseen
from elbrix.demo import documents
from elbrix.design.family import find_family
from elbrix.design.files import file_bytes
from elbrix.shop.shop import Shop
from elbrix.solids.client import Kernel
from elbrix.solids.part21 import step_string

KEPT_CONTROLS = "\t\n\r"
TURNS = {chr(c) for c in (*range(0x2028, 0x202F), 0x2063, *range(0x2066, 0x206A), 0xFEFF)}
ANY = st.text(st.characters(exclude_categories=["Cs"]), max_size=40)
NASTY = st.text(alphabet='\x07\x1b\u202e\u2063\\"ubf0271 aé\n', max_size=40)


def _seen(text: str) -> str:
    """By the tables of Unicode instead of a pattern."""
    return "".join(c for c in text if c in KEPT_CONTROLS or (unicodedata.category(c) != "Cc" and c not in TURNS))


@given(ANY | NASTY)
def test_what_is_unseen_goes_and_everything_else_stays(words: str) -> None:
    for written in (json.dumps({"a": words}), json.dumps({"a": words}, ensure_ascii=False)):
        assert json.loads(without_unseen(written))["a"] == _seen(words)


@pytest.mark.parametrize("document", documents(), ids=lambda d: f"{kind_of(d)} {d.id}")
def test_no_document_of_the_demo_is_touched(document: object) -> None:
    assert without_unseen(to_json(document)) == to_json(document)  # type: ignore[arg-type]


STAMP = "2026-11-30T12:00:00"
NAME = 'Pin\x07 & "bush"\u202e <b>\x1b[31m\u2063 über Ø6 для стола\x85'


def test_a_name_with_such_signs_is_kept_without_them_and_its_files_can_be_read(tmp_path: Path) -> None:
    book = Book.create(tmp_path / "b.elbrix")
    doc = replace(next(d for d in documents() if isinstance(d, DesignDoc) and d.family == "t_nut"), title=NAME)
    book.put("nasty", doc)
    kept = book.get(DesignDoc, doc.id)
    book.close()
    assert kept is not None and kept.title == 'Pin & "bush" <b>[31m über Ø6 для стола'
    family, design = find_family("t_nut"), solve_doc(kept, Shop())
    kernel = Kernel()
    try:
        svg = file_bytes(family, design, kernel, "svg", kept.title, STAMP)
        assert minidom.parseString(svg).getElementsByTagName("title")[0].firstChild.data.startswith(kept.title)  # type: ignore[union-attr]
        (tmp_path / "d.dxf").write_bytes(file_bytes(family, design, kernel, "dxf", kept.title, STAMP))
        drawing = ezdxf.readfile(tmp_path / "d.dxf")  # type: ignore[attr-defined]
        assert not drawing.audit().errors and any(kept.title in e.plain_text() for e in drawing.modelspace().query("TEXT"))
        step = file_bytes(family, design, kernel, "step", kept.title, STAMP)
        assert kernel.ask("read_step", step)["volume_mm3"] > 0
        assert step_strings(step.decode("ascii")).count(kept.title) == 4  # what it is, its file, and the product twice
        stl = file_bytes(family, design, kernel, "stl", kept.title, STAMP)
        assert stl.startswith(b"mm, Pin & ")
        assert len(file_bytes(family, design, kernel, "stl", "solid " + "x" * 200, STAMP)) == len(stl)
    finally:
        kernel.stop()


def step_strings(text: str) -> list[str]:
    """Every string of a STEP file, read from left to right by the rules of ISO 10303-21 and not by the writer."""

    def decoded(found: re.Match[str]) -> str:
        if found[0] == r"\\":
            return "\\"
        return bytes.fromhex(found[2]).decode({"2": "utf-16-be", "4": "utf-32-be"}[found[1]])

    strings = re.findall(r"'((?:[^']|'')*)'", text)
    return [re.sub(r"\\X([24])\\([0-9A-F]+)\\X0\\|\\\\", decoded, one.replace("''", "'")) for one in strings]


@given(ANY | NASTY)
def test_a_string_of_a_step_file_says_what_it_was_given(words: str) -> None:
    written = step_string(words)
    assert written.isascii() and written.isprintable()
    wanted = "".join(c for c in words if unicodedata.category(c) != "Cc")
    assert step_strings(written) == [wanted]


def test_an_imported_document_is_cleaned_as_well() -> None:
    body = json.loads(to_json(next(d for d in documents() if isinstance(d, DesignDoc))))
    body["notes"] = "a\u202eb\x00c\\u0007"  # the last is text that says so
    found = from_json("design", json.dumps(body))
    assert isinstance(found, DesignDoc) and found.notes == "abc\\u0007"

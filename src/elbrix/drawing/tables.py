"""Tables as CSV that a spreadsheet opens without running anything."""

from __future__ import annotations

import csv
import io
from collections.abc import Iterable, Sequence


def safe_cell(value: object) -> str:
    """A cell that no spreadsheet takes for a formula: text that starts with = + - @ gets an apostrophe; plain numbers stay."""
    text = str(value)
    if text and text[0] in "=+-@\t\r" and not _is_number(text):
        return "'" + text
    return text


def _is_number(text: str) -> bool:
    try:
        float(text)
    except ValueError:
        return False
    return True


def csv_text(header: Sequence[str], rows: Iterable[Sequence[object]]) -> str:
    """Rows as CSV, one header line."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow([safe_cell(h) for h in header])
    writer.writerows([[safe_cell(c) for c in row] for row in rows])
    return out.getvalue()

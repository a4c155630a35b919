"""Tables as CSV that a spreadsheet opens without running anything."""

from __future__ import annotations

import io
from collections.abc import Iterable, Sequence
from typing import Final

from elbrix.quantities.errors import ShopError

#: A table read in is untrusted: its size is limited.
LONGEST_TABLE: Final = 2_000_000
MAX_ROWS: Final = 20_000


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
    import csv  # a card that is copied needs safe cells and no tables

    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow([safe_cell(h) for h in header])
    writer.writerows([[safe_cell(c) for c in row] for row in rows])
    return out.getvalue()


def read_csv(text: str, where: str, columns: Sequence[str], optional: Sequence[str] = ()) -> list[tuple[int, dict[str, str]]]:
    """Rows of a comma-separated table as (line number, cells by column); blank lines are left out.

    Args:
        columns: Names that must be in the header line.
        optional: Names that may be.

    Raises:
        ShopError: Too large, another separator, decimals with a comma, columns missing, unknown or doubled.
    """
    if len(text) > LONGEST_TABLE or text.count("\n") > MAX_ROWS:
        raise ShopError(where, f"{len(text):,} characters", f"A table has {MAX_ROWS:,} lines at most", "Check which file it is")
    lines = text.lstrip("\ufeff").splitlines()
    head_line = next((line for line in lines if line.strip()), "")
    for mark, name in ((";", "semicolons"), ("\t", "tabs")):
        if mark in head_line and "," not in head_line:
            raise ShopError(
                where,
                f"the columns are parted by {name}",
                "Elbrix reads commas between columns and points in decimals",
                "Save it again as CSV with commas, decimals with a point",
            )
    import csv

    try:
        rows = [(i, [c.strip() for c in row]) for i, row in enumerate(csv.reader(lines), 1) if any(c.strip() for c in row)]
    except csv.Error as error:
        raise ShopError(where, f"it cannot be read ({error})", "It is no comma-separated table", "Save it again as CSV") from None
    if not rows:
        raise ShopError(where, "it is empty", "A header line and rows are needed", "Check which file it is")
    header = rows[0][1]
    missing = [c for c in columns if c not in header]
    strange = [c for c in header if c not in columns and c not in optional]
    if missing or strange or len(set(header)) != len(header):
        what = f"no column {missing[0]}" if missing else f"a column “{strange[0][:24]}”" if strange else "a column twice"
        known = ", ".join(columns) + (f"; it may have {', '.join(optional)}" if optional else "")
        raise ShopError(where, what, f"The header line has {known}", "Correct the header; the unit is part of a name")
    found = []
    for line, cells in rows[1:]:
        if len(cells) != len(header):
            hint = "A decimal with a comma makes one column too many" if len(cells) > len(header) else "A cell is missing"
            raise ShopError(
                where,
                f"line {line} has {len(cells)} cells for {len(header)} columns",
                hint,
                "Write decimals with a point; nothing was taken",
            )
        found.append((line, dict(zip(header, cells, strict=True))))
    return found

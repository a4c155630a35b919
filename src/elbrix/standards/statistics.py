"""Factors of statistics that a small number of trials needs."""

from __future__ import annotations

from elbrix.quantities.errors import ShopError
from elbrix.standards.tables import TableValue, table


def student_95(freedom: int) -> TableValue:
    """Two-sided 95 % factor of Student's distribution.

    Args:
        freedom: Degrees of freedom, ≥ 1.

    Returns:
        The table's factor; between its rows that of the next fewer degrees, which is larger: a band is never too narrow.

    Raises:
        ShopError: No degree of freedom is left.

    Source: Student's distribution; tested against its integral.
    """
    if freedom < 1:
        raise ShopError(
            "Statistics", f"{freedom} degrees of freedom", "A scatter needs more trials than unknowns", "Make more trials"
        )
    data = table("student")
    rows = {int(n): float(v) for n, v in data["factor_95"].items()}
    return TableValue(rows[max(n for n in rows if n <= freedom)], "", str(data["source"]), str(data["kind"]))

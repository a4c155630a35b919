"""A plan as rows for a spreadsheet."""

from __future__ import annotations

from elbrix.exchange.csv_tables import csv_text
from elbrix.making.plan import Plan


def cut_list_csv(plan: Plan) -> str:
    """Every move with its numbers, one row per axis; mm, and what the dial shows."""
    rows: list[tuple[object, ...]] = []
    for n, (setup, operation, move) in enumerate(plan.moves, 1):
        rpm = operation.speed.rpm if operation.speed else ""
        for p in move.positions or (None,):
            numbers = (p.axis, f"{p.value_mm:.4f}", p.dial.text.replace("−", "-"), p.dial.approach) if p else ("", "", "", "")
            rows.append((n, setup.title, operation.title, operation.tool, rpm, move.words, *numbers, move.lock, move.direction))
    header = ["move", "setup", "operation", "tool", "rpm", "what", "axis", "mm", "dial", "approach", "lock", "direction"]
    return csv_text(header, rows)

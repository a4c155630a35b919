"""Book T-slots and T-nuts: reference only, measure your own."""

from __future__ import annotations

from elbrix.standards.tables import TableValue, not_in_table, row, table


def book_slot_names() -> list[str]:
    """Nominal neck widths in the book, as text."""
    return list(table("t_slots")["slot_mm"])


def t_slot(slot: str, dim: str) -> TableValue:
    """A book dimension in mm of a slot by nominal neck width: head_width_min/max, head_space_min/max, depth_min/max."""
    return _book("slot_mm", slot, dim, "ISO 299", "T-slot")


def t_nut(slot: str, dim: str) -> TableValue:
    """A book dimension in mm of the nut for a slot: thread (its major diameter), head_width, total_height, head_height."""
    return _book("nut_mm", slot, dim, "DIN 508", "T-nut")


def _book(part: str, slot: str, dim: str, source: str, where: str) -> TableValue:
    dims = row("t_slots", part, f"{float(slot):g}" if slot.replace(".", "", 1).isdigit() else slot, where)
    if dim not in dims:
        raise not_in_table(where, dim, list(dims))
    value = dims[dim]
    name = value if isinstance(value, str) else ""
    return TableValue(float(value[1:]) if name else float(value), "mm", source, str(table("t_slots")["kind"]), name)

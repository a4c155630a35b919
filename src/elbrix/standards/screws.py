"""Clearance holes and screw heads, metric and inch."""

from __future__ import annotations

from elbrix.quantities.grammar import read_length
from elbrix.quantities.sentences import sentence
from elbrix.standards.tables import TableValue, not_in_table, row, table

_SOURCES = {
    "socket_cap": ("ISO 4762", "ASME B18.3"),
    "hex": ("ISO 4014/4017", "ASME B18.2.1"),
    "countersunk": ("ISO 10642", "ASME B18.3"),
    "nut": ("ISO 4032", "ASME B18.2.2"),
    "washer": ("ISO 7089", "SAE, narrow"),
    "set_screw": ("ISO 4026", "ASME B18.3"),
}


def _inches(text: str) -> float:
    return float(read_length(text.replace("-", " "), "in", "Table"))


def _size(size: str) -> tuple[str, bool]:
    """The size as the tables spell it, and whether it is metric."""
    plain = size.strip().replace('"', "")
    return (f"M{float(plain[1:]):g}", True) if plain[:1] in "Mm" and plain[1:].replace(".", "", 1).isdigit() else (plain, False)


def clearance_hole(size: str, series: str = "medium") -> TableValue:
    """Clearance hole Ø in mm; series fine, medium or coarse (inch: close, normal, loose)."""
    series = {"close": "fine", "normal": "medium", "loose": "coarse"}.get(series, series)
    name, metric = _size(size)
    holes = row("holes", "metric_mm" if metric else "inch", name, "Clearance hole")
    if series not in holes:
        raise not_in_table("Clearance hole", f"series {series}", list(holes))
    value = float(holes[series]) if metric else _inches(holes[series])
    return TableValue(value, "mm", "ISO 273" if metric else "ASME B18.2.8", "standard", f"{name} {series}")


def shoulder_screw(shoulder: str, dim: str) -> TableValue:
    """A dimension of a shoulder screw by its shoulder Ø in mm, "8"; `thread_d` is the nominal Ø of its thread."""
    dims = row("screws", "shoulder_mm", f"{float(shoulder):g}", "Shoulder screw")
    value = float(dims["thread"][1:]) if dim == "thread_d" else dims.get(dim)
    if not isinstance(value, int | float):
        raise not_in_table("Shoulder screw", dim, ["thread_d", "head_d", "head_h", "key"])
    return TableValue(float(value), "mm", "ISO 7379", "standard", shoulder)


def dowel(diameter: str, dim: str) -> TableValue:
    """A dimension of a hardened dowel pin (m6) in mm: chamfer, shortest or longest."""
    dims = row("screws", "dowel_mm", f"{float(diameter):g}", "Dowel")
    if dim not in dims:
        raise not_in_table("Dowel", dim, list(dims))
    return TableValue(float(dims[dim]), "mm", "ISO 8734", "standard", diameter)


def insert_drill(thread: str) -> TableValue:
    """Drill for a wire thread insert, "M8x1.25" or "1/4-20". Reference."""
    tables = table("holes")
    source = tables["insert_mm"]["source"]
    if thread != "source" and thread in tables["insert_mm"]:
        return TableValue(float(tables["insert_mm"][thread]), "mm", source, "reference", thread)
    if thread in tables["insert_in"]:
        return TableValue(_inches(tables["insert_in"][thread]), "mm", source, "reference", thread)
    known = [k for k in (*tables["insert_mm"], *tables["insert_in"]) if k != "source"]
    raise not_in_table("Thread insert", thread, known)


def head(kind: str, size: str, dim: str) -> TableValue:
    """A head, nut or washer dimension in mm.

    Args:
        kind: socket_cap, hex, countersunk, nut, washer or set_screw.
        size: "M10" or "3/8".
        dim: head_d, head_h, key, across_flats, height, hole_d, outside_d or thickness, as the kind has it.
    """
    name, metric = _size(size)
    part = f"{kind}_{'mm' if metric else 'in'}"
    if part not in table("screws"):
        raise not_in_table("Screw", f"{kind} {size}", [k for k in table("screws") if k[-3:] in ("_mm", "_in")])
    dims = row("screws", part, name, sentence(kind.replace("_", " ")))
    if dim not in dims:
        raise not_in_table(sentence(kind.replace("_", " ")), dim, list(dims))
    value = float(dims[dim]) if metric else _inches(dims[dim])
    return TableValue(value, "mm", _SOURCES[kind][0 if metric else 1], "standard", name)

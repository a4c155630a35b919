"""One question, one value: the look-ups of every table under the names scripts use."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import Any

from elbrix.quantities.errors import ShopError
from elbrix.quantities.names import ThreadName, parse_drill, parse_thread
from elbrix.standards import drills, fits, materials, screws, slots, threads
from elbrix.standards.tables import TableValue, not_in_table


def _text(asked: Mapping[str, Any], key: str, default: str | None = None) -> str:
    value = asked.get(key, default)
    if not isinstance(value, str | int | float) or isinstance(value, bool):
        raise ShopError("Standard", f"“{key}” is missing", "The table is read by it", f"Give “{key}” as text")
    return f"{value:g}" if isinstance(value, float) else str(value)


def _number(asked: Mapping[str, Any], key: str) -> float:
    try:
        return float(_text(asked, key))
    except ValueError:
        raise ShopError(
            "Standard", f"“{key}” is no number", "The table is read by it", f"Give “{key}” as a number in mm"
        ) from None


def _thread(asked: Mapping[str, Any]) -> ThreadName:
    if "thread" in asked:
        return parse_thread(_text(asked, "thread"))
    name = parse_thread(_text(asked, "size"))
    return ThreadName(name.size, pitch_mm=_number(asked, "pitch")) if "pitch" in asked else name


_TABLES: dict[str, Callable[[Mapping[str, Any]], TableValue]] = {
    "drill": lambda a: drills.drill_mm(parse_drill(_text(a, "drill"))),
    "tap_drill": lambda a: threads.tap_drill(_thread(a)),
    "thread": lambda a: threads.look_up(_thread(a), _text(a, "dim")),
    "clearance_hole": lambda a: screws.clearance_hole(_text(a, "size"), _text(a, "series", "medium")),
    "thread_insert": lambda a: screws.insert_drill(threads.find_thread(_thread(a)).name),
    "socket_cap": lambda a: screws.head("socket_cap", _text(a, "size"), _text(a, "dim")),
    "hex": lambda a: screws.head("hex", _text(a, "size"), _text(a, "dim")),
    "countersunk": lambda a: screws.head("countersunk", _text(a, "size"), _text(a, "dim")),
    "nut": lambda a: screws.head("nut", _text(a, "size"), _text(a, "dim")),
    "set_screw": lambda a: screws.head("set_screw", _text(a, "size"), _text(a, "dim")),
    "shoulder_screw": lambda a: screws.shoulder_screw(_text(a, "size"), _text(a, "dim")),
    "dowel": lambda a: screws.dowel(_text(a, "size"), _text(a, "dim")),
    "washer": lambda a: screws.head("washer", _text(a, "size"), _text(a, "dim")),
    "it": lambda a: fits.it_um(_number(a, "size_mm"), _text(a, "grade")),
    "block_limit": lambda a: fits.block_limit_um(_number(a, "length_mm"), _text(a, "grade"), _text(a, "dim")),
    "t_slot": lambda a: slots.t_slot(_text(a, "slot"), _text(a, "dim")),
    "t_nut": lambda a: slots.t_nut(_text(a, "slot"), _text(a, "dim")),
    "proof": lambda a: materials.proof_mpa(_text(a, "class"), find_major_mm(_text(a, "size"))),
    "expansion": lambda a: materials.expansion(_text(a, "material")),
    "density": lambda a: materials.density(_text(a, "material")),
}


def find_major_mm(size: str) -> float:
    """Major diameter of "M10" or "1/2" in mm; a plain size needs no pitch."""
    if size[:1] in "Mm":
        return threads.find_thread(parse_thread(size)).major_mm
    for thread in threads.all_threads():
        if not thread.metric and thread.name.rpartition("-")[0] == size.replace('"', "").strip():
            return thread.major_mm
    raise not_in_table("Size", size, ["M6", "M8", "1/4", "1/2"])


def standard(asked: Mapping[str, Any]) -> dict[str, Any]:
    """Answer {"table": …, keys…} with value, unit, source and kind; `fit` has [upper, lower].

    Raises:
        ShopError: Not in the table, or a key missing. Nothing is interpolated.
    """
    name = _text(asked, "table")
    if name == "fit":
        upper, lower = fits.fit_um(_number(asked, "nominal_mm"), _text(asked, "zone"))
        return {"value": [upper, lower], "unit": "µm", "source": "ISO 286-1", "kind": "standard"}
    if name not in _TABLES:
        raise not_in_table("Standard", name, [*_TABLES, "fit"])
    found = _TABLES[name](asked)
    answer: dict[str, Any] = {"value": found.value, "unit": found.unit, "source": found.source, "kind": found.kind}
    return answer | ({"name": found.name} if found.name else {})

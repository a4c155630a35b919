"""`elbrix calc`: one JSON question in, the same shape out."""

from __future__ import annotations

import json
import math
from collections.abc import Callable, Mapping
from typing import Any

from elbrix.cli.calc_angles import ANGLE_CALCS
from elbrix.cli.calc_hold import hold_limit
from elbrix.cli.calc_inspect import INSPECT_CALCS
from elbrix.cli.calc_stacks import stack, stack_calibrated, stack_pair
from elbrix.design.family import Request, find_family, parameter_of, solve_for
from elbrix.parameters.parameter import ParameterValue
from elbrix.quantities.errors import ShopError
from elbrix.quantities.grammar import clip
from elbrix.quantities.readings import Readings
from elbrix.results.figures import Origin
from elbrix.results.length_text import plain
from elbrix.shop.shop import Shop
from elbrix.standards.lookup import standard


def _numbers(where: str, value: Any) -> tuple[float, ...]:
    values = value if isinstance(value, list) else [value]
    if not values or not all(isinstance(v, int | float) and not isinstance(v, bool) and math.isfinite(v) for v in values):
        raise ShopError(where, "these are no readings", "A reading is a number in mm", "Give a list of numbers: [12.05, 12.08]")
    return tuple(float(v) for v in values)


def t_nut(asked: Mapping[str, Any]) -> dict[str, Any]:
    """Size a T-nut from slot readings; the contract is in docs/command-line.md."""
    family = find_family("t_nut")
    slot = asked.get("slot")
    if not isinstance(slot, dict):
        raise ShopError(
            "T-nut",
            "“slot” is missing",
            "The nut follows the measured slot",
            "Give slot: {neck_mm: […], lip_mm: […], head_mm: […], depth_mm: […]}",
        )
    chosen: dict[str, ParameterValue] = {}
    for name in ("neck", "lip", "head", "depth"):
        if f"{name}_mm" not in slot:
            raise ShopError(
                "T-nut", f"slot.{name}_mm is missing", "All four sizes are needed", "Measure it and give a list of readings"
            )
        parameter = parameter_of(family, name)
        values = _numbers(f"T-nut, slot.{name}_mm", slot[f"{name}_mm"])
        for value in values:
            parameter.read(repr(value))  # refuses what no slot measures
        chosen[name] = ParameterValue(Readings(values_mm=values), Origin.MEASURED)
    for key, name in (("thread", "thread"), ("length_mm", "length"), ("stud_stop", "stud_stop"), ("torque_nm", "torque")):
        if asked.get(key) is not None:
            chosen[name] = parameter_of(family, name).read(str(asked[key]))
    design = solve_for(family, Shop(), Request(), chosen)
    v = design.values
    return {
        "neck_mm": v.number("neck_width"),
        "neck_height_mm": v.number("neck_height"),
        "head_mm": v.number("head_width"),
        "head_height_mm": v.number("head_height"),
        "total_height_mm": v.number("neck_height") + v.number("head_height"),
        "length_mm": v.number("length"),
        "thread": v.word("thread"),
        "checks": [{"name": c.key, "value": c.value, "unit": c.unit, "verdict": c.verdict.value} for c in design.checks],
    }


def tape(asked: Mapping[str, Any]) -> dict[str, Any]:
    """One line of the bench calculator; the contract is in docs/command-line.md."""
    from elbrix.cli.calc_tape import tape as worked  # Ask, the demo shop and the book are needed for nothing else here

    return worked(asked)


CALCS: dict[str, Callable[[Mapping[str, Any]], dict[str, Any]]] = {
    "t_nut": t_nut,
    "standard": standard,
    "stack": stack,
    "stack_pair": stack_pair,
    "stack_calibrated": stack_calibrated,
    "hold_limit": hold_limit,
    "tape": tape,
    **ANGLE_CALCS,
    **INSPECT_CALCS,
}


def answer(asked: Any) -> dict[str, Any]:
    """One question answered, or its error; never an exception."""
    if not isinstance(asked, dict):
        return {"error": "Each question is a JSON object with “calc” and its inputs"}
    calc = CALCS.get(str(asked.get("calc")))
    if calc is None:
        return asked | {"error": f"No calculation is called {clip(str(asked.get('calc')), 40)}. There are: {', '.join(CALCS)}"}
    try:
        found = calc(asked)
        json.dumps(found, allow_nan=False)  # an absurd input may run to infinity, which is no answer and no JSON
        return asked | found
    except ShopError as error:
        return asked | {"error": plain(str(error))}
    except (ValueError, TypeError, OverflowError, ArithmeticError, KeyError, IndexError, AttributeError, RecursionError):
        return asked | {"error": f"{asked.get('calc')}: an input of the wrong kind or out of all proportion"}
    except MemoryError:
        return asked | {"error": f"{asked.get('calc')}: a question too large for this computer. Ask for less at once"}


def _refuse(constant: str) -> None:
    raise ValueError(f"{constant} is no JSON")


def run(text: str) -> tuple[str, int]:
    """Answer JSON text; exit code 0 all answered, 1 some not, 2 no JSON."""
    try:
        asked = json.loads(text, parse_constant=_refuse)
    except (ValueError, RecursionError):
        return json.dumps({"error": "The input is no JSON"}), 2
    answers = [answer(a) for a in asked] if isinstance(asked, list) else answer(asked)
    failed = any("error" in a for a in (answers if isinstance(answers, list) else [answers]))
    return plain(json.dumps(answers, ensure_ascii=False, indent=1)), 1 if failed else 0

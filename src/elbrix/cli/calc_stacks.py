"""The gauge-block calculations of `elbrix calc`."""

from __future__ import annotations

from collections.abc import Mapping
from fractions import Fraction
from typing import Any, Final

from elbrix.cli.calc_angles import number
from elbrix.gauging.blocks import BlockSet, standard_set
from elbrix.gauging.calibrated import MAX_CALIBRATED, CalibratedSolver
from elbrix.gauging.pairs import pair
from elbrix.gauging.stacks import MAX_BLOCKS, Stack, limit_um, solver_for
from elbrix.quantities.decimals import MM_PER, parse_decimal, parse_height
from elbrix.quantities.errors import ShopError

#: A calibrated stack further off than this is none, unless the question allows more.
_NEAR_MM: Final = Fraction(1, 100)


def _wear_alone(nominal: str, wear: int, per_mm: float) -> dict[str, Any]:
    u = wear**0.5 * limit_um(float(nominal) * per_mm)
    alone = {"blocks": [nominal] * wear, "blocks_total": wear, "error_mm": 0.0, "u_um": u}
    return {"feasible": True, "stacks": [alone]}


def _blocks(asked: Mapping[str, Any]) -> BlockSet:
    if "blocks" in asked:
        listed = asked["blocks"]
        if not isinstance(listed, list) or not all(isinstance(b, str) for b in listed):
            raise ShopError(
                "stack", "“blocks” is no list of lengths", "Each block is a decimal as text", 'Give ["1.005", "1.01", …]'
            )
        found = BlockSet("own set", str(asked.get("unit", "mm")), tuple(listed))
    else:
        found = standard_set(str(asked.get("set", "")))
    missing = asked.get("exclude", [])
    if not isinstance(missing, list):
        raise ShopError("stack", "“exclude” is no list", "It names the missing blocks", 'Give ["1.005", …]')
    return found.without([str(m) for m in missing])


def _whole(asked: Mapping[str, Any], key: str, default: int, low: int, high: int) -> int:
    value = number(asked, key, default)
    if value != int(value) or not low <= value <= high:
        raise ShopError("stack", f"“{key}” is {value:g}", f"It is a whole number from {low} to {high}", "Check it")
    return int(value)


def _target(asked: Mapping[str, Any], text: object, unit_of_set: str) -> Fraction:
    """A target in the set's unit."""
    unit = str(asked.get("target_unit", unit_of_set))
    if unit not in MM_PER or not isinstance(text, str):
        raise ShopError(
            "stack",
            "the target is missing or its unit unknown",
            "It is a decimal as text, in mm or in",
            'Give "target": "41.7265"',
        )
    return parse_height(text, "target") * MM_PER[unit] / MM_PER[unit_of_set]


def _tolerance(asked: Mapping[str, Any], unit_of_set: str) -> Fraction:
    """In the set's unit."""
    tolerance_um = number(asked, "tol_um", 0.0)
    if tolerance_um < 0:
        raise ShopError("stack", "a negative tolerance", "It is how far off is still right", "Give 0 or more")
    return Fraction(str(tolerance_um)) / 1000 / MM_PER[unit_of_set]


def _wear(asked: Mapping[str, Any], targets: list[Fraction]) -> tuple[int, str, Fraction]:
    """(number, nominal, length of all of them in the set's unit)."""
    wear = _whole(asked, "wear_blocks", 0, 0, 2)
    nominal = str(asked.get("wear_nominal", "2"))
    worn = wear * parse_decimal(nominal, "wear_nominal") if wear else Fraction(0)
    if worn > min(targets):
        raise ShopError(
            "stack",
            "the wear blocks alone are higher than the target",
            "They come off the height first",
            "Leave them away, or use thinner ones",
        )
    return wear, nominal, worn


def stack(asked: Mapping[str, Any]) -> dict[str, Any]:
    """Best stacks for one target; the contract is in docs/command-line.md."""
    blocks = _blocks(asked)
    per = MM_PER[blocks.unit]
    target = _target(asked, asked.get("target"), blocks.unit)
    wear, nominal, worn = _wear(asked, [target])
    want = _whole(asked, "want", 10, 1, 1000)
    most = _whole(asked, "max_blocks_total", MAX_BLOCKS, wear + 1, MAX_BLOCKS + wear) - wear
    tolerance = _tolerance(asked, blocks.unit)
    if target == worn:
        return _wear_alone(nominal, wear, float(per))
    answer = solver_for(blocks).best(target - worn, tolerance=tolerance, want=want, most=most)
    shown = [_shown(s, nominal, wear, float(per)) for s in answer.stacks]
    found: dict[str, Any] = {"feasible": answer.feasible, "stacks": shown}
    if answer.bounded:
        found["bounded"] = answer.bounded
    return found if answer.feasible else found | {"nearest": [_shown(s, nominal, wear, float(per)) for s in answer.nearest]}


def stack_calibrated(asked: Mapping[str, Any]) -> dict[str, Any]:
    """Stacks by their real error alone; the contract is in docs/command-line.md."""
    blocks = _blocks(asked)
    per = MM_PER[blocks.unit]
    listed = asked.get("deviation_um", {})
    if not isinstance(listed, dict) or not all(isinstance(v, int | float) and not isinstance(v, bool) for v in listed.values()):
        raise ShopError("stack", "“deviation_um” is no list of deviations", "It names blocks with µm", 'Give {"1.005": -0.07, …}')
    excluded = {parse_decimal(str(m), "exclude") for m in asked.get("exclude", [])}
    deviations = {k: float(v) for k, v in listed.items() if parse_decimal(k, "deviation_um") not in excluded}
    target = _target(asked, asked.get("target"), blocks.unit)
    wear, nominal, worn = _wear(asked, [target])
    want = _whole(asked, "want", 10, 1, 1000)
    solver = CalibratedSolver(blocks, deviations)
    tolerance = _tolerance(asked, blocks.unit) * per if "tol_um" in asked else _NEAR_MM
    if target == worn:
        return _wear_alone(nominal, wear, float(per))
    if "max_blocks_total" in asked:
        most = _whole(asked, "max_blocks_total", MAX_CALIBRATED, 1, MAX_CALIBRATED + wear) - wear
    else:
        # One block more than the nominal optimum: beyond it the differences are smaller than any calibration.
        least = solver_for(blocks).best(target - worn, want=1)
        most = min(MAX_CALIBRATED, (least.stacks[0].count if least.feasible else 4) + 1)
    answer = solver.best((target - worn) * per, most=most, want=want, tolerance_mm=tolerance)
    shown = [_shown(s, nominal, wear, float(per)) for s in answer.stacks]
    found: dict[str, Any] = {"feasible": answer.feasible, "stacks": shown}
    if answer.bounded:
        found["bounded"] = answer.bounded
    return found if answer.feasible else found | {"nearest": [_shown(s, nominal, wear, float(per)) for s in answer.nearest]}


def stack_pair(asked: Mapping[str, Any]) -> dict[str, Any]:
    """Two stacks at once from one set; the contract is in docs/command-line.md."""
    blocks = _blocks(asked)
    listed = asked.get("targets")
    if not isinstance(listed, list) or len(listed) != 2:
        raise ShopError("stack_pair", "“targets” are not two heights", "Both stacks have one", 'Give ["41.7265", "30"]')
    targets = [_target(asked, text, blocks.unit) for text in listed]
    wear, nominal, worn = _wear(asked, targets)
    if min(targets) == worn:
        raise ShopError(
            "stack_pair",
            "the wear blocks alone are one of the heights",
            "They are a stack by themselves",
            "Ask for the other one alone",
        )
    most = _whole(asked, "max_blocks_per_stack", MAX_BLOCKS, 1, MAX_BLOCKS + wear) - wear
    found = pair(solver_for(blocks), (targets[0] - worn, targets[1] - worn), most, _tolerance(asked, blocks.unit))
    if not found.feasible:
        return {"feasible": False, "pair": [], "blocks_total": 0}
    ends = ([nominal] * min(wear, 1), [nominal] * max(0, wear - 1))
    shown = [[*ends[0], *found.first, *ends[1]], [*ends[0], *found.second, *ends[1]]]
    return {"feasible": True, "pair": shown, "blocks_total": found.blocks_total + 2 * wear}


def _shown(found: Stack, nominal: str, wear: int, per_mm: float) -> dict[str, Any]:
    ends = {0: ([], []), 1: ([nominal], []), 2: ([nominal], [nominal])}[wear]
    u = (found.u_um**2 + wear * limit_um(float(nominal) * per_mm) ** 2) ** 0.5 if wear else found.u_um
    return {
        "blocks": [*ends[0], *found.blocks, *ends[1]],
        "blocks_total": found.count + wear,
        "error_mm": found.error_mm,
        "u_um": u,
    }

"""The gauge-block calculations of `elbrix calc`."""

from __future__ import annotations

from collections.abc import Mapping
from fractions import Fraction
from functools import lru_cache
from typing import Any

from elbrix.cli.calc_angles import number
from elbrix.gauging.blocks import BlockSet, standard_set
from elbrix.gauging.stacks import Stack, StackSolver, limit_um
from elbrix.quantities.decimals import MM_PER, exact
from elbrix.quantities.errors import ShopError


@lru_cache(maxsize=8)
def _solver(blocks: BlockSet) -> StackSolver:
    return StackSolver(blocks)


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


def stack(asked: Mapping[str, Any]) -> dict[str, Any]:
    """Best stacks for one target; the contract is in docs/command-line.md."""
    blocks = _blocks(asked)
    unit = str(asked.get("target_unit", blocks.unit))
    if unit not in MM_PER or not isinstance(asked.get("target"), str):
        raise ShopError(
            "stack",
            "the target is missing or its unit unknown",
            "It is a decimal as text, in mm or in",
            'Give "target": "41.7265"',
        )
    per = MM_PER[blocks.unit]
    target = exact(asked["target"], "target") * MM_PER[unit] / per
    tolerance_um = number(asked, "tol_um", 0.0)
    if tolerance_um < 0:
        raise ShopError("stack", "a negative tolerance", "It is how far off is still right", "Give 0 or more")
    tolerance = Fraction(str(tolerance_um)) / 1000 / per
    wear = _whole(asked, "wear_blocks", 0, 0, 2)
    nominal = str(asked.get("wear_nominal", "2"))
    worn = wear * exact(nominal, "wear_nominal") if wear else Fraction(0)
    if worn >= target:
        raise ShopError(
            "stack",
            "the wear blocks alone are as high as the target",
            "They come off the height first",
            "Leave them away, or use thinner ones",
        )
    want = _whole(asked, "want", 10, 1, 1000)
    most = _whole(asked, "max_blocks_total", 15, 1, 15 + wear) - wear
    answer = _solver(blocks).best(target - worn, tolerance=tolerance, want=want, most=most)
    shown = [_shown(s, nominal, wear, float(per)) for s in answer.stacks]
    found: dict[str, Any] = {"feasible": answer.feasible, "stacks": shown}
    return found if answer.feasible else found | {"nearest": [_shown(s, nominal, wear, float(per)) for s in answer.nearest]}


def _shown(found: Stack, nominal: str, wear: int, per_mm: float) -> dict[str, Any]:
    ends = {0: ([], []), 1: ([nominal], []), 2: ([nominal], [nominal])}[wear]
    u = (found.u_um**2 + wear * limit_um(float(nominal) * per_mm) ** 2) ** 0.5 if wear else found.u_um
    return {
        "blocks": [*ends[0], *found.blocks, *ends[1]],
        "blocks_total": found.count + wear,
        "error_mm": found.error_mm,
        "u_um": u,
    }

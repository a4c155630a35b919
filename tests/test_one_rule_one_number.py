"""Each rule of thumb stands once: Ask, Design and Hold say the same number, and it is the one the trade's tables give."""

from __future__ import annotations

import ast
import math
from pathlib import Path

import pytest

from elbrix.answers.answer import ShopContext
from elbrix.answers.ask import ask
from elbrix.design.family import Request, find_family, solve_for
from elbrix.holding import margin
from elbrix.mechanics import cutting, drilling, lifting, strength
from elbrix.results.checks import Verdict
from elbrix.shop.shop import Shop
from elbrix.shop.tooling import Stud
from elbrix.standards.materials import materials
from layouts_tools import doc, solve, thing

AREA_M10 = math.pi / 4 * (10 - 0.9382 * 1.5) ** 2  # ISO 898-1
PROOF_88 = 580.0  # MPa to M16, ISO 898-1
SOURCE = Path(strength.__file__).parents[1]


def test_a_stud_is_tightened_to_the_same_torque_everywhere(small_shop: Shop) -> None:
    asked = ask("torque M10 8.8 oiled", ShopContext(Shop())).figures[0].value
    by_hand = 0.15 * 10 * 0.375 * PROOF_88 * AREA_M10 / 1000  # K·d·3/8 of proof
    assert asked == pytest.approx(by_hand)
    # a nut so long and of such steel that nothing but the stud rules
    nut = find_family("t_nut")
    shop_slot = {"lip": "30", "depth": "60", "head": "40"}
    given = {p.name: p.read(shop_slot[p.name]) for p in nut.parameters if p.name in shop_slot}
    given |= {p.name: p.read("200") for p in nut.parameters if p.name == "length"}
    given |= {p.name: p.read(w) for p in nut.parameters for n, w in (("lubrication", "oiled"), ("thread", "M10")) if p.name == n}
    design = solve_for(nut, small_shop, Request(), given)
    assert design.values.number("torque") == math.floor(by_hand)


@pytest.mark.parametrize("thread", ["M3", "M4", "M6", "M8", "M10", "M16"])
def test_a_strap_is_never_proposed_more_than_its_stud_takes(demo_shop: Shop, thread: str) -> None:
    from msgspec.structs import replace

    shop = replace(demo_shop, studs=(Stud(id="one", thread=thread, length_mm=120, strength_class="8.8"),))
    proposed = solve(doc(thing("strap")), shop).elements[0][1].number("torque")
    asked = ask(f"torque {thread} 8.8 oiled", ShopContext(Shop())).figures[0].value
    assert proposed == min(20, math.floor(asked) if asked >= 2 else math.floor(10 * asked) / 10)  # never up


def test_what_scatters_in_the_torque_is_what_is_not_counted_on() -> None:
    assert margin.LOW_SHARE == strength.COUNTED == pytest.approx(0.7) and pytest.approx(1.3) == margin.HIGH_SHARE


@pytest.mark.parametrize(
    ("material", "times"), [("mild steel", 1.0), ("aluminium alloy", 1.5), ("grey cast iron", 1.5), ("brass", 1.5)]
)
def test_a_tapped_hole_wants_the_same_thread_everywhere(small_shop: Shop, material: str, times: float) -> None:
    assert drilling.thread_depth_wanted(material) == times
    told = {f.label: f.value for f in ask("tap drill M8", ShopContext(Shop())).figures}
    soft = next(v for k, v in told.items() if "aluminium" in k)
    assert (soft if times > 1 else told["Full thread wanted in steel"]) == pytest.approx(times * 8)
    judged = 0
    for key in ("fixture_plate", "sine_plate", "riser"):
        family = find_family(key)
        chosen = {p.name: p.read(material) for p in family.parameters if p.name == "material"}
        for check in solve_for(family, small_shop, Request(), chosen).checks:
            if check.key in ("thread_deep", "clamp_thread"):
                wanted = (check.limits.marginal_below, check.limits.no_below)
                assert {times, 0.6 * times} == set(wanted), (key, check.limits)
                judged += 1
    assert judged


def test_the_point_of_a_drill_is_one_number() -> None:
    assert drilling.point_mm(10) == pytest.approx(5 * math.tan(math.radians(31)))
    assert math.asin(cutting._POINT_SIN) == pytest.approx(math.radians(59))


@pytest.mark.parametrize("kg", [14.9, 15.1])
def test_what_one_person_lifts(kg: float) -> None:
    assert (lifting.lifting_words(kg) == "") == (kg < 15)


def test_every_lifting_check_has_the_same_limit(small_shop: Shop) -> None:
    found = 0
    for key in ("fixture_plate", "sine_plate", "riser"):
        for check in solve_for(find_family(key), small_shop, Request(), {}).checks:
            if check.key == "mass":
                found += 1
                assert check.limits.marginal_above == 15 and (check.verdict is Verdict.GO) == (check.value <= 15)
    assert found == 3


def test_moduli_are_those_of_the_tables() -> None:
    for name, low, high in (("mild steel", 195e3, 215e3), ("grey cast iron", 90e3, 130e3), ("aluminium alloy", 68e3, 73e3)):
        assert low <= strength.youngs_mpa(name) <= high
    assert all(m.young_mpa > 50e3 and m.thread_depth in (1.0, 1.5) for m in materials().values())


@pytest.mark.house
def test_no_rule_is_written_a_second_time() -> None:
    """No other module computes a drill's point or a tap's lead, or keeps a modulus, a stud's share or a lifting limit."""
    again = []
    for path in SOURCE.rglob("*.py"):
        if path.relative_to(SOURCE).parts[0] in ("mechanics", "standards"):
            continue
        for node in ast.walk(ast.parse(path.read_text())):
            if isinstance(node, ast.Constant) and node.value in (59, 205_000, 0.375):
                again.append((str(path.relative_to(SOURCE)), node.lineno, node.value))
            if (
                isinstance(node, ast.BinOp)
                and isinstance(node.op, ast.Mult)
                and any(isinstance(side, ast.Constant) and side.value == 3 for side in (node.left, node.right))
                and any(ast.unparse(side).endswith("pitch_mm") for side in (node.left, node.right))
            ):
                again.append((str(path.relative_to(SOURCE)), node.lineno, ast.unparse(node)))
            if isinstance(node, ast.Constant) and isinstance(node.value, float) and 0.3 < node.value < 0.3005:
                again.append((str(path.relative_to(SOURCE)), node.lineno, node.value))
            if (
                isinstance(node, ast.AnnAssign | ast.Assign)
                and isinstance(node.value, ast.Constant)
                and node.value.value == 15.0
                and "KG" in ast.unparse(node).upper()
            ):
                again.append((str(path.relative_to(SOURCE)), node.lineno, 15.0))
    assert again == []

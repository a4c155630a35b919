"""Work off centre in the four-jaw chuck: the jaws by geometry, the throw by another road."""

from __future__ import annotations

import math

import pytest

from elbrix.answers.answer import NotAnswered, ShopContext
from elbrix.answers.ask import ask
from elbrix.book.documents import shop_of
from elbrix.demo import documents

SHOP = ShopContext(shop_of(documents()))


def said(question: str) -> dict[str, float]:
    return {f.key: f.value for f in ask(question, SHOP).figures}


@pytest.mark.parametrize(("size", "off"), [(30, 4), (25, 12), (80, 0.5)])
def test_every_jaw_touches_the_round(size: float, off: float) -> None:
    found = said(f"four jaw offset {off} on round {size}")
    r = size / 2
    # The round's middle lies `off` toward jaw 1; each jaw lies on its own axis through the spindle.
    for x, y in ((found["jaw1"], 0), (-found["jaw3"], 0), (0, found["jaw24"]), (0, -found["jaw24"])):
        assert math.hypot(x - off, y) == pytest.approx(r)
    # Turned once round, the outside reads farthest and nearest along the offset.
    far = [math.hypot(r * math.cos(a) + off, r * math.sin(a)) for a in (i * math.pi / 500 for i in range(1000))]
    assert found["indicator"] == pytest.approx(max(far) - min(far), abs=1e-6)


def test_the_throw_by_its_acceleration() -> None:
    found = said("four jaw offset 4 on round 30 60 long steel 600 rpm")
    mass = math.pi * 0.015**2 * 0.06 * 7850
    # One turn in a tenth of a second: v = 2π·e/t, a = v²/e.
    v = 2 * math.pi * 0.004 / 0.1
    assert found["throw"] == pytest.approx(mass * v * v / 0.004, rel=1e-6)
    again = said(f"four jaw offset 4 on round 30 60 long steel {found['fast']:.1f} rpm")
    assert again["throw"] == pytest.approx(30.0, rel=1e-3)


@pytest.mark.parametrize(
    ("question", "says"),
    [
        ("four jaw offset 15 on round 30", "Jaw 3"),
        ("four jaw offset 20 on round 30", "Jaw 3"),
        ("four jaw offset 4 on round 30 600 rpm", "how heavy"),
        ("four jaw offset 4", "diameter"),
    ],
)
def test_what_no_jaw_holds_or_what_is_missing_is_said(question: str, says: str) -> None:
    with pytest.raises(NotAnswered) as refused:
        ask(question, SHOP)
    assert says in f"{refused.value.what} {refused.value.why} {refused.value.do}"

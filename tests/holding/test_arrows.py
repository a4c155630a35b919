"""Forces drawn on the work: as many as there are, as long as they are, pointing where they act."""

from __future__ import annotations

import math

import pytest

from elbrix.book.documents import LayoutDoc, shop_of
from elbrix.book.layouts import solve_doc
from elbrix.demo import documents
from elbrix.drawing.scene import Arc, Line, Note
from elbrix.holding.arrows import force_arrows
from layouts_tools import doc, solve, thing

DOCS = list(documents())
SHOP = shop_of(DOCS)


def test_the_vise_presses_with_what_its_torque_gives() -> None:
    wedge = next(d for d in DOCS if isinstance(d, LayoutDoc) and d.id == "hold-wedge")
    hold = solve_doc(wedge, SHOP)
    drawn = force_arrows(hold.piece, hold.held, hold.margin, "above")
    half = 25 * 420 * 0.7 / 2  # N: torque, force per N·m, least preload, two points
    words = [e.text for e in drawn if isinstance(e, Note)]
    assert words.count(f"{half / 1000:.1f} kN") == 2
    shafts = [e for e in drawn if isinstance(e, Line) and any(math.dist(e.b, p.at[:2]) < 1e-9 for p in hold.held.forces)]
    longest = max(shafts, key=lambda s: math.dist(s.a, s.b))
    assert longest.b[1] > longest.a[1], "the moving jaw pushes away from the operator"
    lengths = sorted((math.dist(s.a, s.b) for s in shafts), reverse=True)
    forces = sorted(n for n in (*(p.force_n for p in hold.held.forces), *(hold.margin.limit.forces if hold.margin.limit else ())))
    assert lengths[0] == pytest.approx(0.3 * 90 * half / forces[-1], rel=1e-6)


def test_a_strap_presses_into_the_picture_and_down_in_the_other() -> None:
    hold = solve(doc(thing("strap"), thing("strap"), length="160", width="80", height="20", cut="light"), SHOP)
    above = force_arrows(hold.piece, hold.held, hold.margin, "above")
    tips = [p.at[:2] for p in hold.held.forces if p.force_n > 0]
    rings = [e for e in above if isinstance(e, Arc)]
    assert all(any(math.dist(r.centre, t) < 1e-9 for r in rings) for t in tips)
    crosses = [e for e in above if isinstance(e, Line) and math.dist(e.a, e.b) < 12]
    assert len(crosses) >= 2 * len(tips)
    front = force_arrows(hold.piece, hold.held, hold.margin, "front")
    downs = [e for e in front if isinstance(e, Line) and e.a[1] - e.b[1] > 5 and abs(e.a[0] - e.b[0]) < 1e-9]
    assert len(downs) >= len(tips)


def test_what_does_not_rest_has_no_arrows() -> None:
    hold = solve(doc(length="50", width="50", height="20", cut="light"), SHOP)
    assert force_arrows(hold.piece, hold.held, hold.margin, "above") == []

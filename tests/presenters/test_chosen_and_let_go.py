"""What is proposed may be chosen and let go again.

Choosing the very value that is proposed changes no other number and no verdict; what is chosen and let go was never chosen; an
entry that is opened and accepted is taken, whatever stands in it.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator
from typing import Any

import pytest

from elbrix.book.documents import AngleDoc, DesignDoc, InspectionDoc, LayoutDoc, shop_of
from elbrix.demo import documents
from elbrix.design.family import all_families
from elbrix.presenters.angles import AnglesPresenter
from elbrix.presenters.card import Row
from elbrix.presenters.design import DesignPresenter
from elbrix.presenters.hold import HoldPresenter
from elbrix.presenters.inspect import InspectPresenter
from elbrix.quantities.errors import ShopError
from elbrix.quantities.lengths import METRIC

DOCS = documents()
SHOP = shop_of(DOCS)
DESIGNS = tuple(d for d in DOCS if isinstance(d, DesignDoc))
#: Every family as it is proposed for two machines, and everything the demo shop keeps.
FRESH = [
    DesignDoc(id=f"{key}-{machine}", family=key, title=key, machine=machine, slot=slot)
    for key in all_families()
    for machine, slot in (("hazel", "middle slot"), ("pip", "front slot"))
]
KEPT = [d for d in DOCS if isinstance(d, AngleDoc | LayoutDoc | InspectionDoc)]


def presented(doc: Any) -> Any:
    """The presenter of a document, in mm."""
    make: dict[type, Callable[[], Any]] = {
        DesignDoc: lambda: DesignPresenter(doc, SHOP, METRIC),
        AngleDoc: lambda: AnglesPresenter(doc, SHOP, METRIC),
        LayoutDoc: lambda: HoldPresenter(doc, SHOP, METRIC, quick=True, designs=DESIGNS),
        InspectionDoc: lambda: InspectPresenter(doc, SHOP, METRIC, DESIGNS),
    }
    return make[type(doc)]()


def result(presenter: Any) -> Any:
    """What it shows, worked out; None when it cannot be."""
    found = (getattr(presenter, name, None) for name in ("design", "setting", "hold", "inspection"))
    return next((r for r in found if r is not None), None)


def proposed(presenter: Any) -> Iterator[tuple[Row, str]]:
    """Entries nobody chose, with what stands in them when they open."""
    for section in presenter.card().sections:
        for row in section.rows:
            if row.edit not in ("text", "choice") or row.key not in presenter.parameters or row.chosen:
                continue
            text = row.entry_text or row.value
            if row.edit == "choice":
                text = next((value for value, words in row.choices if words == row.value), "")
            if text:
                yield row, text


def differs(before: Any, after: Any, chosen: str) -> list[str]:
    """Numbers and verdicts that are others, but for the rounding of what stands in an entry."""
    was, now = {f.key: f.value for f in before.figures}, {f.key: f.value for f in after.figures}
    found = [
        f"{key}: {value} and {now.get(key)}"
        for key, value in was.items()
        if key != chosen and not math.isclose(value, now.get(key, math.nan), rel_tol=2e-3, abs_tol=2e-3)
    ]
    verdicts = {c.key: c.verdict for c in after.checks}
    return found + [f"{c.key}: {c.verdict} and {verdicts.get(c.key)}" for c in before.checks if verdicts.get(c.key) != c.verdict]


@pytest.mark.parametrize("doc", [*FRESH, *KEPT], ids=lambda d: d.id)
def test_a_proposal_that_is_chosen_changes_nothing_and_let_go_it_was_never_chosen(doc: Any) -> None:
    presenter = presented(doc)
    before = result(presenter)
    if before is None:
        pytest.skip("it does not solve for that machine")
    for number, (row, text) in enumerate(proposed(presenter)):
        if isinstance(doc, DesignDoc) and number % 2:
            continue  # every other one of so many
        chosen = presenter.typed(row.key, text)
        assert differs(before, result(presented(chosen)), row.key) == [], (row.key, text)
        assert presented(chosen).let_go(row.key) == doc, row.key


def test_there_is_plenty_to_choose() -> None:
    assert sum(1 for doc in FRESH if result(presented(doc)) is not None) > 20
    many = sum(1 for doc in (*FRESH[::5], *KEPT[::3]) for _ in (proposed(presented(doc)) if result(presented(doc)) else ()))
    assert many > 100


def test_it_would_be_noticed() -> None:
    """Another size than the proposed one does change something."""
    doc = next(d for d in FRESH if d.id == "t_nut-hazel")
    presenter = presented(doc)
    assert differs(result(presenter), result(presented(presenter.typed("neck_width", "11.2"))), "neck_width")
    with pytest.raises(ShopError, match="neck"):
        presenter.typed("neck_width", "11.2 11")

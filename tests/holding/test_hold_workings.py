"""Every number of a layout and of an angle setting that shows arithmetic comes out of that arithmetic again."""

from __future__ import annotations

import pytest

from elbrix.book import angle_setups as settings
from elbrix.book import layouts as holds
from elbrix.book.documents import AngleDoc, LayoutDoc
from elbrix.demo import documents
from elbrix.shop.shop import Shop
from workings import worked


@pytest.mark.parametrize("doc", [d for d in documents() if isinstance(d, LayoutDoc)], ids=lambda d: d.id)
def test_layouts(doc: LayoutDoc, demo_shop: Shop) -> None:
    assert worked(holds.solve_doc(doc, demo_shop)) >= 8


@pytest.mark.parametrize("doc", [d for d in documents() if isinstance(d, AngleDoc)], ids=lambda d: d.id)
def test_settings(doc: AngleDoc, demo_shop: Shop) -> None:
    assert worked(settings.solve_angle(doc, demo_shop)) >= 2


@pytest.mark.parametrize("doc", [d for d in documents() if isinstance(d, LayoutDoc | AngleDoc)], ids=lambda d: d.id)
def test_every_check_is_a_sentence_with_something_to_light(doc: LayoutDoc | AngleDoc, demo_shop: Shop) -> None:
    told = holds.solve_doc(doc, demo_shop) if isinstance(doc, LayoutDoc) else settings.solve_angle(doc, demo_shop)
    assert told.verdict is max((c.verdict for c in told.checks), key=lambda v: v.rank)
    for check in told.checks:
        assert check.label[:1].isupper() and check.reason and not check.reason.endswith("."), check.key
        assert told.check(check.key) is check
    for figure in told.figures:
        assert figure.label and told.figure(figure.key) is figure
    with pytest.raises(KeyError):
        told.figure("no such")
    with pytest.raises(KeyError):
        told.check("no such")

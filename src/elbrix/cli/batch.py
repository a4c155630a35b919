"""`together`: several designs of a book made in one go."""

from __future__ import annotations

import argparse
from pathlib import Path

from elbrix.book.batches import batch_of
from elbrix.book.documents import DesignDoc, JobDoc, shop_of
from elbrix.book.store import Book
from elbrix.cli.solving import print_json
from elbrix.demo import documents
from elbrix.making.together import Together
from elbrix.presenters.batch import BatchPresenter
from elbrix.quantities.errors import ShopError
from elbrix.quantities.lengths import UnitStyle
from elbrix.results.length_text import plain
from elbrix.shop.shop import Shop


def _designs_of(book: str | None, names: list[str]) -> tuple[list[tuple[DesignDoc, JobDoc | None]], Shop]:
    """The designs that are asked for, each with its job.

    Raises:
        ShopError: One that is not in the book, or twice.
    """
    if book:
        opened = Book.open(Path(book))
        try:
            designs, jobs, shop = list(opened.each(DesignDoc)), list(opened.each(JobDoc)), opened.shop
        finally:
            opened.close()
    else:
        demo = documents()
        designs = [d for d in demo if isinstance(d, DesignDoc)]
        jobs, shop = [d for d in demo if isinstance(d, JobDoc)], shop_of(demo)
    found: list[tuple[DesignDoc, JobDoc | None]] = []
    for name in names:
        doc = next((d for d in designs if name.lower() in (d.id.lower(), d.title.lower())), None)
        if doc is None or any(doc.id == d.id for d, _ in found):
            raise ShopError(
                "Made together",
                f"“{name}” is asked for twice" if doc else f"there is no design “{name}”",
                "Designs are named by id or title",
                f"There are: {', '.join(d.id for d in designs[:30])}",
            )
        found.append((doc, next((j for j in jobs if j.design == doc.id), None)))
    return found, shop


def together(options: argparse.Namespace) -> int:
    """`elbrix together`: designs of a book made in one go."""
    jobs, shop = _designs_of(options.book, options.design)
    found = batch_of(jobs, shop, options.units)
    style = UnitStyle(options.units)
    if options.json:
        print_json(together_json(found))
        return 0
    shown = BatchPresenter(found, style)
    print(f"{shown.title()}\n{shown.subtitle()}")
    for use in found.layout.bars:
        cuts = " + ".join(f"{style.show(c.length_mm, 'mm', 0.5)} {found.titles[c.job]}" for c in use.lengths)
        print(f"\n{use.bar.title}, {use.bar.rack}\n  {cuts}; {style.with_unit(use.left_mm, 'mm', 0.5)} left")
    for check in shown.tiles():
        print(f"  {check.sign} {check.label}: {plain(check.reason)}")
    for section in shown.card().sections[1:]:
        print(f"\n{section.title}")
        for row in section.rows:
            print(f"  {row.label:40} {row.value}")
    return 0


def together_json(found: Together) -> dict[str, object]:
    """A batch as plain data; lengths in mm."""
    return {
        "bars": [
            {
                "bar": use.bar.id,
                "length_mm": use.bar.length_mm,
                "lengths": [{"design": c.job, "at_mm": c.at_mm, "length_mm": c.length_mm} for c in use.lengths],
                "left_mm": use.left_mm,
                "useful": use.useful,
            }
            for use in found.layout.bars
        ],
        "waste_cm3": found.layout.waste_cm3,
        "buy": dict(found.to_buy),
        "order": [{"design": t.job, "setup": t.setup.id, "at": t.station} for t in found.turns],
        "changes": dict(zip(("machine", "holding", "height", "tool"), found.changes, strict=True)),
        "one_after_another": dict(zip(("machine", "holding", "height", "tool"), found.apart, strict=True)),
        "proved": found.proved,
        "kit": [{"words": k.item.words, "owned": k.item.owned, "for": list(k.jobs)} for k in found.kit],
        "minutes": round(found.minutes, 1),
        "problems": list(found.problems),
    }

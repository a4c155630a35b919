"""Several designs of the book made in one go."""

from __future__ import annotations

from collections.abc import Sequence
from typing import TYPE_CHECKING, Final

from msgspec.structs import replace

from elbrix.book.designs import plan_doc, solve_doc
from elbrix.book.documents import DesignDoc, JobDoc
from elbrix.making.options import Options
from elbrix.quantities.errors import ShopError
from elbrix.shop.shop import Shop

if TYPE_CHECKING:
    from elbrix.making.plan import Plan
    from elbrix.making.together import Together

#: Accessories in one batch.
MAX_TOGETHER: Final = 12


def too_many(count: int) -> ShopError:
    """What is said when so many are wanted in one go."""
    return ShopError(
        "Made together", f"{count} accessories", f"{MAX_TOGETHER} are planned in one go at most", "Leave some for the next batch"
    )


def batch_of(jobs: Sequence[tuple[DesignDoc, JobDoc | None]], shop: Shop, unit: str = "mm") -> Together:
    """Plan designs as one batch, each as its job wants it made; what was measured of one belongs to its own card.

    Raises:
        ShopError: A design does not solve; it is named.
    """
    from elbrix.making.together import Wanted, make_together  # planning is not needed to start

    if len(jobs) > MAX_TOGETHER:
        raise too_many(len(jobs))
    solved = {}
    for doc, _ in jobs:
        try:
            solved[doc.id] = solve_doc(doc, shop)
        except ShopError as error:
            raise ShopError(doc.title, error.what, error.why, error.do, error.entry) from None
    docs = {doc.id: (doc, job) for doc, job in jobs}

    def plan_from(id_: str, bar: str) -> Plan:
        doc, job = docs[id_]
        options = replace(job.options if job else Options(), bar=bar)
        return plan_doc(doc, solved[id_], shop, JobDoc(id=doc.id, design=doc.id, options=options), unit)

    wanted = [
        Wanted(
            id=doc.id,
            title=doc.title,
            plan=plan_from(doc.id, job.options.bar if job else ""),
            bar_chosen=bool(job and job.options.bar),
        )
        for doc, job in jobs
    ]
    return make_together(wanted, shop, plan_from)

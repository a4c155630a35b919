"""The Catalogue bench."""

from elbrix.app.benches.registry import BenchEntry

BENCH = BenchEntry(
    key="catalogue",
    title="Catalogue",
    order=70,
    view="elbrix.app.benches.catalogue.view:CatalogueBench",
    icon=(
        ((3, 2), (29, 2), (29, 20), (3, 20), (3, 2)),
        ((3, 8), (29, 8)),
        ((3, 14), (29, 14)),
        ((14, 5), (18, 5)),
        ((14, 11), (18, 11)),
        ((14, 17), (18, 17)),
    ),  # drawers
)

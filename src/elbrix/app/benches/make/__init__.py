"""The Make bench."""

from elbrix.app.benches.registry import BenchEntry

BENCH = BenchEntry(
    key="make",
    title="Make",
    order=50,
    view="elbrix.app.benches.make.view:MakeBench",
    icon=(
        ((1, 19), (14, 19), (14, 13), (31, 13)),
        ((18, 12), (18, 2), (26, 2), (26, 12)),
        ((18, 6), (26, 6)),
    ),  # a cutter over a step
)

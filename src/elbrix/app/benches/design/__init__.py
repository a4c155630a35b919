"""The Design bench."""

from elbrix.app.benches.registry import BenchEntry

BENCH = BenchEntry(
    key="design",
    title="Design",
    order=20,
    view="elbrix.app.benches.design.view:DesignBench",
    icon=(((3, 4), (29, 4), (29, 11), (21, 11), (21, 19), (11, 19), (11, 11), (3, 11), (3, 4)),),  # a T-nut
)

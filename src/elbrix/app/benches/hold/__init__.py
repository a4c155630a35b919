"""The Hold bench."""

from elbrix.app.benches.registry import BenchEntry

BENCH = BenchEntry(
    key="hold",
    title="Hold",
    order=40,
    view="elbrix.app.benches.hold.view:HoldBench",
    icon=(
        ((2, 19), (30, 19)),
        ((4, 19), (4, 11), (13, 11), (13, 19)),
        ((6, 11), (28, 7)),
        ((6, 7), (28, 3)),
        ((6, 11), (6, 7)),
        ((28, 7), (28, 3)),
        ((20, 2), (20, 19)),
        ((25, 19), (25, 8)),
    ),  # a strap on its stud, tip on the work
)

"""The Angles bench."""

from elbrix.app.benches.registry import BenchEntry

BENCH = BenchEntry(
    key="angles",
    title="Angles",
    order=30,
    view="elbrix.app.benches.angles.view:AnglesBench",
    icon=(
        ((2, 19), (30, 19)),
        ((5, 14), (27, 4)),
        ((5, 14), (5, 19)),
        ((23, 19), (23, 9), (28, 9), (28, 19)),
        ((23, 14), (28, 14)),
    ),  # a plate tilted on a stack
)

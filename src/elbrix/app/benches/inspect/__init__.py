"""The Inspect bench."""

from elbrix.app.benches.registry import BenchEntry

BENCH = BenchEntry(
    key="inspect",
    title="Inspect",
    order=60,
    view="elbrix.app.benches.inspect.view:InspectBench",
    icon=(
        (
            (24.0, 9.0),
            (22.9, 5.0),
            (20.0, 2.1),
            (16.0, 1.0),
            (12.0, 2.1),
            (9.1, 5.0),
            (8.0, 9.0),
            (9.1, 13.0),
            (12.0, 15.9),
            (16.0, 17.0),
            (20.0, 15.9),
            (22.9, 13.0),
            (24.0, 9.0),
        ),
        ((16, 9), (20.5, 5)),
        ((16, 17), (16, 21)),
        ((12.5, 21), (19.5, 21)),
    ),  # a dial indicator
)

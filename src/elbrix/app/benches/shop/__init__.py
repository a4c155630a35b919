"""The Shop bench."""

from elbrix.app.benches.registry import BenchEntry

BENCH = BenchEntry(
    key="shop",
    title="Shop",
    order=10,
    view="elbrix.app.benches.shop.view:ShopBench",
    icon=(((1, 4), (10, 4), (10, 10), (5, 10), (5, 18), (27, 18), (27, 10), (22, 10), (22, 4), (31, 4)),),  # a slot in a table
)

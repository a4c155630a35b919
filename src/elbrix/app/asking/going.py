"""From an answer to the bench, filled in."""

from __future__ import annotations

from typing import TYPE_CHECKING

from elbrix.book.documents import Chosen

if TYPE_CHECKING:
    from elbrix.answers.answer import Go
    from elbrix.app.window import Window


def go_on(window: Window, go: Go) -> None:
    """Open the bench an answer names, with what was asked in it."""
    if go.bench == "catalogue":
        window.session.design_id = go.thing
    window.open_bench(go.bench)
    bench = window.bench
    if go.bench == "angles":
        from elbrix.app.benches.angles.view import AnglesBench

        assert isinstance(bench, AnglesBench)
        if go.kind:
            bench.start(go.kind, go.title, {name: Chosen(text=text) for name, text in go.chosen.items()})
        else:
            bench.show_setting(go.thing)
    elif go.bench == "shop" and go.thing:
        from elbrix.app.benches.shop.view import ShopBench

        assert isinstance(bench, ShopBench)
        bench.see(go.thing)
        if go.item:
            bench.pick(f"item {go.item}")
    window.refresh()

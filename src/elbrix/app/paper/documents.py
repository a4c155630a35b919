"""Which pages belong to a design: its drawing, its route card, its drawer label."""

from __future__ import annotations

import re
from datetime import date
from typing import Final

from elbrix.answers.by_code import label_code
from elbrix.app.paper.drawing_sheet import DrawingSheet
from elbrix.app.paper.label import DrawerLabel
from elbrix.app.paper.route_card import RouteCard
from elbrix.book.designs import family_of, made_sizes, slot_fits, solve_doc
from elbrix.book.documents import DesignDoc, JobDoc
from elbrix.design.family import Design
from elbrix.design.files import drawn_views, mass_kg
from elbrix.design.tolerances import size_limits
from elbrix.drawing.scene import Scene, without_words
from elbrix.drawing.sheets import USUAL, SheetChoice
from elbrix.presenters.design import DesignPresenter
from elbrix.quantities.errors import ShopError
from elbrix.quantities.lengths import UnitStyle
from elbrix.quantities.sentences import within
from elbrix.results.checks import Verdict
from elbrix.results.length_text import said_in
from elbrix.shop.shop import Shop
from elbrix.solids.client import Kernel

#: A size as made nearer to its drawing than this needs no word on a label.
_OFF_MM: Final = 0.02


def file_name(title: str, ending: str) -> str:
    """A file name out of a title."""
    return (re.sub(r"[\W_]+", "-", title)[:80].strip("-") or "elbrix") + f" {ending}"


def quantity_words(design: Design) -> str:
    """How many are to be made; empty when the family does not ask."""
    return f"{design.values.number('pieces'):.0f}" if "pieces" in design.values else ""


def drawing_sheet(doc: DesignDoc, shop: Shop, style: UnitStyle, kernel: Kernel, choice: SheetChoice = USUAL) -> DrawingSheet:
    """The drawing, from the solid.

    Raises:
        ShopError: The design does not solve or its solid cannot be made.
    """
    presenter = DesignPresenter(doc, shop, style)
    if presenter.design is None:
        raise presenter.problem or ShopError("Drawing", "there is no design", "Nothing was solved", "Pick a design")
    kg = mass_kg(presenter.family, presenter.design, kernel)
    material = presenter.design.values.word("material") if "material" in presenter.design.values else ""
    return DrawingSheet(
        name=file_name(doc.title, "drawing"),
        title=doc.title,
        subtitle=f"{presenter.subtitle()}\n{said_in(presenter.design.note_words, style)}",
        design=presenter.design,
        views=drawn_views(presenter.family, presenter.design, kernel),
        limits=size_limits(presenter.family, presenter.design, shop),
        choice=choice,
        style=style,
        material=material,
        mass=f"{kg * 1000:.0f} g" if kg < 1 else f"{kg:.2f} kg",
        on=date.today().isoformat(),
        quantity=quantity_words(presenter.design),
        face=next((s for s in presenter.family.scenes(presenter.design) if s.name == presenter.design.face), None),
    )


def route_card(doc: DesignDoc, shop: Shop, style: UnitStyle, job: JobDoc) -> RouteCard:
    """The route card with what is ticked and measured so far.

    Raises:
        ShopError: The design does not solve.
    """
    presenter = DesignPresenter(doc, shop, style, job)
    presenter.catch_up()
    if presenter.plan is None or presenter.design is None:
        raise presenter.problem or ShopError("Route card", "there is no plan", "Nothing was solved", "Pick a design")
    main = next(iter(presenter.family.scenes(presenter.design)))
    return RouteCard(
        name=file_name(doc.title, "route card"),
        title=doc.title,
        subtitle=f"{presenter.subtitle()}   on {presenter.plan.machine}",
        plan=presenter.plan,
        scene=main,
        label=presenter.label,
        value=presenter.value,
        style=style,
        done=frozenset(job.done),
        measured=dict(job.measured),
        tape=tuple(f"#{n}   {entry.asked}  =  {entry.text}" for n, entry in enumerate(job.tape, 1)),
    )


def _as_made_line(doc: DesignDoc, shop: Shop, style: UnitStyle) -> tuple[str, ...]:
    """The sizes that came out otherwise than drawn, as far as a label has room; nothing when none did."""
    off = [
        f"{within(s.label)} {style.show(sum(s.made_mm) / len(s.made_mm), 'mm', 0.01)}"
        for s in made_sizes(doc, shop)
        if abs(sum(s.made_mm) / len(s.made_mm) - s.designed_mm) >= _OFF_MM
    ]
    return (f"made: {', '.join(off[:3])}",) if off else ()


def drawer_label(doc: DesignDoc, shop: Shop, style: UnitStyle) -> DrawerLabel:
    """The label for where it lives.

    Raises:
        ShopError: The design does not solve.
    """
    family = family_of(doc)
    design = solve_doc(doc, shop)
    fits = [f for f in slot_fits(doc, shop) if f.verdict is Verdict.GO]
    by_machine: dict[str, list[str]] = {}
    for fit in fits:
        by_machine.setdefault(fit.machine, []).append(fit.slot)
    words = [f"{m}: {', '.join(slots)}" for m, slots in by_machine.items()]
    lines = (
        (f"Rev {doc.letter}" if doc.letter else "draft") + (f", {doc.made} made" if doc.made else ""),
        *(said_in(c.words, style) for c in family.can_hold(design)),
        *(f"fits {w}" for w in words[:3]),
        *_as_made_line(doc, shop, style),
        said_in(design.note_words, style),
    )
    main = next(iter(family.scenes(design)))
    bare = Scene(main.name, elements=without_words(main).elements)
    return DrawerLabel(
        name=file_name(doc.title, "label"), title=doc.title, lines=lines, location=doc.location, code=label_code(doc), scene=bare
    )

"""PDF without a window, for the command line."""

from __future__ import annotations

import os
from datetime import date
from pathlib import Path

from PyQt6.QtGui import QGuiApplication

from elbrix.app.paper.documents import file_name, quantity_words
from elbrix.app.paper.drawing_sheet import DrawingSheet
from elbrix.app.paper.output import write_pdf
from elbrix.app.theme.type import load_fonts
from elbrix.design.family import Design, Family
from elbrix.design.files import AS_USUAL, Drafting, drawn_views, mass_kg
from elbrix.quantities.lengths import METRIC, UnitStyle
from elbrix.results.length_text import said_in
from elbrix.solids.client import Kernel


def drawing_pdf(
    family: Family,
    design: Design,
    kernel: Kernel,
    path: Path,
    title: str,
    subtitle: str = "",
    style: UnitStyle = METRIC,
    drawn: Drafting = AS_USUAL,
) -> None:
    """Write the drawing of a design as PDF: as the window prints it, as a draft."""
    application = QGuiApplication.instance()
    if application is None:
        os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
        application = QGuiApplication(["elbrix"])
        load_fonts()
    kg = mass_kg(family, design, kernel)
    sheet = DrawingSheet(
        name=file_name(title, "drawing"),
        title=title,
        subtitle="\n".join(p for p in (subtitle, said_in(design.note_words, style)) if p),
        design=design,
        views=drawn_views(family, design, kernel),
        limits=drawn.limits,
        choice=drawn.choice,
        style=style,
        material=design.values.word("material") if "material" in design.values else "",
        mass=f"{kg * 1000:.0f} g" if kg < 1 else f"{kg:.2f} kg",
        on=date.today().isoformat(),
        quantity=quantity_words(design),
        face=next((s for s in family.scenes(design) if s.name == design.face), None),
    )
    write_pdf(sheet, path)

"""Writes a design's files from the window."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtWidgets import QFileDialog, QWidget

from elbrix.app.background import in_background
from elbrix.app.paper.documents import drawing_sheet, file_name
from elbrix.app.paper.output import write_pdf
from elbrix.app.session import Session
from elbrix.book.designs import family_of, solve_doc
from elbrix.book.documents import DesignDoc
from elbrix.design.files import FORMATS, Drafting, write_all
from elbrix.design.tolerances import size_limits
from elbrix.quantities.errors import ShopError
from elbrix.solids.client import Kernel


def ask_and_write(parent: QWidget, session: Session, doc: DesignDoc) -> None:
    """Ask for a folder and write every format there."""
    folder = QFileDialog.getExistingDirectory(
        parent,
        "Folder for the files",
        str(Path.home()),
        options=QFileDialog.Option.DontUseNativeDialog | QFileDialog.Option.ShowDirsOnly,
    )
    if folder:
        try:
            written = in_background(lambda: write_files(session, doc, Path(folder)))
        except ShopError as error:
            session.refused.emit(str(error))
            return
        session.refused.emit(f"{len(written)} files written to {folder}")


def write_files(session: Session, doc: DesignDoc, folder: Path) -> list[Path]:
    """Every format of a design into a folder.

    Raises:
        ShopError: The design does not solve, or its solid cannot be made.
    """
    family, design, choice = family_of(doc), solve_doc(doc, session.shop), session.sheet
    stem = file_name(doc.title, doc.letter).strip()

    def pdf(kernel: Kernel, path: Path) -> None:
        write_pdf(drawing_sheet(doc, session.shop, session.style, kernel, choice), path)

    drawn = Drafting(size_limits(family, design, session.shop), choice)
    return write_all(family, design, folder, stem, doc.title, FORMATS, pdf, drawn)

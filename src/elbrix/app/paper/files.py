"""Writes a design's files from the window."""

from __future__ import annotations

import time
from pathlib import Path

from PyQt6.QtWidgets import QFileDialog, QWidget

from elbrix.app.paper.documents import drawing_sheet, file_name
from elbrix.app.paper.output import write_pdf
from elbrix.app.session import Session
from elbrix.book.designs import family_of, solve_doc
from elbrix.book.documents import DesignDoc
from elbrix.design.files import FORMATS, file_bytes
from elbrix.quantities.errors import ShopError
from elbrix.solids.client import Kernel


def ask_and_write(parent: QWidget, session: Session, doc: DesignDoc) -> None:
    """Ask for a folder and write every format there."""
    folder = QFileDialog.getExistingDirectory(
        parent,
        parent.tr("Folder for the files"),
        str(Path.home()),
        options=QFileDialog.Option.DontUseNativeDialog | QFileDialog.Option.ShowDirsOnly,
    )
    if folder:
        try:
            written = write_files(session, doc, Path(folder))
        except (ShopError, OSError) as error:
            session.refused.emit(str(error))
            return
        session.refused.emit(parent.tr("{0} files written to {1}").format(len(written), folder))


def write_files(session: Session, doc: DesignDoc, folder: Path) -> list[Path]:
    """Every format of a design into a folder.

    Raises:
        ShopError: The design does not solve, or its solid cannot be made.
        OSError: The folder cannot be written.
    """
    family, design = family_of(doc), solve_doc(doc, session.shop)
    kernel = Kernel()
    written = []
    try:
        for form in FORMATS:
            path = folder / f"{file_name(doc.title, doc.letter).strip()}.{form}"
            if form == "pdf":
                write_pdf(drawing_sheet(doc, session.shop, session.style, kernel), path)
            else:
                path.write_bytes(file_bytes(family, design, kernel, form, doc.title, time.strftime("%Y-%m-%dT%H:%M:%S")))
            written.append(path)
    finally:
        kernel.stop()
    return written

"""Pages to PDF, to a picture, to a printer."""

from __future__ import annotations

from pathlib import Path
from typing import Any

from PyQt6.QtCore import QMarginsF, QSizeF, Qt
from PyQt6.QtGui import QImage, QPageLayout, QPageSize, QPainter, QPdfWriter
from PyQt6.QtPrintSupport import QPrinter

from elbrix import __version__
from elbrix.app.paper.pages import Pages
from elbrix.quantities.errors import ShopError

_PDF_DPI = 600


def _layout(pages: Pages) -> QPageLayout:
    width, height = pages.size_mm
    # A page wider than tall is a turned one to Qt: give it the upright size and the orientation.
    upright = QPageSize(QSizeF(min(width, height), max(width, height)), QPageSize.Unit.Millimeter)
    turn = QPageLayout.Orientation.Landscape if width > height else QPageLayout.Orientation.Portrait
    return QPageLayout(upright, turn, QMarginsF(0, 0, 0, 0))


def _paint_all(painter: QPainter, pages: Pages, dots_per_inch: float, new_page: object) -> None:
    for index in range(pages.count):
        if index and callable(new_page):
            new_page()
        painter.save()
        painter.scale(dots_per_inch / 254, dots_per_inch / 254)
        pages.paint(painter, index)
        painter.restore()


def write_pdf(pages: Pages, path: Path) -> None:
    """Write a PDF.

    Raises:
        ShopError: The file cannot be written.
    """
    writer = QPdfWriter(str(path))
    writer.setPageLayout(_layout(pages))
    writer.setResolution(_PDF_DPI)
    writer.setTitle(pages.name)
    writer.setCreator(f"Elbrix {__version__}")
    painter = QPainter()
    if not painter.begin(writer):
        raise ShopError(
            "Print",
            f"{path} cannot be written",
            "The folder is not there, is full, or may not be written to",
            "Choose another place",
        )
    _paint_all(painter, pages, _PDF_DPI, writer.newPage)
    painter.end()
    del painter, writer  # the file is whole only then
    _finish(pages, path)


def _finish(pages: Pages, path: Path) -> None:
    """Make the text of a PDF findable: its spaces are spaces, and it says what it is and in which language.

    Qt names the space glyph after the first character that is drawn with it, which is the tab.
    """
    from pypdf import PdfReader, PdfWriter  # only a PDF needs it
    from pypdf.generic import DecodedStreamObject, NameObject, StreamObject, TextStringObject

    writer = PdfWriter(clone_from=PdfReader(path))
    seen = set()
    for page in writer.pages:
        fonts: Any = page["/Resources"].get_object()
        for font in (fonts.get("/Font") or {}).values():
            unicode = font.get_object().raw_get("/ToUnicode") if "/ToUnicode" in font.get_object() else None
            if unicode is None or unicode.idnum in seen:
                continue
            seen.add(unicode.idnum)
            stream = unicode.get_object()
            assert isinstance(stream, StreamObject)
            fresh = DecodedStreamObject()
            fresh.set_data(stream.get_data().replace(b"<0009>", b"<0020>"))
            unicode.pdf._objects[unicode.idnum - 1] = fresh.flate_encode()
    writer.add_metadata({"/Title": pages.title, "/Subject": pages.name, "/Creator": f"Elbrix {__version__}"})
    writer.root_object[NameObject("/Lang")] = TextStringObject("en-GB")
    part = path.with_suffix(".part")
    try:
        writer.write(part)
        part.replace(path)
    except OSError as error:
        part.unlink(missing_ok=True)
        raise ShopError(
            "Print", f"{path} cannot be written ({error.strerror})", "The disk is full or refuses", "Choose another place"
        ) from None


def print_to(pages: Pages, printer: QPrinter) -> None:
    """Send to a printer."""
    printer.setPageLayout(_layout(pages))
    printer.setFullPage(True)
    painter = QPainter(printer)
    _paint_all(painter, pages, printer.resolution(), printer.newPage)
    painter.end()


def page_image(pages: Pages, index: int, width_px: int) -> QImage:
    """One page as a picture, for the preview: the real page, painted by the same code."""
    width, height = pages.size_mm
    image = QImage(width_px, round(width_px * height / width), QImage.Format.Format_RGB32)
    image.fill(Qt.GlobalColor.white)
    painter = QPainter(image)
    painter.scale(width_px / width / 10, width_px / width / 10)
    pages.paint(painter, index)
    painter.end()
    return image

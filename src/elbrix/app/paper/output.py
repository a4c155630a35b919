"""Pages to PDF, to a picture, to a printer."""

from __future__ import annotations

import io
from pathlib import Path
from typing import Any

from PyQt6.QtCore import QBuffer, QMarginsF, QSizeF, Qt
from PyQt6.QtGui import QImage, QPageLayout, QPageSize, QPainter, QPdfWriter
from PyQt6.QtPrintSupport import QPrinter

from elbrix import __version__
from elbrix.app.paper.pages import Pages
from elbrix.exchange.whole_file import write_whole
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
    data = QBuffer()
    data.open(QBuffer.OpenModeFlag.WriteOnly)
    writer = QPdfWriter(data)
    writer.setPageLayout(_layout(pages))
    writer.setResolution(_PDF_DPI)
    writer.setTitle(pages.name)
    writer.setCreator(f"Elbrix {__version__}")
    painter = QPainter()
    painter.begin(writer)
    _paint_all(painter, pages, _PDF_DPI, writer.newPage)
    painter.end()
    del painter, writer  # it is whole only then
    try:
        write_whole(path, _finished(pages, data.data().data()))
    except OSError as error:
        raise ShopError(
            "Print",
            f"{path} cannot be written ({error.strerror})",
            "The folder is not there, is full, or may not be written to",
            "Choose another place",
        ) from None


def _finished(pages: Pages, data: bytes) -> bytes:
    """Make the text of a PDF findable: its spaces are spaces, and it says what it is and in which language.

    Qt names the space glyph after the first character that is drawn with it, which is the tab.
    """
    from pypdf import PdfReader, PdfWriter  # only a PDF needs it
    from pypdf.generic import DecodedStreamObject, NameObject, StreamObject, TextStringObject

    writer = PdfWriter(clone_from=PdfReader(io.BytesIO(data)))
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
    whole = io.BytesIO()
    writer.write(whole)
    return whole.getvalue()


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

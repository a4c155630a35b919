"""The page as it will be printed, with two ways on: a PDF or a printer."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path
from typing import Protocol, runtime_checkable

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QImage, QPixmap
from PyQt6.QtPrintSupport import QPrintDialog, QPrinter
from PyQt6.QtWidgets import QComboBox, QDialog, QHBoxLayout, QPushButton, QScrollArea, QVBoxLayout, QWidget

from elbrix.app.background import Later, in_background
from elbrix.app.dialogs import asked
from elbrix.app.file_choice import file_to_write
from elbrix.app.paper.output import page_image, print_to, write_pdf
from elbrix.app.paper.pages import Pages
from elbrix.app.words import Label, set_tip
from elbrix.drawing.sheets import PAPERS, PROJECTIONS, SheetChoice
from elbrix.quantities.errors import ShopError


@runtime_checkable
class Choosable(Protocol):
    """Pages that a shop may have on this paper or that, with its views this way or that."""

    choice: SheetChoice

    def drawn(self, choice: SheetChoice) -> Pages:
        """The same another way."""


class PagePreview(QDialog):
    """Pages one under the other."""

    def __init__(self, pages: Pages, title: str, parent: QWidget, keep: Callable[[SheetChoice], None] | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("window")
        self.setWindowTitle(title)
        self._pages = pages
        self.resize(900, 740)
        head = Label(title)
        head.setObjectName("title")
        self.said = Label()
        self.said.setObjectName("rowLabel")
        self.said.setWordWrap(True)
        self.pdf, self.printer, self.close_ = (QPushButton("Save as PDF…"), QPushButton("Print…"), QPushButton("Close"))
        self.pdf.setObjectName("main")
        self.close_.setObjectName("plain")
        self.pdf.clicked.connect(self._ask_pdf)
        self.printer.clicked.connect(self._print)
        self.close_.clicked.connect(self.accept)
        top = QHBoxLayout()
        top.addWidget(head, 1)
        self.paper, self.projection = QComboBox(self), QComboBox(self)  # of other pages hidden, but never without an owner
        if isinstance(pages, Choosable):
            for box, names, known, now in (
                (self.paper, "Paper", PAPERS, pages.choice.paper),
                (self.projection, "Projection", PROJECTIONS, pages.choice.projection),
            ):
                box.setAccessibleName(names)
                set_tip(box, f"{names} of this shop's drawings")
                for key, shown in known:
                    box.addItem(shown if isinstance(shown, str) else key, key)
                box.setCurrentIndex(max(0, box.findData(now)))
                box.currentIndexChanged.connect(self._choose)
                top.addWidget(box)
        else:
            self.paper.hide()
            self.projection.hide()
        self._keep = keep
        for part in (self.pdf, self.printer, self.close_):
            top.addWidget(part)
        self._area = area = QScrollArea()
        area.setWidgetResizable(True)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(16, 12, 16, 12)
        layout.addLayout(top)
        layout.addWidget(self.said)
        layout.addWidget(area, 1)
        self._painting = Later(self)
        self._painting.done.connect(self._painted)
        self._lay()

    def _lay(self) -> None:
        """Room for every page, then the pages."""
        page = QWidget()
        column = QVBoxLayout(page)
        column.setSpacing(16)
        width = 820 if self._pages.size_mm[0] > 100 else 520
        self._width, (wide, high) = width, self._pages.size_mm
        self._sheets = [Label() for _ in range(self._pages.count)]
        for label in self._sheets:
            label.setFixedSize(width, round(width * high / wide))
            column.addWidget(label, 0, Qt.AlignmentFlag.AlignHCenter)
        column.addStretch(1)
        self._area.setWidget(page)
        self._paint(0)

    def _choose(self) -> None:
        """The same drawing on other paper or in the other projection; the shop's next one is like it."""
        if isinstance(self._pages, Choosable):
            choice = SheetChoice(self.projection.currentData(), self.paper.currentData())
            self._pages = self._pages.drawn(choice)
            if self._keep is not None:
                self._keep(choice)
            self._lay()

    def _ask_pdf(self) -> None:
        path = file_to_write(self, "Save as PDF", "PDF (*.pdf)", f"{self._pages.name}.pdf")
        if path is not None:
            self.write(path)

    def _paint(self, index: int) -> None:
        """A page takes a tenth of a second to paint: one after another, beside the window."""
        if index < len(self._sheets):
            pages, width = self._pages, 2 * self._width
            self._painting.start(lambda: (pages, index, page_image(pages, index, width)))

    def _painted(self, found: tuple[Pages, int, QImage]) -> None:
        pages, index, image = found
        if pages is not self._pages:
            return  # laid out otherwise since
        image.setDevicePixelRatio(2)
        self._sheets[index].setPixmap(QPixmap.fromImage(image))
        self._paint(index + 1)

    @property
    def catching_up(self) -> bool:
        """Whether pages are still to come."""
        return self._painting.busy

    def write(self, path: Path) -> None:
        """Write the PDF and say where it is, or why not."""
        self._busy(f"Writing {path.name} …")
        try:
            in_background(lambda: write_pdf(self._pages, path))
        except ShopError as error:
            self._busy("")
            self.said.setText(str(error))
            return
        self._busy("")
        self.said.setText(f"Written: {path}")

    def _busy(self, words: str) -> None:
        """Neither closed nor asked for more while paper is made; "" when it is done."""
        self.said.setText(words)
        for part in (self.paper, self.projection, self.pdf, self.printer, self.close_):
            part.setEnabled(not words)

    def reject(self) -> None:
        if self.close_.isEnabled():
            super().reject()

    def _print(self) -> None:
        printer = QPrinter(QPrinter.PrinterMode.HighResolution)
        if asked(QPrintDialog(printer, self)):
            self._busy("Printing …")
            try:
                in_background(lambda: print_to(self._pages, printer))
            finally:
                self._busy("")
            self.accept()

"""The page as it will be printed, with two ways on: a PDF or a printer."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QPixmap
from PyQt6.QtPrintSupport import QPrintDialog, QPrinter
from PyQt6.QtWidgets import QDialog, QHBoxLayout, QPushButton, QScrollArea, QVBoxLayout, QWidget

from elbrix.app.file_choice import file_to_write
from elbrix.app.paper.output import page_image, print_to, write_pdf
from elbrix.app.paper.pages import Pages
from elbrix.app.words import Label
from elbrix.quantities.errors import ShopError


class PagePreview(QDialog):
    """Pages one under the other."""

    def __init__(self, pages: Pages, title: str, parent: QWidget) -> None:
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
        for part in (self.pdf, self.printer, self.close_):
            top.addWidget(part)
        page = QWidget()
        column = QVBoxLayout(page)
        column.setSpacing(16)
        width = 820 if pages.size_mm[0] > 100 else 520
        for index in range(pages.count):
            label = Label()
            image = page_image(pages, index, width * 2)
            image.setDevicePixelRatio(2)
            label.setPixmap(QPixmap.fromImage(image))
            label.setAlignment(Qt.AlignmentFlag.AlignHCenter)
            column.addWidget(label)
        column.addStretch(1)
        area = QScrollArea()
        area.setWidget(page)
        area.setWidgetResizable(True)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(16, 12, 16, 12)
        layout.addLayout(top)
        layout.addWidget(self.said)
        layout.addWidget(area, 1)

    def _ask_pdf(self) -> None:
        path = file_to_write(self, "Save as PDF", "PDF (*.pdf)", f"{self._pages.name}.pdf")
        if path is not None:
            self.write(path)

    def write(self, path: Path) -> None:
        """Write the PDF and say where it is, or why not."""
        try:
            write_pdf(self._pages, path)
        except ShopError as error:
            self.said.setText(str(error))
            return
        self.said.setText(f"Written: {path}")

    def _print(self) -> None:
        printer = QPrinter(QPrinter.PrinterMode.HighResolution)
        if QPrintDialog(printer, self).exec() == QDialog.DialogCode.Accepted:
            print_to(self._pages, printer)
            self.accept()

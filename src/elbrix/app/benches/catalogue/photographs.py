"""A photograph seen large, with what it shows and a way to take it out again."""

from __future__ import annotations

from PyQt6.QtCore import QSize, Qt, pyqtSignal
from PyQt6.QtGui import QImage, QPixmap
from PyQt6.QtWidgets import QDialog, QHBoxLayout, QLineEdit, QPushButton, QVBoxLayout, QWidget

from elbrix.app.words import Label, set_tip
from elbrix.book.documents import PhotoDoc

_LARGE = QSize(860, 600)


class PhotoDialog(QDialog):
    """One photograph."""

    removed = pyqtSignal()
    named = pyqtSignal(str)

    def __init__(self, photo: PhotoDoc, parent: QWidget) -> None:
        super().__init__(parent)
        self.setObjectName("window")
        self.setWindowTitle("Photograph")
        self._photo = photo
        picture = Label()
        image = QImage.fromData(photo.jpeg)
        if image.isNull():
            picture.setText("This photograph cannot be shown: it was damaged in the file it came from.")
        else:
            picture.setPixmap(
                QPixmap.fromImage(
                    image.scaled(_LARGE, Qt.AspectRatioMode.KeepAspectRatio, Qt.TransformationMode.SmoothTransformation)
                )
            )
        picture.setAccessibleName(photo.title or "Photograph")
        self.title = QLineEdit(photo.title)
        self.title.setPlaceholderText("What it shows")
        self.title.setAccessibleName("What it shows")
        self.title.setMaxLength(120)
        self.title.editingFinished.connect(self._name)
        self.remove, self.close_ = QPushButton("Take it out"), QPushButton("Close")
        self.remove.setObjectName("plain")
        set_tip(self.remove, "Undo brings it back")
        self.close_.setObjectName("main")
        self.remove.clicked.connect(self._remove)
        self.close_.clicked.connect(self.accept)
        for button in (self.remove, self.close_):
            button.setAutoDefault(False)
        foot = QHBoxLayout()
        foot.addWidget(Label(photo.on))
        foot.addWidget(self.title, 1)
        foot.addWidget(self.remove)
        foot.addWidget(self.close_)
        layout = QVBoxLayout(self)
        layout.addWidget(picture, 1, Qt.AlignmentFlag.AlignHCenter)
        layout.addLayout(foot)

    def _name(self) -> None:
        words = " ".join(self.title.text().split())
        if words != self._photo.title:
            self.named.emit(words)

    def _remove(self) -> None:
        self.removed.emit()
        self.accept()

"""The field a question is typed into, and the card that answers it while it is typed."""

from __future__ import annotations

from datetime import date
from typing import TYPE_CHECKING

from msgspec.structs import replace
from PyQt6.QtCore import QEvent, QObject, QPoint, Qt, QTimer, pyqtSignal
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QApplication, QFrame, QLineEdit, QVBoxLayout, QWidget

from elbrix.app.asking.needs import Needs
from elbrix.app.background import Later
from elbrix.app.card.card import Card
from elbrix.app.dragging import DraggedResult
from elbrix.app.session import Session
from elbrix.app.words import Label, set_tip
from elbrix.book.documents import JobDoc, TapeEntry
from elbrix.presenters.card import CardView
from elbrix.results.length_text import said_in

if TYPE_CHECKING:
    from elbrix.answers.answer import Answer, NotAnswered, ShopContext

_WIDTH, _PANEL = 250, 480
_PAUSE_MS = 180


class AskPanel(QFrame):
    """Floats under the field: title and card."""

    closed = pyqtSignal()

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        self.setObjectName("why")
        self.title = Label()
        self.title.setObjectName("groupTitle")
        self.title.setWordWrap(True)
        self.result = DraggedResult()
        set_tip(self.result, "Drag it to the number it is for")
        self.result.setObjectName("result")
        self.result.setWordWrap(True)
        self.card = Card()
        layout = QVBoxLayout(self)
        layout.setContentsMargins(2, 12, 2, 2)
        layout.setSpacing(0)
        for label in (self.title, self.result):
            label.setContentsMargins(14, 0, 14, 0)
            layout.addWidget(label)
        layout.addWidget(self.card, 1)
        self.hide()

    def place(self, right: int, top: int, room: int) -> None:
        """Stand under the field, as high as the answer needs and the window allows."""
        width = min(_PANEL, self.parentWidget().width() - 120 if self.parentWidget() else _PANEL)  # type: ignore[union-attr]
        self.setFixedWidth(width)
        heads = sum(label.heightForWidth(width - 8) for label in (self.title, self.result) if not label.isHidden())
        wanted = heads + self.card.content_height(width - 4) + 26
        self.setFixedHeight(max(120, min(wanted, room)))
        self.move(QPoint(right - width, top))
        self.raise_()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is not None and event.key() == Qt.Key.Key_Escape:
            self.closed.emit()
        elif event is not None:
            super().keyPressEvent(event)


def _answer(text: str, world: ShopContext, unit: str) -> Answer | NotAnswered:
    from elbrix.answers.answer import NotAnswered
    from elbrix.answers.ask import ask

    try:
        return ask(text, world, unit)
    except NotAnswered as error:
        return error


class AskField(QLineEdit):
    """Type a question; Enter answers it, Enter again goes on to the bench, Esc leaves it."""

    go = pyqtSignal(object)  #: an `answers.answer.Destination`
    carried = pyqtSignal(str)  #: a number to be put into the field that is clicked next

    def __init__(self, session: Session, page: QWidget) -> None:
        super().__init__()
        self._session = session
        self.setPlaceholderText("Ask: tap drill M10…   F4")
        self.setAccessibleName("Ask a shop question")
        set_tip(self, "Ask a shop question in plain words (F4)")
        self.setMaxLength(200)
        self.setFixedWidth(_WIDTH)
        self.setMinimumHeight(32)
        self._page = page
        self._panel: AskPanel | None = None
        self.answer: object = None  # an Answer when the card shows one
        self._answered = ""
        self._pause = QTimer(self)
        self._pause.setSingleShot(True)
        self._pause.setInterval(_PAUSE_MS)
        self._pause.timeout.connect(lambda: self._reply(asked=False))
        self._again = QTimer(self)
        self._again.setSingleShot(True)
        self._again.setInterval(0)
        self._again.timeout.connect(lambda: self._reply(asked=False) if self.panel_open else None)
        self.textEdited.connect(lambda _: self._pause.start())
        self.returnPressed.connect(self._entered)
        self._working = Later(self)
        self._working.done.connect(self._worked)
        self.needs = Needs(session, self)
        self.needs.met.connect(self._found)
        app = QApplication.instance()
        if isinstance(app, QApplication):
            app.focusChanged.connect(self._focus_moved)

    @property
    def panel(self) -> AskPanel:
        """The answer card, made when it is first wanted."""
        if self._panel is None:
            self._panel = AskPanel(self._page)
            self._panel.closed.connect(self.close_panel)
            self._panel.card.picked.connect(self._picked)
            self._panel.card.pressed.connect(self._pressed)
        return self._panel

    @property
    def panel_open(self) -> bool:
        return self._panel is not None and self._panel.isVisible()

    # --- opening and closing -----------------------------------------------------------------------------------------

    def open(self) -> None:
        """Take the focus; what was asked last is selected."""
        self.setFocus()
        self.selectAll()
        self._reply(asked=False)

    def close_panel(self) -> None:
        self._pause.stop()
        if not self.panel_open:
            return
        self.panel.hide()
        if self.hasFocus() or self.panel.isAncestorOf(QApplication.focusWidget() or self):
            parent = self.window()
            if parent is not None:
                parent.setFocus()

    def refresh(self) -> None:
        """The unit, the look or the shop changed."""
        if self.panel_open:
            self._again.start()  # the bench comes first

    def place(self) -> None:
        """Put the panel under the field."""
        page = self._page
        if self.panel_open:
            corner = self.mapTo(page, self.rect().bottomRight())
            self.panel.place(max(corner.x() + 1, _PANEL + 100), corner.y() + 6, page.height() - corner.y() - 20)

    def _focus_moved(self, old: QWidget | None, new: QWidget | None) -> None:
        if self.panel_open and new is not None and new is not self and not self.panel.isAncestorOf(new):
            self.panel.hide()

    # --- asking ------------------------------------------------------------------------------------------------------

    @property
    def busy(self) -> bool:
        """Whether an answer is being worked out beside the window."""
        return self._working.busy

    def _entered(self) -> None:
        answer = self.answer
        if answer is not None and self.panel_open and self._answered == self.text() and getattr(answer, "go", None) is not None:
            self._pressed("go")
        else:
            self._reply(asked=True)
            if getattr(self.answer, "topic", "") == "code" and not getattr(self.answer, "notes", ()):
                self._pressed("go")  # a scanner presses Enter once

    def _reply(self, *, asked: bool) -> None:
        """Show the answer; while typing only what is understood, after Enter also why not."""
        from elbrix.answers.ask import may_search, world_of  # nothing of this is needed to start
        from elbrix.presenters.ask import hello_card

        self._pause.stop()
        text, style = self.text().strip(), self._session.style
        if not text:
            job = self._job()
            named = self._session.design.title if self._session.design is not None else ""
            self.answer, title, view = None, "Ask a shop question", hello_card(job, named)
            self._show(title, "", view)
            return
        world = world_of(self._session.book, self._job())
        if may_search(text):
            self.answer = None
            self._working.start(lambda: (text, asked, _answer(text, world, style.length)))
            self._show("Working it out…", "", CardView(sections=()))
        else:
            self._answer_with(text, _answer(text, world, style.length), asked=asked)

    def _worked(self, told: tuple[str, bool, Answer | NotAnswered]) -> None:
        text, asked, found = told
        if text == self.text().strip() and self.panel_open:
            self._answer_with(text, found, asked=asked)

    def _answer_with(self, text: str, found: Answer | NotAnswered, *, asked: bool) -> None:
        from elbrix.answers.answer import NotAnswered
        from elbrix.presenters.ask import answer_card, hello_card, refusal_card, result_text

        style = self._session.style
        if not isinstance(found, NotAnswered):
            named = self._session.design.title if self._session.design is not None else ""
            self.answer = found
            self._show(found.title, result_text(found, style), answer_card(found, style, named))
        elif self.needs.is_need(text):
            self._look_for(text)
        elif asked or not self.panel_open or self.answer is None:  # else a half-typed question: what was understood stays
            self.answer = None
            title = "No answer to that" if asked else "Go on typing, or press Enter"
            self._show(title, "", refusal_card(found, self._session.style) if asked else hello_card())

    def _job(self) -> JobDoc | None:
        """The making of the design in hand."""
        design = self._session.design
        return self._session.job_of(design) if design is not None else None

    def _look_for(self, text: str) -> None:
        """What is known at once, the proofs beside the window: what is offered is solved first."""
        from elbrix.answers.answer import NotAnswered
        from elbrix.presenters.ask import looking_card, refusal_card

        self.answer = None
        so_far = self.needs.look_for(text)
        if isinstance(so_far, NotAnswered):
            self._show("No answer to that", "", refusal_card(so_far, self._session.style))
            return
        self._show(so_far.title, "", looking_card(so_far, self._session.style))

    def _found(self, text: str, told: object) -> None:
        from elbrix.answers.answer import Answer, NotAnswered
        from elbrix.presenters.ask import answer_card, refusal_card

        if text != self.text().strip() or not self.panel_open:
            return
        if isinstance(told, Answer):
            self.answer = told
            self._show(told.title, "", answer_card(told, self._session.style))
        elif isinstance(told, NotAnswered):
            self._show("No answer to that", "", refusal_card(told, self._session.style))

    def _show(self, title: str, result: str, view: CardView) -> None:
        self._answered = self.text() if self.answer is not None else ""
        self.panel.title.setText(said_in(title, self._session.style))
        self.panel.result.setText(result)
        self.panel.result.setVisible(bool(result))
        self.panel.card.set_palette(self._session.palette)
        self.panel.card.show_view(view)
        self.panel.show()
        self.place()

    def _picked(self, key: str, value: str) -> None:
        if key.startswith("tape "):
            job = self._job()
            if job is not None and int(key[5:]) < len(job.tape):
                self._carry(job.tape[int(key[5:])].text)
        if key.startswith("try "):
            self.setText(key[4:])
            self.setFocus()
            self._reply(asked=True)

    def _pressed(self, key: str) -> None:
        go = getattr(self.answer, "go", None)
        result, job = self.panel.result.text(), self._job()
        if key == "carry" and result:
            self._carry(result)
        elif key == "keep" and result and job is not None:
            asked, unit = " ".join(self.text().split()), self._session.style.length
            entry = TapeEntry(asked=asked, text=result, unit=unit, on=date.today().isoformat())
            self._session.put(f"Kept {asked[:40]}", replace(job, tape=(*job.tape, entry)))
            self.clear()
            self._reply(asked=False)
        elif key == "tear" and job is not None:
            self._session.put("Tape torn off", replace(job, tape=()))
            self._reply(asked=False)
        if key == "go" and go is not None:
            self.panel.hide()
            self.go.emit(go)

    def _carry(self, text: str) -> None:
        self.close_panel()
        self.carried.emit(text)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is None:
            return
        key = event.key()
        if key == Qt.Key.Key_Escape:
            self.close_panel()
        elif key == Qt.Key.Key_Down and self.panel_open:  # into the card
            first = next(iter(self.panel.card.rows.values()), None)
            if first is not None:
                first.setFocus()
        else:
            super().keyPressEvent(event)

    def focusInEvent(self, event: object) -> None:
        super().focusInEvent(event)  # type: ignore[arg-type]
        if not self.panel_open:
            self._reply(asked=False)

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:
        if event is not None and event.type() == QEvent.Type.Resize:
            self.place()
        return False

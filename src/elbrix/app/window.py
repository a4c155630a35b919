"""The window: rail, head line, benches, and what is the same everywhere."""

from __future__ import annotations

from functools import partial
from itertools import islice
from pathlib import Path
from typing import TYPE_CHECKING

from PyQt6 import sip
from PyQt6.QtCore import QByteArray, QEvent, Qt, QTimer
from PyQt6.QtGui import QCloseEvent, QKeyEvent
from PyQt6.QtWidgets import QApplication, QHBoxLayout, QLineEdit, QMainWindow, QMenu, QStackedWidget, QVBoxLayout, QWidget

from elbrix.app.asking.field import AskField
from elbrix.app.background import Later
from elbrix.app.benches.bench import Bench
from elbrix.app.benches.registry import all_benches
from elbrix.app.dragging import enter
from elbrix.app.entry import ask_line
from elbrix.app.first_hour import FirstHour
from elbrix.app.headline import HeadLine
from elbrix.app.keys import keymap
from elbrix.app.looking_over import LookOver
from elbrix.app.menus import open_once
from elbrix.app.rail import Rail
from elbrix.app.session import Session
from elbrix.app.theme.style import style_sheet
from elbrix.app.trickle import Trickle
from elbrix.app.user_places import window_settings
from elbrix.app.words import Label, menu_line
from elbrix.book.documents import DesignDoc
from elbrix.book.store import Book
from elbrix.presenters.first_hour import AWAY, SETTING, first_hour
from elbrix.quantities.errors import ShopError
from elbrix.results.length_text import said_in

if TYPE_CHECKING:
    from elbrix.answers.answer import Destination
    from elbrix.app.instruments import Instruments
    from elbrix.book.practice import PracticeInstrument
    from elbrix.instruments.lines import Quantity
    from elbrix.instruments.listener import Asking, Heard


class _Benches(dict[str, Bench]):
    """Benches by key, each made when it is first wanted: the window is there sooner."""

    def __init__(self, window: Window) -> None:
        super().__init__()
        self._window = window

    def __missing__(self, key: str) -> Bench:
        bench = all_benches()[key].make(self._window.session)
        bench.apply_palette()
        self[key] = bench
        self._window.stack.addWidget(bench)
        state = window_settings().value(f"splitter/{key}")
        if isinstance(state, QByteArray):
            bench.splitter.restoreState(state)
        return bench


#: Designs in the menu under the title; more are looked for in the Catalogue.
_MAX_LISTED = 40


class Window(QMainWindow):
    """One book in one window."""

    def __init__(self, session: Session, *, starting: bool = False) -> None:
        """Open a book's window; `starting` puts off what the first paint does not show."""
        super().__init__()
        self.session = session
        self._starting = starting
        self.setWindowTitle("Elbrix")
        self.resize(1280, 800)
        self.setMinimumSize(980, 640)
        self.rail = Rail(all_benches().values())
        self.head = HeadLine()
        self.notice, self.trouble = Label(), Label()
        self.notice.setObjectName("notice")
        self.trouble.setObjectName("trouble")
        for label in (self.notice, self.trouble):
            label.setWordWrap(True)
            label.hide()
        self.stack = QStackedWidget()
        self.benches = _Benches(self)
        page = QWidget()
        page.setObjectName("window")
        right = QVBoxLayout()
        right.setContentsMargins(0, 0, 0, 0)
        right.setSpacing(0)
        self.first_hour = FirstHour()
        for part in (self.trouble, self.notice, self.head, self.first_hour):
            right.addWidget(part)
        right.addWidget(self.stack, 1)
        across = QHBoxLayout(page)
        across.setContentsMargins(0, 0, 0, 0)
        across.setSpacing(0)
        across.addWidget(self.rail)
        across.addLayout(right, 1)
        self.ask = AskField(session, page)
        self.head.seat(self.ask)
        page.installEventFilter(self.ask)
        self.setCentralWidget(page)
        self._instruments: Instruments | None = None
        self._heard_of: tuple[str, ...] = ()  # instruments that were there last
        self._wire()
        self._look: object = None
        self._restyling, self._clearing = Trickle(self), Trickle(self)
        self._clearing.ended.connect(lambda: session.set_dim(not session.dim))
        self.looking = LookOver(session.book, self)
        self.looking.found.connect(self._show_notices)
        self.demo: Window | None = None
        self._writing_demo = Later(self)
        self._writing_demo.done.connect(self._show_demo)
        self.open_bench(session.book.setting("bench", "shop"))
        self._restore()

    def _wire(self) -> None:
        session = self.session
        self.first_hour.picked.connect(self.open_bench)
        self.first_hour.away.connect(self._end_first_hour)
        self.rail.keys.picked.connect(lambda _: self.show_keys())
        self.rail.pressed.connect(self.open_bench)
        session.go.connect(self.open_bench)
        session.shelf_wanted.connect(self.new_design)
        session.changed.connect(self.refresh)
        session.refused.connect(self._say)
        session.said.connect(self._head_line)
        session.demo_wanted.connect(self.open_demo)
        session.print_wanted.connect(self.print_page)
        session.practice_wanted.connect(self._practise)
        session.beside_wanted.connect(self.look_beside)
        session.destination.connect(self.go_on)
        self.head.instruments.clicked.connect(self._instruments_menu)
        session.trouble_changed.connect(self._trouble)
        self.notice.pressed.connect(self._put_notices_away)
        self.head.undo.clicked.connect(self.undo)
        self.head.redo.clicked.connect(self.redo)
        self.head.print.clicked.connect(self.print_page)
        self.head.lamp.clicked.connect(self.turn_lamp)
        self.head.unit.switched.connect(session.set_unit)
        self.head.title_pressed.connect(self._title_menu)
        self.ask.go.connect(self.go_on)
        self.ask.carried.connect(self.carry)
        self._carried = ""
        self._beside: list[Window] = []  # other books that are looked at
        app = QApplication.instance()
        if isinstance(app, QApplication):
            app.focusChanged.connect(self._focus_moved)
        bind = keymap().bind
        for name, act in (
            ("undo", self.undo),
            ("redo", self.redo),
            ("print", self.print_page),
            ("unit", lambda: session.set_unit("in" if session.style.length == "mm" else "mm")),
            ("new", self.new_design),
            ("ask", self.ask.open),
            ("press", self.press_instrument),
            ("keys", self.show_keys),
        ):
            bind(self, name, act)
        for key in all_benches():
            bind(self, f"bench {key}", partial(self.open_bench, key))

    # --- showing -----------------------------------------------------------------------------------------------------

    @property
    def front(self) -> str:
        """Key of the bench in front."""
        return next(k for k, b in self.benches.items() if b is self.bench)

    @property
    def bench(self) -> Bench:
        """The one in front."""
        widget = self.stack.currentWidget()
        assert isinstance(widget, Bench)
        return widget

    def open_bench(self, key: str) -> None:
        """Bring a bench to the front."""
        key = key if key in all_benches() else "shop"
        now = self.stack.currentWidget()
        if isinstance(now, Bench) and now is not self.benches[key]:
            now.leave()
        self._back_in_its_place(self.benches[key])
        self.stack.setCurrentWidget(self.benches[key])
        self.session.book.remember("bench", key)
        self.refresh()

    def refresh(self) -> None:
        """Show the session as it stands: the bench in front, the head line, the look."""
        session = self.session
        if session.working:
            session.tell()
            return
        look = (session.palette, session.style)
        if self._look is None or look[0] is not self._look:
            self._look = session.palette
            self._restyle(style_sheet(session.palette))
        if self._starting:
            self._starting = False
            self.bench.open_at_start()
        else:
            self.bench.refresh()
        self.ask.refresh()
        self._head_line()
        key = self.front
        self.rail.show_on(key, session.palette)
        steps = first_hour(session.book)
        self.first_hour.show_steps(steps, session.palette)
        if not steps:
            session.book.remember(SETTING, AWAY)  # done once, no later start has to read everything to find out
        self._show_notices()

    def turn_lamp(self) -> None:
        """Light to dim or back, once the benches behind are out of the way: one after another, with the window awake."""
        if self._clearing.busy:  # pressed twice: it stays as it is
            self._clearing.stop()
            self._restyling.start([partial(self._back_in_its_place, bench) for bench in self.benches.values()])
            return
        self._restyling.stop()
        self._clearing.start([*(partial(self._out_of_the_way, bench) for bench in self._others()), lambda: None])

    def _others(self) -> list[Bench]:
        return [bench for bench in self.benches.values() if bench is not self.bench and self.stack.indexOf(bench) >= 0]

    def _out_of_the_way(self, bench: Bench) -> None:
        if bench is not self.bench:  # it may have been opened in the meantime
            self.stack.removeWidget(bench)
            bench.setParent(None)

    def _restyle(self, sheet: str) -> None:
        """Another look, at once for what is seen; a bench behind follows by itself, or when it is opened before that.

        A style sheet goes through every widget of the window, and a bench has hundreds.
        """
        for bench in self._others():
            self._out_of_the_way(bench)
        self.setStyleSheet(sheet)
        self.bench.apply_palette()
        self._restyling.start([partial(self._back_in_its_place, bench) for bench in self.benches.values()])

    def _back_in_its_place(self, bench: Bench) -> None:
        if self.stack.indexOf(bench) < 0:
            self.stack.addWidget(bench)
            bench.apply_palette()

    def _show_notices(self) -> None:
        """Why the book may only be read, and what was found in it."""
        words = "\n".join(w for w in (self.session.book.read_only_reason, *self.session.book.notices) if w)
        self.notice.setText(said_in(words, self.session.style))
        self.notice.setVisible(bool(words))

    def _head_line(self) -> None:
        """Title, undo and redo, unit and look."""
        session, book = self.session, self.session.book
        title, subtitle = self.bench.title()
        can_print = bool(self.bench.pages_title())
        self.head.show_words(
            title, subtitle, session.palette, session.style.length, book.undo_label, book.redo_label, can_print=can_print
        )
        self.setWindowTitle(f"{title} – Elbrix" if title else "Elbrix")

    def _trouble(self, words: str) -> None:
        self.trouble.setText(words)
        self.trouble.setVisible(bool(words))

    def _say(self, words: str) -> None:
        """A refusal, on the notice line, until the next change."""
        self.notice.setText(said_in(words, self.session.style))
        self.notice.show()

    # --- doing -------------------------------------------------------------------------------------------------------

    def undo(self) -> None:
        try:
            self.session.book.undo()
        except ShopError as error:
            self.refresh()
            self._say(str(error))

    def redo(self) -> None:
        try:
            self.session.book.redo()
        except ShopError as error:
            self.refresh()
            self._say(str(error))

    def _end_first_hour(self) -> None:
        self.session.book.remember(SETTING, AWAY)
        self.first_hour.hide()

    def _put_notices_away(self) -> None:
        """Read, and clicked away; why the book may only be read stays."""
        self.session.book.put_notices_away()
        self.refresh()

    def go_on(self, go: Destination) -> None:
        """Open the bench an answer names, filled in."""
        with self.session.together():
            self.open_bench(go.bench)
            self.bench.fill_in(go)
            self.refresh()

    def new_design(self, machine: str = "", slot: str = "") -> None:
        """The shelf, from anywhere."""
        with self.session.together():
            self.open_bench("design")
            self.benches["design"].begin((machine, slot) if slot else None)
            self.refresh()

    def open_demo(self) -> None:
        """The demo shop in a window beside this one, once its book is written; one that is there comes to the front."""
        if self.demo is not None and not sip.isdeleted(self.demo) and self.demo.isVisible():
            self.demo.activateWindow()
            return
        from elbrix.app.demo_copy import written

        self._writing_demo.start(written)

    def _show_demo(self, wrong: str) -> None:
        from elbrix.app.demo_copy import open_demo_book

        if wrong:
            self.session.refused.emit(wrong)
            return
        try:
            session = Session(open_demo_book(later=True))
        except (ShopError, OSError) as error:
            self.session.refused.emit(str(error))
            return
        session.book.remember("bench", "design")
        self.demo = Window(session, starting=True)
        self.demo.show()
        self.demo.looking.start()

    def print_page(self) -> None:
        """The page of the bench in front, as it will be printed."""
        pages = self.bench.pages()
        if pages is None:
            return
        from elbrix.app.dialogs import asked
        from elbrix.app.paper.preview import PagePreview

        asked(PagePreview(pages, self.bench.pages_title(), self, self.session.keep_sheet))

    def _title_menu(self) -> None:
        open_once(self.title_menu(), self.head.mapToGlobal(self.head.rect().bottomLeft()))

    def title_menu(self) -> QMenu:
        """Designs to go on with, a new one, another name."""
        menu = QMenu(self)
        if self.bench.fill_title_menu(menu):
            return menu
        book, many = self.session.book, len(self.session.book.ids(DesignDoc))
        for doc in islice(book.each(DesignDoc), _MAX_LISTED):
            words = f"{doc.title}   {('rev ' + doc.letter) if doc.letter else 'draft'}"
            menu_line(menu, words, partial(self._open_design, doc))
        if many > _MAX_LISTED:
            menu_line(menu, f"All {many} in the Catalogue…", partial(self.open_bench, "catalogue"))
        menu.addSeparator()
        for words, act in (
            ("New design…", self.new_design),
            ("Rename…", self._rename),
            ("Duplicate", self._copy),
            ("Export files…", self._files),
        ):
            menu_line(menu, words, act).setEnabled(words == "New design…" or self.session.design is not None)
        return menu

    def _open_design(self, doc: DesignDoc) -> None:
        self.bench.pick_up()
        self.session.design_id = doc.id
        self.open_bench("design" if self.front == "shop" else self.front)

    def _rename(self) -> None:
        from msgspec.structs import replace

        doc = self.session.design
        if doc is not None:
            title = ask_line(self, "Name", "The name on the card and the drawer label", doc.title)
            if title:
                self.session.put(f"Name {title}", replace(doc, title=title))

    def _copy(self) -> None:
        from msgspec.structs import replace

        from elbrix.book.documents import new_id

        doc = self.session.design
        if doc is not None:
            id_ = new_id(doc.family, self.session.book.ids(DesignDoc), doc.title)
            fresh = replace(doc, id=id_, title=f"{doc.title}, copy", revisions=(), as_made=(), made=0, location="")
            if self.session.put("Copy", fresh):
                self.session.pick_design(id_)

    def _files(self) -> None:
        from elbrix.app.paper.files import ask_and_write

        doc = self.session.design
        if doc is not None:
            ask_and_write(self, self.session, doc)

    def look_beside(self, path: Path) -> None:
        """Another shop's book in a window of its own, to be read and not written."""
        try:
            book = Book.look(path, later=True)
        except (ShopError, OSError) as error:
            self.session.refused.emit(str(error))
            return
        beside = Window(Session(book))
        beside.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        beside.resize(self.size())
        beside.show()
        beside.looking.start()
        self._beside = [w for w in self._beside if w is not beside and not sip.isdeleted(w)] + [beside]

    def show_keys(self) -> None:
        """The list of keys, to be changed there."""
        from elbrix.app.dialogs import asked
        from elbrix.app.keys_dialog import KeysDialog

        asked(KeysDialog(self.session.palette, self))

    # --- a number in the hand ----------------------------------------------------------------------------------------

    def carry(self, text: str) -> None:
        """A number that goes into the field that is opened next; "" lets it go."""
        self._carried = text
        if text:
            self._say(f"{text} is in the hand: click the number it is for. Escape lets it go.")

    def _focus_moved(self, _old: QWidget | None, new: QWidget | None) -> None:
        if self._carried and isinstance(new, QLineEdit):
            QTimer.singleShot(0, self._put_down)  # once the field has its own text

    def _put_down(self) -> None:
        entry = self.bench.open_entry() if self._carried else None
        if entry is not None and entry[1].hasFocus():
            text, self._carried = self._carried, ""
            enter(entry[1], text)
            self.notice.hide()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is not None and event.key() == Qt.Key.Key_Escape and self._carried:
            self._carried = ""
            self.notice.hide()
        else:
            super().keyPressEvent(event)

    # --- instruments -------------------------------------------------------------------------------------------------

    @property
    def instruments(self) -> Instruments:
        """What is heard of the instruments, from the first time it is asked for."""
        if self._instruments is None:
            from elbrix.app.instruments import Instruments  # sockets are not needed to start

            self._instruments = Instruments(self._asking, self)
            self._instruments.heard.connect(self._heard)
            self._instruments.changed.connect(self._instruments_changed)
            self._instruments.begin()
        return self._instruments

    def listen(self) -> None:
        """Hear instruments from now on, if the window is still there."""
        if self.isVisible():
            self.instruments.look()

    def _practise(self, wanted: PracticeInstrument) -> None:
        self.instruments.practise(wanted)

    @property
    def _behind(self) -> bool:
        """Whether another window of ours is in front, of this program or of another one."""
        in_front = QApplication.activeWindow()
        if isinstance(in_front, Window) and in_front is not self:
            return True
        return self._instruments is not None and not self._instruments.in_front

    def changeEvent(self, event: QEvent | None) -> None:
        super().changeEvent(event)
        if event is None or event.type() != QEvent.Type.ActivationChange:
            return
        if self._instruments is not None and self.isActiveWindow():
            self._instruments.come_to_front()

    def _asking(self, quantity: Quantity | None = None) -> Asking | None:
        """What the field that has the focus wants; of two windows only the one in front asks."""
        if self._behind:
            return None
        found = self.bench.asking(quantity)
        return found[1] if found is not None else None

    def _heard(self, heard: Heard) -> None:
        """A line of an instrument: its reading goes to the field that asks, its trouble beside it."""
        if self._behind:
            return
        from elbrix.instruments.lines import Quantity
        from elbrix.instruments.listener import Fate

        asking = self.bench.asking(heard.reading.quantity if heard.reading is not None else None)
        if heard.fate is Fate.TAKEN and heard.reading is not None and asking is not None:
            self.bench.captured(asking[0], heard.reading)
        elif heard.fate in (Fate.REFUSED, Fate.ASKED):
            self.bench.show_heard(heard.words)
        elif heard.fate is Fate.UNASKED and heard.reading is not None and heard.reading.quantity is not Quantity.AXIS:
            self._say(f"{heard.reading.instrument if heard.reading else 'An instrument'}: {heard.words}")
        elif heard.trouble:
            self.bench.show_heard(heard.words)

    def _instruments_changed(self) -> None:
        names = self.instruments.names
        if set(self._heard_of) - set(names):
            for bench in self.benches.values():
                bench.instrument_gone()
        self._heard_of = names
        words = f"{', '.join(names)} (F8 presses a simulated one's button)" if names else "Instruments: none is there"
        self.head.show_instruments(words, any_there=bool(names))

    def press_instrument(self) -> None:
        """The button of the instrument that measures what is asked."""
        asking = self._asking()
        name = self.instruments.for_asking(asking)
        if not name:
            self._say("No instrument here measures that: start one with the caliper in the head line, or type the reading.")
        else:
            self.instruments.press(name)

    def _instruments_menu(self) -> None:
        open_once(self.instruments_menu(), self.head.instruments.mapToGlobal(self.head.instruments.rect().bottomLeft()))

    def instruments_menu(self) -> QMenu:
        """Those that are there, and simulated ones to start."""
        from elbrix.instruments.behaviour import KINDS

        menu = QMenu(self)
        names = self.instruments.names
        for name in names:
            menu_line(menu, f"Press the button of {name}", partial(self.instruments.press, name))
        menu.addSeparator()
        for kind in KINDS:
            if f"{kind}-1" not in names:
                menu_line(menu, f"Start a simulated {kind}", partial(self.instruments.start, f"{kind}-1"))
        menu.addSeparator()
        if names:
            menu_line(menu, "Stop the simulated ones", self.instruments.stop_simulated)
        return menu

    # --- remembering -------------------------------------------------------------------------------------------------

    def _restore(self) -> None:
        saved = window_settings().value("window")
        if isinstance(saved, QByteArray):
            self.restoreGeometry(saved)

    def closeEvent(self, event: QCloseEvent | None) -> None:
        if not self.session.book.flush():
            from elbrix.app.leaving import may_leave

            if not may_leave(self, self.session.book):
                if event is not None:
                    event.ignore()
                return
        state = window_settings()
        state.setValue("window", self.saveGeometry())
        for key, bench in self.benches.items():
            state.setValue(f"splitter/{key}", bench.splitter.saveState())
            bench.stop()
        if self._instruments is not None:
            self._instruments.stop()
        self.looking.stop()
        self._restyling.stop()
        self._clearing.stop()
        self.ask.needs.stop()
        self.session.close()
        self.session.book.close()
        if event is not None:
            event.accept()

"""A bench whose thing is changed on plate and card alike: typed, dragged, picked, let go, mended, pointed at."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping
from functools import partial
from typing import TYPE_CHECKING, Any, Protocol

from msgspec.structs import replace
from PyQt6.QtWidgets import QWidget

from elbrix.app.benches.bench import Bench
from elbrix.app.entry import ask_line
from elbrix.app.session import Session
from elbrix.book.documents import new_id
from elbrix.parameters.parameter import Parameter
from elbrix.presenters.proof import Why
from elbrix.quantities.errors import ShopError
from elbrix.results.checks import Fix

if TYPE_CHECKING:
    from elbrix.instruments.lines import Reading
    from elbrix.instruments.listener import Asking


class Edited(Protocol):
    """What such a bench asks of its presenter. Changes come back as new documents; a `ShopError` changes nothing."""

    doc: Any

    @property
    def parameters(self) -> Mapping[str, Parameter]: ...

    def typed(self, name: str, text: str) -> Any: ...
    def dragged(self, name: str, value: float) -> Any: ...
    def let_go(self, name: str) -> Any: ...
    def fix(self, key: str) -> Fix | None: ...
    def fixed(self, fix: Fix) -> Any: ...
    def change_words(self, name: str, doc: Any) -> str: ...
    def why(self, key: str) -> Why | None: ...
    def of_features(self, features: frozenset[str]) -> tuple[frozenset[str], frozenset[str]]: ...
    def features_of_key(self, key: str) -> frozenset[str]: ...
    def features_of_check(self, key: str) -> tuple[frozenset[str], frozenset[str]]: ...


class EditingBench(Bench):
    """Joins plate, card and proof to one presenter; a bench says which in `edited`."""

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(session, parent)
        self._read_by: Reading | None = None  # what the entry is being filled by
        for part in (self.plate, self.card):
            part.accepted.connect(lambda _: self.done())
            part.cancelled.connect(lambda _: self.cancel())
        self.plate.typed.connect(self.typed_on_plate)
        self.plate.edge_dragged.connect(self._dragged)
        self.plate.pointed.connect(self._pointed_feature)
        self.card.typed.connect(self.typed_on_card)
        self.card.released.connect(self._release)
        self.card.pointed.connect(self._pointed_key)
        self.strip.pointed.connect(self._pointed_check)
        self.why.fix_pressed.connect(self._apply_fix)

    @property
    def edited(self) -> Edited | None:
        """The presenter of the thing in hand."""
        return None

    def why_of(self, key: str) -> Why | None:
        return self.edited.why(key) if self.edited is not None else None

    # --- editing -----------------------------------------------------------------------------------------------------

    def attempt(self, name: str, make: Callable[[], Any], show_error: Callable[[str], None], merge: str) -> bool:
        """Keep the document `make` gives; what is wrong with it stands beside the entry, and nothing changes."""
        edited = self.edited
        if edited is None:
            return False
        try:
            doc = make()
        except ShopError as error:
            show_error(self.session.beside(error))
            return False
        show_error("")
        if self._read_by is not None and name in getattr(doc, "chosen", {}):
            chosen = doc.chosen[name]
            from elbrix.presenters.capture import read_by

            doc = replace(doc, chosen={**doc.chosen, name: replace(chosen, typed=read_by(chosen.typed, self._read_by))})
        if self.session.put(edited.change_words(name, doc), doc, merge=merge):
            self.was_kept()
        return True

    def typed_on_plate(self, name: str, text: str) -> None:
        self._typed(name, text, self.plate.show_error)

    def typed_on_card(self, name: str, text: str) -> None:
        self._typed(name, text, partial(self.card.show_error, name))

    def _typed(self, name: str, text: str, show_error: Callable[[str], None]) -> None:
        edited = self.edited
        if edited is not None:
            self.attempt(name, lambda: edited.typed(name, text), show_error, self.merge_key(edited.doc.id, name))

    def chose(self, name: str, value: str) -> None:
        """A choice was picked: one step of undo."""
        edited = self.edited
        if edited is not None:
            self.attempt(name, lambda: edited.typed(name, value), partial(self.card.show_error, name), "")
            self.done()

    def _dragged(self, name: str, value: float, released: bool) -> None:
        edited = self.edited
        if edited is not None:
            self.attempt(
                name, lambda: edited.dragged(name, value), lambda words: None, self.merge_key(edited.doc.id, "drag", name)
            )
            if released:
                self.done()

    def _release(self, name: str) -> None:
        if self.edited is not None:
            doc = self.edited.let_go(name)
            self.session.put(self.edited.change_words(name, doc), doc)

    def _apply_fix(self, key: str) -> None:
        fix = self.edited.fix(key) if self.edited is not None else None
        if self.edited is not None and fix is not None:
            self.session.put(fix.text, self.edited.fixed(fix))
            self.done()

    def rename(self, doc: Any, about: str) -> None:
        """Ask for another title; nothing happens without one."""
        title = ask_line(self, "Name", about, doc.title) if doc is not None else ""
        if title:
            self.session.put(f"Name {title}", replace(doc, title=title))

    def copied(self, kind: str, doc: Any, others: Iterable[Any]) -> str:
        """Id of a copy of a document, kept beside it; "" when there is none."""
        if doc is None:
            return ""
        id_ = new_id(kind, (d.id for d in others), doc.title)
        return id_ if self.session.put("Copy", replace(doc, id=id_, title=f"{doc.title}, copy")) else ""

    # --- instruments -------------------------------------------------------------------------------------------------

    def asks(self, key: str) -> Asking | None:
        from elbrix.presenters.capture import asking_of

        parameter = self.edited.parameters.get(key) if self.edited is not None else None
        return asking_of(parameter) if parameter is not None else None

    def captured(self, key: str, reading: Reading) -> None:
        """As typed, and kept with what it was read by: one step of undo."""
        self._read_by = reading
        try:
            super().captured(key, reading)
        finally:
            self._read_by = None

    # --- pointing ----------------------------------------------------------------------------------------------------

    def _pointed_feature(self, features: frozenset[str]) -> None:
        if self.edited is not None:
            keys, checks = self.edited.of_features(features)
            self.plate.light(features)
            self.card.light(keys)
            self.strip.light(checks)

    def _pointed_key(self, key: str) -> None:
        if self.edited is not None:
            features = self.edited.features_of_key(key)
            self.plate.light(features, frozenset({key}) if key else frozenset())
            self.strip.light(self.edited.of_features(features)[1])

    def _pointed_check(self, key: str) -> None:
        if self.edited is not None:
            features, keys = self.edited.features_of_check(key)
            self.plate.light(features, keys)
            self.card.light(keys)

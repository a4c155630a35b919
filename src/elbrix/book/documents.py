"""What the book keeps, as JSON documents: the shop's things, designs and jobs. Validated on the way in and out."""

from __future__ import annotations

import re
from collections.abc import Iterable
from functools import cache
from typing import Any, Final, Protocol

import msgspec
from msgspec import Struct, field

from elbrix.angles import kinds as angle_kinds
from elbrix.book.formats import FORMAT, lift_item
from elbrix.book.unseen import without_unseen
from elbrix.design import families
from elbrix.holding import elements
from elbrix.inspecting import kinds as inspection_kinds
from elbrix.items.kind import item_kinds
from elbrix.making.costs import Costs
from elbrix.making.options import Options
from elbrix.parameters.plugins import module_names
from elbrix.quantities.errors import ShopError
from elbrix.shop.shop import Shop


class Chosen(Struct, frozen=True, kw_only=True):
    """A value somebody chose: readable text in mm, and what they typed."""

    text: str
    typed: str = ""


class Revision(Struct, frozen=True, kw_only=True):
    """A design as it was put in the catalogue: every value, so that it can be made again as it was."""

    letter: str
    on: str
    reason: str
    values: dict[str, str]


class AsMade(Struct, frozen=True, kw_only=True):
    """Sizes measured on a finished piece, mm."""

    on: str
    figure: str  #: parameter name
    readings_mm: tuple[float, ...]
    measured_with: str = ""


class Lesson(Struct, frozen=True, kw_only=True):
    """What was learned with an item."""

    on: str
    text: str
    about: str = ""  #: the size it is about, a parameter's name; "" for the whole


class DesignDoc(Struct, frozen=True, kw_only=True):
    """A design, and once it has a revision, an item of the catalogue."""

    id: str
    family: str
    title: str
    machine: str = ""  #: id of the machine it is for
    slot: str = ""  #: label
    pieces: int = 1
    chosen: dict[str, Chosen] = field(default_factory=dict)
    revisions: tuple[Revision, ...] = ()
    as_made: tuple[AsMade, ...] = ()
    location: str = ""
    notes: str = ""
    made: int = 0  #: pieces in the drawer
    lessons: tuple[Lesson, ...] = ()
    condition: str = ""  #: of the pieces, in words; empty: as new
    costs: Costs = field(default_factory=Costs)

    @property
    def letter(self) -> str:
        """Of the newest revision; empty for a draft."""
        return self.revisions[-1].letter if self.revisions else ""


class TapeEntry(Struct, frozen=True, kw_only=True):
    """A line of the bench calculator that was kept with a job."""

    asked: str
    text: str  #: the result as it was shown
    unit: str = "mm"  #: of bare numbers
    on: str = ""  #: ISO date


class JobDoc(Struct, frozen=True, kw_only=True):
    """How far the making of a design has come."""

    id: str
    design: str
    options: Options = field(default_factory=Options)
    measured: dict[str, float] = field(default_factory=dict)
    done: tuple[str, ...] = ()
    keyed: dict[str, str] = field(default_factory=dict)  #: "MOVE.AXIS" → number as it was really set, as on the machine
    tape: tuple[TapeEntry, ...] = ()
    together: tuple[str, ...] = ()  #: ids of other designs made in one go with it


class AngleDoc(Struct, frozen=True, kw_only=True):
    """An angle setting, kept for its job."""

    id: str
    kind: str  #: "sine", "v_over_pin" …
    title: str
    chosen: dict[str, Chosen] = field(default_factory=dict)
    notes: str = ""


class ElementDoc(Struct, frozen=True, kw_only=True):
    """One thing of a layout: a strap, a stop, a vise and the like."""

    kind: str
    chosen: dict[str, Chosen] = field(default_factory=dict)
    design: str = ""  #: id of the accessory its sizes were taken from


class LayoutDoc(Struct, frozen=True, kw_only=True):
    """A layout: the work, the cut, and what holds it, on a machine's table."""

    id: str
    title: str
    machine: str = ""  #: id; empty: the first mill
    chosen: dict[str, Chosen] = field(default_factory=dict)  #: of the work and the cut
    elements: tuple[ElementDoc, ...] = ()
    design: str = ""  #: id of the design whose job it belongs to
    notes: str = ""


class TakenDoc(Struct, frozen=True, kw_only=True):
    """One reading of an inspection: mm, or degrees of an angle, or °C."""

    value: float
    u: float = 0.0  #: 95 % uncertainty, in the same unit; 0: as the inspection says
    tool: str = ""
    on: str = ""  #: ISO date and time


class InspectionDoc(Struct, frozen=True, kw_only=True):
    """An inspection: what was asked, and every reading by its place."""

    id: str
    kind: str  #: "flatness", "head_tram" …
    title: str
    about: str = ""  #: id of the design that is measured
    began: str = ""  #: ISO date
    chosen: dict[str, Chosen] = field(default_factory=dict)
    readings: dict[str, tuple[TakenDoc, ...]] = field(default_factory=dict)
    notes: str = ""


class PhotoDoc(Struct, frozen=True, kw_only=True):
    """A photograph of an accessory, of its wear or of how it stands."""

    id: str
    about: str  #: id of the design
    title: str = ""
    on: str = ""  #: ISO date
    jpeg: bytes = b""


class StockTakeDoc(Struct, frozen=True, kw_only=True):
    """What was counted so far, drawer by drawer."""

    id: str
    on: str = ""  #: ISO date it began
    counted: dict[str, int] = field(default_factory=dict)  #: id of a design → pieces found


class Document(Protocol):
    """A thing of the shop or work done with it: frozen, and known by kind and id."""

    @property
    def id(self) -> str: ...


#: Work done with the shop: kind in the book → type. The kind is part of the file format.
_WORK: Final[dict[str, type[Any]]] = {
    "design": DesignDoc,
    "job": JobDoc,
    "angle": AngleDoc,
    "layout": LayoutDoc,
    "inspection": InspectionDoc,
    "photo": PhotoDoc,
    "stock_take": StockTakeDoc,
}
WORK_KINDS: Final = tuple(_WORK)


@cache
def kinds() -> dict[str, type[Any]]:
    """Kind in the book → type, of everything a book keeps."""
    return {key: kind.type for key, kind in item_kinds().items()} | _WORK


@cache
def _kinds_by_type() -> dict[type[Any], str]:
    return {type_: kind for kind, type_ in kinds().items()}


LONGEST_DOCUMENT: Final = 1_000_000
MAX_READINGS: Final = 5_000  #: of one inspection
JPEG_BEGINS: Final = b"\xff\xd8\xff"
MAX_PHOTO: Final = 700_000  #: bytes of one photograph; as text it is a third longer
MAX_ELEMENTS: Final = 24  #: of one layout
MAX_PIECES: Final = 10_000  #: of one design
MAX_NUMBER: Final = 1e9


def kind_of_type(type_: type[Any]) -> str:
    """Kind of everything that is of a type."""
    return _kinds_by_type()[type_]


def kind_of(document: Document) -> str:
    return _kinds_by_type()[type(document)]


def to_json(document: Document) -> str:
    return msgspec.json.encode(document).decode()


def from_json(kind: str, text: str | bytes) -> Document:
    """Read one document.

    Raises:
        ShopError: Unknown kind, too large, not valid, or sizes that cannot be.
    """
    if kind not in kinds():
        raise ShopError(
            "Book",
            f"“{kind}” is no kind of thing this version knows",
            "A newer version may have written it",
            "Open the file with the version that wrote it",
        )
    if len(text) > LONGEST_DOCUMENT:
        raise ShopError(
            "Book",
            f"a {kind} of {len(text):,} characters",
            f"Elbrix keeps {LONGEST_DOCUMENT:,} at most",
            "Check where the file comes from",
        )
    try:
        if isinstance(text, str):
            text = without_unseen(text)
        document: Document = msgspec.json.decode(text, type=kinds()[kind])
    except (msgspec.DecodeError, RecursionError, UnicodeError) as error:
        raise ShopError(
            "Book",
            f"a {kind} that cannot be read ({error})",
            "It does not have the fields of that kind",
            "Check the file against the schema in docs/file-format.md",
        ) from None
    _refuse_unknown(document)
    _refuse_senseless(kind, document)
    return document


def _refuse_unknown(document: Document) -> None:
    """What no bench could show: kinds of things this version does not have, a reading without a number.

    Raises:
        ShopError: It is of a newer version, or not of this program.
    """
    unknown = ""
    if isinstance(document, DesignDoc):
        if document.family not in module_names(families):
            unknown = f"a design of the family “{document.family[:40]}”"
        elif any(not m.readings_mm for m in document.as_made):
            unknown = "an as-made size without a reading"
        elif not 1 <= document.pieces <= MAX_PIECES or document.made < 0:
            unknown = f"{document.pieces} pieces, {document.made} made"
    elif isinstance(document, AngleDoc) and document.kind not in module_names(angle_kinds):
        unknown = f"an angle setup of the kind “{document.kind[:40]}”"
    elif isinstance(document, InspectionDoc):
        many = sum(len(taken) for taken in document.readings.values())
        if document.kind not in module_names(inspection_kinds):
            unknown = f"an inspection of the kind “{document.kind[:40]}”"
        elif many > MAX_READINGS:
            unknown = f"an inspection of {many:,} readings, where {MAX_READINGS:,} are the most"
    elif isinstance(document, LayoutDoc):
        if len(document.elements) > MAX_ELEMENTS:
            unknown = f"a layout of {len(document.elements)} things, where {MAX_ELEMENTS} is the most"
        unknown = next(
            (f"a layout with “{e.kind[:40]}” in it" for e in document.elements if e.kind not in module_names(elements)), unknown
        )
    elif isinstance(document, StockTakeDoc) and any(n < 0 for n in document.counted.values()):
        unknown = "a stock-take with less than nothing counted"
    elif isinstance(document, PhotoDoc) and (not document.jpeg.startswith(JPEG_BEGINS) or len(document.jpeg) > MAX_PHOTO):
        unknown = f"a photograph that is no JPEG of at most {MAX_PHOTO:,} bytes"
    if unknown:
        raise ShopError(
            "Book",
            unknown,
            "This version knows no such thing; a newer one may have written it",
            "Open it with the version that wrote it",
        )


def _refuse_senseless(kind: str, document: Document) -> None:
    """No size, count or force of a shop is beyond a thousand million.

    Raises:
        ShopError: A number is.
    """
    stack: list[Any] = [document]
    while stack:
        value = stack.pop()
        if isinstance(value, Struct):
            stack += [getattr(value, name) for name in _with_numbers(type(value))]
        elif isinstance(value, dict):
            stack += value.values()
        elif isinstance(value, list | tuple):
            stack += value
        elif isinstance(value, int | float) and abs(value) > MAX_NUMBER:
            raise ShopError(
                "Book", f"a {kind} with the number {value:.3g}", "Nothing in a shop is so large", "Correct it in the file"
            )


#: Ways a field is declared that have no number in them; all other fields are looked into.
_TEXTS: Final = frozenset(["str", "bytes", "bool", "tuple[str, ...]", "dict[str, str]", "dict[str, Chosen]"])


@cache
def _with_numbers(type_: type[Any]) -> tuple[str, ...]:
    """Fields of a type that may hold a number: the others, most of them texts, need not be looked at."""
    declared = {name: words for base in reversed(type_.__mro__) for name, words in getattr(base, "__annotations__", {}).items()}
    return tuple(name for name in type_.__struct_fields__ if declared.get(name) not in _TEXTS)


def lift_body(kind: str, body: str, version: int) -> tuple[str, str]:
    """(kind, JSON) of today's format out of an older one's; today's goes through untouched.

    Raises:
        ShopError: The body is no JSON object.
    """
    if version >= FORMAT:
        return kind, body
    try:
        lifted, item = lift_item(kind, msgspec.json.decode(body, type=dict[str, Any]), version)
    except (msgspec.DecodeError, RecursionError, AttributeError, KeyError, TypeError) as error:
        raise ShopError(
            "Book",
            f"a {kind} that cannot be read ({error})",
            "It does not have the fields of that kind",
            "Check the file against the schema in docs/file-format.md",
        ) from None
    return lifted, msgspec.json.encode(item).decode()


def json_schema() -> dict[str, Any]:
    """JSON Schema of every kind, for strangers who read the file."""
    schemas, components = msgspec.json.schema_components([*kinds().values()], ref_template="#/$defs/{name}")
    return {
        "$schema": "https://json-schema.org/draft/2020-12/schema",
        "title": "Elbrix items",
        "kinds": dict(zip(kinds(), schemas, strict=True)),
        "$defs": components,
    }


def shop_of(documents: Iterable[Document]) -> Shop:
    """The shop out of a book's documents, in a stable order."""
    by_kind: dict[type[Any], list[Any]] = {}
    for document in documents:
        by_kind.setdefault(type(document), []).append(document)

    parts: dict[str, Any] = {}
    others = []
    for kind in item_kinds().values():
        found = kind.in_order(by_kind.get(kind.type, ()))
        if kind.attribute:
            parts[kind.attribute] = found
        elif found:
            others.append((kind.kind, found))
    return Shop(**parts, others=tuple(others))


def words_of(document: Document) -> str:
    """What the word search looks through: every text in the document but its id."""
    found: list[str] = []

    def gather(value: Any) -> None:
        if isinstance(value, str):
            found.append(value)
        elif isinstance(value, dict):
            for key, part in value.items():
                if key not in ("id", "jpeg"):
                    gather(part)
        elif isinstance(value, list):
            for part in value:
                gather(part)

    gather(msgspec.to_builtins(document))
    return " ".join(dict.fromkeys(found))


def next_letter(letter: str) -> str:
    """The revision after one: A, B … Z, AA."""
    if not letter:
        return "A"
    if set(letter) == {"Z"}:
        return "A" * (len(letter) + 1)
    head, last = letter[:-1], letter[-1]
    return head + chr(ord(last) + 1) if last != "Z" else next_letter(head) + "A"


def new_id(prefix: str, taken: Iterable[str], title: str) -> str:
    """A readable id that nothing else has: "t-nut-hazel-2"."""
    base = re.sub(r"[^a-z0-9]+", "-", f"{prefix} {title}".lower()).strip("-")[:40] or prefix
    used, name, count = set(taken), base, 1
    while name in used:
        count += 1
        name = f"{base}-{count}"
    return name

"""What the book keeps, as JSON documents: the shop's things, designs and jobs. Validated on the way in and out."""

from __future__ import annotations

import re
from collections.abc import Iterable
from typing import Any, Final

import msgspec
from msgspec import Struct, field

from elbrix.book.formats import FORMAT, lift_item
from elbrix.making.options import Options
from elbrix.quantities.errors import ShopError
from elbrix.shop.angle_tools import AngleTool, SineTool
from elbrix.shop.gauges import AngleBlockSet, GaugeSet, Parallel
from elbrix.shop.locating import Bore, Pin
from elbrix.shop.machines import Machine, MachineKind
from elbrix.shop.shop import Shop
from elbrix.shop.stock import Bar
from elbrix.shop.tooling import Collet, Cutter, MeasuringTool, Stud
from elbrix.shop.workholding import Clamp, Fastener, SupportBlock, TableStop, Vise


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

    @property
    def letter(self) -> str:
        """Of the newest revision; empty for a draft."""
        return self.revisions[-1].letter if self.revisions else ""


class JobDoc(Struct, frozen=True, kw_only=True):
    """How far the making of a design has come."""

    id: str
    design: str
    options: Options = field(default_factory=Options)
    measured: dict[str, float] = field(default_factory=dict)
    done: tuple[str, ...] = ()


class AngleDoc(Struct, frozen=True, kw_only=True):
    """An angle setting, kept for its job."""

    id: str
    kind: str  #: "sine", "v_over_pin" …
    title: str
    chosen: dict[str, Chosen] = field(default_factory=dict)
    notes: str = ""


class ElementDoc(Struct, frozen=True, kw_only=True):
    """One thing of a layout: a strap, a stop, a vise …"""

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


Document = (
    Machine
    | Vise
    | Clamp
    | SupportBlock
    | TableStop
    | Fastener
    | Pin
    | Bore
    | Bar
    | Cutter
    | Collet
    | Stud
    | MeasuringTool
    | GaugeSet
    | AngleBlockSet
    | Parallel
    | SineTool
    | AngleTool
    | DesignDoc
    | JobDoc
    | AngleDoc
    | LayoutDoc
)

#: Kind in the book → type. The kind is part of the file format.
KINDS: Final[dict[str, type[Any]]] = {
    "machine": Machine,
    "bar": Bar,
    "cutter": Cutter,
    "collet": Collet,
    "stud": Stud,
    "measuring": MeasuringTool,
    "gauge set": GaugeSet,
    "angle blocks": AngleBlockSet,
    "parallel": Parallel,
    "sine tool": SineTool,
    "angle tool": AngleTool,
    "vise": Vise,
    "clamp": Clamp,
    "support": SupportBlock,
    "stop": TableStop,
    "fastener": Fastener,
    "pin": Pin,
    "bore": Bore,
    "design": DesignDoc,
    "job": JobDoc,
    "angle": AngleDoc,
    "layout": LayoutDoc,
}
_KIND_OF: Final = {type_: kind for kind, type_ in KINDS.items()}
LONGEST_DOCUMENT: Final = 1_000_000


def kind_of(document: Document) -> str:
    return _KIND_OF[type(document)]


def to_json(document: Document) -> str:
    return msgspec.json.encode(document).decode()


def from_json(kind: str, text: str | bytes) -> Document:
    """Read one document.

    Raises:
        ShopError: Unknown kind, too large, not valid, or sizes that cannot be.
    """
    if kind not in KINDS:
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
        document: Document = msgspec.json.decode(text, type=KINDS[kind])
    except (msgspec.DecodeError, RecursionError) as error:
        raise ShopError(
            "Book",
            f"a {kind} that cannot be read ({error})",
            "It does not have the fields of that kind",
            "Check the file against the schema in docs/file-format.md",
        ) from None
    return document


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
    schemas, components = msgspec.json.schema_components([*KINDS.values()], ref_template="#/$defs/{name}")
    return {
        "$schema": "https://json-schema.org/draft/2020-12/schema",
        "title": "Elbrix items",
        "kinds": dict(zip(KINDS, schemas, strict=True)),
        "$defs": components,
    }


#: Documents that are work done with the shop; the shop is made of all the others.
WORK_KINDS: Final = ("design", "job", "angle", "layout")


def shop_of(documents: Iterable[Document]) -> Shop:
    """The shop out of a book's documents, in a stable order."""
    by_kind: dict[type[Any], list[Any]] = {}
    for document in documents:
        by_kind.setdefault(type(document), []).append(document)

    def pick(type_: type[Any]) -> tuple[Any, ...]:
        return tuple(by_kind.get(type_, []))

    order = list(MachineKind)
    machines = tuple(sorted(pick(Machine), key=lambda m: (order.index(m.kind), m.name)))  # mills first
    return Shop(
        machines=machines,
        bars=pick(Bar),
        cutters=pick(Cutter),
        collets=pick(Collet),
        studs=pick(Stud),
        measuring=pick(MeasuringTool),
        gauge_sets=tuple(sorted(pick(GaugeSet), key=lambda g: (g.unit == "in", -len(g.blocks)))),
        angle_sets=pick(AngleBlockSet),
        parallels=tuple(sorted(pick(Parallel), key=lambda p: p.height_mm)),
        sine_tools=pick(SineTool),
        angle_tools=pick(AngleTool),
        vises=pick(Vise),
        clamps=tuple(sorted(pick(Clamp), key=lambda c: (c.kind, c.length_mm))),
        supports=tuple(sorted(pick(SupportBlock), key=lambda b: (b.kind, b.min_height_mm))),
        stops=pick(TableStop),
        fasteners=tuple(sorted(pick(Fastener), key=lambda f: (f.kind, f.thread, f.length_mm))),
        pins=tuple(sorted(pick(Pin), key=lambda p: (p.diameter_mm, p.length_mm))),
        bores=tuple(sorted(pick(Bore), key=lambda b: b.name)),
    )


def words_of(document: Document) -> str:
    """What the word search looks through: every text in the document but its id."""
    found: list[str] = []

    def gather(value: Any) -> None:
        if isinstance(value, str):
            found.append(value)
        elif isinstance(value, dict):
            for key, part in value.items():
                if key != "id":
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

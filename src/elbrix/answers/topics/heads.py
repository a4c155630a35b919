"""Heads of screws, nuts and washers, and the standard's T-slots."""

from __future__ import annotations

from elbrix.answers.answer import Answer, Destination, ShopContext, Topic, missing, words
from elbrix.answers.question import Question
from elbrix.answers.topics.figures import looked
from elbrix.design import bores
from elbrix.quantities.names import parse_thread
from elbrix.results.figures import Derivation, Figure
from elbrix.standards import screws, slots

_HEADS = (
    (
        "socket_cap",
        "Socket cap",
        words("socket cap allen"),
        (("head_d", "Head Ø"), ("head_h", "Head height"), ("key", "Key across flats")),
    ),
    (
        "countersunk",
        "Countersunk screw",
        words("countersunk countersink flathead"),
        (("head_d", "Head Ø"), ("head_h", "Head height"), ("key", "Key across flats")),
    ),
    ("washer", "Washer", words("washer"), (("outside_d", "Outside Ø"), ("hole_d", "Hole Ø"), ("thickness", "Thickness"))),
    ("set_screw", "Set screw", words("grub set-screw"), (("key", "Key across flats"),)),
    ("nut", "Hexagon nut", words("nut"), (("height", "Height"),)),
    ("hex", "Hexagon head", words("hex hexagon spanner bolt"), (("across_flats", "Across flats"), ("head_h", "Head height"))),
)


def _head(q: Question, world: ShopContext) -> Answer:
    size = q.written("thread", "fraction", "gauge", "length").replace('"', "").removesuffix("in").strip()
    if not size:
        raise missing("The screw size", "socket cap M8")
    if size.endswith("mm"):
        raise missing("The screw size", "socket cap M8")
    size = parse_thread(size).size if "-" in size or size[:1] in "mM" else size
    if q.has("counterbore", "cbore"):
        return _counterbore(size, deep_first=q.has("depth", "deep"))
    kind, title, _, dims = next((h for h in _HEADS if q.has(*h[2])), _HEADS[-1])
    if kind == "hex" and q.has("key"):  # a hex key goes into a socket, a spanner goes round a hexagon
        kind, title, _, dims = _HEADS[0]
    figures = [looked(dim, label, screws.head(kind, size, dim)) for dim, label in dims]
    have = {dim for dim, _ in dims}
    first = next((dim for said_, dim in _HEAD_FIRST if dim in have and q.has(*said_)), "")
    figures.sort(key=lambda f: f.key != first)
    if kind == "nut":
        figures.append(looked("across_flats", "Across flats", screws.head("hex", size, "across_flats")))
    return Answer(title=f"{title} {size}", figures=tuple(figures))


def _counterbore(size: str, *, deep_first: bool) -> Answer:
    """The counterbore of a socket cap screw, as the designs make it."""
    made = bores.counterbored("", 0.0, 0.0, size)
    working = Derivation("head + what it needs to go in", f"socket cap {size}", "as the designs of this program make it")
    bore = Figure(key="bore", label="Counterbore Ø", value=made.bore, step=0.1, derivation=working)
    deep = Figure(key="deep", label="Counterbore depth, head flush", value=made.bore_depth, step=0.1, derivation=working)
    through = Figure(key="drill", label="Through hole Ø", value=made.drill, step=0.1)
    first = (deep, bore) if deep_first else (bore, deep)
    return Answer(title=f"Counterbore for a socket cap screw {size}", figures=(*first, through))


#: What of a head is asked for by a word.
_HEAD_FIRST = (
    (words("key spanner wrench allen flats"), "key"),
    (words("height high tall"), "head_h"),
    (words("height high tall thick thickness"), "height"),
    (words("thick thickness"), "thickness"),
    (words("outside"), "outside_d"),
)

_SLOT_DIMS = (
    ("head_width_min", "Head width, least"),
    ("head_width_max", "Head width, most"),
    ("head_space_min", "Head height, least"),
    ("head_space_max", "Head height, most"),
    ("depth_min", "Depth, least"),
    ("depth_max", "Depth, most"),
)


def _slot(q: Question, world: ShopContext) -> Answer:
    size = q.length()
    if size is None:
        raise missing("The nominal slot", "t-slot 12")
    name = f"{size:g}"
    figures = [looked(dim, label, slots.t_slot(name, dim)) for dim, label in _SLOT_DIMS]
    measured = [
        f"{m.name}, {s.label}" for m, s in world.shop.measured_slots() if s.neck is not None and abs(s.neck.mean - size) < 1
    ]
    notes = ("Real tables wander from the standard: measure the slot before cutting for it",) + (
        ("Measured slots of about that size: " + "; ".join(measured),) if measured else ()
    )
    machine = next((m.id for m, s in world.shop.measured_slots() if s.neck is not None and abs(s.neck.mean - size) < 1), "")
    go = Destination(words="See the measured slot", bench="shop", thing=machine) if machine else None
    return Answer(title=f"Standard T-slot {name}", figures=tuple(figures), notes=notes, go=go)


_THREADED = frozenset({"@thread", "@fraction", "@gauge", "@length"})
TOPICS = (
    Topic(
        key="heads",
        needs=(
            words("socket cap allen countersunk countersink washer hex hexagon spanner counterbore cbore grub set-screw nut"),
            _THREADED,
        ),
        hints=words("head height key size nut bolt screw flats diameter wrench thickness thick depth deep flush outside across"),
        examples=("socket cap M8", "hex 3/8", "washer M10", "nut height M10 spanner"),
        answer=_head,
    ),
    Topic(
        key="t-slot",
        needs=(words("t-slot tslot tee-slot"),),
        hints=words("standard slot table size"),
        examples=("t-slot 12",),
        answer=_slot,
    ),
)

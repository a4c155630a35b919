"""What every step of planning needs to know, and the helpers they share."""

from __future__ import annotations

from collections.abc import Mapping

from msgspec import Struct, field

from elbrix.design.work import Blank
from elbrix.making.dials import on_dial
from elbrix.making.options import Options
from elbrix.making.plan import KitItem, Position, Term
from elbrix.making.speeds import Speed, speed_for
from elbrix.making.stock_choice import BarCutting, StockOption
from elbrix.quantities.lengths import MM_PER_INCH
from elbrix.results.figures import format_number
from elbrix.shop.machines import Machine
from elbrix.shop.shop import Shop
from elbrix.shop.tooling import Cutter, CutterKind
from elbrix.standards.materials import Material, material
from elbrix.standards.near_miss import size_near_misses

#: Edge finder assumed when the shop lists none, mm.
FINDER_MM = 10.0
#: Left by roughing for the finishing cuts, mm: on a wall, on a floor.
FINISH_WALL_MM, FINISH_FLOOR_MM = 0.3, 0.15


class Context(Struct):
    """One planning run. The kit and the assumptions gather as steps are planned."""

    shop: Shop
    machine: Machine
    blank: Blank
    options: Options
    measured: Mapping[str, float]
    cutting: BarCutting
    bar: StockOption | None
    unit: str = "mm"  #: what sizes are said in, "mm" or "in"; a readout shows it, a handwheel has its own divisions
    kit: list[KitItem] = field(default_factory=list)
    assumed: list[str] = field(default_factory=list)
    problems: list[str] = field(default_factory=list)

    def say(self, mm: float, places: int = 2) -> str:
        """A size in words, in the unit on show: "14.4 mm", "0.5669 in"."""
        return f"{format_number(mm, places)} mm" if self.unit == "mm" else f"{mm / MM_PER_INCH:.4f} in"

    @property
    def stock(self) -> Material:
        return material(self.blank.material)

    @property
    def width(self) -> float:
        """Width of the bar as measured after squaring, else as designed."""
        return self.measured.get("bar_width", self.blank.width_mm)

    @property
    def height(self) -> float:
        return self.measured.get("bar_height", self.blank.height_mm)

    @property
    def bar_length(self) -> float:
        """Of the piece of bar in the vise."""
        return self.cutting.length(self.blank)

    def at(self, axis: str, terms: list[Term], key: str = "") -> Position:
        """A position as the sum of its terms, with its dial number."""
        value = round(sum(t.value_mm for t in terms), 9)
        return Position(
            axis=axis,
            value_mm=value,
            terms=tuple(terms),
            dial=on_dial(self.machine, axis, value, self.unit),
            unit=self.unit,
            key=key,
        )

    def speed(self, cutter: Cutter, axis: str = "X") -> Speed:
        return speed_for(self.machine, cutter, self.stock, axis)

    def request(self, words: str, owned: bool, note: str = "") -> None:
        """Put a thing on the kit list once."""
        if all(item.words != words for item in self.kit):
            self.kit.append(KitItem(words, owned, note))

    def need_cutter(self, cutter: Cutter, owned: bool = True) -> None:
        """Put a cutter on the kit list, with a word about its shank when no collet is right for it."""
        note = cutter.notes
        collets = [c for c in self.shop.collets if c.machine in ("", self.machine.id)]
        if cutter.shank_mm and collets:
            right = [c for c in collets if abs(c.size_mm - cutter.shank_mm) <= 0.1]
            close = size_near_misses(
                f"{format_number(cutter.shank_mm)} mm shank", cutter.shank_mm, [(f"{c.name} collet", c.size_mm) for c in collets]
            )
            if not right:
                note = close[0].sentence if close else f"no collet for its {format_number(cutter.shank_mm)} mm shank"
        self.request(cutter.title, owned, note)

    def find(self, kind: CutterKind, size_mm: float, name: str = "", tolerance: float = 0.06) -> Cutter:
        """The owned cutter of a kind and size, or a stand-in marked as missing on the kit list."""
        for cutter in self.shop.cutters_of(kind):
            if abs(cutter.diameter_mm - size_mm) <= tolerance and (not name or cutter.name == name):
                self.need_cutter(cutter)
                return cutter
        stand_in = Cutter(id=f"missing {kind.value} {name or size_mm}", kind=kind, diameter_mm=size_mm, name=name, teeth=2)
        self.request(stand_in.title, False, "not in the shop: only its own steps wait for it")
        return stand_in

    def direction(self, finish: bool) -> str:
        """Conventional or climb by the machine's policy."""
        if self.machine.climb == "yes":
            return "climb"
        return "climb, hair-thin" if finish and self.machine.climb == "finish only" else "conventional"

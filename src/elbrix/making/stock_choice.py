"""Which bar on the rack to cut, how much of it, and why; or what to buy."""

from __future__ import annotations

import math
from collections.abc import Iterable
from typing import Final

from msgspec import Struct

from elbrix.design.work import Blank
from elbrix.quantities.lengths import MM_PER_INCH, round_up
from elbrix.results.figures import Derivation, format_number
from elbrix.results.length_text import LENGTH_UNIT, length
from elbrix.shop.stock import Bar, Finish, Form, section_text

#: Metal to leave on each machined side by the finish of the bar, mm. Source: shop practice.
SIDE_ALLOWANCE: Final = {Finish.GROUND: 0.2, Finish.BRIGHT: 0.5, Finish.ROLLED: 1.5, Finish.SAWN: 2.5}
#: Hexagons are sold across the flats so, mm. Source: usual spanner sizes.
SOLD_HEX: Final = (5.5, 7, 8, 10, 11, 12, 13, 14, 17, 19, 22, 24, 27, 30, 32, 36, 41, 46)
#: A bright or ground face this near its size is left as it is.
AS_IT_IS: Final = 0.05
AS_IT_IS_ROUND: Final = 0.002
#: Sizes bars are sold in, mm. Source: usual bright flats and squares.
SOLD: Final = (6, 8, 10, 12, 15, 16, 20, 22, 25, 30, 32, 35, 40, 45, 50, 60, 70, 80, 100)
#: The same in an inch shop, sixteenths of an inch. Source: usual cold-finished flats, squares and rounds.
SOLD_SIXTEENTHS: Final = (4, 5, 6, 8, 10, 12, 14, 16, 18, 20, 24, 28, 32, 36, 40, 48, 56, 64)
#: Lengths are sawn to multiples of this, mm.
_SAWN_TO: Final = 0.5
#: Above them bars and plates are sold in steps of this, mm.
_WIDE_STEP_MM: Final = 5.0
_WIDE_STEP_INCH_MM: Final = MM_PER_INCH / 2
#: A bar this much thinner than the spindle's bore goes through it, mm.
_THROUGH_LESS_MM: Final = 0.5
#: An offcut shorter than this is scrap to most shops.
USEFUL_LEFT: Final = 60.0


class BarCutting(Struct, frozen=True, kw_only=True):
    """How pieces come off the bar, mm."""

    kerf_mm: float = 2.5  #: saw cut
    facing_mm: float = 0.6  #: per sawn end, milled away
    end_mm: float = 3.0  #: once, to clean the end of the bar
    parting_mm: float = 3.0  #: width of a lathe's parting tool
    turned_facing_mm: float = 0.3  #: per end of a turned part
    clear_of_jaws_mm: float = 8.0  #: between the parting tool and the chuck
    grip_mm: float = 15.0  #: in the chuck at least, and no less than the bar's Ø
    spindle_mm: float = 0.0  #: bore of the lathe's spindle, which a bar for several pieces goes through; 0: not known
    sawn_each: bool = False  #: round pieces are sawn one by one: between centres nothing is parted

    def pitch(self, blank: Blank) -> float:
        """From one piece to the next along the bar."""
        return blank.length_mm + 2 * self.facing_mm + self.kerf_mm

    def grip(self, blank: Blank, bar_mm: float = 0.0) -> float:
        """Of a round bar in the chuck."""
        return max(self.grip_mm, bar_mm or blank.round_mm)

    def too_thick(self, bar_mm: float) -> bool:
        """Whether a bar of this Ø does not go into the spindle; no, where its bore is not known."""
        return self.spindle_mm > 0 and bar_mm > self.spindle_mm - _THROUGH_LESS_MM

    def one_by_one(self, blank: Blank, bar_mm: float = 0.0) -> bool:
        """Whether a round bar is too thick for the spindle, so that each of several pieces is sawn with its own grip."""
        several = blank.round_mm > 0 and blank.pieces > 1 and not self.sawn_each
        return several and self.too_thick(bar_mm or blank.round_mm)

    def sawn(self, blank: Blank, bar_mm: float = 0.0) -> float:
        """One of the lengths that are sawn with their own grip, up to half a millimetre."""
        each = blank.length_mm + 2 * self.turned_facing_mm + self.parting_mm + self.clear_of_jaws_mm
        return round_up(each + self.grip(blank, bar_mm), _SAWN_TO)

    def length(self, blank: Blank, bar_mm: float = 0.0) -> float:
        """n·(L + facing of both ends) + (n − 1)·kerf + end allowance, up to half a millimetre: a saw cuts no closer.

        Args:
            blank: What is wanted.
            bar_mm: Ø of a round bar, which may be thicker than the part; 0: the part's own.
        """
        return round_up(self._exactly(blank, bar_mm), _SAWN_TO)

    def _exactly(self, blank: Blank, bar_mm: float) -> float:
        n = blank.pieces
        if blank.round_mm > 0 and self.sawn_each:
            return n * (blank.length_mm + 2 * self.turned_facing_mm) + (n - 1) * self.kerf_mm + self.end_mm
        if self.one_by_one(blank, bar_mm):
            return n * self.sawn(blank, bar_mm) + (n - 1) * self.kerf_mm
        if blank.round_mm > 0:
            each = blank.length_mm + 2 * self.turned_facing_mm + self.parting_mm
            return n * each + self.clear_of_jaws_mm + self.grip(blank, bar_mm)
        return n * (blank.length_mm + 2 * self.facing_mm) + (n - 1) * self.kerf_mm + self.end_mm

    def derivation(self, blank: Blank, bar_mm: float = 0.0) -> Derivation:
        """The cut length's working."""
        if blank.round_mm > 0 and not self.sawn_each:
            turned = (
                f"({format_number(blank.length_mm)} + 2·{format_number(self.turned_facing_mm)} + {format_number(self.parting_mm)}"
            )
            held = f"{format_number(self.clear_of_jaws_mm)} + {format_number(self.grip(blank, bar_mm))}"
            if self.one_by_one(blank, bar_mm):
                return Derivation(
                    "n·(L + 2·facing + parting tool + clear of the jaws + grip) + (n − 1)·kerf, each up to 0.5",
                    f"{blank.pieces}·{turned} + {held}) + {blank.pieces - 1}·{format_number(self.kerf_mm)}",
                    f"does not go through the spindle's {format_number(self.spindle_mm)}: each sawn with its own grip",
                )
            return Derivation(
                "n·(L + 2·facing + parting tool) + clear of the jaws + grip, up to 0.5",
                f"{blank.pieces}·{turned}) + {held}",
                "turned from the bar and parted; gripped over 15 mm or its Ø",
            )
        return Derivation(
            "n·(L + 2·facing) + (n − 1)·kerf + end, up to 0.5",
            f"{blank.pieces}·({format_number(blank.length_mm)} +"
            f" 2·{format_number(self.turned_facing_mm if self.sawn_each else self.facing_mm)}) +"
            f" {blank.pieces - 1}·{format_number(self.kerf_mm)} + {format_number(self.end_mm)}",
            "pieces parted with a saw, both ends faced" if self.sawn_each else "pieces parted with a saw, both ends milled",
        )


class StockOption(Struct, frozen=True, kw_only=True):
    """One bar judged."""

    bar: Bar
    turned: bool  #: its height lies across
    fits: bool
    cut_mm: float
    left_mm: float
    removed_cm3: float
    reason: str

    @property
    def width_mm(self) -> float:
        return self.bar.height_mm if self.turned else self.bar.width_mm

    @property
    def height_mm(self) -> float:
        return self.bar.width_mm if self.turned or self.bar.form is not Form.FLAT else self.bar.height_mm


class StockChoice(Struct, frozen=True):
    """All bars judged, best first; `buy` says what would do when none does."""

    options: tuple[StockOption, ...]
    buy: str

    @property
    def best(self) -> StockOption | None:
        return self.options[0] if self.options and self.options[0].fits else None

    @property
    def fitting(self) -> tuple[StockOption, ...]:
        return tuple(o for o in self.options if o.fits)


def round_stock_mm(blank: Blank, bar: StockOption | None, unit: str = "mm") -> float:
    """Ø of the bar a round part is turned from; with none on the rack, of the one that is to be bought.

    Of a hexagon the corners count.
    """
    if blank.hex_mm:
        return blank.round_mm
    return bar.width_mm if bar is not None else _sold_round(blank, unit)


def _sold_round(blank: Blank, unit: str) -> float:
    return _sold(blank.round_mm, SIDE_ALLOWANCE[Finish.BRIGHT] * 2, AS_IT_IS_ROUND, inch=unit == "in")


def choose_stock(blank: Blank, bars: Iterable[Bar], cutting: BarCutting | None = None, unit: str = "mm") -> StockChoice:
    """Judge every bar: the smallest section that encloses the part with its allowances.

    Ranked by metal to remove and by what is left.

    Args:
        blank: What is wanted.
        bars: On the rack.
        cutting: How pieces come off a bar.
        unit: What would be bought is sold so, "mm" or "in".
    """
    cutting = cutting or BarCutting()
    options = [_judge(blank, bar, cutting) for bar in bars]
    options.sort(key=lambda o: (not o.fits, o.removed_cm3 + (2.0 if 0 < o.left_mm < USEFUL_LEFT else 0.0), o.bar.id))
    request, inch = SIDE_ALLOWANCE[Finish.BRIGHT] * 2, unit == "in"
    thick = 0.0 if blank.hex_mm or not blank.round_mm else _sold_round(blank, unit)
    longest = cutting.length(blank, thick) - 1e-9
    # What is bought has to be enough.
    long = f"{math.ceil(longest / MM_PER_INCH * 2) / 2:g} in or longer" if inch else f"{math.ceil(longest)} mm or longer"
    if blank.hex_mm > 0:
        return StockChoice(tuple(options), f"{section_text(Form.HEXAGON, blank.hex_mm)} {blank.material}, {long}")
    if blank.round_mm > 0:
        sold = section_text(Form.ROUND, thick, inch=inch)
        return StockChoice(tuple(options), f"{sold} {blank.material}, {long}")
    across, high = _sold(blank.width_mm, request, inch=inch), _sold(blank.height_mm, request, inch=inch)
    return StockChoice(tuple(options), f"{section_text(Form.FLAT, across, high, inch=inch)} bright {blank.material}, {long}")


def _sold(size: float, request: float, as_it_is: float = AS_IT_IS, *, inch: bool = False) -> float:
    """The next size bars are sold in, mm: one that is as it is wanted, else one that can be milled to it."""
    sold = [s * MM_PER_INCH / 16 for s in SOLD_SIXTEENTHS] if inch else [float(s) for s in SOLD]
    wide = round_up(size + request, _WIDE_STEP_INCH_MM if inch else _WIDE_STEP_MM)
    return next((s for s in sold if s >= size + request or abs(s - size) <= as_it_is), wide)


def _short_of(have: float, want: float, finish: Finish) -> float:
    """How much a bar dimension lacks; 0 or less is enough."""
    if finish in (Finish.BRIGHT, Finish.GROUND) and abs(have - want) <= AS_IT_IS:
        return 0.0
    return want + 2 * SIDE_ALLOWANCE[finish] - have


def _judge(blank: Blank, bar: Bar, cutting: BarCutting) -> StockOption:
    cut = cutting.length(blank, 0.0 if blank.hex_mm or not blank.round_mm else bar.width_mm)
    section = bar.width_mm * bar.height_mm
    if blank.round_mm > 0:
        return _judge_round(blank, bar, cut)
    if bar.form is not Form.FLAT:
        return StockOption(
            bar=bar,
            turned=False,
            fits=False,
            cut_mm=cut,
            left_mm=bar.length_mm,
            removed_cm3=1e6,
            reason=f"{bar.form.value}: this work is cut from flat bar",
        )
    lacks = {
        turned: max(_short_of(w, blank.width_mm, bar.finish), _short_of(h, blank.height_mm, bar.finish))
        for turned, w, h in ((False, bar.width_mm, bar.height_mm), (True, bar.height_mm, bar.width_mm))
    }
    turned = lacks[True] < lacks[False] - 1e-9
    lack = lacks[turned]
    removed = max(0.0, section * cut - blank.width_mm * blank.height_mm * blank.length_mm * blank.pieces) / 1000
    left = bar.length_mm - cut - cutting.kerf_mm
    if bar.material != blank.material:
        fits, reason = False, f"{bar.material}, where {blank.material} is asked for"
    elif lack > 1e-9:
        fits, reason = (
            False,
            (
                f"{length(lack, 2)} {LENGTH_UNIT} too small in section with {length(SIDE_ALLOWANCE[bar.finish], 1)} a side for"
                f" a {bar.finish.value} face"
            ),
        )
    elif left < -cutting.kerf_mm - 1e-9:
        fits, reason = False, f"{length(cut - bar.length_mm, 1)} {LENGTH_UNIT} too short"
    else:
        fits = True
        left = max(0.0, left)
        rest = "nothing useful left" if left < USEFUL_LEFT else f"{length(left, 0)} {LENGTH_UNIT} of bar remain"
        reason = f"{format_number(removed, 1)} cm³ of chips, {rest}" + (", lying on its side" if turned else "")
        if bar.guessed:
            reason += f"; material guessed by {bar.guessed}"
    return StockOption(bar=bar, turned=turned, fits=fits, cut_mm=cut, left_mm=max(0.0, left), removed_cm3=removed, reason=reason)


def _judge_round(blank: Blank, bar: Bar, cut: float) -> StockOption:
    """A round bar for a turned part: as it is when bright or ground to size, else with an allowance on the radius."""
    if blank.hex_mm > 0:
        return _judge_hexagon(blank, bar, cut)
    # Only a bar of exactly that Ø is left as it is: a fit is a matter of microns.
    lack = (
        0.0
        if abs(bar.width_mm - blank.round_mm) <= AS_IT_IS_ROUND
        else blank.round_mm + 2 * SIDE_ALLOWANCE[bar.finish] - bar.width_mm
    )
    left = bar.length_mm - cut
    removed = max(0.0, math.pi / 4 * (bar.width_mm**2 * cut - blank.round_mm**2 * blank.length_mm * blank.pieces)) / 1000
    reason = f"{format_number(removed, 1)} cm³ of chips"
    if bar.form is not Form.ROUND:
        reason = f"{bar.form.value}: this part is turned from round bar"
    elif bar.material != blank.material:
        reason = f"{bar.material}, where {blank.material} is asked for"
    elif lack > 1e-9:
        reason = f"{length(lack, 2)} {LENGTH_UNIT} too thin"
    elif left < 0:
        reason = f"{length(-left, 1)} {LENGTH_UNIT} too short"
    fits = bar.form is Form.ROUND and bar.material == blank.material and lack <= 1e-9 and left >= 0
    return StockOption(
        bar=bar, turned=False, fits=fits, cut_mm=cut, left_mm=max(0.0, left), removed_cm3=removed if fits else 1e6, reason=reason
    )


def _judge_hexagon(blank: Blank, bar: Bar, cut: float) -> StockOption:
    """A hexagon bar for a part that keeps its flats: that hexagon and no other."""
    left = bar.length_mm - cut
    fits = False
    if bar.form is not Form.HEXAGON:
        reason = f"{bar.form.value}: this part keeps the flats of a hexagon bar"
    elif bar.material != blank.material:
        reason = f"{bar.material}, where {blank.material} is asked for"
    elif abs(bar.width_mm - blank.hex_mm) > AS_IT_IS:
        reason = f"{section_text(bar.form, bar.width_mm)}, where {section_text(bar.form, blank.hex_mm)} is asked for"
    elif left < 0:
        reason = f"{length(-left, 1)} {LENGTH_UNIT} too short"
    else:
        fits, reason = True, f"its flats stay; {length(left, 0)} {LENGTH_UNIT} left"
    return StockOption(
        bar=bar, turned=False, fits=fits, cut_mm=cut, left_mm=max(0.0, left), removed_cm3=0.0 if fits else 1e6, reason=reason
    )

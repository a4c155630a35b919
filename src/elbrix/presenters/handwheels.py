"""What the handwheels under Make's plate show while they are turned for practice. No widgets here."""

from __future__ import annotations

from collections.abc import Callable

from msgspec import Struct

from elbrix.making.dials import on_handwheel
from elbrix.making.plan import Plan, Position
from elbrix.quantities.lengths import UnitStyle
from elbrix.rehearsal.handwheels import Slides, slides_at
from elbrix.results.length_text import said_in
from elbrix.shop.shop import Shop


class WheelView(Struct, frozen=True, kw_only=True):
    """One handwheel in words and numbers."""

    axis: str
    divisions: int
    on_ring: float  #: the division at the mark
    reads: str  #: turns and divisions since zero
    stands: str  #: where the slide is
    wanted: str  #: the number of the card; empty where this move does not set it
    told: str  #: "there", how far to go, or the slip that fits
    there: bool
    slip: bool


class HandwheelPresenter:
    """The wheels of one machine, at one move after another; what is turned here is kept nowhere."""

    def __init__(self, style: UnitStyle) -> None:
        self.style = style
        self.slides: Slides | None = None

    def go_to(self, plan: Plan | None, shop: Shop, move: str) -> None:
        """Stand before a move. In the setup that was worked in, the slides are where they were left."""
        found = slides_at(plan, shop, move) if plan is not None else None
        before = self.slides
        if found is not None and before is not None and before.setup.id == found.setup.id and before.machine == found.machine:
            zeroed = set(before.move.zeroes)  # an axis that was just zeroed starts from it
            kept = {a: w for a, w in before.wheels.items() if a in found.wheels and a not in zeroed}
            found = Slides(
                setup=found.setup,
                operation=found.operation,
                move=found.move,
                machine=found.machine,
                wheels={**found.wheels, **kept},
            )
        self.slides = found

    def turn(self, axis: str, divisions: float) -> None:
        if self.slides is not None:
            self.slides = self.slides.turned(axis, divisions)

    @property
    def keyed(self) -> dict[str, str]:
        """The metal is cut with these, as long as the wheels are shown."""
        return self.slides.keyed() if self.slides is not None else {}

    def views(self, shown: Callable[[Position], str], *, still: bool, silent: bool = False) -> tuple[WheelView, ...]:
        """Every wheel of the machine, in the order of its axes.

        Args:
            shown: A number as the card has it.
            still: The wheels are at rest: a slip is named where one fits.
            silent: A slip is hidden in the card: it is the learner's to find.
        """
        slides = self.slides
        if slides is None:
            return ()
        told = {} if silent else {a.axis: a for a in slides.left(still=still)}
        numbers = {p.axis: p for p in slides.positions}
        found = []
        for axis, wheel in sorted(slides.wheels.items()):
            left, words, slip = told.get(axis), "", False
            if left is not None:
                slip = bool(left.slip)
                way = self.style.with_unit(abs(left.left_mm), "mm", 0.005)
                words = "there" if left.there else said_in(left.slip, self.style) or f"{left.way} {way} to go"
            found.append(
                WheelView(
                    axis=axis,
                    divisions=wheel.wheel.divisions,
                    on_ring=wheel.on_ring,
                    reads=on_handwheel(wheel.wheel, axis, wheel.dial_mm, slides.machine.kind).text,
                    stands=self.style.with_unit(wheel.slide_mm, "mm", 0.005).replace("-", "−"),
                    wanted=shown(numbers[axis]) if axis in numbers else "",
                    told=words,
                    there=left is not None and left.there,
                    slip=slip,
                )
            )
        return tuple(found)

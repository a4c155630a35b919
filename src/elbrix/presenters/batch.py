"""What Make shows of several accessories made in one go: bars to scale, the order of the setups, the kit. No widgets here."""

from __future__ import annotations

from itertools import groupby
from typing import Final

from elbrix.drawing.scene import Element, Note, Scene, Style, box
from elbrix.making.bar_layout import BarUse
from elbrix.making.order import Changes
from elbrix.making.plan import NO_BAR
from elbrix.making.together import Together, Turn
from elbrix.presenters.acts import Act, Verb
from elbrix.presenters.card import Button, CardView, Row, Section
from elbrix.presenters.make import hours
from elbrix.presenters.plate import PlateView
from elbrix.presenters.proof import Tile, Why
from elbrix.presenters.words import said_scene, tiles_of, why_check
from elbrix.quantities.lengths import UnitStyle
from elbrix.quantities.sentences import within
from elbrix.results.checks import Check, Limits
from elbrix.results.length_text import rough_length, said_in
from elbrix.shop.stock import Form

#: Height of a bar's place on the plate over the longest bar, and the least and most of it, mm.
_TALL, _MIN, _MAX = 0.8, 46.0, 200.0
#: How far off a bar its name and its numbers stand: as a share of its place, and mm.
_ASIDE, _ASIDE_MM = 0.12, 24.0
_CHANGES: Final = (
    ("machine", "machines"),
    ("way of holding", "ways of holding"),
    ("table height", "table heights"),
    ("tool", "tools"),
)


def changes_words(changes: Changes) -> str:
    """ "3 machines, 12 tools"; "nothing" where nothing is changed."""
    said = [f"{n} {names[n != 1]}" for n, names in zip(changes, _CHANGES, strict=True) if n]
    return ", ".join(said) or "nothing"


class BatchPresenter:
    """One batch in words and pictures."""

    def __init__(self, batch: Together, style: UnitStyle) -> None:
        self.batch, self.style = batch, style

    def title(self) -> str:
        first, *more = self.batch.titles.values()
        return f"{first} and {len(more)} more" if len(more) != 1 else f"{first} and {more[0]}"

    def subtitle(self) -> str:
        bars = len(self.batch.layout.bars)
        return (
            f"from {bars} bar{'' if bars == 1 else 's'}  ·  about {hours(self.batch.minutes)}"
            f"  ·  changed on the way: {changes_words(self.batch.changes)}"
        )

    # --- plate -------------------------------------------------------------------------------------------------------

    def scene(self) -> Scene:
        """Every bar that is cut, to scale, its end at the left; what is cut is filled, a bar with a useless rest dashed."""
        uses = self.batch.layout.bars
        longest = max((u.bar.length_mm for u in uses), default=300.0)
        room = min(_MAX, max(_MIN, _TALL * longest / max(1, len(uses))))
        aside = min(max(_ASIDE * room, _ASIDE_MM), 0.3 * room)
        elements: list[Element] = []
        number = 0
        for row, use in enumerate(uses):
            y = -row * room
            h = min(use.bar.height_mm if use.bar.form is Form.FLAT else use.bar.width_mm, room * 0.4)
            named = f"{use.bar.title}, {use.bar.rack}".rstrip(", ")
            left = f"{rough_length(use.left_mm)} left" + ("" if use.useful else ", scrap")
            elements.append(Note((0.0, y + h / 2 + aside), f"{named}: {left}"))
            elements.append(
                box(0, y - h / 2, use.bar.length_mm, y + h / 2, Style.VISIBLE if use.useful else Style.HIDDEN, use.bar.id)
            )
            for cut in use.lengths:
                number += 1
                end = cut.at_mm + cut.length_mm
                elements += [
                    box(cut.at_mm, y - h / 2, end, y + h / 2, Style.BODY, cut.job),
                    box(cut.at_mm, y - h / 2, end, y + h / 2, Style.VISIBLE, cut.job),
                    Note(((cut.at_mm + end) / 2, y - h / 2 - aside), str(number), feature=cut.job, align=0),
                ]
        return Scene("bars", "", tuple(elements))

    def plate(self) -> PlateView:
        if not self.batch.layout.bars:
            return PlateView(Scene(""), message="No bar on the rack does for any of them.", thing="batch none")
        return PlateView(
            said_scene(self.scene(), self.style),
            title="BARS, TO SCALE",
            footer=f"Neither part nor useful rest: {self._waste()}   ·   no other way to cut them wastes less",
            thing=f"batch {'/'.join(self.batch.titles)} {self.style.length}",
        )

    def _waste(self) -> str:
        cm3 = self.batch.layout.waste_cm3
        return f"{cm3:.0f} cm³" if self.style.length == "mm" else f"{cm3 / 16.387064:.1f} in³"

    # --- proof -------------------------------------------------------------------------------------------------------

    def _checks(self) -> tuple[Check, ...]:
        b = self.batch
        missing = [line.item for line in b.kit if not line.item.owned]
        gone = b.layout.missing
        return (
            Check(
                key="bars",
                label="Bars in stock",
                value=len(gone),
                unit="",
                limits=Limits(no_above=0),
                text=f"{len(gone)} wait" if gone else "for all",
                reason="; ".join(f"{b.titles[job]}: buy {buy}" for job, buy in b.to_buy)
                or "every accessory is cut from the rack",
            ),
            *(
                [
                    Check(
                        key="cards",
                        label="Bars of the cards",
                        value=len(b.moved),
                        unit="",
                        limits=Limits(marginal_above=0),
                        text=f"{len(b.moved)} differ" if len(b.moved) > 1 else "1 differs",
                        reason="; ".join(f"{b.titles[j]} is cut from another bar here than on its own card" for j in b.moved)
                        + ". Keep these bars, and the cards say the same",
                    )
                ]
                if b.moved
                else []
            ),
            Check(
                key="kit",
                label="Kit complete",
                value=len(missing),
                unit="",
                limits=Limits(marginal_above=0),
                text=f"{len(missing)} missing" if missing else "all here",
                reason="missing: " + ", ".join(k.words for k in missing) if missing else "everything is in the shop",
            ),
            Check(
                key="order",
                label="Order of work",
                value=float(not b.proved),
                unit="",
                limits=Limits(),
                text="fewest changes" if b.proved else "few changes",
                reason=(
                    f"changed on the way: {changes_words(b.changes)}; one accessory after another: {changes_words(b.apart)}."
                    + (
                        " No order changes less, machine before holding before height before tool"
                        if b.proved
                        else " Too many setups for a proof: the best of very many orders"
                    )
                ),
            ),
            *(
                Check(
                    key=f"problem {n}",
                    label=words.split(":")[0][:60],
                    value=1,
                    unit="",
                    limits=Limits(marginal_above=0),
                    text="see",
                    reason=words,
                )
                for n, words in enumerate(b.problems)
                if NO_BAR not in words
            ),
        )

    def tiles(self) -> tuple[Tile, ...]:
        return tiles_of(self._checks(), self.style)

    def why(self, key: str) -> Why | None:
        check = next((c for c in self._checks() if c.key == key), None)
        return why_check(check, self.style) if check is not None else None

    # --- card --------------------------------------------------------------------------------------------------------

    def card(self) -> CardView:
        """Bars with what is sawn off, the order, the kit."""
        return CardView(
            sections=(self._bars(), *self._order(), self._kit()),
            buttons=(
                Button(key="batch sheet", text="Batch sheet", main=True, tip="Bars, order and kit on paper"),
                *(
                    (Button(key="keep bars", text="Keep these bars", tip="Their own cards are cut from them, too"),)
                    if self.batch.moved
                    else ()
                ),
                Button(key="leave batch", text="Back to the moves"),
            ),
        )

    def numbers(self) -> dict[str, int]:
        """Number of each length on the plate, in the order it is sawn."""
        return {cut.job: n for n, cut in enumerate((c for u in self.batch.layout.bars for c in u.lengths), 1)}

    def _bars(self) -> Section:
        rows, numbers = [], self.numbers()
        for use in self.batch.layout.bars:
            rows += [self._sawn(numbers[c.job], c.job, c.length_mm, use) for c in use.lengths]
        rows += [
            Row(key=f"buy {job}", label=self.batch.titles[job], value=f"buy {buy}", wrap=True) for job, buy in self.batch.to_buy
        ]
        rows += [
            Row(key=f"there {job}", label=self.batch.titles[job], value=f"on {p.there}", wrap=True)
            for job, p in self.batch.plans.items()
            if p.there
        ]
        return Section(title="Saw off", hint="from the left end, in this order", rows=tuple(rows), numbered=False)

    def _sawn(self, number: int, job: str, long_mm: float, use: BarUse) -> Row:
        return Row(
            key=Act(Verb.CUT, job).key,
            label=f"{number}  {self.batch.titles[job]}",
            value=self.style.show(long_mm, "mm", 0.5),
            unit=self.style.name("mm"),
            origin="calculated",
            derivation=f"off {use.bar.title}{', ' + use.bar.rack if use.bar.rack else ''}, with a saw cut after it",
        )

    def _order(self) -> list[Section]:
        """One section for each stay at a machine; in it a line for each stretch on one accessory."""
        found = []
        for n, (station, stay) in enumerate(groupby(self.batch.turns, key=lambda t: t.station), 1):
            stretches = [list(turns) for _, turns in groupby(stay, key=lambda t: t.job)]
            where = "At the " if station in ("saw", "bench") else "On "
            rows = tuple(self._stretch(turns, first=k == 0) for k, turns in enumerate(stretches))
            found.append(Section(title=f"{n}. {where}{station}", rows=rows, numbered=False))
        return found

    def _stretch(self, turns: list[Turn], *, first: bool) -> Row:
        _, holding, height, tool = turns[0].changed
        told = [w for w, on in (("held anew", holding), ("table height", height), ("tool", tool)) if on and not first]
        setups = ", ".join(t.setup.title if k == 0 else within(t.setup.title) for k, t in enumerate(turns))
        return Row(
            key=Act(Verb.TURN, f"{turns[0].job} {turns[0].setup.id}").key,
            label=turns[0].title + (f"  ·  changed: {', '.join(told)}" if told else ""),
            value=said_in(setups, self.style),
            edit="press",
            wrap=True,
        )

    def _kit(self) -> Section:
        rows = tuple(
            Row(
                key=f"kit {n}",
                label=said_in(f"{'' if line.item.owned else '■ '}{line.item.words}", self.style),
                value=("missing  ·  " if not line.item.owned else "")
                + (", ".join(line.jobs) if len(line.jobs) < len(self.batch.titles) else "all"),
                derivation=said_in(line.item.note, self.style),
                wrap=True,
            )
            for n, line in enumerate(self.batch.kit)
        )
        return Section(title="Kit", hint="once for all", rows=rows, numbered=False)

"""What the Angles bench shows, in words and scenes, and how its entries change the book. No widgets here."""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import Final

from msgspec import Struct
from msgspec.structs import replace

from elbrix.angles.methods import Method, shown
from elbrix.angles.pictures import box_plan_scene
from elbrix.angles.setup import AngleKind, AngleSetup, all_kinds, find_kind
from elbrix.book.angle_setups import choose_angle, forget_angle, held_by, solve_angle
from elbrix.book.documents import AngleDoc
from elbrix.drawing.dimension_texts import dimension_text
from elbrix.drawing.scene import Dimension, Scene
from elbrix.gauging.build_up import BuiltStack
from elbrix.parameters.parameter import Parameter
from elbrix.presenters.acts import Act, Verb
from elbrix.presenters.card import Button, CardView, Row, Section
from elbrix.presenters.plate import PlateView
from elbrix.presenters.proof import Tile, Why
from elbrix.presenters.words import figure_row, repair, tiles_of, why_check
from elbrix.quantities.angles import angle_text
from elbrix.quantities.errors import EntryError, ShopError
from elbrix.quantities.lengths import UnitStyle
from elbrix.quantities.sentences import within
from elbrix.results.checks import Fix
from elbrix.results.length_text import said_in
from elbrix.shop.gauges import GaugeSet
from elbrix.shop.shop import Shop

_STACK: Final = "stack"


class LongerState(Struct, frozen=True):
    """How the long search stands."""

    running: bool = False
    share: float = 0.0
    found: tuple[BuiltStack, ...] = ()
    problem: str = ""


class AnglesPresenter:
    """One setting solved against the shop, and everything the bench says about it."""

    def __init__(self, doc: AngleDoc, shop: Shop, style: UnitStyle, longer: LongerState | None = None) -> None:
        self.doc, self.shop, self.style, self.longer = doc, shop, style, longer
        self.kind: AngleKind = find_kind(doc.kind)
        self.parameters: dict[str, Parameter] = {p.name: p for p in self.kind.parameters(shop)}
        self.setting: AngleSetup | None = None
        self.problem: ShopError | None = None
        try:
            self.setting = solve_angle(doc, shop)
        except ShopError as error:
            self.problem = error

    # --- head --------------------------------------------------------------------------------------------------------

    def subtitle(self) -> str:
        parts = [self.kind.title]
        if self.setting is not None and self.setting.advice is not None:
            chosen = self.way
            parts.append(f"set by {within(chosen.title)}" if chosen else "")
        held = [b for g in held_by(self.doc, self.shop) for b in g.blocks if b.holder == self.doc.id]
        parts.append(f"stack wrung, {len(held)} blocks out of the box" if held else "")
        return "  ·  ".join(p for p in parts if p)

    @property
    def way(self) -> Method | None:
        """The way chosen for the job, or recommended."""
        if self.setting is None or "method" not in self.setting.values:
            return None
        return next((w for w in self.setting.methods if w.key == self.setting.values.word("method")), None)

    @property
    def wrung(self) -> bool:
        return bool(held_by(self.doc, self.shop))

    # --- plate -------------------------------------------------------------------------------------------------------

    @property
    def box(self) -> GaugeSet | None:
        """The box beside the setting, when the setting stands on blocks."""
        if self.setting is None or "block_set" not in self.setting.values or _STACK not in self.setting.values:
            return None
        return next((g for g in self.shop.gauge_sets if g.id == self.setting.values.word("block_set")), None)

    def plate(self) -> PlateView:
        if self.setting is None:
            return PlateView(Scene(""), message=said_in(str(self.problem), self.style), thing=self.doc.id)
        scene = self.setting.scenes[0]
        box = self.box
        stacked = [n for built in self.setting.stacks for n in built.names]
        inset = box_plan_scene(box, stacked, mine=self.doc.id) if box is not None else None
        footer = "Click a brass number to change it   ·   Tab goes on to the next"
        if scene.handles:
            footer = (
                f"Drag the {scene.handles[0].feature}: it settles on what two blocks make   ·   carry a block onto the stack to"
                " swap or add, off it to take away"
            )
        return PlateView(
            scene,
            title=(scene.title if inset is None else f"{scene.title}").upper(),
            footer=footer,
            label=self.label,
            entry_text=self.entry_text,
            value=self.value,
            inset=inset,
            main_box=(0.0, 0.0, 0.63, 1.0) if inset is not None else (0.0, 0.0, 1.0, 1.0),
            inset_box=(0.64, 0.1, 1.0, 0.98),
            carry=("block ", "stack ", "base ") if inset is not None else (),
            thing=f"{self.doc.id} {self.style.length}",
        )

    def label(self, d: Dimension) -> str:
        return dimension_text(d, self.style)

    def entry_text(self, entry: str) -> str:
        """What the entry field of a number opens with."""
        if self.setting is None or entry not in self.parameters:
            return ""
        if entry == _STACK:
            return self.stack_text()
        return self.parameters[entry].entry_text(self.setting.values[entry], self.style.length)

    def stack_text(self) -> str:
        """The stacks as typed."""
        return " / ".join(" ".join(built.names) for built in self.setting.stacks) if self.setting is not None else ""

    def value(self, key: str) -> str:
        """A figure's text, for notes on the plate."""
        if self.setting is None:
            return ""
        figure = self.setting.figure(key)
        return figure.text or self.style.with_unit(figure.value, figure.unit, figure.step)

    # --- card --------------------------------------------------------------------------------------------------------

    def card(self) -> CardView:
        if self.setting is None:
            return CardView(sections=(self._repair(),))
        sections = [Section(title=g.title, hint=g.hint, rows=tuple(self.row(k) for k in g.rows)) for g in self.setting.groups]
        if self.setting.others or self.setting.longer is not None:
            sections.append(self._others(self.setting))
        if self.setting.advice is not None:
            sections.append(self._ways(self.setting))
        if self.setting.table is not None:
            table = self.setting.table
            head, *lines = _columns([table.header, *([said_in(cell, self.style) for cell in line] for line in table.rows)])
            rows = tuple(_wrapped(Row(key=f"table {i}", label=r[0], value="   ".join(r[1:]))) for i, r in enumerate(lines))
            title = said_in(table.title, self.style)
            sections.append(Section(title=title, hint="   ".join(head[1:]), rows=rows, numbered=False))
        sections.append(self._steps(self.setting))
        buttons: tuple[Button, ...] = (
            Button(key="print", text="Setting card", main=True, tip="The page to take to the machine (Ctrl+P)"),
        )
        if self.box is not None and (self.setting.stacks or self.wrung):
            wring = (
                Button(key="back", text="Return blocks", tip="They lie in the box again")
                if self.wrung
                else Button(
                    key="wring", text="Reserve blocks", tip="Books its blocks out of the box, so no other stack counts on them"
                )
            )
            buttons = (*buttons, wring)
        if self.setting.read_back is not None:
            buttons = (*buttons, Button(key="read back", text="Read back", tip="Is the angle really there? In Inspect"))
        return CardView(sections=tuple(sections), buttons=buttons)

    def row(self, key: str) -> Row:
        assert self.setting is not None
        figure = self.setting.figure(key)
        parameter = self.parameters.get(key)
        given = self.setting.values[key] if parameter is not None else None
        row = figure_row(figure, self.style, parameter, given, chosen=key in self.doc.chosen)
        if key == _STACK:
            row = replace(row, entry_text=self.stack_text(), wrap=True)
        return row if row.wrap else _wrapped(row)

    def _others(self, setting: AngleSetup) -> Section:
        state, longer = self.longer, setting.longer
        others: tuple[BuiltStack, ...] = setting.others[:5]
        text, real = "", False
        buttons: tuple[Button, ...] = ()
        if longer is not None:
            if state is not None and state.running:
                text = f"Looking: {state.share:.0%} of it done. The bench goes on working meanwhile."
                buttons = (Button(key="stop", text="Cancel"),)
            else:
                buttons = (Button(key="longer", text=longer.words, tip=longer.why),)
            if state is not None and state.problem:
                text = state.problem
            elif state is not None and state.found:
                others, real = state.found, True
                text = f"Nearest of every stack of up to 8 blocks, {longer.why}."
        rows = tuple(self._other(b, real=real) for b in others)
        return Section(title="Other stacks", text=text, rows=rows, buttons=buttons, numbered=False)

    def _other(self, built: BuiltStack, *, real: bool) -> Row:
        label = f"{len(built.pieces)} blocks"
        if real and self.setting is not None:
            label += f", {(built.real_mm - self.setting.figure('height').value) * 1000:+.2f} µm off"
        return _wrapped(Row(key=Act(Verb.TAKE, " ".join(built.names)).key, label=label, value=built.words, edit="press"))

    def _ways(self, setting: AngleSetup) -> Section:
        assert setting.advice is not None
        rows = []
        for way in setting.methods:
            error = f"±{shown(way.error_rad)}" if way.possible else "no"
            why = [way.how, f"needs {way.needs}" + ("" if way.owned else ", which is not in the shop"), way.reach]
            why += ["the head has to be brought square again" if way.upsets_head else ""]
            mark = (
                "●"
                if way.owned and way.possible and way.error_rad <= setting.values.number("tolerance")
                else "▲"
                if way.owned and way.possible
                else "–"
            )
            rows.append(
                Row(
                    key=Act(Verb.METHOD, way.key).key,
                    label=f"{mark} {way.title}",
                    value=f"{error}  {way.minutes} min",
                    edit="press",
                    strong=way.key == setting.values.word("method"),
                    derivation="\n".join(w for w in why if w),
                )
            )
        text = setting.advice.reason + "." + (f" Better: {setting.advice.next_better}." if setting.advice.next_better else "")
        return Section(title="Setting methods", hint="● within the tolerance", text=text, rows=tuple(rows))

    def _steps(self, setting: AngleSetup) -> Section:
        rows = tuple(
            Row(
                key=f"step {i}",
                label=f"Step {i}" + (f": {said_in(s.running, self.style)}" if s.running else ""),
                value=said_in(s.words + (f" ({s.care})" if s.care else ""), self.style),
                wrap=True,
            )
            for i, s in enumerate(setting.steps, 1)
        )
        cautions = "\n".join(f"▲ {c}" for c in setting.cautions)
        return Section(title="Wringing order" if setting.stacks else "Steps", rows=rows, text=cautions)

    def _repair(self) -> Section:
        return repair("This cannot be set", said_in(str(self.problem or ""), self.style), self.doc.chosen, self.parameters)

    # --- proof -------------------------------------------------------------------------------------------------------

    def tiles(self) -> tuple[Tile, ...]:
        return tiles_of(self.setting.checks, self.style) if self.setting is not None else ()

    def why(self, key: str) -> Why | None:
        if self.setting is None or all(c.key != key for c in self.setting.checks):
            return None
        check, fix = self.setting.check(key), self.fix(key)
        return why_check(check, self.style, fix=fix.text if fix else "")

    def fix(self, key: str) -> Fix | None:
        return self.setting.fixes.get(key) if self.setting is not None else None

    def of_features(self, features: frozenset[str]) -> tuple[frozenset[str], frozenset[str]]:
        """Numbers and checks that speak of some features."""
        if self.setting is None or not features:
            return frozenset(), frozenset()
        names = {f.split(" ")[0] if f.startswith(("stack ", "base ")) and f != "stack roll" else f for f in features}
        keys = frozenset(f.key for f in self.setting.figures if names & set(f.features))
        return keys, frozenset(c.key for c in self.setting.checks if names & set(c.features))

    def features_of_key(self, key: str) -> frozenset[str]:
        if self.setting is None:
            return frozenset()
        return self._spread(frozenset(f for figure in self.setting.figures if figure.key == key for f in figure.features))

    def features_of_check(self, key: str) -> tuple[frozenset[str], frozenset[str]]:
        if self.setting is None or all(c.key != key for c in self.setting.checks):
            return frozenset(), frozenset()
        check = self.setting.check(key)
        return self._spread(frozenset(check.features)), frozenset(check.figures)

    def _spread(self, features: frozenset[str]) -> frozenset[str]:
        """A stack is its blocks."""
        if _STACK not in features or self.setting is None:
            return features
        blocks = [
            f"{prefix} {n}" for prefix, built in zip(("stack", "base"), self.setting.stacks, strict=False) for n in built.names
        ]
        return features | frozenset(blocks) | frozenset(f"block {b.partition(' ')[2]}" for b in blocks)

    # --- changes, as new documents -----------------------------------------------------------------------------------

    def typed(self, name: str, text: str) -> AngleDoc:
        """The document with a typed value that also solves.

        Raises:
            ShopError: The text, or what it leads to, cannot be; nothing changes.
        """
        return self._solving(choose_angle(self.doc, self.shop, name, text, self.style.length), name)

    def _solving(self, doc: AngleDoc, name: str) -> AngleDoc:
        setting = solve_angle(doc, self.shop)
        if name in setting.dropped:
            raise EntryError(
                self.parameters[name].label, setting.dropped[name].rstrip("."), "It cannot be followed", "Take what is here", name
            )
        return doc

    def dragged(self, name: str, value: float) -> AngleDoc:
        """A dragged plate settles on what the blocks make."""
        assert self.setting is not None
        chosen = {k: v for k, v in self.doc.chosen.items() if k not in (_STACK, "spacer")}
        doc = replace(self.doc, chosen=chosen)
        text = self.kind.settle(self.setting, self.shop, name, value, self.doc.id)
        turned = "orientation" in self.setting.values and self.setting.values.word("orientation") == "complement"
        if turned and name == "angle":
            text = angle_text(math.pi / 2 - self.parameters["angle"].read(text).value)  # type: ignore[operator]
        return self._solving(choose_angle(doc, self.shop, name, text, "mm"), name)

    def carried(self, feature: str, onto: str) -> tuple[str, AngleDoc] | None:
        """(what was done, document) after a block was carried.

        Onto a block of a stack to swap the two, elsewhere onto the setting to
        add it, and off the stack to take it away. None when that means nothing.

        Raises:
            ShopError: The block is not here, or the stack that would be cannot stand.
        """
        if self.setting is None or not self.setting.stacks:
            return None
        prefix, _, name = feature.partition(" ")
        stacks = [list(built.names) for built in self.setting.stacks]
        target, _, other = onto.partition(" ")
        at = {"stack": 0, "base": 1}
        if prefix == "block":
            if target in at and at[target] < len(stacks) and other in stacks[at[target]]:
                row = stacks[at[target]]
                row[row.index(other)] = name
                words = f"{name} for {other}"
            elif target in ("block", "") or onto == feature:
                return None
            else:
                stacks[0].append(name)
                words = f"{name} added"
        elif prefix in at and at[prefix] < len(stacks) and target in ("block", ""):
            if target == "block" and other not in stacks[at[prefix]] and other != name:
                row = stacks[at[prefix]]
                row[row.index(name)] = other
                words = f"{other} for {name}"
            else:
                stacks[at[prefix]].remove(name)
                words = f"{name} taken away"
            if not stacks[at[prefix]]:
                raise EntryError(
                    "Stack", "it would be empty", "The roll needs something to stand on", "Swap the block instead", _STACK
                )
        else:
            return None
        return words, self.typed(_STACK, " / ".join(" ".join(row) for row in stacks))

    def let_go(self, name: str) -> AngleDoc:
        return forget_angle(self.doc, name)

    def fixed(self, fix: Fix) -> AngleDoc:
        doc = self.doc
        for name, text in fix.changes:
            doc = choose_angle(doc, self.shop, name, text, "mm")
        return doc

    def change_words(self, name: str, doc: AngleDoc) -> str:
        """Label of the edit for the undo menu."""
        label = self.parameters[name].label if name in self.parameters else name
        return f"{label} {doc.chosen[name].typed or doc.chosen[name].text}" if name in doc.chosen else f"{label} as proposed"


#: As wide as a digit.
_FIGURE_SPACE: Final = "\u2007"


def _columns(lines: Sequence[Sequence[str]]) -> list[list[str]]:
    """Cells filled up on their left, so that what belongs together stands in one column; the first one names the line."""
    wide = [max(len(line[i]) for line in lines) for i in range(len(lines[0]))]
    return [[line[0], *(cell.rjust(w, _FIGURE_SPACE) for cell, w in zip(line[1:], wide[1:], strict=True))] for line in lines]


def _wrapped(row: Row) -> Row:
    """A row too long for one line: its value goes under its label."""
    return replace(row, wrap=len(row.label) + len(row.value) + len(row.unit) > 33)


def chooser() -> CardView:
    """What the card says when there is no setting, or a new one is wanted."""
    rows = tuple(
        Row(key=Act(Verb.NEW, k.key).key, label=k.title, value=k.when, edit="press", wrap=True) for k in all_kinds().values()
    )
    return CardView(
        sections=(
            Section(
                title="New angle setup",
                text="Each starts from the tools in Shop and can be changed on the plate.",
                rows=rows,
                numbered=False,
            ),
        )
    )

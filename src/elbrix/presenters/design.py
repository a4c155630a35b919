"""What the Design bench shows, in words and scenes. No widgets here, so that it can be tested without a window."""

from __future__ import annotations

from collections.abc import Callable
from functools import cached_property
from typing import TYPE_CHECKING, Any, Final

from msgspec import Struct, field
from msgspec.structs import replace

from elbrix.book.designs import choose, family_of, forget_choice, plan_doc, revised_since, solve_doc
from elbrix.book.documents import DesignDoc, JobDoc
from elbrix.design.family import Design, Family, parameter_of
from elbrix.drawing.dimension_texts import dimension_text
from elbrix.drawing.scene import Dimension, MovablePoint, Scene
from elbrix.drawing.sheets import USUAL, SheetChoice
from elbrix.drawing.views import arrange, exact_view, from_kernel, section_scene
from elbrix.parameters.parameter import Kind, Parameter
from elbrix.presenters.acts import Act, Verb
from elbrix.presenters.card import Button, CardView, Row, Section
from elbrix.presenters.plate import PlateView
from elbrix.presenters.proof import Tile, Why
from elbrix.presenters.words import figure_row, tiles_of, why_check
from elbrix.quantities.errors import ShopError
from elbrix.quantities.lengths import UnitStyle
from elbrix.results.checks import Fix
from elbrix.results.figures import Figure, Origin
from elbrix.results.length_text import said_in
from elbrix.shop.shop import Shop
from elbrix.shop.stock import Form
from elbrix.solids.recipe import Recipe

if TYPE_CHECKING:
    from elbrix.making.plan import Plan

TABS: Final = ("in place", "views", "section", "solid")


class Drawn(Struct):
    """What the kernel drew last, by purpose, and of which solid."""

    results: dict[str, tuple[Recipe, Any]] = field(default_factory=dict)

    def keep(self, purpose: str, recipe: Recipe, result: Any) -> None:
        self.results[purpose] = (recipe, result)

    def refuse(self, purpose: str, recipe: Recipe) -> None:
        """The kernel cannot draw it: nothing is drawn, and it is not asked again."""
        self.results[purpose] = (recipe, ())

    def get(self, purpose: str, recipe: Recipe, *, stale: bool = False) -> Any:
        """The result for this very solid; with `stale` an older one will do, so that nothing jumps."""
        found = self.results.get(purpose)
        return found[1] if found and (stale or found[0] == recipe) else None


#: While what a check hinges on is still looked for.
LOOKING: Final = "Looking for what it hinges on …"


class FixFound(Struct, frozen=True):
    """What a check hinges on, and the nearest change that mends it: many designs solved, for beside the window."""

    hinges_on: str
    fix: Fix | None


class DesignPresenter:
    """A design solved against the shop, and everything the bench says about it."""

    def __init__(
        self,
        doc: DesignDoc,
        shop: Shop,
        style: UnitStyle,
        job: JobDoc | None = None,
        drawn: Drawn | None = None,
        tab: int = 0,
        before: DesignPresenter | None = None,
        sheet: SheetChoice = USUAL,
    ) -> None:
        self.sheet = sheet
        self.doc, self.shop, self.style, self.tab = doc, shop, style, tab
        self.drawn = drawn or Drawn()
        self.problem: ShopError | None = None
        same = before is not None and (before.doc, before.style) == (doc, style) and before.shop is shop
        self.looked: dict[str, FixFound] = before.looked if same and before is not None else {}
        self.family: Family = family_of(doc)
        self.design: Design | None = None
        self.plan: Plan | None = None
        self.recipe: Recipe | None = None
        self._tried: tuple[DesignDoc, Design, Recipe] | None = None
        self._built: dict[str, tuple[tuple[object, ...], Scene]] = {}
        try:
            # A typed value was solved when it was tried; the same design is not worked out twice.
            tried = before._tried if before is not None and before.shop is shop else None
            if tried is not None and tried[0] == doc:
                _, self.design, self.recipe = tried
            else:
                self.design = solve_doc(doc, shop)
                self.recipe = self.family.solid(self.design)
        except ShopError as error:
            self.problem = error
        self._job = job
        if before is not None and before.doc.id == doc.id and before.plan is not None and before.style == style:
            self.plan, self.plan_is_old = before.plan, True  # the numbers being typed come first; `catch_up` follows
        else:
            self.plan_is_old = True

    def catch_up(self) -> bool:
        """Plan the cutting anew when the plan is that of an earlier state; True when it was."""
        if not self.plan_is_old:
            return False
        self.take_plan(self.planned())
        return True

    def planned(self) -> Plan | ShopError | None:
        """The plan of the design as it is, or why there is none; may be worked out beside the window."""
        if self.design is None:
            return None
        try:
            return plan_doc(self.doc, self.design, self.shop, self._job, self.style.length)
        except ShopError as error:
            return error

    def take_plan(self, found: Plan | ShopError | None) -> None:
        """What `planned` gave."""
        self.plan_is_old = False
        self.plan = None if isinstance(found, ShopError) else found
        if isinstance(found, ShopError):
            self.problem = found

    @property
    def parameters(self) -> dict[str, Parameter]:
        """What the family asks for, by name."""
        return {p.name: p for p in self.family.parameters}

    # --- head --------------------------------------------------------------------------------------------------------

    def subtitle(self) -> str:
        """Revision, state, slot, batch."""
        parts = [f"Rev {self.doc.letter}" if self.doc.letter else "No revision yet"]
        changed = self.design is not None and revised_since(self.doc, self.design)
        parts.append("released" if self.doc.letter and not changed else "changed since" if self.doc.letter else "draft")
        machine = next((m for m in self.shop.machines if m.id == self.doc.machine), None)
        if machine is not None:
            parts.append(", ".join(p for p in (self.doc.slot, f"{machine.kind.value} “{machine.name}”") if p))
        if self.design is not None and "pieces" in self.design.values:
            parts.append(f"batch of {self.design.values.number('pieces'):.0f}")
        return "  ·  ".join(parts)

    # --- plate -------------------------------------------------------------------------------------------------------

    def wanted(self) -> list[tuple[str, str, tuple[Any, ...]]]:
        """What to ask the kernel for, for the view on show: purpose, job, arguments. The shown view first."""
        if self.recipe is None or self.design is None:
            return []
        axis, at = self.family.section(self.design)
        by_tab: dict[int, list[tuple[str, str, tuple[Any, ...]]]] = {
            0: [("iso", "view", (self.recipe, "iso"))],
            1: [(name, "view", (self.recipe, name)) for name in ("front", "top", "side")],
            2: [("section", "section", (self.recipe, axis, at))],
            3: [("mesh", "mesh", (self.recipe,))],
        }
        asked = by_tab[self.tab] + [("mass", "mass", (self.recipe,))]
        return [w for w in asked if self.drawn.get(w[0], self.recipe) is None]

    def scene(self) -> Scene:
        """The scene of the picked view: the family's outline at once, the kernel's exact edges as soon as they are there."""
        scenes = self._outlines
        if self.recipe is None or not scenes:
            return Scene("")
        main = next(iter(scenes.values()))
        if self.tab == 0:
            return main
        if self.tab == 2:
            cut = self.drawn.get("section", self.recipe, stale=True)
            return self._kept("section", (cut,), lambda: section_scene(cut)) if cut else scenes.get("side", main)
        views = {name: self.drawn.get(name, self.recipe) for name in ("front", "top", "side") if name in scenes}

        def sheet() -> Scene:
            left, _, right, _ = main.bounds()
            shown = [exact_view(scenes[n], c) if c is not None else scenes[n] for n, c in views.items()]
            return arrange(shown, (right - left) * 0.378, self.sheet)

        return self._kept("drawing", tuple(views.values()), sheet) if views else main

    @cached_property
    def _outlines(self) -> dict[str, Scene]:
        """The family's own pictures of the design, by name."""
        return {s.name: s for s in self.family.scenes(self.design)} if self.design is not None else {}

    def _kept(self, name: str, of: tuple[object, ...], build: Callable[[], Scene]) -> Scene:
        """A picture, built once for the answers it is made of: that of a plate of hundreds of holes takes a tenth of a second."""
        kept = self._built.get(name)
        if kept is None or len(kept[0]) != len(of) or not all(a is b for a, b in zip(kept[0], of, strict=True)):
            kept = self._built[name] = (of, build())
        return kept[1]

    def inset(self) -> Scene | None:
        """The solid beside the in-place view; room is kept for it while the kernel draws."""
        if self.tab != 0 or self.recipe is None:
            return None
        iso = self.drawn.get("iso", self.recipe, stale=True)
        return self._kept("iso", (iso,), lambda: Scene("iso", elements=from_kernel(c for c in iso if not c[1]) if iso else ()))

    def plate(self, kernel_words: str = "") -> PlateView:
        """The plate as it stands."""
        if self.problem is not None or self.design is None or self.recipe is None:
            return PlateView(Scene(""), message=said_in(str(self.problem or ""), self.style), thing=self.doc.id)
        scene = self.scene()
        inset = self.inset()
        shaded = None
        mesh = self.drawn.get("mesh", self.recipe, stale=True)
        if self.tab == 3 and mesh:
            shaded = mesh
        footers = (
            "Click a brass number to change it   ·   Tab follows the measuring order   ·   drag an edge   ·   Home fits",
            "Front, with the top below it and the side to its left (first-angle projection)"
            if self.sheet.first
            else "Front, with the top above it and the side to its right (third-angle projection)",
            self._section_words() if self.tab == 2 else "",
            f"Drag to turn   ·   {self.mass_words()}",
        )
        return PlateView(
            scene=scene,
            title=(scene.title or TABS[self.tab]).upper() if shaded is None else "SOLID",
            footer=kernel_words or footers[self.tab],
            tabs=TABS,
            tab=self.tab,
            label=self.label,
            words=lambda text: said_in(text, self.style),
            entry_text=self.entry_text,
            value=self.value,
            mesh=shaded,
            thing=f"{self.doc.id} {self.style.length}",
            inset=inset,
            main_box=(0.0, 0.0, 0.72, 1.0) if inset is not None else (0.0, 0.0, 1.0, 1.0),
            inset_box=(0.71, 0.38, 1.0, 0.98),
        )

    def _section_words(self) -> str:
        """Where the section is cut, in the axes STEP has too."""
        if self.design is None:
            return ""
        axis, at = self.family.section(self.design)
        return (
            f"Cut in the plane {axis.upper()} = {self.style.with_unit(at, 'mm') if at else '0'} of the part's own axes, as in"
            " STEP"
        )

    def mass_words(self) -> str:
        """Mass of one piece from the solid, and of the batch."""
        mass = self.drawn.get("mass", self.recipe, stale=True) if self.recipe is not None else None
        if mass is None or self.design is None or "material" not in self.design.values:
            return "mass follows"
        if not mass:
            return "mass unknown"
        from elbrix.standards.materials import material

        kg = mass["volume_mm3"] * material(self.design.values.word("material")).density_kg_m3 * 1e-9
        return f"{kg * 1000:.0f} g each" if kg < 1 else f"{kg:.2f} kg each"

    def label(self, d: Dimension) -> str:
        return dimension_text(d, self.style)

    def entry_text(self, entry: str) -> str:
        """What the entry field of a number opens with."""
        if self.design is None:
            return ""
        parameter = parameter_of(self.family, entry)
        return parameter.entry_text(self.design.values[entry], self.style.length)

    def value(self, key: str) -> str:
        """A figure's text, for notes on the plate."""
        if self.design is None:
            return ""
        figure = self.design.figure(key)
        return self.style.with_unit(figure.value, figure.unit, figure.step)

    # --- card --------------------------------------------------------------------------------------------------------

    def card(self) -> CardView:
        """Measured → chosen → from the rack → on the dials."""
        if self.design is None:
            return CardView(sections=(self._repair(),))
        sections = [
            Section(title=g.title, hint=g.hint, rows=tuple(self._row(k) for k in g.rows), buttons=self._readers(g.rows))
            for g in self.family.card(self.design)
        ]
        if self.plan is not None:
            sections += [self._rack(self.plan), self._dials(self.plan)]
        done = bool(self.doc.letter) and not revised_since(self.doc, self.design)
        buttons = (
            Button(key="plan", text="Plan the cuts", main=True, tip="Make bench: every move with its numbers"),
            Button(
                key="issue",
                text="Released" if done else "Release revision",
                enabled=not done,
                tip="Keep it as a revision with its reason",
            ),
        )
        return CardView(sections=tuple(sections), buttons=buttons)

    def _readers(self, rows: tuple[str, ...]) -> tuple[Button, ...]:
        """Hole patterns can be read from a table or a drawing."""
        places = [p for p in self.family.parameters if p.name in rows and p.kind in (Kind.PLACES, Kind.OUTLINE)]
        return tuple(
            Button(
                key=Act(Verb.READ, p.name).key,
                text=f"Read {p.label.removesuffix(' at').lower()} from a file…",
                tip="A closed outline of a DXF" if p.kind is Kind.OUTLINE else "CSV with x_mm, y_mm, or the circles of a DXF",
            )
            for p in places
        )

    def _repair(self) -> Section:
        rows = []
        for name, choice in self.doc.chosen.items():
            parameter = next((p for p in self.family.parameters if p.name == name), None)
            if parameter is not None:
                rows.append(
                    Row(
                        key=name,
                        label=parameter.label,
                        value=choice.typed or choice.text,
                        origin="chosen",
                        edit="text",
                        entry_text=choice.text,
                        chosen=True,
                    )
                )
        return Section(
            title="Sizes contradict each other",
            text=said_in(str(self.problem or ""), self.style),
            rows=tuple(rows),
            buttons=(Button(key="undo", text="Undo the last change"),),
        )

    def _row(self, key: str) -> Row:
        assert self.design is not None
        figure = self.design.figure(key)
        parameter = next((p for p in self.family.parameters if p.name == key), None)
        last = self.doc.revisions[-1].values if self.doc.revisions else {}
        # After a revision every size is fixed; only what was changed since stands out.
        strong = (
            figure.origin is Origin.CHOSEN
            and parameter is not None
            and last.get(key) != parameter.entry_text(self.design.values[key])
        )
        given = self.design.values[key] if parameter is not None else None
        learned = [f"Learned {lesson.on}: {lesson.text}" for lesson in self.doc.lessons if lesson.about == key]
        if learned:
            figure = replace(figure, note="\n".join(p for p in (figure.note, *learned) if p))
        return figure_row(figure, self.style, parameter, given, strong=strong or bool(learned), chosen=key in self.doc.chosen)

    def _rack(self, plan: Plan) -> Section:
        if plan.there:
            return Section(title="Stock", hint="there already", text=f"Made on {plan.there}: nothing is cut from a bar.")
        if plan.bar is None:
            return Section(
                title="Stock",
                hint="none does",
                text=f"No bar does. Buy {plan.stock.buy}.",
                rows=(figure_row(plan.cut_length, self.style),),
            )
        why = "\n".join(
            f"{'●' if o.fits else '■'} {o.bar.title}, {self.style.with_unit(o.bar.length_mm, 'mm', 0.5)} long:"
            f" {said_in(o.reason, self.style)}"
            for o in plan.stock.options[:6]
        )
        bar = plan.bar.bar
        size = (
            f"Ø{self.style.show(bar.width_mm, 'mm')}"
            if bar.form is Form.ROUND
            else f"{self.style.show(bar.width_mm, 'mm')} × {self.style.show(bar.height_mm, 'mm')}"
        )
        section = f"{size} {bar.finish.value}"
        return Section(
            title="Stock",
            hint=f"best of {len(plan.stock.fitting)}" if len(plan.stock.fitting) > 1 else "the one that does",
            rows=(
                Row(key="bar", label="Bar", value=section, unit=self.style.name("mm"), origin="measured", derivation=why),
                figure_row(plan.cut_length, self.style),
                figure_row(Figure(key="left_on_bar", label="Bar left over", value=plan.bar.left_mm, step=0.5), self.style),
            ),
        )

    def _dials(self, plan: Plan) -> Section:
        from elbrix.making.planner import card_figures  # planning is not needed to start

        rows = [figure_row(f, self.style, strong=i == 0) for i, f in enumerate(card_figures(plan)[:4])]
        return Section(title="First dial settings", hint=plan.machine, rows=tuple(rows))

    # --- proof -------------------------------------------------------------------------------------------------------

    def tiles(self) -> tuple[Tile, ...]:
        return tiles_of(self.design.checks, self.style) if self.design is not None else ()

    def why(self, key: str) -> Why | None:
        """Reason, working, what it hinges on, nearest fix."""
        if self.design is None or all(c.key != key for c in self.design.checks):
            return None
        looked = self.looked.get(key)
        fix = looked.fix.text if looked is not None and looked.fix is not None else ""
        return why_check(
            self.design.check(key), self.style, critical=looked.hinges_on if looked is not None else LOOKING, fix=fix
        )

    def look(self, key: str) -> FixFound:
        """What `why` says more of a check, worked out: a few tenths of a second, for beside the window."""
        from elbrix.design.judging import hinge_sentence, hinges, nearest_fix

        assert self.design is not None

        def show(mm: float) -> str:
            return self.style.with_unit(mm, "mm", 0.01 if mm >= 0.02 else 0.001)

        check = self.design.check(key)
        found = hinges(self.family, self.design.values, self.shop, key)
        return FixFound(
            hinge_sentence(self.family, check, found[0] if found else None, show),
            nearest_fix(self.family, self.design, self.shop, key) if check.verdict.rank else None,
        )

    def fix(self, key: str) -> Fix | None:
        """The nearest change that would mend a check, once it was looked for."""
        looked = self.looked.get(key)
        return looked.fix if looked is not None else None

    def features_of_key(self, key: str) -> frozenset[str]:
        """What a number lights up."""
        if self.design is None:
            return frozenset()
        return frozenset(f for figure in self.design.figures if figure.key == key for f in figure.features)

    def features_of_check(self, key: str) -> tuple[frozenset[str], frozenset[str]]:
        """Features and numbers a check rests on."""
        if self.design is None or all(c.key != key for c in self.design.checks):
            return frozenset(), frozenset()
        check = self.design.check(key)
        return frozenset(check.features), frozenset(check.figures)

    def of_features(self, features: frozenset[str]) -> tuple[frozenset[str], frozenset[str]]:
        """Numbers and checks that speak of some features."""
        if self.design is None or not features:
            return frozenset(), frozenset()
        keys = frozenset(f.key for f in self.design.figures if features & set(f.features))
        checks = frozenset(c.key for c in self.design.checks if features & set(c.features))
        return keys, checks

    # --- changes, as new documents -----------------------------------------------------------------------------------

    def typed(self, name: str, text: str) -> DesignDoc:
        """The document with a typed value that also solves.

        Raises:
            ShopError: The text, or what it leads to, cannot be; nothing changes.
        """
        doc = choose(self.doc, name, text, self.style.length)
        self._must_solve(doc)
        return doc

    def dragged(self, name: str, value_mm: float) -> DesignDoc:
        return self.typed_mm(name, f"{value_mm:.6f}".rstrip("0").rstrip("."))

    def moved(self, spot: MovablePoint, x: float, y: float, *, alone: bool) -> DesignDoc:
        """One of the places of a parameter set down elsewhere, with its symmetric partners unless it moves alone.

        Raises:
            ShopError: Where it cannot be; nothing changes.
        """
        from elbrix.design.moving import moved

        parameter = parameter_of(self.family, spot.entry)
        if self.design is None:
            return self.doc
        return self.typed_mm(spot.entry, moved(self.design.values.word(spot.entry), spot, (x, y), parameter.label, alone=alone))

    def typed_mm(self, name: str, text: str) -> DesignDoc:
        """The same from a text in mm, whatever unit is on show."""
        doc = choose(self.doc, name, text, "mm")
        self._must_solve(doc)
        return doc

    def kind_of(self, name: str) -> Kind:
        """What a parameter holds."""
        return parameter_of(self.family, name).kind

    def let_go(self, name: str) -> DesignDoc:
        return forget_choice(self.doc, name)

    def fixed(self, fix: Fix) -> DesignDoc:
        doc = self.doc
        for name, text in fix.changes:
            doc = choose(doc, name, text, "mm")
        return doc

    def renamed(self, title: str) -> DesignDoc:
        return replace(self.doc, title=title.strip() or self.doc.title)

    def _must_solve(self, doc: DesignDoc) -> None:
        design = solve_doc(doc, self.shop)
        self._tried = (doc, design, self.family.solid(design))

    def change_words(self, name: str, doc: DesignDoc) -> str:
        """Label of the edit for the undo menu: "Neck 11.7 → 11.5"."""
        label = parameter_of(self.family, name).label
        new = doc.chosen[name].text if name in doc.chosen else "as proposed"
        return f"{label} {new}"

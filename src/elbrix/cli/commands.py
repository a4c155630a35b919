"""What each command does."""

from __future__ import annotations

import argparse
import json
import math
import sys
import tempfile
from collections.abc import Callable, Iterable
from pathlib import Path
from typing import TYPE_CHECKING

from elbrix.book.documents import DesignDoc, Document, LayoutDoc, from_json, kind_of, kinds, lift_body, shop_of
from elbrix.book.formats import FORMAT
from elbrix.book.giving import with_all_it_needs
from elbrix.book.items_file import export_schema, export_text, import_items, read_items
from elbrix.book.merging import merge, read_other
from elbrix.book.opening import inspect
from elbrix.book.store import Book
from elbrix.cli import batch, calc, cutting, measuring
from elbrix.cli.solving import print_json, solve
from elbrix.demo import documents, write_demo
from elbrix.design.callouts import letters
from elbrix.design.family import Design, Family, all_families, parameter_of
from elbrix.design.files import Drafting, design_json, write_all
from elbrix.design.tolerances import GENERAL_MM, hole_words, limited_text, size_limits
from elbrix.drawing.sheets import SheetChoice
from elbrix.exchange.whole_file import write_whole
from elbrix.holding.solve import LayoutResult
from elbrix.quantities.errors import ShopError
from elbrix.quantities.lengths import METRIC, UnitStyle
from elbrix.results.checks import Check
from elbrix.results.length_text import plain, said_in
from elbrix.solids.client import Kernel

if TYPE_CHECKING:
    from elbrix.answers.answer import Answer, NotAnswered


def run(options: argparse.Namespace) -> int:
    """Run a parsed command; the exit code says whether it worked."""
    return _COMMANDS[options.command](options)


def _ask(options: argparse.Namespace) -> int:
    from elbrix.answers.answer import NotAnswered, ShopContext
    from elbrix.answers.ask import answer_data, ask, examples, world_of

    text = " ".join(options.question)
    if not text.strip():
        print("Ask for example:\n  " + "\n  ".join(examples()))
        return 0
    style = UnitStyle(options.units)
    with tempfile.TemporaryDirectory() as folder:
        book = Book.open(Path(options.book)) if options.book else write_demo(Path(folder) / "demo.elbrix")
        try:
            world: ShopContext = world_of(book)
            answer = ask(text, world, options.units)
        except NotAnswered as error:
            found = _as_need(text, book, style) or error
            if isinstance(found, NotAnswered):
                if options.json:
                    print_json({"question": text, "error": str(found), "tries": list(found.tries)})
                else:
                    print(plain(f"{found}") + "\nThese work:\n  " + "\n  ".join(found.tries), file=sys.stderr)
                return 1
            answer = found
        finally:
            book.close()
    if options.json:
        print_json(answer_data(text, answer))
        return 0
    print(said_in(answer.title, style))
    for figure in answer.figures:
        shown = said_in(figure.text, style) or style.with_unit(figure.value, figure.unit, figure.step)
        print(f"  {said_in(figure.label, style):34} {shown}")
        if figure.derivation:
            parts = (figure.derivation.formula, figure.derivation.with_numbers, figure.derivation.source)
            print(f"  {'':34}   {said_in('; '.join(p for p in parts if p), style)}")
    for words in (*answer.notes, *(f"▲ {c}" for c in answer.cautions)):
        print(f"  {said_in(words, style)}")
    return 0


def _as_need(text: str, book: Book, style: UnitStyle) -> Answer | NotAnswered | None:
    """What meets a text that is no question but reads as a need, as in the window; None for one that does not."""
    from elbrix.finding.need import read_need
    from elbrix.presenters.needs import meet

    try:
        read_need(text, book.shop, style.length)
    except ShopError:
        return None
    return meet(text, book.shop, book.all(DesignDoc), style)


def _families(options: argparse.Namespace) -> int:
    known = all_families().values()
    if options.json:
        print_json(
            [
                {
                    "key": f.key,
                    "title": f.title,
                    "group": f.group,
                    "when": f.when,
                    "parameters": [
                        {"name": p.name, "label": p.label, "kind": p.kind.value, "unit": p.unit} for p in f.parameters
                    ],
                }
                for f in known
            ]
        )
    else:
        for f in known:
            print(f"{f.key:12} {f.title}. {f.when}")
    return 0


def _design(options: argparse.Namespace) -> int:
    family, shop, request, design = solve(options)
    style = UnitStyle(options.units)
    drawn = Drafting(size_limits(family, design, shop), SheetChoice(options.projection, options.paper))
    if options.json:
        print_json(design_json(family, design, drawn.limits))
    else:
        for figure in design.figures:
            shown = said_in(figure.text, style) or style.with_unit(figure.value, figure.unit, figure.step)
            print(f"{figure.label:34} {shown:>22}   {figure.origin.value}")
        _print_checks(design.checks, style)
        if design.holes:
            print(f"\nHoles, from the {design.datum}, {style.name('mm')}")
        for hole in design.holes:
            x, y = (style.show(v, "mm", 0.001) for v in (hole.x_mm, hole.y_mm))
            print(f"{hole.name:>4}  X {x:>9}  Y {y:>9}   {hole_words(hole, design, style, drawn.limits)}")
        for letter, callout in letters(design):
            print(f"{letter:>4}  {said_in(callout.words, style)}")
        close = {n: own for n, own in drawn.limits.items() if n in design.values and not own.general}
        if close:
            general = UnitStyle(options.units).with_unit(GENERAL_MM, "mm")
            print(f"\nSizes closer than ±{general}, so that no check gets worse")
        for name, own in close.items():
            label = parameter_of(family, name).label
            print(f"  {label:32} {limited_text(design.values.number(name), own, style, None)} {style.name('mm')}")
    if options.out:
        machine = next((m for m in shop.machines if m.id == request.machine), None)
        place = ", ".join(p for p in (request.slot, machine.name if machine is not None else "") if p)
        subtitle = "  ·  ".join(p for p in ("Draft", place) if p)
        for path in _write_files(family, design, Path(options.out), options.formats.split(","), subtitle, style, drawn):
            print(path, file=sys.stderr if options.json else sys.stdout)
    return 0


def _write_files(
    family: Family, design: Design, folder: Path, formats: list[str], subtitle: str, style: UnitStyle, drawn: Drafting
) -> list[Path]:
    def pdf(kernel: Kernel, path: Path) -> None:
        from elbrix.app.paper.headless import drawing_pdf  # Qt only when a PDF is asked for

        drawing_pdf(family, design, kernel, path, family.title, subtitle, style, drawn)

    return write_all(family, design, folder, family.key, family.title, formats, pdf, drawn)


def _hold(options: argparse.Namespace) -> int:
    from elbrix.book.layouts import solve_doc

    if options.book:
        book = Book.open(Path(options.book))
        shop, known = book.shop, book.all(LayoutDoc)
        book.close()
    else:
        everything = documents()
        shop, known = shop_of(everything), [d for d in everything if isinstance(d, LayoutDoc)]
    doc = next((d for d in known if d.id == options.layout), None)
    if doc is None:
        path = Path(options.layout)
        try:
            text = path.read_text(encoding="utf-8")
        except (OSError, UnicodeDecodeError):
            have = ", ".join(d.id for d in known) or "none"
            raise ShopError(
                "hold", f"“{options.layout}” is no layout", f"It is a file, or one of the book's: {have}", "Check the name"
            ) from None
        doc = _one_layout(text, path.name)
    hold = solve_doc(doc, shop)
    if options.json:
        print_json(hold_json(doc.title, hold))
        return 0
    print(doc.title)
    for figure in hold.figures:
        print(f"{figure.label:34} {plain(figure.text) or METRIC.with_unit(figure.value, figure.unit, figure.step):>28}")
    _print_checks(hold.checks, METRIC)
    for words in (*hold.swaps, *hold.tighten):
        print(plain(words))
    return 0


def _print_checks(checks: Iterable[Check], style: UnitStyle) -> None:
    print()
    for check in checks:
        shown = said_in(check.text, style) or style.with_unit(check.value, check.unit)
        print(f"{check.verdict.sign} {check.label:38} {shown:>16}   {check.verdict.value:8} {said_in(check.reason, style)}")


def _one_layout(text: str, name: str) -> LayoutDoc:
    """A layout out of an export with one in it, one item of an export, or the bare item.

    Raises:
        ShopError: It is none of these, or holds several.
    """
    try:
        whole = json.loads(text)
    except (ValueError, RecursionError):
        whole = None
    if isinstance(whole, dict) and "items" in whole:
        found = [d for d in read_items(text) if isinstance(d, LayoutDoc)]
        if len(found) != 1:
            have = ", ".join(d.id for d in found) or "none"
            raise ShopError(
                "hold", f"{name} has {len(found)} layouts", f"One at a time is worked out; it has: {have}", "Export one of them"
            )
        return found[0]
    if isinstance(whole, dict) and isinstance(whole.get("item"), dict):
        kind, body = lift_body(str(whole.get("kind", "layout")), json.dumps(whole["item"]), int(whole.get("version", FORMAT)))
        read = from_json(kind, body)
    else:
        read = from_json("layout", text)
    if not isinstance(read, LayoutDoc):
        raise ShopError("hold", f"{name} is a {kind_of(read)}", "Only a layout is worked out", "Export a layout")
    return read


def _number(value: float) -> float | str:
    return "unbounded" if math.isinf(value) else value


def hold_json(title: str, hold: LayoutResult) -> dict[str, object]:
    """A layout worked out, as plain data; mm, N, unrounded."""
    margin = hold.margin
    return {
        "title": title,
        "margin": None if not margin.rests else "unbounded" if math.isinf(margin.least) else margin.least,
        "mode": margin.motion.mode,
        "motion": margin.motion.words,
        "as_figured": _number(margin.with_figures),
        "worst_mixture": _number(margin.at_corners),
        "every_mixture_tried": margin.mixed_all,
        "limit": _number(margin.limit.factor) if margin.limit is not None and margin.limit.factor is not None else None,
        "friction": hold.values.number("friction"),
        "weight_n": hold.held.weight_n,
        "cutting": {
            "sideways_n": hold.cutting.force.sideways_n,
            "up_n": hold.cutting.force.up_n,
            "torque_nmm": hold.cutting.force.torque_nmm,
            "worst_load": (
                {"at_mm": list(margin.load.at), "force_n": list(margin.load.force_n), "moment_nmm": list(margin.load.moment_nmm)}
                if margin.load is not None
                else None
            ),
        },
        "clamps": [
            {
                "name": p.name,
                "at_mm": list(p.at),
                "direction": list(p.along),
                "force_n": p.force_n,
                "tip_friction": p.tip_mu,
                "pressed_n": p.pressed_n,
            }
            for p in hold.held.forces
        ],
        "contacts": [
            {
                "name": c.name,
                "at_mm": list(c.at),
                "normal": list(c.inward),
                "friction": c.mu,
                "bears_n": None if math.isinf(c.most_n) else c.most_n,
                "force_at_limit_n": margin.limit.forces[i] if margin.limit is not None and margin.limit.forces else None,
            }
            for i, c in enumerate(hold.held.contacts)
        ],
        "path": [
            [x, y, "unbounded" if math.isinf(f) else f] for (x, y), f in zip(hold.cutting.path, margin.at_places, strict=True)
        ],
        "located": hold.located.held,
        "free": list(hold.located.free),
        "clashes": [{"place": c.index, "what": c.what, "by_mm": c.by_mm} for c in hold.clashes],
        "checks": [
            {"name": c.key, "label": c.label, "value": c.value, "unit": c.unit, "verdict": c.verdict.value, "reason": c.reason}
            for c in hold.checks
        ],
        "tighten": list(hold.tighten),
        "swaps": list(hold.swaps),
    }


def _item_with_all(book: Book, id: str) -> list[Document]:
    """A design and all it needs.

    Raises:
        ShopError: There is none of that id.
    """
    doc = book.get(DesignDoc, id)
    if doc is None:
        raise ShopError("export", f"there is no design “{id[:40]}”", "It is a design's id", "Look at export --kind design")
    return with_all_it_needs(doc, book)


def _export(options: argparse.Namespace) -> int:
    with tempfile.TemporaryDirectory() as folder:
        book = Book.open(Path(options.book)) if options.book else write_demo(Path(folder) / "demo.elbrix")
        try:
            found = _item_with_all(book, options.item) if options.item else book.documents
        finally:
            book.close()
    if options.kind:
        if options.kind not in kinds():
            raise ShopError(
                "export", f"there is no kind “{options.kind}”", "It knows: " + ", ".join(kinds()), "Pick one of those"
            )
        found = [d for d in found if kind_of(d) == options.kind]
    text = export_text(found)
    if options.out == "-":
        print(text, end="")
    else:
        write_whole(Path(options.out), text.encode())
    return 0


def _import(options: argparse.Namespace) -> int:
    try:
        data = Path(options.file).read_bytes()
    except OSError as error:
        raise ShopError(
            "Import", f"{options.file} cannot be read ({error.strerror})", "An export of Elbrix is one file", "Check the name"
        ) from None
    items = read_items(data)
    path = Path(options.book)
    book = Book.open(path) if path.exists() else Book.create(path)
    try:
        done = import_items(book, items, replace=not options.keep)
    finally:
        book.close()
    print(f"{done.added} added, {done.replaced} replaced, {done.same} as they were")
    for words in done.differing:
        print(f"  {words}")
    return 0


def _find(options: argparse.Namespace) -> int:
    from elbrix.finding.find import find, found_data

    with tempfile.TemporaryDirectory() as folder:
        book = Book.open(Path(options.book)) if options.book else write_demo(Path(folder) / "demo.elbrix")
        try:
            found = find(options.need, book.shop, book.all(DesignDoc), options.units)
        except ShopError as error:
            if not options.json:
                raise
            print_json({"need": options.need, "error": str(error)})
            return 1
        finally:
            book.close()
    if options.json:
        print_json(found_data(found))
        return 0
    style = UnitStyle(options.units)
    for hit in found.hits:
        print(f"{hit.verdict.sign} {said_in(hit.words, style)}")
    for make in found.make:
        how = "".join(f" --set {k}={v}" for k, v in make.values.items())
        where = f" --machine {make.machine}" if make.machine else ""
        command = f"elbrix design {make.design or make.family}{'' if make.design else where + how}"
        print(f"Nothing does. Make {said_in(make.words, style)} ({said_in(make.bar, style)}): {command}")
    for note in found.notes:
        print(f"  {said_in(note, style)}")
    return 0


def _merge(options: argparse.Namespace) -> int:
    other = read_other(Path(options.other))
    path = Path(options.book)
    if path.exists() and Path(options.other).exists() and path.samefile(options.other):
        raise ShopError("Merge", "a book with itself", "It has everything already", "Name the other book")
    book = Book.open(path) if path.exists() else Book.create(path)
    try:
        done = merge(book, other, options.prefer)
        if not book.flush():
            raise ShopError(
                "Merge", "it could not be written to the book", "The file or the disk is full", "Make room and try again"
            )
    finally:
        book.close()
    if options.json:
        counts = {
            "added": len(done.added),
            "same": done.same,
            "changed": len(done.changed) + len(done.kept),
            "changed_theirs": len(done.changed),
            "changed_mine": len(done.kept),
            "conflicts": len(done.conflicts),
        }
        kept_as_two = [{"kind": c.kind, "id": c.id, "theirs": c.copy or None} for c in done.conflicts]
        print(json.dumps(counts | {"in_conflict": kept_as_two}, ensure_ascii=False, indent=1))
        return 0
    print(
        f"{len(done.added)} added, {done.same} the same, {len(done.changed)} changed on their side and taken over,"
        f" {len(done.kept)} changed on ours and kept, {len(done.conflicts)} in conflict"
    )
    for conflict in done.conflicts:
        print(f"  {conflict.words}")
    return 0


def _check(options: argparse.Namespace) -> int:
    path = Path(options.book)
    inspect(path)
    book = Book.open(path)
    try:
        found = book.integrity()
        print(
            f"{path.name}: {found}; {len(book.documents)} items" + (f"; {book.read_only_reason}" if book.read_only_reason else "")
        )
    finally:
        book.close()
    return 0 if found == "ok" else 1


def _picture(options: argparse.Namespace) -> int:
    from elbrix.app.pictures import SIDE_VIEWS, VIEWS, draw_pictures

    if options.list:
        for name, words in VIEWS.items():
            print(f"{name:22} {words}")
        return 0
    try:
        width, height = (int(part) for part in options.size.lower().split("x"))
    except ValueError:
        raise ShopError(
            "--size", f"“{options.size}” is no size", "A picture has a width and a height", "Write 1280x800"
        ) from None
    with tempfile.TemporaryDirectory() as folder:
        wanted = dict.fromkeys(v for v in VIEWS if v not in SIDE_VIEWS) if options.all else {options.view: None}
        targets = {
            view: Path(options.all) / f"{view}.png" if options.all else Path(options.out or f"{view}.png") for view in wanted
        }
        draw_pictures(
            targets, Path(options.book) if options.book else None, Path(folder), (width, height), options.units, dim=options.dim
        )
    for path in targets.values():
        print(path)
    return 0


def _calc(options: argparse.Namespace) -> int:
    text, code = calc.run(sys.stdin.read())
    print(text)
    return code


def _schema(options: argparse.Namespace) -> int:
    print_json(export_schema())
    return 0


_COMMANDS: dict[str, Callable[[argparse.Namespace], int]] = {
    "ask": _ask,
    "hold": _hold,
    "families": _families,
    "design": _design,
    "plan": cutting.plan,
    "rehearse": cutting.rehearse,
    "together": batch.together,
    "export": _export,
    "import": _import,
    "merge": _merge,
    "find": _find,
    "check": _check,
    "picture": _picture,
    "calc": _calc,
    "instruments": measuring.instruments,
    "schema": _schema,
}

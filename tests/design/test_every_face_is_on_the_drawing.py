"""Every plane, cylinder and cone of the solid can be made from the drawing alone.

The STEP file is read as text, its faces put on lines along X, Y and Z, and the drawing's sizes, hole table and callouts join
them: whatever is not joined to the rest has no size on the sheet. Nothing here knows how a family is built.
"""

from __future__ import annotations

import math
import re
from collections import defaultdict
from itertools import pairwise

import pytest

from elbrix.design.callouts import letters
from elbrix.design.family import Callout, Design, Family
from elbrix.design.files import file_bytes, lettered
from elbrix.drawing.scene import Dimension, Note, Scene, Side, Style, box
from elbrix.solids.client import Kernel
from kinds_of_family import KINDS, kind_id, solved

#: Which axes of the part a view shows across and up.
AXES = {"front": (0, 2), "top": (0, 1), "side": (1, 2)}
POINT_DEG = 59.0  # half of an ordinary drill's point: nobody draws it
Point = tuple[float, ...]


class Face:
    """One face of a STEP file: its kind, a point of it, its normal or axis, its numbers, and where its edges end."""

    def __init__(self, kind: str, at: Point, way: Point, numbers: list[float], ends: set[Point]) -> None:
        self.kind, self.at, self.way, self.numbers, self.ends = kind, at, way, numbers, ends

    @property
    def axis(self) -> int | None:
        return next((i for i in range(3) if abs(abs(self.way[i]) - 1) < 1e-6), None)


def faces(step: str) -> list[Face]:
    """Read from the file's own text: entity by entity, after ISO 10303-21."""
    entities = {
        int(m[1]): (m[2] or "", m[3].replace("\n", ""))
        for m in re.finditer(r"#(\d+)\s*=\s*([A-Z_0-9]+)?\s*\((.*?)\)\s*;", step.split("DATA;", 1)[1], re.DOTALL)
    }

    def named(i: int) -> list[int]:
        return [int(x) for x in re.findall(r"#(\d+)", entities[i][1])]

    def triple(i: int) -> Point:
        found = re.search(r"\(([^()]*)\)", entities[i][1])
        assert found is not None
        return tuple(float(x) for x in found[1].split(","))

    found = []
    for kind, words in entities.values():
        if kind != "ADVANCED_FACE":
            continue
        *bounds, surface = (int(x) for x in re.findall(r"#(\d+)", words))
        ends = set()
        for bound in bounds:
            for edge in (e for loop in named(bound) for e in named(loop) if entities[e][0] == "ORIENTED_EDGE"):
                ends |= {triple(named(vertex)[0]) for vertex in named(named(edge)[0])[:2]}
        where = named(named(surface)[0])
        numbers = [float(x) for x in entities[surface][1].split(",") if not x.strip().startswith(("#", "'"))]
        found.append(Face(entities[surface][0], triple(where[0]), triple(where[1]), numbers, ends))
    return found


class Line:
    """Places along one axis of the part, joined by sizes."""

    def __init__(self) -> None:
        self._up: dict[float | str, float | str] = {}
        self.places: set[float] = set()

    def of(self, place: float | str) -> float | str:
        here: float | str = round(place, 2) + 0.0 if isinstance(place, float) else place
        while self._up.setdefault(here, here) != here:
            here = self._up[here]
        return here

    def join(self, a: float | str, b: float | str) -> None:
        self._up[self.of(a)] = self.of(b)

    def loose(self) -> list[float]:
        """Places of the part that no size joins to most of the others."""
        heaps = defaultdict(list)
        for place in self.places:
            heaps[self.of(place)].append(place)
        most = max(heaps.values(), key=len, default=[])
        return sorted(p for heap in heaps.values() if heap is not most for p in heap)

    def main(self) -> float:
        """One of the places that are joined to most."""
        return next((p for p in self.places if p not in self.loose()), 0.0)


def numbers_of(pattern: str, text: str) -> list[float]:
    return [float(x) for x in re.findall(pattern, text)]


#: Numbers in words that are a distance square to a face.
DISTANCE = (r"(?:×|by|steps of) ([\d.]+)", r"([\d.]+) (?:deep|long|thick|in front|above|wide|below|from the thread)")


class Sheet:
    """What the drawing says of a design: places joined along X, Y and Z, radii and angles."""

    def __init__(self, family: Family, design: Design) -> None:
        self.lines = (Line(), Line(), Line())
        self.words = "; ".join([*(h.what for h in design.holes), *(c.what for _, c in letters(design)), design.note])
        self.angles = numbers_of(r"([\d.]+)°", self.words)
        self.rounds = [x / 2 for x in numbers_of(r"(?:Ø|drill |wide |slot )([\d.]+)", self.words)]
        self.rounds += numbers_of(r"R([\d.]+)", self.words)
        # A thread outside is turned a tenth under its size.
        self.rounds += [x / 2 - off for x in numbers_of(r"M([\d.]+)", self.words) for off in (0.0, 0.05)]
        self.distances = [n for pattern in DISTANCE for n in numbers_of(pattern, self.words)]
        self.flats = [x / 2 for x in numbers_of(r"hexagon ([\d.]+)", self.words)]
        for scene in family.scenes(design):
            for d in scene.dimensions if scene.name in AXES else ():
                self._take(scene.name, d)
        across, up = AXES[design.face]
        for hole in design.holes:
            for line, datum, by in ((across, design.origin[0], hole.x_mm), (up, design.origin[1], hole.y_mm)):
                self.lines[line].join(datum + by, datum)
        # Places that are written out, of a cutter's middle, and where its edge then is.
        cutter = next(iter(numbers_of(r"end mill Ø([\d.]+)", self.words)), 0.0) / 2
        for x, y in re.findall(r"(-?\d+(?:\.\d+)?), (-?\d+(?:\.\d+)?)", self.words):
            for line, place in ((across, float(x)), (1, float(y))):
                for off in (-cutter, 0.0, cutter):
                    self.lines[line].join(place + off, 0.0)

    def _take(self, view: str, d: Dimension) -> None:
        across, up = AXES[view]
        if d.side is Side.AT:
            self.angles += numbers_of(r"([\d.]+)°", d.text)
            self.rounds.append(d.value / 2)
            return
        line = self.lines[across if d.along_x else up]
        a, b = (d.a[0], d.b[0]) if d.along_x else (d.a[1], d.b[1])
        line.join(a, b)
        line.join((a + b) / 2, a)  # what lies evenly about a middle is drawn evenly about its middle line
        if d.prefix == "Ø":
            self.rounds.append(d.value / 2)
        if d.key == "across_flats":
            self.flats.append(d.value / 2)

    def round(self, radius: float) -> bool:
        return any(abs(radius - r) < 0.006 for r in self.rounds)

    def angle(self, *either: float) -> bool:
        return any(abs(a - own) < 0.05 for a in self.angles for own in either)

    def distance(self, long: float) -> bool:
        return any(abs(long - n) < 0.006 for n in self.distances)

    def lack_of(self, face: Face) -> str:
        """What is not said of a face by itself; its place is put on the lines."""
        axis = face.axis
        if face.kind == "PLANE" and axis is not None:
            self.lines[axis].places.add(round(face.at[axis], 2) + 0.0)
        elif face.kind == "CYLINDRICAL_SURFACE" and axis is not None:
            for i in range(3):
                if i != axis:
                    self.lines[i].places.add(round(face.at[i], 2) + 0.0)
            if not self.round(face.numbers[-1]):
                return f"Ø{2 * face.numbers[-1]:.3f} about {'XYZ'[axis]} at {face.at}"
        elif face.kind == "CONICAL_SURFACE":
            radius, half = face.numbers[-2], math.degrees(face.numbers[-1])
            if abs(half - POINT_DEG) > 0.1 and not self.angle(half, 2 * half, 90 - half) and not self.round(radius):
                return f"a cone of {half:.2f}° from Ø{2 * radius:.3f}"
        elif face.kind != "PLANE":
            return f"{face.kind} at {face.at}"
        return ""

    def lack_of_slant(self, face: Face) -> str:
        """What is not said of a plane that is square to nothing: its angle, and one point of it or both its legs."""
        flat = abs(sum(w * p for w, p in zip(face.way, face.at, strict=True)))
        if any(abs(flat - f) < 0.006 for f in self.flats):
            return ""
        turn = [math.degrees(math.acos(min(1.0, abs(c)))) for c in face.way]
        if not any(self.angle(t, 90 - t, 2 * t, 180 - 2 * t) for t in turn):
            return f"a plane at {[round(t, 2) for t in turn]}°"
        two = [i for i in range(3) if abs(face.way[i]) > 1e-6]
        drawn = any(all(self.lines[i].of(p[i]) == self.lines[i].of(self.lines[i].main()) for i in two) for p in face.ends)
        legs = {round(abs(p[i] - q[i]), 3) for p, q in pairwise(sorted(face.ends)) for i in two} - {0.0}
        chamfer = bool(re.search(r"[\d.]+ × 45°", self.words)) and all(
            any(abs(leg - n) < 0.006 for n in numbers_of(r"([\d.]+) × 45°", self.words)) for leg in legs
        )
        return "" if drawn or chamfer else f"where the plane of {sorted(face.ends)} lies"


def missing(family: Family, design: Design, kernel: Kernel) -> list[str]:
    """What of the solid the sheet does not say."""
    sheet = Sheet(family, design)
    solid = faces(file_bytes(family, design, kernel, "step", "x", "2026-01-01T00:00:00").decode())
    found = [sheet.lack_of(face) for face in solid]
    for line in sheet.lines:
        for a in line.places:
            for b in line.places:
                if a < b and sheet.distance(b - a):
                    line.join(a, b)
    found += [f"{'XYZ'[i]} = {place}" for i, line in enumerate(sheet.lines) for place in line.loose()]
    found += [sheet.lack_of_slant(face) for face in solid if face.kind == "PLANE" and face.axis is None]
    return [text for text in found if text]


@pytest.mark.parametrize("kind", KINDS, ids=kind_id)
def test_nothing_of_the_solid_is_left_unsaid(kind: tuple[str, str, str], kernel: Kernel) -> None:
    assert not missing(*solved(*kind), kernel)


@pytest.mark.parametrize("kind", KINDS, ids=kind_id)
def test_every_hole_of_the_table_is_in_the_face_it_is_about(kind: tuple[str, str, str], kernel: Kernel) -> None:
    """At its ordinates from the datum there is a round in the solid, square to that face: nothing is marked out elsewhere."""
    family, design = solved(*kind)
    solid = faces(file_bytes(family, design, kernel, "step", "x", "2026-01-01T00:00:00").decode())
    across, up = AXES[design.face]
    rounds = [
        ((f.at[across], f.at[up]), 2 * f.numbers[-1])
        for f in solid
        if f.kind == "CYLINDRICAL_SURFACE" and f.axis not in (across, up, None)
    ]
    for hole in design.holes:
        at = (design.origin[0] + hole.x_mm, design.origin[1] + hole.y_mm)
        here = [size for place, size in rounds if math.dist(at, place) < 0.006]
        assert hole.sizes is not None and here, (hole.name, at)
        # Its numbers, as the table for programs has them, are those of the solid.
        for size in filter(None, (hole.sizes.diameter_mm, hole.sizes.counterbore_mm)):
            assert any(abs(size - d) < 0.006 for d in here), (hole.name, size, here)


@pytest.mark.parametrize("kind", KINDS, ids=kind_id)
def test_every_callout_has_its_letter_in_its_view(kind: tuple[str, str, str]) -> None:
    family, design = solved(*kind)
    scenes = {s.name: s for s in family.scenes(design)}
    for letter, callout in letters(design):
        view = scenes[callout.view]
        left, low, right, top = view.bounds()
        assert left - 0.01 <= callout.at[0] <= right + 0.01 and low - 0.01 <= callout.at[1] <= top + 0.01
        notes = [e for e in lettered(view, design.callouts).elements if isinstance(e, Note) and e.text == letter]
        assert [n.leader for n in notes] == [callout.at]


def test_a_face_nobody_said_is_found(kernel: Kernel) -> None:
    """The same look at a drawing that has lost a size: a test that finds nothing anywhere would find nothing here."""
    family, design = solved("v_jaw", "", "")
    kept = family.scenes

    class Less:
        def scenes(self, design: Design) -> list[object]:
            return [s.with_elements(s.elements) if s.name != "side" else type(s)("side") for s in kept(design)]

        def __getattr__(self, name: str) -> object:
            return getattr(family, name)

    found = missing(Less(), design, kernel)  # type: ignore[arg-type]
    assert any(text.startswith("Y = ") for text in found)


def test_no_callout_is_left_without_a_letter() -> None:
    """After z comes aa: a sheet with more than twenty-six of them names each once."""
    many = tuple(Callout(words=f"no. {n}", view="front", at=(float(n), 0.0)) for n in range(30))
    named = lettered(Scene("front", "", (box(0, 0, 30, 5, Style.BODY, ""),)), many)
    notes = [e for e in named.elements if isinstance(e, Note)]
    assert [n.text for n in notes][24:28] == ["y", "z", "aa", "ab"]
    assert len({n.text for n in notes}) == 30 and [n.leader for n in notes] == [c.at for c in many]

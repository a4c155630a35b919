"""What every family draws: a size stands over a distance of that size, an edge follows the hand, no number covers another."""

from __future__ import annotations

import math

import pytest

from elbrix.book.designs import solve_doc
from elbrix.book.documents import DesignDoc
from elbrix.demo import documents
from elbrix.design.family import Design, Family, Request, find_family, parameter_of, read_choices, solve_for
from elbrix.drawing.dimension_texts import dimension_text
from elbrix.drawing.placing import TextSizes, overlaps, place
from elbrix.drawing.scene import Dimension, Handle, Scene, Side
from elbrix.drawing.views import arrange
from elbrix.parameters.parameter import Kind, ParameterValue
from elbrix.quantities.lengths import UnitStyle
from elbrix.results.figures import Origin
from kinds_of_family import KINDS, SHOP, kind_id, solved

DEMO = {d.id: d for d in documents() if isinstance(d, DesignDoc)}
STYLES = {"mm": UnitStyle("mm"), "in": UnitStyle("in")}


def sized(family: Family, scene: Scene, design: Design) -> list[tuple[Dimension, float]]:
    """Dimensions of a length somebody can type, with that length."""
    found = []
    for d in scene.dimensions:
        if d.entry and d.side is not Side.AT and parameter_of(family, d.entry).kind is Kind.LENGTH:
            found.append((d, design.values.number(d.entry)))
    return found


@pytest.mark.parametrize("kind", KINDS, ids=kind_id)
def test_a_size_stands_over_a_distance_of_that_size(kind: tuple[str, str, str]) -> None:
    family, design = solved(*kind)
    for scene in family.scenes(design):
        for d, value in sized(family, scene, design):
            assert d.value == pytest.approx(value, abs=0.006), (scene.name, d.key)
            long = abs(d.b[0] - d.a[0]) if d.along_x else abs(d.b[1] - d.a[1])
            assert long == pytest.approx(value, abs=0.006), (scene.name, d.key)


def the_same(handle: Handle, scene: Scene) -> Handle | None:
    return next((h for h in scene.handles if (h.entry, h.along, h.gain) == (handle.entry, handle.along, handle.gain)), None)


def grasped(family: Family, design: Design) -> list[tuple[int, Handle]]:
    return [(i, h) for i, scene in enumerate(family.scenes(design)) for h in scene.handles]


@pytest.mark.parametrize("kind", KINDS, ids=kind_id)
def test_an_edge_goes_where_the_hand_takes_it(kind: tuple[str, str, str]) -> None:
    """The edge drawn again with the changed size stands as far from its old place as the handle promised."""
    family, design = solved(*kind)
    for index, handle in grasped(family, design):
        now = design.values.number(handle.entry)
        by = -0.2 if now - 0.2 >= handle.low else 0.2
        chosen = read_choices(family, {kind[1]: kind[2]} if kind[1] else {})
        # Everything else stays as it is: what is proposed from the dragged size must not move the picture.
        held = {n: g for n, g in design.values.items() if g.origin is not Origin.MEASURED}
        after = solve_for(family, SHOP, Request(), {**held, **chosen, handle.entry: ParameterValue(now + by, Origin.CHOSEN)})
        moved = the_same(handle, family.scenes(after)[index])
        assert moved is not None, handle.entry
        went = sum((n - o) * w for n, o, w in zip(moved.a, handle.a, handle.along, strict=True))
        assert went * handle.gain == pytest.approx(by, abs=1e-6), (handle.entry, handle.feature)
        assert math.hypot(*handle.along) == pytest.approx(1)


@pytest.mark.parametrize("unit", ["mm", "in"])
@pytest.mark.parametrize("ident", DEMO)
def test_no_number_of_the_catalogue_covers_another(ident: str, unit: str) -> None:
    doc = DEMO[ident]
    family, design = find_family(doc.family), solve_doc(doc, SHOP)
    scenes = family.scenes(design)
    sizes = TextSizes(width=lambda text: 9.0 * len(text), height=14.0, row=29.0, first=27.0, arrow=8.0)
    for scene in (scenes[0], arrange(list(scenes[1:]), 40)):
        left, low, right, high = scene.bounds()
        scale = min(760 / (right - left), 520 / (high - low))
        texts = {id(d): dimension_text(d, STYLES[unit]) for d in scene.dimensions}
        placed = place(scene, lambda p, s=scale: (p[0] * s, p[1] * s), lambda d, t=texts: t[id(d)], sizes)
        assert len(placed) == len(scene.dimensions)
        assert overlaps(placed) == []

"""Fits against printed figures and against what the fit is for."""

from __future__ import annotations

import pytest

from elbrix.quantities.errors import ShopError
from elbrix.standards.fits import block_limit_um, fit_um, it_um
from elbrix.standards.lookup import standard

SIZES = (2, 5, 8, 14, 22, 40, 60, 90, 150, 200, 280)


@pytest.mark.parametrize(
    ("nominal", "zone", "upper", "lower"),
    [
        # As printed in every handbook.
        (10, "H7", 15, 0),
        (12, "H7", 18, 0),
        (25, "H6", 13, 0),
        (50, "H8", 39, 0),
        (100, "H9", 87, 0),
        (10, "g6", -5, -14),
        (12, "g6", -6, -17),
        (25, "f7", -20, -41),
        (50, "e8", -50, -89),
        (30, "d9", -65, -117),
        (20, "h6", 0, -13),
        (20, "h9", 0, -52),
        (10, "m6", 15, 6),
        (12, "n6", 23, 12),
        (20, "p6", 35, 22),
        (20, "k6", 15, 2),
        (20, "js6", 6.5, -6.5),
        (25, "N7", -7, -28),
        (25, "P7", -14, -35),
        (25, "K7", 6, -15),
        (25, "M7", 0, -21),
        (280, "M6", -9, -41),
        (2, "k6", 6, 0),
        (2, "N9", -4, -29),
        (25, "N9", 0, -52),
        (16, "F7", 34, 16),
        (40, "G7", 34, 9),
        (2, "K6", 0, -6),
    ],
)
def test_printed_deviations(nominal: float, zone: str, upper: float, lower: float) -> None:
    assert fit_um(nominal, zone) == (upper, lower)


@pytest.mark.parametrize("size", SIZES)
@pytest.mark.parametrize("zone", ["d9", "e8", "f7", "g6", "h6", "js6", "k6", "m6", "n6", "p6"])
def test_a_shaft_is_as_wide_as_its_grade_and_the_hole_mirrors_it(size: float, zone: str) -> None:
    upper, lower = fit_um(size, zone)
    assert upper - lower == it_um(size, "IT" + zone.lstrip("defghjskmnp")).value
    if zone[0] in "defgh":
        hole_upper, hole_lower = fit_um(size, zone.upper())
        assert (hole_lower, hole_upper) == (-upper, -lower)


@pytest.mark.parametrize("size", [s for s in SIZES if s > 3])
@pytest.mark.parametrize("letter", "kmnp")
def test_a_hole_and_a_shaft_one_grade_finer_fit_alike_on_either_basis(size: float, letter: str) -> None:
    # H7/p6 and P7/h6 have the same most and least clearance: what Δ is for.
    hole, shaft = fit_um(size, "H7"), fit_um(size, f"{letter}6")
    other_hole, other_shaft = fit_um(size, f"{letter.upper()}7"), fit_um(size, "h6")
    assert (hole[0] - shaft[1], hole[1] - shaft[0]) == (other_hole[0] - other_shaft[1], other_hole[1] - other_shaft[0])


@pytest.mark.parametrize("letter", "defghkmnp")
def test_clearance_falls_from_d_to_p(letter: str) -> None:
    order = "defghkmnp"
    middle = {x: sum(fit_um(30, f"{x}7")) for x in order}
    assert [middle[x] for x in order] == sorted(middle.values())
    assert middle[letter] < 0 if letter < "k" else middle[letter] > 0


@pytest.mark.parametrize("size", [3, 6, 10, 18, 30, 50, 80, 120])
def test_up_to_and_including(size: float) -> None:
    assert it_um(size, "IT7").value == it_um(size - 0.001, "IT7").value <= it_um(size + 0.001, "IT7").value


@pytest.mark.parametrize(
    ("call", "said"),
    [
        (lambda: fit_um(30, "zc7"), "zc7"),
        (lambda: fit_um(30, "H"), "H"),
        (lambda: fit_um(0, "H7"), "0 mm"),
        (lambda: fit_um(30, "H99"), "IT99"),
        (lambda: fit_um(30, "K9"), "K9"),
        (lambda: it_um(800, "IT7"), "800"),
        (lambda: block_limit_um(30, "3", "te"), "grade 3"),
        (lambda: block_limit_um(30, "1", "tx"), "tx"),
        (lambda: block_limit_um(0.4, "1", "te"), "0.4"),
        (lambda: block_limit_um(1001, "1", "te"), "1001"),
        (lambda: standard({"table": "it", "size_mm": "wide", "grade": "IT7"}), "size_mm"),
        (lambda: standard({"table": "proof", "class": "8.8", "size": "5/17"}), "5/17"),
        (lambda: standard({"table": "fit", "nominal_mm": 20, "zone": True}), "zone"),
    ],
)
def test_outside_the_tables_is_said(call: object, said: str) -> None:
    assert callable(call)
    with pytest.raises(ShopError, match=said):
        call()


def test_a_coarser_grade_is_wider_everywhere() -> None:
    for size in SIZES:
        widths = [it_um(size, f"IT{n}").value for n in range(1, 17)]
        assert widths == sorted(widths) and len(set(widths)) == 16
        for dim in ("te", "tv"):
            limits = [block_limit_um(size, g, dim).value for g in ("0", "1", "2")]
            assert limits == sorted(limits)

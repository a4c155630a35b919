"""ISO tolerance grades and fit zones, and gauge-block limits."""

from __future__ import annotations

from elbrix.standards.tables import TableValue, not_in_table, table


def _range(nominal_mm: float, where: str) -> int:
    """Which row: "over, up to and including"."""
    tops = table("fits")["ranges_up_to_mm"]
    if nominal_mm > 0:
        for index, top in enumerate(tops):
            if nominal_mm <= top:
                return index
    raise not_in_table(where, f"{nominal_mm:g} mm", ["over 0", f"up to and including {tops[-1]} mm"])


def it_um(size_mm: float, grade: str) -> TableValue:
    """Standard tolerance in µm, IT1 to IT16, to 500 mm."""
    grades = table("fits")["it_um"]
    if grade not in grades:
        raise not_in_table("Tolerance grade", grade, list(grades))
    return TableValue(float(grades[grade][_range(size_mm, "Tolerance grade")]), "µm", "ISO 286-1", "standard", grade)


def fit_um(nominal_mm: float, zone: str) -> tuple[float, float]:
    """Upper and lower deviation in µm of a zone such as H7, g6, js5, N7.

    Holes D to H mirror the shafts; K, M, N (to IT8) and P (to IT7) take the shaft's deviation less Δ = ITn − IT(n−1), so
    that a hole and a shaft of one grade finer fit alike. Source: ISO 286-1.
    """
    letters = zone.rstrip("0123456789")
    digits = zone[len(letters) :]
    shafts = table("fits")["shaft_deviation_um"]
    known = [*shafts, "js", *(s.upper() for s in shafts), "JS"]
    if letters not in known or not digits:
        raise not_in_table("Fit zone", zone, known)
    grade = int(digits)
    width = it_um(nominal_mm, f"IT{grade}").value
    row_at = _range(nominal_mm, "Fit zone")
    if letters.lower() == "js":
        return width / 2, -width / 2
    deviation = float(shafts[letters.lower()][row_at])
    if letters.lower() == "k" and letters.islower() and not 4 <= grade <= 7:
        deviation = 0.0
    if letters.islower():
        return (deviation, deviation - width) if letters <= "h" else (deviation + width, deviation)
    if letters <= "H":
        return -deviation + width, -deviation
    small = nominal_mm <= 3
    delta = 0.0
    if not small and 3 <= grade <= (7 if letters == "P" else 8) and grade > 1:
        delta = width - it_um(nominal_mm, f"IT{grade - 1}").value
    if letters == "K" and grade > 8:
        if not small:
            raise not_in_table("Fit zone", zone, ["K up to grade 8"])
        deviation = 0.0
    if letters == "N" and grade > 8:
        deviation, delta = (deviation if small else 0.0), 0.0
    upper = -deviation + delta
    if letters == "M" and grade == 6 and 250 < nominal_mm <= 315:
        upper = -9.0  # the one exception the standard makes to its own rule
    return upper, upper - width


def block_limit_um(length_mm: float, grade: str, dim: str) -> TableValue:
    """Gauge-block limits in µm: te (length at any point, ±) or tv (variation), grades K, 0, 1, 2, 0.5 to 1000 mm."""
    data = table("gauge_blocks")
    if grade not in data["limits_um"]:
        raise not_in_table("Gauge block", f"grade {grade}", list(data["limits_um"]))
    if dim not in ("te", "tv"):
        raise not_in_table("Gauge block", dim, ["te", "tv"])
    if length_mm >= data["shortest_mm"]:
        for index, top in enumerate(data["ranges_up_to_mm"]):
            if length_mm <= top:
                return TableValue(float(data["limits_um"][grade][dim][index]), "µm", "ISO 3650", "standard", f"grade {grade}")
    raise not_in_table("Gauge block", f"{length_mm:g} mm", ["0.5 mm to 1000 mm"])

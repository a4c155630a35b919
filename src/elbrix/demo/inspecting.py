"""Inspections of the demo shop: a head swept twice, a jaw, a table's slots, a plate, and a nut as made."""

from __future__ import annotations

from elbrix.book.documents import Chosen, InspectionDoc, TakenDoc

_DIAL, _CALIPER, _MICROMETER = ("dial-1", 0.0032), ("caliper-1", 0.021), ("micrometer-1", 0.0032)


def _taken(tool: tuple[str, float], at: str, **places: str) -> dict[str, tuple[TakenDoc, ...]]:
    """Readings by place, as an instrument sent them one after another."""
    name, u = tool
    return {
        key: tuple(TakenDoc(value=float(v), u=u, tool=name, on=f"{at}:{(7 * n) % 60:02d}") for v in values.split())
        for n, (key, values) in enumerate(places.items())
    }


def inspections() -> list[InspectionDoc]:
    """What Wrenfield looked at lately."""
    hazel = {"machine": Chosen(text="hazel"), "sweep": Chosen(text="220")}
    return [
        InspectionDoc(
            id="tram-hazel",
            kind="head_tram",
            title="Hazel's head",
            began="2026-11-16",
            chosen=hazel,
            readings=_taken(_DIAL, "2026-11-16T10:40", east="0.022", north="0.006", west="-0.018", south="-0.006"),
        ),
        InspectionDoc(
            id="tram-hazel-spring",
            kind="head_tram",
            title="Hazel's head",
            began="2026-04-02",
            chosen=hazel,
            readings=_taken(_DIAL, "2026-04-02T09:12", east="0.004", north="0.002", west="-0.002", south="-0.002"),
        ),
        InspectionDoc(
            id="jaw-vise",
            kind="jaw",
            title="Vise on Hazel",
            began="2026-11-16",
            readings=_taken(
                _DIAL,
                "2026-11-16T11:02",
                left="0.000",
                right="0.032",
                low="0.012",
                high="0.014",
                bed_left="0.002",
                bed_right="0.002",
            ),
        ),
        InspectionDoc(
            id="slots-hazel",
            kind="slot_survey",
            title="Slots of Hazel",
            began="2026-11-17",
            chosen={"machine": Chosen(text="hazel")},
            readings=_taken(
                _CALIPER,
                "2026-11-17T08:30",
                s1p1="12.07 12.07 12.06",
                s1p2="12.04 12.04 12.06",
                s1p3="12.11 12.11 12.10",
                s2p1="12.07 12.08 12.06",
                s2p2="12.05 12.06 12.06",
                s2p3="12.14 12.15 12.16",
                s3p1="12.09 12.09 12.08",
                s3p2="12.05 12.04 12.06",
            ),
        ),
        InspectionDoc(
            id="flat-plate",
            kind="flatness",
            title="Fixture plate, top face",
            began="2026-11-20",
            chosen={"length": Chosen(text="240"), "width": Chosen(text="120"), "tolerance": Chosen(text="0.03")},
            readings=_taken(
                _DIAL,
                "2026-11-20T14:05",
                c1r1="0.024",
                c2r1="0.008",
                c3r1="0.010",
                c4r1="0.038",
                c4r2="0.028",
                c3r2="-0.002",
                c2r2="-0.008",
                c1r2="0.008",
                c1r3="0.022",
                c2r3="0.008",
                c3r3="0.008",
                c4r3="0.042",
            ),
        ),
        InspectionDoc(
            id="made-t-nut-hazel",
            kind="as_made",
            title="T-nut for Hazel, as made",
            about="t-nut-hazel",
            began="2026-11-18",
            readings=_taken(
                _MICROMETER,
                "2026-11-18T16:20",
                neck_width="11.699 11.701 11.702",
                neck_height="7.177 7.178 7.179",
                head_width="18.166 18.171 18.174",
            ),
        ),
    ]

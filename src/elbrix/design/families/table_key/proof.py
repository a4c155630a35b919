"""What follows from the sizes of a key, and what may go wrong."""

from __future__ import annotations

from elbrix.design.families.table_key.rescue import Remedy, advised, remedies, tool_for
from elbrix.design.families.table_key.sizes import PARAMETERS, PLAY_EASY, PLAY_LOOSE, PLAY_MIN, TableKeySizes
from elbrix.design.thin import held_check
from elbrix.parameters.parameter import figure_of
from elbrix.results.checks import Check, Limits
from elbrix.results.figures import Derivation, Figure, Origin, format_number
from elbrix.results.formulas import reckoned, term, worked
from elbrix.results.length_text import LENGTH_UNIT, length
from elbrix.shop.shop import Shop

_PLAY = Limits(0.0, PLAY_MIN, PLAY_EASY, PLAY_LOOSE)


def ways_out(s: TableKeySizes, shop: Shop) -> list[Remedy]:
    """Empty while the slots are in line."""
    if not s.out:
        return []
    v = s.v
    thick = max((x.jaw_thickness_mm for x in shop.vises if abs(x.jaw_width_mm - v.number("jaw_length")) < 0.5), default=0.0)
    return remedies(
        s.out, max(0.0, s.loosest), v.number("key_spacing"), v.number("jaw_length"), thick, v.number("reading_resolution")
    )


def _made_with(remedy: Remedy, s: TableKeySizes, shop: Shop) -> str:
    words, owned = tool_for(remedy.key, s.host, shop)
    return f"With the {words}" if owned else f"Missing in Shop: {words}"


def figures(s: TableKeySizes, shop: Shop) -> list[Figure]:
    v = s.v
    found = [figure_of(p, v[p.name]) for p in PARAMETERS]
    found += [
        Figure(
            key="kind",
            label="Key type",
            value=0.0,
            unit="",
            text=f"{'an' if s.kind == 'offset' else 'a'} {s.kind} key",
            features=("table half", "vise half"),
        ),
        reckoned(
            "total",
            "Total height",
            worked("table half + vise half", s.low_h, s.high_h),
            step=0.01,
            features=("table half", "vise half"),
        ),
        reckoned(
            "table_play",
            "Clearance in the table",
            worked("tightest slot − table half", s.neck.min, s.low_w),
            step=0.001,
            features=("table half", "table slot"),
        ),
        reckoned(
            "vise_play",
            "Clearance in the vise",
            worked("vise slot − vise half", s.host, s.high_w),
            step=0.001,
            features=("vise half", "vise slot"),
        ),
        reckoned(
            "left_by_play",
            "Squareness error, clearance",
            worked(
                "J·c/S",
                v.number("jaw_length"),
                term(max(0.0, s.loosest), 4),
                v.number("key_spacing"),
                source="c the play of both halves where the slot is widest",
            ),
            step=0.001,
            features=("table half",),
            note="over the jaw, at the most",
        ),
    ]
    if s.out or s.off:
        found += [
            reckoned(
                "mean_out",
                "Mean misalignment",
                worked(
                    "(reading + other way round)/2",
                    v.number("misalignment"),
                    v.number("misalignment_check"),
                    source="mean of both readings",
                ),
                step=0.001,
                features=("vise slot",),
            ),
            reckoned(
                "yaw",
                "Vise rotation",
                worked("3600·atan((δ − 2·offset)/S)", s.out, s.off, v.number("key_spacing")),
                unit="″",
                step=1,
                features=("vise slot",),
            ),
            reckoned(
                "error",
                "Squareness error, vise",
                worked(
                    "J·|δ − corrected|/S", v.number("jaw_length"), term(s.out, 4), term(s.corrected, 4), v.number("key_spacing")
                ),
                step=0.001,
                features=("vise slot",),
            ),
        ]
    ways = ways_out(s, shop)
    if ways:
        best = advised(ways, v.number("squareness"))
        found.append(
            Figure(key="advice", label="Advice", value=0.0, unit="", text=f"{best.words}; {best.costs}", features=("vise slot",))
        )
    for i, r in enumerate(ways, 1):
        undone = "can be taken back" if r.undone else "cannot be taken back"
        found.append(
            Figure(
                key=f"remedy_{i}",
                label=f"{i}. {r.title}",
                value=r.left_mm,
                step=0.001,
                derivation=r.derivation,
                note=f"{r.words}. It {undone}; {r.costs}. {_made_with(r, s, shop)}",
                features=("vise slot",),
            )
        )
    return found


def _first_shoulder(s: TableKeySizes) -> tuple[float, str]:
    """How deep the half goes that is milled first, mm, and its name; nothing when neither is shouldered."""
    if s.milled_high:
        return s.high_h, "vise half"
    return (s.low_h, "table half") if s.milled_low else (0.0, "")


def checks(s: TableKeySizes, shop: Shop) -> list[Check]:
    v = s.v
    wanted = v.number("squareness")
    places = 0 if v["neck"].origin is Origin.ASSUMED else s.neck.count
    found = [
        held_check(s.total, "table_height", ("table half",), *_first_shoulder(s)),
        _play(
            "slides",
            "Clearance in the table",
            s.table_play,
            ("table half", "table slot"),
            ("table_play", "table_width"),
            "table_width",
            Derivation("tightest slot − table half", f"{format_number(s.neck.min, 3)} − {format_number(s.low_w, 3)}"),
        ),
        _play(
            "seats",
            "Clearance in the vise",
            s.vise_play,
            ("vise half", "vise slot"),
            ("vise_play", "vise_width"),
            "vise_width",
            Derivation("vise slot − vise half", f"{format_number(s.host, 3)} − {format_number(s.high_w, 3)}"),
        ),
        Check(
            key="square",
            label="Squareness by clearance",
            value=s.left_by_play,
            unit="mm",
            limits=Limits(marginal_above=0.8 * wanted, no_above=wanted),
            step=0.001,
            features=("table half", "vise half"),
            figures=("left_by_play", "key_spacing"),
            remedies=("key_spacing", "table_width", "vise_width"),
            reason=(
                f"within {length(wanted, 3)} {LENGTH_UNIT} over the jaw"
                if s.left_by_play <= wanted
                else "so much play turns the vise: keys farther apart, or closer ones; push it to one side always"
            ),
            derivation=Derivation(
                "J·c/S",
                f"{format_number(v.number('jaw_length'))} ·"
                f" {format_number(max(0.0, s.loosest), 4)}/{format_number(v.number('key_spacing'))}",
            ),
        ),
        Check(
            key="below",
            label="Depth between the lips",
            value=s.lip.min - s.low_h,
            unit="mm",
            limits=Limits(0.0, 0.5),
            step=0.1,
            features=("table half", "table slot"),
            figures=("table_height", "lip"),
            remedies=("table_height",),
            reason=(
                "the lips guide it over its whole height"
                if s.lip.min - s.low_h >= 0.5
                else (
                    "it ends where the lips end"
                    if s.lip.min >= s.low_h
                    else "its lower end hangs in the wide part and guides nothing"
                )
            ),
            derivation=Derivation("shallowest lip − table half, high", f"{format_number(s.lip.min)} − {format_number(s.low_h)}"),
        ),
        Check(
            key="above",
            label="Vise seats on the table",
            value=s.host_depth - s.high_h,
            unit="mm",
            limits=Limits(0.0, 0.2),
            step=0.1,
            features=("vise half", "vise slot"),
            figures=("vise_height", "vise_slot_depth"),
            remedies=("vise_height",),
            reason=(
                "room above it"
                if s.host_depth - s.high_h >= 0.2
                else (
                    "it all but carries the vise: a chip, and the vise rocks"
                    if s.host_depth >= s.high_h
                    else "it carries the vise off the table"
                )
            ),
            derivation=Derivation(
                "vise slot, deep − vise half, high", f"{format_number(s.host_depth)} − {format_number(s.high_h)}"
            ),
        ),
        Check(
            key="wall",
            label="Wall beside counterbore",
            value=s.wall,
            unit="mm",
            limits=Limits(0.8, 1.5),
            step=0.1,
            features=("screw", "table half"),
            figures=("screw", "table_width"),
            remedies=("screw",),
            reason=(
                "a sound wall" if s.wall >= 1.5 else "thin: file the edges with care" if s.wall >= 0.8 else "it would break out"
            ),
            derivation=Derivation(
                "(table half − bore)/2 − how far the screw stands off its middle",
                f"({format_number(s.low_w)} − {format_number(s.bore)})/2 − {format_number(abs(s.screw_x), 3)}",
            ),
        ),
        Check(
            key="floor",
            label="Floor under counterbore",
            value=(s.total - s.bore_depth) / s.d,
            unit="× d",
            limits=Limits(0.4, 0.6),
            features=("screw",),
            figures=("screw", "total"),
            remedies=("table_height", "vise_height", "screw"),
            reason=(
                "the head pulls on solid metal"
                if s.total - s.bore_depth >= 0.6 * s.d
                else (
                    "thin under the head: do not pull it hard"
                    if s.total - s.bore_depth >= 0.4 * s.d
                    else "the head would pull through"
                )
            ),
            derivation=Derivation(
                "(total − head − 0.3)/d",
                f"({format_number(s.total)} − {format_number(s.bore_depth - 0.3)} − 0.3)/{format_number(s.d)}",
            ),
        ),
        Check(
            key="neck",
            label="Overlap of the halves",
            value=s.shared / min(s.low_w, s.high_w) * 100,
            unit="%",
            limits=Limits(40, 60),
            features=("table half", "vise half"),
            figures=("offset",),
            remedies=("offset",),
            reason=(
                "they are one piece of metal"
                if s.shared >= 0.6 * min(s.low_w, s.high_w)
                else "so far apart it shears between them"
            ),
            derivation=Derivation(
                "shared width/narrower half", f"{format_number(s.shared, 3)}/{format_number(min(s.low_w, s.high_w), 3)}"
            ),
        ),
        Check(
            key="places",
            label="Slot measurements",
            value=places,
            unit="",
            limits=Limits(marginal_below=3),
            features=("table slot",),
            figures=("neck",),
            text=f"{places} of 3",
            reason=(
                "a book slot stands in: measure yours before you cut"
                if not places
                else (
                    "a key goes by the tightest place: measure both ends and the middle"
                    if places < 3
                    else "both ends and the middle were measured"
                )
            ),
            derivation=Derivation("places it was read at", str(places)),
        ),
    ]
    if s.out or s.off:
        one, other = sorted((v.number("misalignment"), v.number("misalignment_check")))
        apart, allowed = other - one, 2 * v.number("reading_resolution")
        found += [
            Check(
                key="agree",
                label="Agreement of readings",
                value=apart,
                unit="mm",
                limits=Limits(no_above=allowed),
                step=0.001,
                features=("vise slot",),
                figures=("misalignment", "misalignment_check", "reading_resolution"),
                remedies=("misalignment", "misalignment_check"),
                reason=(
                    "the two readings agree within the instrument"
                    if apart <= allowed
                    else (
                        "do not cut anything yet: suspect a burr, a mixed-up block, or that the jaw itself was used as reference;"
                        " measure again"
                    )
                ),
                derivation=Derivation(
                    "larger − smaller reading",
                    f"{format_number(other, 4)} − {format_number(one, 4)}",
                    f"the instrument allows twice its {format_number(v.number('reading_resolution'), 4)}",
                ),
            ),
            Check(
                key="straight",
                label="Vise squareness",
                value=s.error + s.left_by_play,
                unit="mm",
                limits=Limits(marginal_above=0.8 * wanted, no_above=wanted),
                step=0.001,
                features=("vise slot", "vise half"),
                figures=("error", "offset"),
                remedies=("offset",),
                reason=(
                    f"within {length(wanted, 3)} {LENGTH_UNIT} over the jaw, one key turned round"
                    if s.error + s.left_by_play <= wanted
                    else f"offset them by {length(s.out / 2, 3)} {LENGTH_UNIT}: half of what the slots are out of line"
                ),
                derivation=Derivation(
                    "over the jaw by the slots + by play", f"{format_number(s.error, 5)} + {format_number(s.left_by_play, 5)}"
                ),
            ),
        ]
    return found


def _play(
    key: str, label: str, play: float, features: tuple[str, ...], figures: tuple[str, ...], remedies: str, derivation: Derivation
) -> Check:
    reason = (
        "wider than its slot: it will not go in"
        if play < 0
        else (
            "so tight that a burr stops it: fit it with a stone"
            if play < PLAY_MIN
            else (
                "a slide that does not shake"
                if play <= PLAY_EASY
                else "loose: it locates little"
                if play <= PLAY_LOOSE
                else "it locates nothing"
            )
        )
    )
    return Check(
        key=key,
        label=label,
        value=play,
        unit="mm",
        limits=_PLAY,
        step=0.001,
        features=features,
        figures=figures,
        remedies=(remedies,),
        reason=reason,
        derivation=derivation,
    )

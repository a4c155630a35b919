"""What follows from the sizes of a key, and what may go wrong."""

from __future__ import annotations

from elbrix.design.families.table_key.rescue import Remedy, advised, remedies, tool_for
from elbrix.design.families.table_key.sizes import PARAMETERS, PLAY_EASY, PLAY_LEAST, PLAY_LOOSE, Sizes
from elbrix.parameters.parameter import figure_of
from elbrix.results.checks import Check, Limits
from elbrix.results.figures import Figure, Origin, Working, num
from elbrix.shop.shop import Shop

_PLAY = Limits(0.0, PLAY_LEAST, PLAY_EASY, PLAY_LOOSE)


def ways_out(s: Sizes, shop: Shop) -> list[Remedy]:
    """Empty while the slots are in line."""
    if not s.out:
        return []
    v = s.v
    thick = max((x.jaw_thickness_mm for x in shop.vises if abs(x.jaw_width_mm - v.number("jaw")) < 0.5), default=0.0)
    return remedies(s.out, max(0.0, s.loosest), v.number("spacing"), v.number("jaw"), thick, v.number("read_to"))


def _made_with(remedy: Remedy, s: Sizes, shop: Shop) -> str:
    words, owned = tool_for(remedy.key, s.host, shop)
    return f"With the {words}" if owned else f"Missing in Shop: {words}"


def figures(s: Sizes, shop: Shop) -> list[Figure]:
    v = s.v
    jaw, spacing = num(v.number("jaw")), num(v.number("spacing"))
    found = [figure_of(p, v[p.name]) for p in PARAMETERS]
    found += [
        Figure(
            key="kind",
            label="So it is",
            value=0.0,
            unit="",
            text=f"{'an' if s.kind == 'offset' else 'a'} {s.kind} key",
            features=("table half", "vise half"),
        ),
        Figure(
            key="total",
            label="Total height",
            value=s.total,
            features=("table half", "vise half"),
            working=Working("table half + vise half", f"{num(s.low_h)} + {num(s.high_h)}"),
        ),
        Figure(
            key="table_play",
            label="Play in the table",
            value=s.table_play,
            step=0.001,
            features=("table half", "table slot"),
            working=Working("tightest slot − table half", f"{num(s.neck.min, 3)} − {num(s.low_w, 3)}"),
        ),
        Figure(
            key="vise_play",
            label="Play in the vise",
            value=s.vise_play,
            step=0.001,
            features=("vise half", "vise slot"),
            working=Working("vise slot − vise half", f"{num(s.host, 3)} − {num(s.high_w, 3)}"),
        ),
        Figure(
            key="left_by_play",
            label="Out of square by play",
            value=s.left_by_play,
            step=0.001,
            features=("table half",),
            note="over the jaw, at the most",
            working=Working(
                "J·c/S, c the play of both halves where the slot is widest", f"{jaw} · {num(max(0.0, s.loosest), 4)}/{spacing}"
            ),
        ),
    ]
    if s.out or s.off:
        found += [
            Figure(
                key="mean_out",
                label="Out of line, mean",
                value=s.out,
                step=0.001,
                features=("vise slot",),
                working=Working("mean of both readings", f"({num(v.number('out'), 3)} + {num(v.number('out_again'), 3)})/2"),
            ),
            Figure(
                key="yaw",
                label="The vise turns by",
                value=3600 * s.yaw_deg,
                unit="″",
                step=1,
                features=("vise slot",),
                working=Working("3600·atan((δ − 2·offset)/S)", f"3600 · atan(({num(s.out, 3)} − 2 · {num(s.off, 3)})/{spacing})"),
            ),
            Figure(
                key="error",
                label="That is over the jaw",
                value=s.error,
                step=0.001,
                features=("vise slot",),
                working=Working("J·|δ − 2·offset|/S", f"{jaw} · {num(abs(s.out - s.corrected), 4)}/{spacing}"),
            ),
        ]
    ways = ways_out(s, shop)
    if ways:
        best = advised(ways, v.number("wanted"))
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
                working=r.working,
                note=f"{r.words}. It {undone}; {r.costs}. {_made_with(r, s, shop)}",
                features=("vise slot",),
            )
        )
    return found


def checks(s: Sizes, shop: Shop) -> list[Check]:
    v = s.v
    wanted = v.number("wanted")
    places = 0 if v["neck"].origin is Origin.ASSUMED else s.neck.count
    found = [
        _play(
            "slides",
            "Slides in the table slot",
            s.table_play,
            ("table half", "table slot"),
            ("table_play", "table_width"),
            "table_width",
            Working("tightest slot − table half", f"{num(s.neck.min, 3)} − {num(s.low_w, 3)}"),
        ),
        _play(
            "seats",
            "Seats in the vise slot",
            s.vise_play,
            ("vise half", "vise slot"),
            ("vise_play", "vise_width"),
            "vise_width",
            Working("vise slot − vise half", f"{num(s.host, 3)} − {num(s.high_w, 3)}"),
        ),
        Check(
            key="square",
            label="Square to the table by play",
            value=s.left_by_play,
            unit="mm",
            limits=Limits(close_above=0.8 * wanted, no_above=wanted),
            step=0.001,
            features=("table half", "vise half"),
            figures=("left_by_play", "spacing"),
            mends=("spacing", "table_width", "vise_width"),
            reason=(
                f"within {num(wanted, 3)} mm over the jaw"
                if s.left_by_play <= wanted
                else "so much play turns the vise: keys farther apart, or closer ones; push it to one side always"
            ),
            working=Working("J·c/S", f"{num(v.number('jaw'))} · {num(max(0.0, s.loosest), 4)}/{num(v.number('spacing'))}"),
        ),
        Check(
            key="below",
            label="Stays above the slot's head",
            value=s.lip.min - s.low_h,
            unit="mm",
            limits=Limits(0.0, 0.5),
            step=0.1,
            features=("table half", "table slot"),
            figures=("table_high", "lip"),
            mends=("table_high",),
            reason=(
                "the lips guide it over its whole height"
                if s.lip.min - s.low_h >= 0.5
                else (
                    "it ends where the lips end"
                    if s.lip.min >= s.low_h
                    else "its lower end hangs in the wide part and guides nothing"
                )
            ),
            working=Working("shallowest lip − table half, high", f"{num(s.lip.min)} − {num(s.low_h)}"),
        ),
        Check(
            key="above",
            label="Vise sits on the table, not on it",
            value=s.host_deep - s.high_h,
            unit="mm",
            limits=Limits(0.0, 0.2),
            step=0.1,
            features=("vise half", "vise slot"),
            figures=("vise_high", "host_deep"),
            mends=("vise_high",),
            reason=(
                "room above it"
                if s.host_deep - s.high_h >= 0.2
                else (
                    "it all but carries the vise: a chip, and the vise rocks"
                    if s.host_deep >= s.high_h
                    else "it carries the vise off the table"
                )
            ),
            working=Working("vise slot, deep − vise half, high", f"{num(s.host_deep)} − {num(s.high_h)}"),
        ),
        Check(
            key="wall",
            label="Metal beside the sunk head",
            value=s.wall,
            unit="mm",
            limits=Limits(0.8, 1.5),
            step=0.1,
            features=("screw", "table half"),
            figures=("screw", "table_width"),
            mends=("screw",),
            reason=(
                "a sound wall" if s.wall >= 1.5 else "thin: file the edges with care" if s.wall >= 0.8 else "it would break out"
            ),
            working=Working(
                "(table half − bore)/2 − how far the screw stands off its middle",
                f"({num(s.low_w)} − {num(s.bore)})/2 − {num(abs(s.screw_x), 3)}",
            ),
        ),
        Check(
            key="floor",
            label="Metal under the head",
            value=(s.total - s.bore_deep) / s.d,
            unit="× d",
            limits=Limits(0.4, 0.6),
            features=("screw",),
            figures=("screw", "total"),
            mends=("table_high", "vise_high", "screw"),
            reason=(
                "the head pulls on solid metal"
                if s.total - s.bore_deep >= 0.6 * s.d
                else (
                    "thin under the head: do not pull it hard"
                    if s.total - s.bore_deep >= 0.4 * s.d
                    else "the head would pull through"
                )
            ),
            working=Working("(total − head − 0.3)/d", f"({num(s.total)} − {num(s.bore_deep - 0.3)} − 0.3)/{num(s.d)}"),
        ),
        Check(
            key="neck",
            label="Halves stand on each other",
            value=s.shared / min(s.low_w, s.high_w) * 100,
            unit="%",
            limits=Limits(40, 60),
            features=("table half", "vise half"),
            figures=("offset",),
            mends=("offset",),
            reason=(
                "they are one piece of metal"
                if s.shared >= 0.6 * min(s.low_w, s.high_w)
                else "so far apart it shears between them"
            ),
            working=Working("shared width/narrower half", f"{num(s.shared, 3)}/{num(min(s.low_w, s.high_w), 3)}"),
        ),
        Check(
            key="places",
            label="Slot measured in places",
            value=places,
            unit="",
            limits=Limits(close_below=3),
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
            working=Working("places it was read at", str(places)),
        ),
    ]
    if s.out or s.off:
        one, other = sorted((v.number("out"), v.number("out_again")))
        apart, allowed = other - one, 2 * v.number("read_to")
        found += [
            Check(
                key="agree",
                label="Both sides read alike",
                value=apart,
                unit="mm",
                limits=Limits(no_above=allowed),
                step=0.001,
                features=("vise slot",),
                figures=("out", "out_again", "read_to"),
                mends=("out", "out_again"),
                reason=(
                    "the two readings agree within the instrument"
                    if apart <= allowed
                    else (
                        "do not cut anything yet: suspect a burr, a mixed-up block, or that the jaw itself was used as reference;"
                        " measure again"
                    )
                ),
                working=Working(
                    "larger − smaller reading",
                    f"{num(other, 4)} − {num(one, 4)}",
                    f"the instrument allows twice its {num(v.number('read_to'), 4)}",
                ),
            ),
            Check(
                key="straight",
                label="Vise straight on these keys",
                value=s.error + s.left_by_play,
                unit="mm",
                limits=Limits(close_above=0.8 * wanted, no_above=wanted),
                step=0.001,
                features=("vise slot", "vise half"),
                figures=("error", "offset"),
                mends=("offset",),
                reason=(
                    f"within {num(wanted, 3)} mm over the jaw, one key turned round"
                    if s.error + s.left_by_play <= wanted
                    else f"offset them by {num(s.out / 2, 3)} mm: half of what the slots are out of line"
                ),
                working=Working("over the jaw by the slots + by play", f"{num(s.error, 5)} + {num(s.left_by_play, 5)}"),
            ),
        ]
    return found


def _play(
    key: str, label: str, play: float, features: tuple[str, ...], figures: tuple[str, ...], mends: str, working: Working
) -> Check:
    reason = (
        "wider than its slot: it will not go in"
        if play < 0
        else (
            "so tight that a burr stops it: fit it with a stone"
            if play < PLAY_LEAST
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
        mends=(mends,),
        reason=reason,
        working=working,
    )

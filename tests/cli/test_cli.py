"""The command line as scripts use it."""

from __future__ import annotations

import csv
import io
import json
import sys
from pathlib import Path

import pytest
from pypdf import PdfReader

from elbrix.book.documents import DesignDoc
from elbrix.cli import calc
from elbrix.cli.main import main
from elbrix.demo import documents

SLOT = {"neck_mm": [12.05, 12.09], "lip_mm": [8.2], "head_mm": [19.2], "depth_mm": [16.0]}


def run(capsys: pytest.CaptureFixture[str], *arguments: str) -> tuple[int, str, str]:
    code = main(list(arguments))
    out = capsys.readouterr()
    return code, out.out, out.err


def ask(capsys: pytest.CaptureFixture[str], monkeypatch: pytest.MonkeyPatch, data: object) -> tuple[int, object]:
    monkeypatch.setattr(sys, "stdin", io.StringIO(data if isinstance(data, str) else json.dumps(data)))
    code, out, _ = run(capsys, "calc", "--json")
    return code, json.loads(out)


def test_calc_t_nut_by_the_contract(capsys: pytest.CaptureFixture[str], monkeypatch: pytest.MonkeyPatch) -> None:
    code, answer = ask(capsys, monkeypatch, {"calc": "t_nut", "slot": SLOT})
    assert code == 0 and isinstance(answer, dict)
    assert [
        answer[k] for k in ("neck_mm", "neck_height_mm", "head_mm", "head_height_mm", "total_height_mm", "length_mm")
    ] == pytest.approx([11.7, 7.2, 18.2, 7.3, 14.5, 19])
    assert answer["thread"] == "M10x1.5" and answer["slot"] == SLOT
    slides = next(c for c in answer["checks"] if c["name"] == "slides")
    assert slides == {"name": "slides", "value": pytest.approx(0.35), "unit": "mm", "verdict": "go"}


def test_calc_takes_overrides() -> None:
    answer = calc.answer({"calc": "t_nut", "slot": SLOT, "thread": "M8", "length_mm": 30, "stud_stop": "blind"})
    assert (answer["thread"], answer["length_mm"]) == ("M8x1.25", 30)


def test_one_bad_entry_never_spoils_the_others(capsys: pytest.CaptureFixture[str], monkeypatch: pytest.MonkeyPatch) -> None:
    asked = [
        {"calc": "standard", "table": "drill", "drill": "#7"},
        {"calc": "standard", "table": "drill", "drill": "#99"},
        {"calc": "nonsense"},
        7,
        {"calc": "t_nut"},
        {"calc": "t_nut", "slot": {**SLOT, "lip_mm": [17]}},
    ]
    code, answers = ask(capsys, monkeypatch, asked)
    assert code == 1 and isinstance(answers, list) and len(answers) == 6
    assert answers[0]["value"] == pytest.approx(5.1054) and "error" not in answers[0]
    assert all("error" in a for a in answers[1:])
    assert "exchange the two readings" in answers[5]["error"]


@pytest.mark.parametrize("text", ["", "{", "not json"])
def test_no_json_is_code_two(capsys: pytest.CaptureFixture[str], monkeypatch: pytest.MonkeyPatch, text: str) -> None:
    assert ask(capsys, monkeypatch, text)[0] == 2


@pytest.mark.parametrize(
    "slot",
    [
        {},
        {**SLOT, "neck_mm": []},
        {**SLOT, "neck_mm": ["wide"]},
        {**SLOT, "neck_mm": [True]},
        {**SLOT, "neck_mm": [1e308]},
        {**SLOT, "head_mm": [None]},
        [1],
        "x",
        {**SLOT, "neck_mm": {"a": 1}},
    ],
)
def test_odd_slots_are_answered_with_an_error(slot: object) -> None:
    assert "error" in calc.answer({"calc": "t_nut", "slot": slot})


def test_families_and_design(capsys: pytest.CaptureFixture[str]) -> None:
    code, out, _ = run(capsys, "families", "--json")
    assert code == 0 and {f["key"] for f in json.loads(out)} >= {
        "sine_plate",
        "t_nut",
        "table_key",
        "fixture_plate",
        "soft_jaw",
        "v_jaw",
    }
    code, out, _ = run(capsys, "design", "t_nut", "--machine", "Pip", "--slot", "front slot", "--set", "length=22", "--json")
    design = json.loads(out)
    assert code == 0 and design["values"]["length"] == {"value": 22.0, "origin": "chosen"}
    assert design["values"]["neck"]["value"] == [10.2, 10.25, 10.2]
    assert {c["name"] for c in design["checks"]} >= {"slides", "top_below", "lip_bending"}
    code, out, _ = run(capsys, "design", "t_nut")
    assert code == 0 and "● Neck clearance" in out and "\n   A  X" in out


def test_design_writes_every_file(capsys: pytest.CaptureFixture[str], tmp_path: Path) -> None:
    code, _, _ = run(capsys, "design", "t_nut", "--out", str(tmp_path / "files"))
    assert code == 0
    made = {p.suffix: p.read_bytes() for p in (tmp_path / "files").iterdir()}
    assert set(made) == {".step", ".stl", ".dxf", ".svg", ".pdf", ".csv", ".json"}
    assert made[".step"].startswith(b"ISO-10303-21") and made[".svg"].startswith(b"<svg") and b"AC1024" in made[".dxf"][:400]
    text = " ".join(PdfReader(io.BytesIO(made[".pdf"])).pages[0].extract_text().split())
    assert "T-nut" in text and "11.70" in text and "third angle" in text and "no certificate" in text


def test_plan(capsys: pytest.CaptureFixture[str]) -> None:
    code, out, _ = run(capsys, "plan", "t_nut", "--machine", "Hazel", "--pieces", "6", "--json")
    plan = json.loads(out)
    assert (
        code == 0
        and plan["bar"]
        and [s["id"] for s in plan["setups"]]
        == [
            "saw",
            "square.A",
            "square.B",
            "square.D",
            "square.C",
            "shoulders",
            "chamfers",
            "holes",
            "part",
            "face",
            "length",
            "measure",
        ]
    )
    assert any("half a turn back" in o["note"] for s in plan["setups"] for o in s["operations"])
    code, out, _ = run(capsys, "plan", "t_nut", "--on", "Old Margaret", "--style", "quick")
    assert code == 0 and "side and face cutter" in out and "back" in out
    assert "half a turn back every turn" in out and "Middle of the cutter" in out  # how each operation is done


@pytest.mark.parametrize(
    ("arguments", "said"),
    [
        (("design", "hovercraft"), "Elbrix knows"),
        (("design", "t_nut", "--set", "neck_width"), "name=value"),
        (("design", "t_nut", "--set", "colour=red"), "nothing called"),
        (("design", "t_nut", "--machine", "Bertha"), "The shop has"),
        (("design", "t_nut", "--book", "/nowhere/x.elbrix"), "no such file"),
        (("design", "t_nut", "--out", "/proc/x"), "cannot be written"),
        (("design", "t_nut", "--set", "neck_width=wide"), "cannot be read"),
        (("picture", "moon", "m.png"), "there is no view"),
        (("picture", "shop", "m.png", "--size", "big"), "1280x800"),
        (("check", "/nowhere/x.elbrix"), "no such file"),
        (("import", "--book", "/tmp/x.elbrix", "/nowhere.json"), "cannot be read"),
        (("design", "t_nut", "--out", "x", "--formats", "exe"), "no format"),
    ],
)
def test_refusals_are_one_clear_line(
    capsys: pytest.CaptureFixture[str], tmp_path: Path, monkeypatch: pytest.MonkeyPatch, arguments: tuple[str, ...], said: str
) -> None:
    monkeypatch.chdir(tmp_path)
    code, _, err = run(capsys, *arguments)
    assert code == 1 and said in err and "Traceback" not in err


def test_export_import_check_round(capsys: pytest.CaptureFixture[str], tmp_path: Path) -> None:
    out_file, book = tmp_path / "all.json", tmp_path / "new.elbrix"
    assert run(capsys, "export", str(out_file))[0] == 0
    assert run(capsys, "import", "--book", str(book), str(out_file))[1].startswith("60 added") or book.exists()
    code, out, _ = run(capsys, "check", str(book))
    assert code == 0 and ": ok;" in out
    code, out, _ = run(capsys, "export", "--book", str(book), "--kind", "design")
    assert code == 0 and len(json.loads(out)["items"]) == sum(isinstance(d, DesignDoc) for d in documents())


def test_picture_without_a_screen(capsys: pytest.CaptureFixture[str], tmp_path: Path) -> None:
    target = tmp_path / "c.png"
    code, _, _ = run(capsys, "picture", "catalogue", str(target), "--size", "1000x700", "--units", "in")
    data = target.read_bytes()
    assert code == 0 and data.startswith(b"\x89PNG") and int.from_bytes(data[16:20], "big") == 1000


def test_version_and_schema(capsys: pytest.CaptureFixture[str]) -> None:
    assert run(capsys, "--version")[1].startswith("Elbrix ")
    assert "TSlot" in json.loads(run(capsys, "schema")[1])["$defs"]


def test_cut_list_for_a_spreadsheet(capsys: pytest.CaptureFixture[str]) -> None:
    code, out, _ = run(capsys, "plan", "t_nut", "--machine", "Hazel", "--csv")
    rows = list(csv.DictReader(io.StringIO(out)))
    assert code == 0
    far = next(r for r in rows if r["what"].startswith("Far shoulder, finish 2") and r["axis"] == "Y")
    assert float(far["mm"]) == pytest.approx(float(far["dial"]), abs=0.0026)
    assert far["tool"] == "end mill Ø6" and int(far["rpm"]) > 0 and "Y" in far["lock"]
    assert all(not cell.startswith(("=", "@")) for row in rows for cell in row.values())


def test_plan_in_inches(capsys: pytest.CaptureFixture[str]) -> None:
    code, out, _ = run(capsys, "plan", "t_nut", "--machine", "Hazel", "--units", "in")
    assert code == 0 and " in off" in out and "0.4606" not in out.splitlines()[0]


@pytest.mark.parametrize(
    ("asked", "wanted"),
    [
        ({"calc": "flatness", "points": [[0, 0, 0], [1000, 0, 1], [0, 1000, 2]]}, {"tilt_x_mm_per_m": 1, "flatness_lsq_mm": 0}),
        (
            {"calc": "straightness", "points": [[0, 0], [500, 0.01], [1000, 0]]},
            {"slope_mm_per_m": 0, "straightness_zone_mm": 0.01},
        ),
        ({"calc": "squareness", "height_mm": 100, "first_mm": 0.03, "reversed_mm": -0.01}, {"work_mm": 0.02, "square_mm": 0.01}),
        ({"calc": "jaw_yaw", "travel_mm": 100, "readings_mm": [0, 0.02], "pivot_to_end_mm": 150}, {"tap_mm": 0.03}),
        (
            {"calc": "centre_rotary", "readings": {"0": 0.2, "90": 0, "180": 0, "270": 0.1}},
            {"move_x_mm": 0.1, "move_y_mm": -0.05},
        ),
        ({"calc": "trip_stop", "pairs": [[1, 12], [2, 14]], "wanted_mm": 13}, {"factor": 2, "offset": 10, "setting": 1.5}),
        ({"calc": "as_made", "lower_mm": 1, "upper_mm": 2, "readings_mm": [1.5], "u_mm": 0.1}, {"mean_mm": 1.5, "verdict": "go"}),
        (
            {"calc": "runout", "angles_deg": [0, 90, 180, 270], "readings_mm": [0, 0.1, 0, -0.1]},
            {"eccentricity_mm": 0.1, "high_at_deg": 90, "tir_mm": 0.2, "left_after_centring_mm": 0},
        ),
    ],
)
def test_calc_measures_by_the_contract(asked: dict[str, object], wanted: dict[str, object]) -> None:
    answer = calc.answer(asked)
    assert {k: answer.get(k) for k in wanted} == pytest.approx(wanted, abs=1e-9), answer
    for key in asked.keys() - {"calc", "wanted_mm"}:
        broken = calc.answer({**asked, key: "12"})
        assert "error" in broken and len(str(broken["error"])) > 20


@pytest.mark.parametrize("out", ["", ".", "/", "{folder}", "{folder}/nowhere/items.json"])
def test_what_cannot_be_written_is_said_by_the_name_that_was_given(
    out: str, tmp_path: Path, monkeypatch: pytest.MonkeyPatch, capsys: pytest.CaptureFixture[str]
) -> None:
    monkeypatch.chdir(tmp_path)
    asked = out.format(folder=tmp_path)
    assert main(["export", asked]) == 1
    said = capsys.readouterr().err
    assert "Check the name and the folder" in said
    assert ".part" not in said
    assert asked in said
    assert list(tmp_path.iterdir()) == []


@pytest.mark.parametrize(("word", "meant"), [("familes", "families"), ("aks", "ask"), ("rehears", "rehearse"), ("banana", "")])
def test_a_command_written_wrong_begins_no_book(
    word: str, meant: str, tmp_path: Path, monkeypatch: pytest.MonkeyPatch, capsys: pytest.CaptureFixture[str]
) -> None:
    """It opened a window on a fresh book of that name, in the folder one stood in."""
    monkeypatch.chdir(tmp_path)
    assert main([word]) == 1
    said = capsys.readouterr().err
    assert f"“{word}” is no command and no book" in said
    assert (f"Did you mean {meant}?" in said) is bool(meant)
    assert list(tmp_path.iterdir()) == []

"""Instruments that err as real ones do: what they state covers the truth in 95 of 100, and their processes behave."""

from __future__ import annotations

import json
import os
import random
import signal
import stat
import subprocess
import time
from pathlib import Path

import pytest

from elbrix.cli.main import main
from elbrix.instruments import bench
from elbrix.instruments.behaviour import KINDS, Simulated, Truth, read_truth
from elbrix.instruments.lines import Reading, Trouble, format_line, parse_line
from elbrix.quantities.errors import ShopError


@pytest.fixture(autouse=True)
def folder(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> Path:
    """Sockets of a test stand apart."""
    monkeypatch.setenv(bench.FOLDER_VARIABLE, str(tmp_path / "i"))
    return tmp_path / "i"


def taken(name: str, truth: Truth, seed: int, count: int = 1) -> list[Reading]:
    instrument = Simulated(name, truth, seed)
    return [r for r in (instrument.press() for _ in range(count)) if isinstance(r, Reading)]


@pytest.mark.parametrize("kind", sorted(KINDS))
def test_the_stated_uncertainty_covers_the_truth_in_92_to_98_of_100(kind: str) -> None:
    low, high = {"deviation": (-0.3, 0.3)}.get(KINDS[kind].quantity.value, (5.0, 20.0))
    chance, hits = random.Random(kind), 0
    for seed in range(1000):
        true, before = chance.uniform(low, high), chance.uniform(low, high)
        reading = taken(f"{kind}-1", Truth(values=(before, true), axes=("X", "X")), seed, 2)[1]
        hits += abs(reading.value - true) <= reading.u
    assert 920 <= hits <= 980, f"{hits} of 1000"


@pytest.mark.parametrize("kind", [k for k in sorted(KINDS) if KINDS[k].unit == "mm"])
def test_switched_to_inches_it_states_what_its_other_steps_are_worth(kind: str) -> None:
    low, high = {"deviation": (-0.3, 0.3)}.get(KINDS[kind].quantity.value, (5.0, 20.0))
    chance, hits = random.Random(f"{kind} in"), 0
    for seed in range(1000):
        true, before = chance.uniform(low, high), chance.uniform(low, high)
        instrument = Simulated(f"{kind}-1", Truth(values=(before, true), axes=("X", "X")), seed)
        instrument.inches = True
        reading = [r for r in (instrument.press(), instrument.press()) if isinstance(r, Reading)][1]
        assert reading.unit == "in"
        hits += abs(reading.value - true) <= reading.u
    assert 920 <= hits <= 985, f"{hits} of 1000"


def test_readings_stand_on_the_resolution_and_are_lines_of_the_protocol() -> None:
    for kind, k in KINDS.items():
        true = 0.1 if k.quantity.value == "deviation" else 12.3456
        for reading in taken(f"{kind}-7", Truth(values=(true,)), 3, 20):
            assert parse_line(format_line(reading)) == reading
            assert reading.value / k.resolution == pytest.approx(round(reading.value / k.resolution), abs=0.01)


def test_the_errors_have_their_signs_and_sizes() -> None:
    def mean(truth: Truth, name: str = "dial-1") -> float:
        values = [r.value for seed in range(300) for r in taken(name, truth, seed)]
        return sum(values) / len(values)

    assert mean(Truth(values=(0.3,), cosine_deg=30)) == pytest.approx(0.3 / 0.8660254, abs=0.002)
    warm, cold = (mean(Truth(values=(100.0,), warm_k=k), "height-1") for k in (10.0, 0.0))
    assert warm - cold == pytest.approx(100 * 11.5e-6 * 10, abs=0.001)
    up = [r.value for seed in range(300) for r in taken("dial-1", Truth(values=(-0.2, 0.1)), seed, 2)][1::2]
    down = [r.value for seed in range(300) for r in taken("dial-1", Truth(values=(0.3, 0.1)), seed, 2)][1::2]
    lost = sum(down) / len(down) - sum(up) / len(up)
    assert lost == pytest.approx(KINDS["dial"].hysteresis, abs=0.0005), "coming down it still shows what it showed"


def test_cables_batteries_ranges_and_hands() -> None:
    truth = Truth(values=(12.0,), faults={"2": "unplugged", "3": "battery", "4": "lifted"})
    instrument = Simulated("caliper-1", truth, 1)
    got = [instrument.press() for _ in range(5)]
    assert [type(g) for g in got] == [Reading, Trouble, Trouble, Reading, Reading]
    assert isinstance(got[3], Reading) and got[3].value < 1, "lifted off, it shows next to nothing"
    assert isinstance(Simulated("micrometer-1", Truth(values=(60.0,))).press(), Trouble)
    for bad in ('{"a": {"values": []}}', '{"a": {"values": ["x"]}}', "[]", "", '{"a": {"values": [1, 2], "axes": ["X"]}}'):
        with pytest.raises(ShopError):
            read_truth(bad)


def test_zero_and_inches() -> None:
    instrument = Simulated("height-1", Truth(values=(50.0, 50.0, 62.7)), 4)
    instrument.zero()
    first = instrument.press()
    assert isinstance(first, Reading) and first.value == pytest.approx(0, abs=0.04)
    instrument.inches = True
    instrument.press()
    inch = instrument.press()
    assert isinstance(inch, Reading) and inch.unit == "in" and inch.value == pytest.approx(12.7, abs=0.04)


def test_processes_start_read_and_stop(capsys: pytest.CaptureFixture[str], folder: Path, tmp_path: Path) -> None:
    truth = tmp_path / "truth.json"
    truth.write_text(json.dumps({"dial-1": {"values": [0.0, 0.1]}}), encoding="utf-8")
    assert main(["instruments", "start", "dial-1", "--truth", str(truth), "--seed", "5"]) == 0
    try:
        assert stat.S_IMODE(folder.stat().st_mode) == 0o700
        assert stat.S_IMODE((folder / "dial-1.sock").stat().st_mode) & 0o077 == 0
        capsys.readouterr()
        assert main(["instruments", "start", "dial-1"]) == 1, "one name is one instrument"
        assert main(["instruments", "read", "dial-1", "--count", "4"]) == 0
        lines = capsys.readouterr().out.splitlines()
        values = [parse_line(line) for line in lines]
        assert len(lines) == 4 and [v.number for v in values if isinstance(v, Reading)] == [1, 2, 3, 4]
        assert main(["instruments", "list", "--json"]) == 0
        told = {k["name"]: k["running"] for k in json.loads(capsys.readouterr().out)}
        assert told["dial-1"] and not told["caliper-1"]
        assert len(list(bench.read("dial-1", 1000))) == 1000
    finally:
        assert main(["instruments", "stop", "dial-1"]) == 0
    assert not bench.running("dial-1") and not (folder / "dial-1.sock").exists()


def test_one_that_is_not_running_is_started_for_a_reading(capsys: pytest.CaptureFixture[str]) -> None:
    assert main(["instruments", "read", "caliper-1", "--count", "2"]) == 0
    assert len(capsys.readouterr().out.splitlines()) == 2 and not bench.running("caliper-1")
    for bad in (
        ["read", "banana-1"],
        ["start"],
        ["read", "caliper-1", "--count", "0"],
        ["start", "dial-1", "--truth", "/nowhere"],
    ):
        assert main(["instruments", *bad]) == 1


def test_a_process_that_is_killed_is_said_and_can_be_started_again() -> None:
    bench.start("level-1")
    pids = subprocess.run(["pgrep", "-f", "instruments.bench level-1"], capture_output=True, text=True, check=True).stdout.split()
    for pid in pids:
        os.kill(int(pid), signal.SIGKILL)
    time.sleep(0.1)
    with pytest.raises(ShopError, match="went away"):
        list(bench.read("level-1", 3))
    bench.start("level-1")
    assert len(list(bench.read("level-1", 3))) == 3
    assert bench.stop("level-1") and not bench.stop("level-1")


def test_a_login_without_a_runtime_folder_gets_one_of_its_own_and_no_warning(
    monkeypatch: pytest.MonkeyPatch, tmp_path: Path
) -> None:
    """What the system falls back to lies beside everybody else's, and is told on the terminal."""
    for name in (bench.FOLDER_VARIABLE, "XDG_RUNTIME_DIR"):
        monkeypatch.delenv(name, raising=False)
    monkeypatch.setenv("XDG_CACHE_HOME", str(tmp_path / "cache"))
    found = bench.folder()
    assert found.is_relative_to(tmp_path / "cache") and stat.S_IMODE(found.stat().st_mode) == 0o700
    monkeypatch.setenv("XDG_RUNTIME_DIR", str(tmp_path))
    assert bench.folder() == tmp_path / "elbrix" / "instruments"

"""`./elbrix install` into a user's own folders and out again, from a checkout with an awkward name."""

from __future__ import annotations

import os
import shutil
import subprocess
from pathlib import Path

import pytest

from elbrix.demo import write_demo

ROOT = Path(__file__).resolve().parents[2]
ID = "org.elbrix.Elbrix"
pytestmark = pytest.mark.skipif(not (ROOT / "packaging").exists(), reason="needs the checkout, not the installed package")


@pytest.fixture
def checkout(tmp_path: Path) -> Path:
    here = tmp_path / 'tool "maker" $hop'
    here.mkdir()
    shutil.copy(ROOT / "elbrix", here)
    shutil.copytree(ROOT / "packaging", here / "packaging")
    return here


def run(checkout: Path, home: Path, word: str) -> str:
    # In plain English, wherever the tests run: a validator speaks the language of its user.
    env = {k: v for k, v in os.environ.items() if not k.startswith("XDG_")} | {"HOME": str(home), "LC_ALL": "C.UTF-8"}
    done = subprocess.run([str(checkout / "elbrix"), word], env=env, capture_output=True, text=True, check=True)
    assert not done.stderr
    return done.stdout


def _asked(*command: str, home: Path) -> str | None:
    """What a tool of the desktop says, None when this machine has no such tool."""
    if shutil.which(command[0]) is None:
        return None
    # In plain English, wherever the tests run: a validator speaks the language of its user.
    env = {k: v for k, v in os.environ.items() if not k.startswith("XDG_")} | {"HOME": str(home), "LC_ALL": "C.UTF-8"}
    return subprocess.run(command, env=env, capture_output=True, text=True, check=False).stdout.strip()


def test_in_the_menu_and_out_again(checkout: Path, tmp_path: Path) -> None:
    home = tmp_path / "home"
    home.mkdir()
    assert "opens .elbrix books" in run(checkout, home, "install")
    data = home / ".local/share"
    entry = data / f"applications/{ID}.desktop"
    lines = dict(line.split("=", 1) for line in entry.read_text().splitlines() if "=" in line)
    # the rules of the entry: the string is unescaped first, then the quoted argument
    unescaped = lines["Exec"].replace("\\\\", "\\").removesuffix(" %f").strip('"')
    for sign in ('"', "$", "`", "\\"):
        unescaped = unescaped.replace("\\" + sign, sign)
    assert Path(unescaped) == checkout / "elbrix" and lines["Icon"] == ID
    assert (data / f"icons/hicolor/scalable/apps/{ID}.svg").exists() and (data / "man/man1/elbrix.1").exists()
    assert (home / ".local/bin/elbrix").resolve() == checkout / "elbrix"
    assert _asked("desktop-file-validate", str(entry), home=home) in (None, "")
    book = write_demo(tmp_path / "shop.elbrix")
    book.close()
    assert _asked("xdg-mime", "query", "filetype", str(book.path), home=home) in (None, "application/x-elbrix")
    run(checkout, home, "uninstall")
    left = {p.name for p in home.rglob("*") if p.is_file() or p.is_symlink()}
    assert not {n for n in left if "lbrix" in n}
    assert "application/x-elbrix" not in "".join(p.read_text() for p in data.rglob("globs"))


def test_a_program_of_that_name_is_left_alone(checkout: Path, tmp_path: Path) -> None:
    home = tmp_path / "home"
    other = home / ".local/bin/elbrix"
    other.parent.mkdir(parents=True)
    other.write_text("mine")
    assert "left alone" in run(checkout, home, "install")
    run(checkout, home, "uninstall")
    assert other.read_text() == "mine"


def test_the_entry_and_the_catalogue_page_agree() -> None:
    page, entry = (ROOT / "packaging" / f"{ID}{end}" for end in (".metainfo.xml", ".desktop"))
    import elbrix

    assert f"<id>{ID}</id>" in page.read_text() and f"{ID}.desktop" in page.read_text()
    assert f'<release version="{elbrix.__version__}"' in page.read_text()
    assert f"StartupWMClass={ID}" in entry.read_text()
    assert f'setDesktopFileName("{ID}")' in (ROOT / "src/elbrix/app/start.py").read_text()
    assert elbrix.__version__ in (ROOT / "packaging/elbrix.1").read_text()
    if (checked := _asked("appstreamcli", "validate", "--no-net", str(page), home=Path.home())) is not None:
        assert "successful" in checked and "✘" not in checked
